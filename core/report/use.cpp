#include <fmt/format.h>
#include "plan/behaviour.hpp"
#include "quantity/text.hpp"
#include "report/packet.hpp"

namespace hinge::report {
namespace {

// "14:30,19:00" as it is said: "14:30 and 19:00".
std::string spoken(std::string times) {
    const auto last = times.rfind(',');
    if (last != std::string::npos) times.replace(last, 1, " and ");
    for (auto comma = times.find(','); comma != std::string::npos; comma = times.find(',', comma + 2)) times.replace(comma, 1, ", ");
    return times;
}

std::string nameOfInput(const project::Project& project, const std::string& id) {
    const auto* input = project::findInput(project, id);
    return input != nullptr ? input->name : id;
}

std::string startOf(const project::Project& project, const routine::Cue& cue) {
    std::vector<std::string> ways;
    if (!cue.input.empty()) {
        const auto* input = project::findInput(project, cue.input);
        const std::string name = nameOfInput(project, cue.input);
        if (input != nullptr && input->kind == project::InputKind::Word)
            ways.push_back(fmt::format("'{}' is said over the link", input->word));
        else if (cue.held) ways.push_back(fmt::format("'{}' was held for {}", name, displayPlain(*cue.held)));
        else
            ways.push_back(fmt::format("'{}' is {}", name,
                                       cue.on_release                                                  ? "let go"
                                       : input != nullptr && input->kind == project::InputKind::Button ? "pressed"
                                                                                                       : "true"));
    }
    for (const auto& other : project.routine.cues)
        if (other.id == cue.after) ways.push_back(fmt::format("'{}' has ended", other.name));
    if (cue.at_power_up) ways.push_back("the power comes");
    std::string line;
    for (const auto& way : ways) line += (line.empty() ? "When " : ", or ") + way;
    if (!cue.times.empty()) line += (line.empty() ? "At " : ", or at ") + spoken(cue.times);
    if (cue.every) line += (line.empty() ? "Every " : ", or every ") + displayPlain(*cue.every);
    return line.empty() ? "By nothing yet" : line;
}

std::string moveOf(const project::Project& project, const plan::Plan& plan, const routine::Move& move) {
    const auto* channel = project::findChannel(project, move.channel);
    const auto* planned = plan::findChannel(plan, move.channel);
    const std::string name = channel != nullptr ? channel->name : move.channel;
    const std::string time = move.time                                  ? displayPlain(*move.time)
                             : planned != nullptr && planned->dose_time ? display(*planned->dose_time)
                                                                        : "its time";
    const std::string colour = move.colour.empty() ? "" : ", in " + move.colour;
    using routine::Action;
    switch (move.action) {
        case Action::Wait: return "wait " + time;
        case Action::Until:
            return fmt::format("wait until '{}' is {}, at most {}", nameOfInput(project, move.input),
                               move.released ? "no longer true" : "true", time);
        case Action::Again:
            return si(move.times) == 0.0 ? "all that again and again" : fmt::format("all that {:.0f} times", si(move.times));
        case Action::Clear: return fmt::format("'{}' counts from nothing", nameOfInput(project, move.input));
        case Action::Run: return fmt::format("{} runs {}for {}{}", name, move.backwards ? "backwards " : "", time, colour);
        case Action::Go:
            return fmt::format("{} goes {} {}{}", name,
                               !move.from_here  ? "to"
                               : move.backwards ? "back by"
                                                : "on by",
                               move.angle   ? display(*move.angle, 3)
                               : move.place ? displayPlain(*move.place)
                                            : "its end",
                               move.in_line ? ", in a straight line with it" : "");
        case Action::Home:
            return fmt::format("{} goes home until '{}'{}", name, nameOfInput(project, move.input),
                               move.angle || move.place ? ", backs off and comes again slowly" : "");
        default:
            return fmt::format("{} {}{}{}{}", name, labelOf(move.action), move.action == Action::On && move.backwards ? " backwards" : "",
                               move.time ? " " + displayPlain(*move.time) : "", colour);
    }
}

}  // namespace

std::vector<std::string> useOf(const project::Project& project, const plan::Plan& plan) {
    std::vector<std::string> lines;
    for (const auto& cue : project.routine.cues) {
        std::string line = startOf(project, cue);
        for (const auto& guard : cue.guards)
            line += fmt::format(", {} '{}'", guard.only ? "only while" : "unless", nameOfInput(project, guard.input));
        std::string moves;
        for (const auto& move : cue.moves)
            moves += (moves.empty() ? "" : move.together ? ", and at the same time " : ", then ") + moveOf(project, plan, move);
        lines.push_back(fmt::format("{}: {}.", line, moves.empty() ? "nothing happens yet" : moves));
    }
    for (const auto& interlock : project.routine.interlocks) {
        const auto* channel = project::findChannel(project, interlock.channel);
        std::vector<std::string> with;
        if (!interlock.input.empty()) with.push_back(fmt::format("'{}'", nameOfInput(project, interlock.input)));
        for (const auto& term : interlock.terms) {
            const auto* other = project::findChannel(project, term.channel);
            with.push_back((other != nullptr ? other->name : term.channel) + " " + labelOf(term.state));
        }
        lines.push_back(
            fmt::format("Never: {} on with {}.", channel != nullptr ? channel->name : interlock.channel, joined(with, " and ")));
    }
    for (const auto& row : plan::fiveStates(project, plan))
        lines.push_back(fmt::format("{}: at power-up {}, on stop {}, when the link is lost {}, without power {}, when it is back {}.",
                                    row.name, row.power_up, row.on_stop, row.link_lost, row.without_power, row.power_back));
    return lines;
}

std::vector<std::string> assemblyOrder(const project::Project& project, const proof::Proved& proved) {
    std::vector<std::string> list;
    const auto& plan = proved.plan;
    list.push_back(
        "Lay the parts out and count them against the list. Polarity of supplies, capacitors and diodes against the wiring table, before "
        "anything is joined.");
    for (const auto& bag : proved.bags)
        list.push_back(
            fmt::format("{}: build in only pieces that were tried and accepted ({} of {}).", bag.name, bag.accepted, bag.samples.size()));
    for (const auto& channel : project.channels)
        if (channel.fit.print != demand::Print::None)
            list.push_back(fmt::format("{}: hang the torque of the fit sheet on its printed arm, before anything is glued.", channel.name));
    for (const auto& rail : project.rails) {
        std::string line = fmt::format("{}: {}", rail.name,
                                       rail.conversion == power::Conversion::Direct
                                           ? "straight from its source"
                                           : std::string{labelOf(rail.conversion)} + ", set to its volts with nothing on it");
        if (rail.fuse) line += fmt::format("; its fuse of {} first in the plus", display(*rail.fuse));
        if (rail.bulk) line += fmt::format("; {} across it, plus to plus", display(*rail.bulk));
        list.push_back(line + ".");
    }
    list.push_back("All grounds to one point at the supply. One ohm or less from there to every driver.");
    bool serial = false;
    for (const auto& use : plan.pins) serial = serial || use.pin == "D0" || use.pin == "D1";
    list.push_back(serial ? "Upload the sketch before anything is soldered to D0 and D1: it cannot be uploaded while they are in use."
                          : "Upload the sketch with the movers' supply off.");
    for (const auto& channel : project.channels) {
        const auto* planned = plan::findChannel(plan, channel.id);
        if (planned == nullptr || !planned->chosen) continue;
        const bool straight = channel.drive.part == "straight_from_pin";
        std::string line =
            channel.name + ": wire " +
            (straight ? "it straight to its pin"
                      : "its " + (planned->chosen->driver_name.empty() ? std::string{"driver"} : planned->chosen->driver_name));
        for (const auto& extra : planned->protection) {
            if (extra.what == "flyback diode" && !channel.drive.flyback_diode) continue;
            line += fmt::format("; {} {}", extra.what, extra.value);
        }
        line += ". Load its test sketch, go through its steps below";
        if (planned->signal == plan::SignalKind::ServoPulse) line += ", send it to 1.5 ms, and only then its horn";
        else if (plan::isPulsed(*planned)) line += ", and only then belt, screw or wheel";
        list.push_back(line + ".");
    }
    if (!project.inputs.empty()) list.push_back("Buttons, switches and sensors, one by one; the link shows each.");
    list.push_back("The gadget's own sketch again; all channels together, in the open.");
    list.push_back("An hour of the whole routine. Then close the case.");
    return list;
}

}  // namespace hinge::report
