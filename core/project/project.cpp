#include "project/project.hpp"
#include <algorithm>
#include <unordered_set>
#include "routine/compile.hpp"

namespace hinge::project {
namespace {

template <class List>
auto find(List& list, std::string_view id) -> decltype(&list.front()) {
    const auto found = std::find_if(list.begin(), list.end(), [&](const auto& entry) { return entry.id == id; });
    return found == list.end() ? nullptr : &*found;
}

}  // namespace

const actuator::Part* findActuator(const Parts& parts, std::string_view id) {
    for (const auto& part : parts.actuators)
        if (actuator::head(part).id == id) return &part;
    return nullptr;
}
const driver::DriverPart* findDriver(const Parts& parts, std::string_view id) {
    return find(parts.drivers, id);
}
const Channel* findChannel(const Project& project, std::string_view id) {
    return find(project.channels, id);
}
const power::Rail* findRail(const Project& project, std::string_view id) {
    return find(project.rails, id);
}
const power::Source* findSource(const Project& project, std::string_view id) {
    return find(project.sources, id);
}
const Input* findInput(const Project& project, std::string_view id) {
    return find(project.inputs, id);
}
const Input* readingOf(const Project& project, std::string_view channel) {
    for (const auto& loop : project.routine.loops)
        if (loop.channel == channel) return findInput(project, loop.input);
    for (const auto& input : project.inputs)
        if (input.kind == InputKind::Tach && input.belongs_to == channel) return &input;
    return nullptr;
}
const Input* currentOf(const Project& project, std::string_view channel) {
    for (const auto& input : project.inputs)
        if (input.belongs_to == channel && canBelong(input) && wiredAs(input) == Wired::CurrentOutput) return &input;
    return nullptr;
}

std::string freshId(std::string_view name, const std::vector<std::string>& taken) {
    const std::string base = routine::identifier(std::string{name});
    const std::unordered_set<std::string_view> all(taken.begin(), taken.end());  // a journal of years has thousands
    std::string id = base;
    for (int n = 2; all.count(id) != 0; ++n) id = base + "_" + std::to_string(n);
    return id;
}

journal::Entry newEntry(const Project& project, std::string_view stem, journal::EntryKind kind, const std::string& channel,
                        const std::string& date) {
    std::vector<std::string> taken;
    for (const auto& each : project.journal.entries) taken.push_back(each.id);
    journal::Entry entry;
    entry.id = freshId(stem, taken);
    entry.date = date;
    entry.kind = kind;
    entry.channel = channel;
    return entry;
}

Project newProject() {
    Project project;
    power::Source source;
    source.id = "adapter";
    source.name = "adapter";
    project.sources.push_back(source);
    power::Rail movers;
    movers.id = "movers";
    movers.name = "movers' rail";
    movers.from = "adapter";
    power::Rail logic;
    logic.id = "logic";
    logic.name = "5 V rail";
    logic.from = "adapter";
    logic.conversion = power::Conversion::Linear;
    logic.voltage = of<Voltage>(5.0);
    logic.wire_length = of<Length>(0.1);
    project.rails = {movers, logic};
    project.board.rail = "logic";
    return project;
}

Project addChannel(Project project, ChannelKind kind, const std::string& name) {
    Channel channel;
    channel.demand = freshDemand(kind);
    channel.name = name;
    channel.id = freshId(name, idsOf(project.channels));
    if (!project.rails.empty()) channel.rail = project.rails.front().id;
    channel.drive.flyback_diode = false;  // fitted only when the maker says so
    project.channels.push_back(std::move(channel));
    return project;
}

Project addRunningChannel(Project project, ChannelKind kind, const std::string& name) {
    project = addChannel(std::move(project), kind, name);
    const Channel& channel = project.channels.back();
    if (project.inputs.empty()) {
        Input start;
        start.id = "start";
        start.name = "start";
        start.pin = "D2";
        project.inputs.push_back(std::move(start));
    }
    routine::Cue cue;
    cue.id = freshId("run " + name, idsOf(project.routine.cues));
    cue.name = name;
    cue.input = project.inputs.front().id;
    routine::Move move;
    move.id = "runs";
    move.channel = channel.id;
    if (kind == ChannelKind::Turn || kind == ChannelKind::Move || kind == ChannelKind::Press) {
        // To the end of its move and back; a part that is switched gets another verb by its finding's button.
        move.id = "goes";
        move.action = routine::Action::Go;
        cue.moves.push_back(move);
        move.id = "comes_back";
        if (kind == ChannelKind::Move) move.place = of<Length>(0.0);
        else move.angle = of<Angle>(0.0);
    } else if (kind != ChannelKind::Pump) {
        move.time = of<Duration>(10.0);  // a pump knows how long: its dose
    }
    cue.moves.push_back(std::move(move));
    project.routine.cues.push_back(std::move(cue));
    return project;
}

Project duplicateChannel(Project project, std::string_view id) {
    const auto* original = findChannel(project, id);
    if (original == nullptr) return project;
    Channel copy = *original;
    copy.name += " 2";
    copy.id = freshId(copy.name, idsOf(project.channels));
    copy.pin.clear();
    copy.direction_pin.clear();
    copy.low_pin.clear();
    copy.back_low_pin.clear();
    copy.enable_pin.clear();
    copy.select_pin.clear();
    copy.green_pin.clear();
    copy.blue_pin.clear();
    copy.calibration = {};
    const auto at = original - project.channels.data();
    project.channels.insert(project.channels.begin() + at + 1, std::move(copy));
    return project;
}

Project removeChannel(Project project, std::string_view id) {
    std::erase_if(project.channels, [&](const Channel& channel) { return channel.id == id; });
    for (auto& cue : project.routine.cues) {
        std::erase_if(cue.moves, [&](const routine::Move& move) { return move.channel == id; });
        if (!cue.moves.empty()) cue.moves.front().together = cue.moves.front().in_line = false;
    }
    std::erase_if(project.routine.interlocks, [&](const routine::Interlock& interlock) {
        return interlock.channel == id ||
               std::any_of(interlock.terms.begin(), interlock.terms.end(), [&](const routine::Term& term) { return term.channel == id; });
    });
    std::erase_if(project.routine.followers, [&](const routine::Follower& follower) { return follower.channel == id; });
    std::erase_if(project.routine.loops, [&](const routine::Loop& loop) { return loop.channel == id; });
    for (auto& input : project.inputs)
        if (input.belongs_to == id) input.belongs_to.clear();
    return project;
}

Project moveChannel(Project project, std::string_view id, int to) {
    const auto found =
        std::find_if(project.channels.begin(), project.channels.end(), [&](const Channel& channel) { return channel.id == id; });
    if (found == project.channels.end()) return project;
    Channel moved = std::move(*found);
    project.channels.erase(found);
    const auto place = std::clamp(to, 0, static_cast<int>(project.channels.size()));
    project.channels.insert(project.channels.begin() + place, std::move(moved));
    return project;
}

}  // namespace hinge::project

template class std::vector<hinge::project::Channel>;
template class std::vector<hinge::project::Input>;
template class std::vector<hinge::project::Spread>;
template class std::vector<hinge::power::Source>;
template class std::vector<hinge::power::Rail>;
template class std::vector<hinge::journal::WireNote>;
template class std::vector<hinge::journal::Check>;
template class std::vector<hinge::journal::Entry>;
template class std::vector<hinge::journal::WiringSnapshot>;
template class std::vector<hinge::journal::Sample>;
template class std::vector<hinge::journal::Stock>;
template class std::vector<hinge::journal::Care>;
template class std::vector<hinge::actuator::Part>;
template class std::vector<hinge::driver::DriverPart>;
