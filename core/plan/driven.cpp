#include "plan/driven.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "firmware/target.hpp"
#include "kinds/demand_kind.hpp"
#include "kinds/expander.hpp"
#include "match/judge.hpp"
#include "plan/feed.hpp"
#include "plan/input_wiring.hpp"

namespace hinge::plan {
namespace {

constexpr double slowest_slice = 990.0;  // Hz: a period of a tick, by a divider that need not meet 1 kHz

using Reason = kinds::NotDriven;

// How the routine commands a channel.
struct Asked {
    bool at_all = false;
    bool shares = false;  ///< parts of its full power
    bool loop = false;
    bool in_proportion = false;  ///< by a follower
};
Asked askedOf(const routine::Routine& routine, const std::string& channel) {
    Asked asked;
    asked.shares = asksForShares(routine, channel);
    for (const auto& cue : routine.cues)
        for (const auto& move : cue.moves) asked.at_all = asked.at_all || move.channel == channel;
    for (const auto& follower : routine.followers) {
        asked.at_all = asked.at_all || follower.channel == channel;
        asked.in_proportion = asked.in_proportion || (follower.channel == channel && follower.proportional);
    }
    for (const auto& loop : routine.loops) asked.loop = asked.loop || loop.channel == channel;
    asked.at_all = asked.at_all || asked.loop;
    return asked;
}

bool dimmed(const project::Channel& channel, const Asked& asked) {
    return kinds::isDimmed(channel.demand) || asked.shares || si(channel.signal.duty) < 1.0;
}

// What keeps the sketch from firing into half-waves of the mains.
std::optional<Reason> notFired(const project::Project& project, const Plan& plan, const project::Channel& channel,
                               const board::Family& family) {
    const std::string path = "channels/" + channel.id + "/";
    if (!board::firesHalfWaves(family))
        return Reason{
            fmt::format("the sketch fires into the mains' half-waves {}",
                        family.target == firmware::Target::Avr ? fmt::format("by a timer of 16 bits, which {} has not", family.name)
                                                               : fmt::format("on other boards; it is not yet written for {}", family.name)),
            {{"The ATmega328P board", {{"board/form", "atmega328p-16mhz"}}, "another board"}}};
    const auto mains = kinds::demandKind(channel.demand).mains(channel.demand);
    for (const auto& other : project.channels) {
        const auto theirs = kinds::demandKind(other.demand).mains(other.demand);
        const auto* planned = findChannel(plan, other.id);
        if (planned == nullptr || planned->signal != SignalKind::PartWaves || !theirs || theirs->frequency == mains->frequency) continue;
        return Reason{fmt::format("its mains is set to {} and that of {} to {}, and one line tells the crossings of both",
                                  display(mains->frequency), other.name, display(theirs->frequency)),
                      {{"As " + other.name,
                        {{path + "demand/mains_frequency", exactText(Kind::Frequency, si(theirs->frequency))}},
                        "costs nothing"}}};
    }
    return std::nullopt;
}

// A servo's pulses from a board that makes them by itself.
std::vector<Remedy> servoBoard(const project::Parts& parts, const ChannelPlan& planned, const std::string& path) {
    if (!kinds::isServoPulse(planned.signal)) return {};
    for (const auto& driver : parts.drivers)
        if (const auto* map = kinds::registersOf(driver);
            map != nullptr && kinds::takesOthers(*map) && kinds::canDrive(driver, match::Method::ServoPulse))
            return {{"Behind the " + driver.name, {{path + "drive/part", driver.id}, {path + "pin", "X0"}}, "another board, on two wires"}};
    return {};
}

// What a board of more lines cannot do for the driver that hangs on it.
std::optional<Reason> notExpanded(const project::Project& project, const project::Parts& parts, const project::Channel& channel,
                                  const ChannelPlan& planned) {
    if (channel.drive.expander.empty()) return std::nullopt;
    const std::string path = "channels/" + channel.id + "/";
    const Remedy off{"A pin of the board itself", {{path + "drive/expander", ""}, {path + "pin", ""}}, "a pin"};
    const auto* map = driver::findRegisterMap(channel.drive.expander);
    if (map == nullptr || driver::gives(*map) == driver::ExpanderGives::Nothing)
        return Reason{fmt::format("its pin is to lie on '{}', which is no board of more lines", channel.drive.expander), {off}};
    const auto* driver = project::findDriver(parts, channel.drive.part);
    if (driver != nullptr && kinds::driverKind(*driver).own_outputs)
        return Reason{"its driver is a board of more lines itself, and its pin is to lie on another",
                      {{"Its driver's own outputs", {{path + "drive/expander", ""}}, "costs nothing"}}};
    const auto box = kinds::expanderName(*map, 1);
    if (map->bus == driver::RegisterBus::Serial && !kinds::isServoPulse(planned.signal))
        return Reason{fmt::format("the {} gives servos' pulses and nothing else", box), {off}};
    if (driver::gives(*map) == driver::ExpanderGives::Readings) return Reason{fmt::format("the {} reads, and drives nothing", box), {off}};
    if (kinds::isServoPulse(planned.signal)) {
        const auto* board = kinds::boardWith(parts.drivers, *map);
        if (board == nullptr || !kinds::canDrive(*board, match::Method::ServoPulse))
            return Reason{fmt::format("the {} gives no servo's pulses", box), {off}};
        return Reason{
            fmt::format("a servo's pulses come from the {} where that is its driver", box),
            {{"Take it as its driver", {{path + "drive/part", board->id}, {path + "drive/expander", ""}}, "its plug goes there"}}};
    }
    if (kinds::isSteps(planned.signal)) return Reason{fmt::format("steps come too fast for the {}", box), {off}};
    if (planned.signal == SignalKind::FanPwm)
        return Reason{fmt::format("a fan's PWM wire wants 25 kHz, and the {} gives none of that", box), {off}};
    if (planned.signal == SignalKind::WholeCycles || planned.signal == SignalKind::PartWaves)
        return Reason{fmt::format("the mains is let through to the millisecond, and what the {} is told may come later", box), {off}};
    if (planned.latch || planned.two_inputs || routine::turnsRound(project.routine, channel.id) || planned.context->ask.both_ways)
        return Reason{fmt::format("its two lines have to change at one moment, and the {} is told one after the other", box), {off}};
    if (driver::gives(*map) == driver::ExpanderGives::Levels && planned.signal == SignalKind::Pwm)
        return Reason{
            fmt::format("parts of its power or a soft start are asked for, and a line of the {} is only on or off", box),
            {{"On and off at once", {{path + "signal/duty", "1"}, {path + "signal/soft_start", "0 s"}}, "it starts with its whole current"},
             off}};
    return std::nullopt;
}

std::optional<Reason> reasonOf(const project::Project& project, const project::Parts& parts, const Plan& plan,
                               const project::Channel& channel, const ChannelPlan& planned, const board::Family& family) {
    const std::string path = "channels/" + channel.id + "/";
    const auto asked = askedOf(project.routine, channel.id);
    const auto* part = match::partOf(planned.context, parts, channel.actuator);
    const auto* driver = project::findDriver(parts, channel.drive.part);
    if (part == nullptr || driver == nullptr) {
        if (!asked.at_all || (!channel.actuator.empty() && part == nullptr)) return std::nullopt;  // that is a stop of its own
        return Reason{part == nullptr ? "no part is chosen for it, so nobody knows what its pin must do"
                                      : "no driver is chosen for it, so nobody knows what its pin must do",
                      {}};
    }
    const auto method = match::methodFor(planned.context, *part);
    if (!method) return Reason{fmt::format("{} is not made for what Need asks and how it is fed", actuator::head(*part).name), {}};
    if (!kinds::canDrive(*driver, *method)) return Reason{fmt::format("{} cannot drive {}", driver->name, actuator::head(*part).name), {}};
    const kinds::Commanded commanded{channel, *part, *driver, planned.context, method, dimmed(channel, asked)};
    if (auto reason = kinds::driverKind(*driver).refuses(commanded)) return reason;
    if (auto reason = kinds::actuatorKind(*part).refuses(commanded)) return reason;
    if ((planned.signal == SignalKind::Switched || planned.signal == SignalKind::LatchPulses) && asked.shares)
        return Reason{fmt::format("parts of its power are asked for, and {} is only on or off", driver->name), {}};
    const auto target = family.target;
    if (auto reason = notExpanded(project, parts, channel, planned)) return reason;
    if (planned.expander && planned.expander->map->bus == driver::RegisterBus::Serial && target == firmware::Target::Linux)
        return Reason{
            fmt::format("a servo expander on a serial line wants its bits to the microsecond, and {} has an operating system: take "
                        "one on two wires",
                        family.name),
            {}};
    if (isBeaten(planned) && target == firmware::Target::Linux)
        return Reason{
            fmt::format("the sketch makes no servo pulses and no steps on {}: an operating system would jitter them", family.name),
            servoBoard(parts, planned, path)};
    if (isBeaten(planned) && target == firmware::Target::Avr && family.clock != 16e6)
        return Reason{"servos and steps beat on a timer at 16 MHz, and this board runs at another", {}};
    if (channel.remembers && target != firmware::Target::Avr && !isPlaced(planned))
        return Reason{"it is to come back as it was after a power cut, and the sketch remembers only in the memory of an AVR",
                      {{"Not as before", {{path + "remembers", "no"}}, "it waits for a start after a power cut"}}};
    if (kinds::switchedEnds(*driver) > 0 && planned.switched_ends == 0)
        return Reason{
            fmt::format("{} has an input for each of its switches, and pulses with a dead time between two of them are made for what "
                        "takes a share of its power and is no coil",
                        driver->name),
            {}};
    if (planned.switched_ends > 0 &&
        std::all_of(family.pins.begin(), family.pins.end(), [&](const board::Pin& pin) { return board::pairsOf(family, pin).empty(); }))
        return Reason{
            fmt::format("{} has an input for each of its switches: the sketch makes pulses with a dead time between two of them by "
                        "timers that count up and down, and {} has none for that. A bridge that keeps the dead time itself would do",
                        driver->name, family.name),
            {}};
    if (planned.switched_ends > 0 && target == firmware::Target::Rp2040 && planned.pwm && si(planned.pwm->actual_frequency) < slowest_slice)
        return Reason{
            fmt::format("between driving its motor and shorting it both switches of an end stay open for a whole period, for which the "
                        "sketch waits: {} holds up everything else for too long",
                        display(planned.pwm->actual_frequency)),
            {{"Use 4 kHz", {{path + "signal/frequency", "4 kHz"}}, "it may be heard"}}};
    if (!family.real_time && (planned.signal == SignalKind::Pwm || planned.signal == SignalKind::FanPwm) && !planned.pwm)
        return Reason{
            fmt::format("the sketch makes no PWM there on {}: an operating system would jitter it. Take a pin with a {} of its own",
                        family.name, family.timer_word),
            {}};
    if (planned.switched_ends == 0 && planned.two_inputs && planned.pwm && !channel.direction_pin.empty() && !planned.second_pwm)
        return Reason{fmt::format("its bridge's second input wants pulses as its first does, and {} gives none of {}",
                                  channel.direction_pin, display(channel.signal.frequency)),
                      {}};
    if (!family.real_time && planned.signal == SignalKind::WholeCycles)
        return Reason{fmt::format("the sketch counts no cycles of the mains on {}: an operating system would cut them short", family.name),
                      {}};
    if (planned.signal == SignalKind::PartWaves)
        if (auto reason = notFired(project, plan, channel, family)) return reason;
    if (kinds::isSteps(planned.signal) && isPlaced(planned) && !asked.loop && channel.signal.let_go_after && channel.enable_pin.empty())
        return Reason{"it is to be let go at rest, and its driver's enable line has no pin",
                      {{"Hold it for ever", {{path + "signal/let_go_after", ""}}, "its driver and motor stay warm"}}};
    if (planned.registers && planned.registers->writes.empty()) return Reason{planned.registers->refused, {}};
    if (asked.loop && asked.in_proportion)
        return Reason{"a follower in proportion and a loop both set its power: the loop would never be heard", {}};
    return std::nullopt;
}

}  // namespace

bool endsByContact(const project::Project& project, std::string_view channel) {
    const auto says = [&](const std::string& id) {
        const auto* input = project::findInput(project, id);
        return input != nullptr && (input->kind == project::InputKind::EndSwitch || input->kind == project::InputKind::Sensor);
    };
    bool any = false;
    for (const auto& cue : project.routine.cues) {
        const bool ends = std::any_of(cue.guards.begin(), cue.guards.end(), [&](const routine::Guard& guard) {
            const auto* input = project::findInput(project, guard.input);
            return guard.throughout && !guard.only && input != nullptr && input->kind == project::InputKind::EndSwitch;
        });
        bool on = false;
        for (const auto& move : cue.moves) {
            if (move.action == routine::Action::Until && says(move.input)) on = false;
            if (move.channel != channel || (move.action != routine::Action::On && move.action != routine::Action::Run)) continue;
            if (!ends && move.action == routine::Action::Run) return false;
            on = move.action == routine::Action::On;
            any = true;
        }
        if (on) return false;  // for as long as nothing turns it off
    }
    return any;
}

bool asksForShares(const routine::Routine& routine, std::string_view channel) {
    const auto moved = [&](const routine::Cue& cue) {
        return std::any_of(cue.moves.begin(), cue.moves.end(), [&](const routine::Move& move) {
            return move.channel == channel && (move.level || move.action == routine::Action::Flicker);
        });
    };
    return std::any_of(routine.cues.begin(), routine.cues.end(), moved) ||
           std::any_of(routine.followers.begin(), routine.followers.end(),
                       [&](const routine::Follower& follower) { return follower.channel == channel && follower.proportional; }) ||
           routine::isHeld(routine, channel);
}

void judgeDriven(const project::Project& project, const project::Parts& parts, Plan& plan) {
    const auto& family = board::family(project.board.form);
    // While nothing is chosen yet, what is missing is not broken: there is no sketch, and that is all.
    const bool begun = std::any_of(project.channels.begin(), project.channels.end(), [](const project::Channel& channel) {
        return !channel.actuator.empty() && !channel.drive.part.empty();
    });
    for (const auto& channel : project.channels) {
        const auto planned =
            std::find_if(plan.channels.begin(), plan.channels.end(), [&](const auto& each) { return each.id == channel.id; });
        if (planned == plan.channels.end()) continue;
        auto reason = reasonOf(project, parts, plan, channel, *planned, family);
        if (!reason) continue;
        planned->not_driven = reason->why;
        if (!begun) continue;
        plan.findings.push_back({"not-driven", Severity::Stop, Stage::Code, channel.id,
                                 fmt::format("The sketch does not drive {}: {}. It is refused until that is settled, or {} is left out.",
                                             channel.name, reason->why, channel.name),
                                 std::move(reason->remedies)});
    }
    const auto target = family.target;
    if (project.board.watchdog && target == firmware::Target::Linux)
        plan.findings.push_back({"no-watchdog",
                                 Severity::Warn,
                                 Stage::Code,
                                 "",
                                 fmt::format("The sketch feeds no watchdog on {}: a program that hangs leaves its outputs as they are. Let "
                                             "the system start it anew, and give what may not stay on a limit of its own.",
                                             family.name),
                                 {{"No watchdog", {{"board/watchdog", "no"}}, "it is not kept up by one"}}});
    if (!family.link && begun) {
        plan.findings.push_back(
            {"no-link",
             Severity::Note,
             Stage::Code,
             "",
             fmt::format("On {} the sketch has no link, for want of a serial port: its numbers are changed in the sketch "
                         "itself, and nothing is tuned or told live.",
                         family.name),
             {}});
    }
    for (const auto& input : project.inputs) {
        const bool reading = project::isAnalogue(input.kind), tach = input.kind == project::InputKind::Tach;
        if (target != firmware::Target::Linux || !(reading || tach) || expanderOf(input)) continue;
        plan.findings.push_back({"not-read",
                                 Severity::Stop,
                                 Stage::Code,
                                 "",
                                 fmt::format("The sketch does not read {}: {}.", input.name,
                                             reading ? "this header has no converter, only yes and no; an ADC on two wires would do"
                                                     : "under an operating system some of its pulses are lost"),
                                 {}});
    }
}

void judgeHeard(const project::Project& project, Plan& plan) {
    if (!plan.program) return;
    for (const auto& each : firmware::unheard(board::family(project.board.form), *plan.program))
        plan.findings.push_back(
            {"not-read", Severity::Stop, Stage::Code, "", fmt::format("The sketch does not hear {}: {}.", each.name, each.why), {}});
}

std::vector<IdleLine> idleLines(const project::Channel& channel, const ChannelPlan& planned) {
    const bool steps = kinds::isSteps(planned.signal);
    std::vector<IdleLine> lines;
    if (!channel.pin.empty() && !planned.expander)
        lines.push_back({channel.pin, planned.inverted, channel.name + ": not commanded, so it stands still"});
    if (!channel.direction_pin.empty())
        lines.push_back({channel.direction_pin, false,
                         channel.name + (planned.two_inputs ? ": its second input, so that it coasts" : ": one direction")});
    for (const auto* lower : {&channel.low_pin, &channel.back_low_pin})
        if (!lower->empty()) lines.push_back({*lower, false, channel.name + ": a lower switch, open"});
    if (!channel.enable_pin.empty())
        lines.push_back({channel.enable_pin, steps, channel.name + (steps ? ": its driver asleep, active low" : ": off")});
    // Its chip is not spoken to: a serial line is high at rest, and so is a select line.
    if (!channel.select_pin.empty() && planned.registers)
        lines.push_back({channel.select_pin, true, channel.name + ": its driver is not spoken to"});
    return lines;
}

}  // namespace hinge::plan
