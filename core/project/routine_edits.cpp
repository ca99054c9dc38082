#include "project/routine_edits.hpp"
#include <algorithm>

namespace hinge::project {
namespace {

template <class List>
std::vector<std::string> idsOf(const List& list) {
    std::vector<std::string> ids;
    for (const auto& entry : list) ids.push_back(entry.id);
    return ids;
}
template <class List>
auto* entryOf(List& list, std::string_view id) {
    const auto found = std::find_if(list.begin(), list.end(), [&](const auto& entry) { return entry.id == id; });
    return found != list.end() ? &*found : nullptr;
}

}  // namespace

Project addInput(Project project, InputKind kind, const std::string& name) {
    Input input;
    input.id = freshId(name, idsOf(project.inputs));
    input.name = name;
    input.kind = kind;
    if (isAnalogue(kind)) input.debounce = of<Duration>(0.050);
    project.inputs.push_back(std::move(input));
    return project;
}

Project addCue(Project project, const std::string& name) {
    routine::Cue cue;
    cue.id = freshId(name, idsOf(project.routine.cues));
    cue.name = name;
    project.routine.cues.push_back(std::move(cue));
    return project;
}

Project removeCue(Project project, std::string_view cue) {
    std::erase_if(project.routine.cues, [&](const routine::Cue& each) { return each.id == cue; });
    for (auto& each : project.routine.cues)
        if (each.after == cue) each.after.clear();
    return project;
}

Project addMove(Project project, std::string_view cue, routine::Action action, const std::string& channel, const std::string& input) {
    auto* into = entryOf(project.routine.cues, cue);
    if (into == nullptr) return project;
    routine::Move move;
    move.id = freshId(std::string{nameOf(action)} + (channel.empty() ? "" : "_" + channel), idsOf(into->moves));
    move.action = action;
    move.channel = channel;
    move.input = input;
    const auto* moved = findChannel(project, channel);
    if (action == routine::Action::Wait) move.time = of<Duration>(1.0);
    if (action == routine::Action::Until) move.time = of<Duration>(10.0);
    if (action == routine::Action::Home) move.time = of<Duration>(20.0);
    if (action == routine::Action::Run && moved != nullptr && channelKind(*moved) != ChannelKind::Pump) move.time = of<Duration>(10.0);
    into->moves.push_back(std::move(move));
    return project;
}

Project removeMove(Project project, std::string_view cue, std::string_view move) {
    if (auto* from = entryOf(project.routine.cues, cue)) std::erase_if(from->moves, [&](const routine::Move& each) { return each.id == move; });
    return project;
}

Project shiftMove(Project project, std::string_view cue, std::string_view move, int by) {
    auto* in = entryOf(project.routine.cues, cue);
    if (in == nullptr) return project;
    for (std::size_t i = 0; i < in->moves.size(); ++i) {
        if (in->moves[i].id != move) continue;
        const auto to = static_cast<std::ptrdiff_t>(i) + by;
        if (to >= 0 && to < static_cast<std::ptrdiff_t>(in->moves.size())) std::swap(in->moves[i], in->moves[static_cast<std::size_t>(to)]);
        break;
    }
    return project;
}

Project addGuard(Project project, std::string_view cue, const std::string& input) {
    if (auto* into = entryOf(project.routine.cues, cue)) into->guards.push_back({freshId("unless_" + input, idsOf(into->guards)), input, true});
    return project;
}

Project removeGuard(Project project, std::string_view cue, std::string_view guard) {
    if (auto* from = entryOf(project.routine.cues, cue)) std::erase_if(from->guards, [&](const routine::Guard& each) { return each.id == guard; });
    return project;
}

Project addFollower(Project project, const std::string& channel, const std::string& input) {
    routine::Follower follower;
    follower.id = freshId(channel + "_follows", idsOf(project.routine.followers));
    follower.channel = channel;
    follower.input = input;
    const auto* from = findInput(project, input);
    follower.proportional = from != nullptr && from->kind == InputKind::Knob;
    if (follower.proportional) follower.start = of<Fraction>(0.25);
    project.routine.followers.push_back(std::move(follower));
    return project;
}

Project addInterlock(Project project, const std::string& channel, const std::string& input) {
    project.routine.interlocks.push_back({freshId("never_" + channel + "_" + input, idsOf(project.routine.interlocks)), channel, input});
    return project;
}

Project removeRule(Project project, std::string_view id) {
    std::erase_if(project.routine.followers, [&](const routine::Follower& each) { return each.id == id; });
    std::erase_if(project.routine.interlocks, [&](const routine::Interlock& each) { return each.id == id; });
    return project;
}

const std::vector<Pattern>& patterns() {
    static const std::vector<Pattern> list{
        {"press-and-return", "press and return", "A press sends it to its end; after a pause it comes back.", true, false},
        {"open-by-itself", "opens, waits, closes by itself", "A press opens it; after ten seconds it closes, unless something is in the way.", true, false},
        {"sweep", "swings to and fro", "From the press on it swings between both ends, until stop.", true, false},
        {"home", "finds its start at power-up", "At power-up it goes back until the end switch says so.", true, true},
        {"toggle", "on and off with one button", "One press on, the next one off.", false, false},
        {"timed", "a dose at times of day", "At its hours it runs once.", false, false},
        {"every", "every so often", "Every twenty minutes it runs for ten seconds.", false, false},
        {"while-sensed", "runs while something is sensed", "On while the sensor says so, and half a minute after.", false, false},
        {"portion", "one portion past a sensor", "A press starts it; the sensor stops it; if that does not come, it stops by itself.", false, false},
        {"knob", "follows a knob", "Off in the knob's first part, then from its least useful share up to full.", false, false},
        {"thermostat", "keeps a level between two bounds", "On while the level is low, off when it is high; between the two it stays as it is.", false, false},
        {"hold-to-open", "held for two seconds, on for five", "Only a long press counts, and it ends by itself.", false, false},
        {"blink", "on and off a few times", "Five times half a second on, half a second off.", false, false},
    };
    return list;
}

Result<Project> insertPattern(Project project, std::string_view pattern, const std::string& channel) {
    const auto* mover = findChannel(project, channel);
    if (mover == nullptr) return fail(ErrorCode::Unknown, "channel", channel, "a channel of this gadget");
    const auto known = std::find_if(patterns().begin(), patterns().end(), [&](const Pattern& each) { return each.id == pattern; });
    if (known == patterns().end()) return fail(ErrorCode::Unknown, "pattern", std::string{pattern}, "a pattern of the list");
    using routine::Action;
    const std::string name = mover->name;
    const bool along = channelKind(*mover) == ChannelKind::Move;
    // An input of a kind that is there already is used again; what has none gets one.
    const auto inputOf = [&](InputKind kind, const std::string& fresh) {
        for (const auto& input : project.inputs)
            if (input.kind == kind) return input.id;
        project = addInput(std::move(project), kind, fresh);
        return project.inputs.back().id;
    };
    const auto cueFor = [&](const std::string& title) -> std::string {
        project = addCue(std::move(project), name + " " + title);
        return project.routine.cues.back().id;
    };
    const auto cue = [&]() -> routine::Cue& { return project.routine.cues.back(); };
    const auto move = [&](Action action, const std::string& of_channel, std::optional<double> time = std::nullopt, const std::string& input = {}) -> routine::Move& {
        const std::string id = cue().id;
        project = addMove(std::move(project), id, action, of_channel, input);
        auto& made = cue().moves.back();
        if (time) made.time = of<Duration>(*time);
        return made;
    };
    const auto back = [&](double after) {
        if (after > 0.0) move(Action::Wait, "", after);
        auto& made = move(Action::Go, channel);
        if (along) made.place = of<Length>(0.0);
        else made.angle = of<Angle>(0.0);
    };
    if (pattern == "press-and-return") {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("and back");
        cue().input = button;
        move(Action::Go, channel);
        back(1.0);
    } else if (pattern == "open-by-itself") {
        const auto button = inputOf(InputKind::Button, "start"), clear = inputOf(InputKind::Sensor, "in the way");
        cueFor("opens");
        cue().input = button;
        move(Action::Go, channel);
        move(Action::Wait, "", 10.0);
        move(Action::Until, "", 60.0, clear).released = true;
        back(0.0);
    } else if (pattern == "sweep") {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("swings");
        cue().input = button;
        move(Action::Go, channel);
        back(0.0);
        move(Action::Again, "").times = of<Count>(0.0);
    } else if (pattern == "home") {
        const auto end = inputOf(InputKind::EndSwitch, "at the start");
        cueFor("finds its start");
        cue().at_power_up = true;
        move(Action::Home, channel, 20.0, end);
    } else if (pattern == "toggle") {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("on and off");
        cue().input = button;
        move(Action::Toggle, channel);
    } else if (pattern == "timed") {
        cueFor("at its hours");
        cue().times = "06:40,18:30";
        move(Action::Run, channel);
    } else if (pattern == "every") {
        cueFor("every so often");
        cue().every = of<Duration>(1200.0);
        move(Action::Run, channel, 10.0);
    } else if (pattern == "while-sensed") {
        const auto sensor = inputOf(InputKind::Sensor, "machine runs");
        project = addFollower(std::move(project), channel, sensor);
        for (auto& each : project.channels)
            if (each.id == channel && si(each.off_delay) == 0.0) each.off_delay = of<Duration>(30.0);
    } else if (pattern == "portion") {
        const auto button = inputOf(InputKind::Button, "start"), tab = inputOf(InputKind::Sensor, "tab");
        cueFor("one portion");
        cue().input = button;
        move(Action::On, channel);
        move(Action::Until, "", 2.0, tab).released = true;   // off the tab that it stands on
        move(Action::Until, "", 10.0, tab);                  // on to the next
        move(Action::Off, channel);
    } else if (pattern == "knob") {
        const auto knob = inputOf(InputKind::Knob, "knob");
        project = addFollower(std::move(project), channel, knob);
    } else if (pattern == "thermostat") {
        const auto level = inputOf(InputKind::Level, "warm enough");
        project = addFollower(std::move(project), channel, level);
        project.routine.followers.back().released = true;
    } else if (pattern == "hold-to-open") {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("when held");
        cue().input = button;
        cue().held = of<Duration>(2.0);
        move(Action::Run, channel, 5.0);
    } else if (pattern == "blink") {
        const auto button = inputOf(InputKind::Button, "start");
        cueFor("blinks");
        cue().input = button;
        move(Action::Run, channel, 0.5);
        move(Action::Wait, "", 0.5);
        move(Action::Again, "").times = of<Count>(5.0);
    }
    return project;
}

}  // namespace hinge::project
