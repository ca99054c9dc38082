#include "plan/pins.hpp"
#include "driver/gate_network.hpp"
#include "quantity/constants.hpp"
#include "quantity/series.hpp"
#include "quantity/text.hpp"
#include "routine/program.hpp"
#include "timing/servo_pulse.hpp"
#include "timing/steps.hpp"
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <set>

namespace hinge::plan {
namespace {

void add(Plan& plan, const Finding& finding, Stage stage, const std::string& channel, std::vector<Remedy> remedies = {}) {
    plan.findings.push_back({finding.id, finding.severity, stage, channel, finding.text, std::move(remedies)});
}

constexpr double fan_pwm_frequency = 25e3;  // Hz, the middle of the 21 to 28 kHz that 4-wire fans take (common practice, no published source)

// Lines that a driver has besides its main one.
struct Line {
    const char* name;
    const char* field;
    std::string pin;
    bool output = true;
};
std::vector<Line> linesOf(const ChannelPlan& plan, const project::Channel& channel) {
    std::vector<Line> lines;
    if (plan.signal == SignalKind::Steps || (plan.signal == SignalKind::Pwm && plan.context.ask.both_ways)) lines.push_back({"direction", "direction_pin", channel.direction_pin});
    if (plan.signal == SignalKind::Steps) lines.push_back({"enable", "enable_pin", channel.enable_pin});
    if (!channel.tach_pin.empty()) lines.push_back({"tach", "tach_pin", channel.tach_pin, false});
    return lines;
}

// The pulses of a servo's or a stepper's move.
void evaluateMotion(const project::Channel& channel, const project::Parts& parts, Plan& plan, ChannelPlan& out) {
    const auto* part = match::partOf(out.context, parts, channel.actuator);
    const auto& asked = out.context.ask;
    if (part == nullptr || !asked.angle || !asked.time) return;
    const double ratio = out.context.gear_ratio;
    const auto show = [&](const char* title, const auto& worked) {
        plan.workings.push_back({title, Stage::Pulse, channel.id, worked.steps, worked.verdict});
        for (const auto& finding : worked.findings) add(plan, finding, Stage::Pulse, channel.id);
    };
    if (const auto* servo = std::get_if<actuator::Servo>(part); servo != nullptr && out.signal == SignalKind::ServoPulse) {
        if (!channel.calibration.pulse_min || !channel.calibration.pulse_max || !servo->range) return;
        const auto pulseAt = [&](double angle) {
            timing::ServoPulse in;
            in.pulse_min = *channel.calibration.pulse_min;
            in.pulse_max = *channel.calibration.pulse_max;
            in.angle_range = *servo->range;
            in.angle = of<Angle>(angle);
            return timing::servoPulse(in);
        };
        // The move stands in the middle of the servo's range, so that travel is left on both sides.
        const double sweep = si(*asked.angle) * ratio, start = std::max(0.0, (si(*servo->range) - sweep) / 2.0);
        const auto from = pulseAt(start), to = pulseAt(start + sweep);
        if (from && to) {
            show("pulse at the end of the move", *to);
            out.motion.pulse_from = from->result.pulse;
            out.motion.pulse_to = to->result.pulse;
            out.motion.pulse_per_angle = (si(*channel.calibration.pulse_max) - si(*channel.calibration.pulse_min)) / si(*servo->range) * ratio;
        }
    }
    if (const auto* stepper = std::get_if<actuator::Stepper>(part); stepper != nullptr && out.signal == SignalKind::Steps) {
        timing::StepTiming in;
        in.steps_per_turn = of<Count>(std::round(si(stepper->steps_per_turn) * si(stepper->gear_ratio) * ratio));
        in.microsteps = channel.signal.microsteps;
        in.travel_per_turn = {2.0 * constants::pi, Kind::Angle};
        in.distance = {si(*asked.angle), Kind::Angle};
        if (asked.travel_per_turn && asked.stroke) in.travel_per_turn = {si(*asked.travel_per_turn), Kind::Length}, in.distance = {si(*asked.stroke), Kind::Length};
        in.duration = *asked.time;
        const auto worked = timing::stepTiming(in);
        if (!worked) return;
        show("steps of one move", *worked);
        out.motion.steps = worked->result.steps;
        out.motion.step_rate = worked->result.step_rate;
        const double steps = si(worked->result.steps), time = si(*asked.time);
        out.motion.peak_rate = of<Frequency>(2.0 * steps / time);
        if (steps < 2.0) return;
        timing::StepProfile profile;
        profile.steps = worked->result.steps;
        profile.rate = of<Frequency>(2.0 * steps / time);
        profile.acceleration = of<StepAcceleration>(4.0 * steps / (time * time));
        if (const auto ramp = timing::stepProfile(profile)) show("its ramp, triangular", *ramp);
        // The sketch steps on a beat of 62.5 µs: sixteen steps a millisecond.
        const double most = 16e3;
        if (si(*out.motion.peak_rate) > most) {
            const double coarser = std::exp2(std::floor(std::log2(si(channel.signal.microsteps) * most / si(*out.motion.peak_rate))));
            std::vector<Remedy> remedies;
            if (coarser >= 1.0) remedies.push_back({fmt::format("Use {:.0f} micro-steps", coarser), {{"channels/" + channel.id + "/signal/microsteps", fmt::format("{:.0f}", coarser)}}, "a little more noise"});
            add(plan, {"step-too-fast", Severity::Stop, fmt::format("At its fastest the move wants {}; the sketch steps at most {}.", display(*out.motion.peak_rate), display(Kind::Frequency, most))}, Stage::Pulse, channel.id, std::move(remedies));
        }
        if (steps > routine::largest_place)
            add(plan, {"move-too-long", Severity::Stop, fmt::format("A move of {:.0f} steps is more than the {} that the sketch counts.", steps, routine::largest_place)}, Stage::Pulse, channel.id);
    }
}

}  // namespace

double sketchTimerFrequency(const board::Family& family) { return family.clock / (64.0 * 256.0); }

void evaluatePins(const project::Project& project, const project::Parts& parts, Plan& plan) {
    const auto& family = board::family(project.board.form);
    std::map<std::string, std::vector<std::string>> users;  // by pin: who sits on it
    for (const auto& channel : project.channels) {
        if (!channel.pin.empty()) users[channel.pin].push_back(channel.name);
        if (!channel.direction_pin.empty()) users[channel.direction_pin].push_back(channel.name + ", direction");
        if (!channel.enable_pin.empty()) users[channel.enable_pin].push_back(channel.name + ", enable");
        if (!channel.tach_pin.empty()) users[channel.tach_pin].push_back(channel.name + ", tach");
    }
    for (const auto& input : project.inputs)
        if (!input.pin.empty()) users[input.pin].push_back(input.name);
    const bool beat = std::any_of(plan.channels.begin(), plan.channels.end(), [](const ChannelPlan& c) { return isPlaced(c); });   // timer 2 keeps it
    const auto freePin = [&](bool pwm) -> std::optional<board::Pin> {
        for (const auto& pin : family.pins)
            if (users[std::string{pin.name}].empty() && pin.shares.empty() && (!pwm || (pin.pwm_timer >= 0 && !(pin.pwm_timer == 2 && beat)))) return pin;
        return std::nullopt;
    };
    const auto moveTo = [&](const std::string& path, bool pwm) {
        std::vector<Remedy> remedies;
        if (const auto pin = freePin(pwm)) remedies.push_back({fmt::format("Move it to {}", pin->name), {{path, std::string{pin->name}}}, "one wire moves"});
        return remedies;
    };
    const auto common = [&](const std::string& name, const std::string& pin_name, const std::string& path, const std::string& channel, bool pwm) -> std::optional<board::Pin> {
        const auto pin = board::pinNamed(family, pin_name);
        if (!pin) {
            add(plan, {"pin-cannot", Severity::Stop, fmt::format("{} is to sit on {}, which this board does not have.", name, pin_name)}, Stage::Pins, channel, moveTo(path, pwm));
            return std::nullopt;
        }
        if (users[pin_name].size() > 1 && users[pin_name].front() != name)
            add(plan, {"pin-taken", Severity::Stop, fmt::format("{} and {} are both on {}.", users[pin_name].front(), name, pin_name)}, Stage::Pins, channel, moveTo(path, pwm));
        if (pin->number <= 1)
            add(plan, {"serial-shared", Severity::Stop, fmt::format("{} is the {} line: while {} sits there you can neither upload nor tune.", pin_name, pin->shares, name)}, Stage::Pins, channel, moveTo(path, pwm));
        return pin;
    };

    for (const auto& channel : project.channels) {
        auto& channel_plan = *std::find_if(plan.channels.begin(), plan.channels.end(), [&](const ChannelPlan& c) { return c.id == channel.id; });
        const auto* part = project::findDriver(parts, channel.drive.part);
        evaluateMotion(channel, parts, plan, channel_plan);
        for (const auto& line : linesOf(channel_plan, channel)) {
            const std::string line_path = "channels/" + channel.id + "/" + line.field;
            if (line.pin.empty()) {
                plan.missing.push_back({line_path, channel.name + ": " + std::string{line.name} + " pin", "any free pin", Stage::Pins, channel.id});
                continue;
            }
            common(channel.name + ", " + line.name, line.pin, line_path, channel.id, false);
            plan.pins.push_back({line.pin, channel.id, std::string{line.name} + " of " + channel.name, Verdict::Holds, line.output});
        }
        if (channel.pin.empty()) continue;
        const bool fan = channel_plan.signal == SignalKind::FanPwm;
        const bool wants_pwm = fan || channel_plan.signal == SignalKind::Pwm;
        const Frequency asked = fan ? of<Frequency>(fan_pwm_frequency) : channel.signal.frequency;
        const std::string path = "channels/" + channel.id + "/pin";
        const auto pin = common(channel.name, channel.pin, path, channel.id, wants_pwm);
        const char* does = channel_plan.signal == SignalKind::Steps ? "steps " : channel_plan.signal == SignalKind::ServoPulse ? "places " : "drives ";
        PinUse use{channel.pin, channel.id, does + channel.name, Verdict::Holds, true};
        if (pin && wants_pwm && pin->pwm_timer < 0)
            add(plan, {"pin-cannot", Severity::Stop, fmt::format("{} has no PWM; {} needs it.", channel.pin, fan ? "a 4-wire fan" : "a soft start or part power")}, Stage::Pins, channel.id, moveTo(path, true));
        const bool beat_taken = pin && wants_pwm && pin->pwm_timer == 2 && beat;
        if (beat_taken)
            add(plan, {"timer-clash", Severity::Stop, fmt::format("{} hangs on timer 2, which beats for servos and steps; it cannot give PWM besides.", channel.pin)}, Stage::Pins, channel.id, moveTo(path, true));
        if (pin && pin->pwm_timer >= 0 && wants_pwm && !beat_taken) {
            timing::PwmTimer in;
            in.mcu = family.mcu;
            in.clock = of<Frequency>(family.clock);
            in.timer = of<Count>(pin->pwm_timer);
            in.frequency = asked;
            const double fixed = sketchTimerFrequency(family);
            if (pin->pwm_timer == 0) {
                // The sketch's clock lives on this timer: its frequency is what it is.
                in.frequency = of<Frequency>(fixed);
                in.mode = timing::PwmMode::Fast;
                if (std::abs(si(asked) / fixed - 1.0) > 0.01) {
                    std::vector<Remedy> remedies;
                    if (!fan) remedies.push_back({fmt::format("Use {}", display(Kind::Frequency, fixed)), {{"channels/" + channel.id + "/signal/frequency", exactText(Kind::Frequency, fixed)}}, "costs nothing"});
                    for (const auto& other : family.pins)
                        if (other.pwm_timer == 1 && users[std::string{other.name}].empty() && other.shares.empty()) remedies.push_back({fmt::format("Move it to {}", other.name), {{path, std::string{other.name}}}, "one wire moves"});
                    add(plan, {fan ? "fan-wrong-pwm" : "timer-clash", Severity::Stop, fmt::format("{} hangs on timer 0, which keeps the sketch's clock at {}; it cannot give {}.", channel.pin, display(Kind::Frequency, fixed), display(asked))}, Stage::Pins, channel.id, remedies);
                }
            }
            const auto worked = timing::pwmTimer(in);
            if (worked) {
                channel_plan.pwm = worked->result;
                plan.workings.push_back({"PWM on timer " + std::to_string(pin->pwm_timer), Stage::Pulse, channel.id, worked->steps, worked->verdict});
                if (pin->pwm_output == 'A' && !worked->findings.empty())
                    add(plan, {"pin-cannot", Severity::Stop, fmt::format("{} is output A of timer {}, which this frequency takes for its TOP.", channel.pin, pin->pwm_timer)}, Stage::Pins, channel.id, moveTo(path, true));
            } else {
                add(plan, {"frequency-out-of-reach", Severity::Stop, fmt::format("Timer {} cannot give {}: {}.", pin->pwm_timer, display(asked), worked.error().accepted)}, Stage::Pulse, channel.id,
                    {{fmt::format("Use {}", display(Kind::Frequency, fixed)), {{"channels/" + channel.id + "/signal/frequency", exactText(Kind::Frequency, fixed)}}, "costs nothing"}});
            }
            const double f = channel_plan.pwm ? si(channel_plan.pwm->actual_frequency) : 0.0;
            if (!fan && si(channel.signal.duty) < 1.0 && f > 20.0 && f < 18000.0)
                add(plan, {"audible-pwm", Severity::Warn, fmt::format("{} can be heard while {} runs at {}.", display(Kind::Frequency, f), channel.name, display(channel.signal.duty))}, Stage::Pulse, channel.id,
                    {{"Run it at full power", {{"channels/" + channel.id + "/signal/duty", "1"}}, "it runs faster"}});
        }
        if (pin && part != nullptr && part->driver_class == driver::DriverClass::Mosfet) {
            driver::GateNetwork in;
            in.drive_voltage = of<Voltage>(family.logic);
            in.gate_resistor = channel.drive.gate_resistor;
            in.pulldown = channel.drive.pulldown;
            in.pulldown_side = channel.drive.pulldown_side;
            in.pin_current_max = of<Current>(family.pin_current);
            if (const auto worked = driver::gateNetwork(in)) {
                plan.workings.push_back({"gate resistor and pull-down", Stage::Match, channel.id, worked->steps, worked->verdict});
                for (const auto& finding : worked->findings) {
                    std::vector<Remedy> remedies;
                    if (finding.id == "pin-overcurrent") {
                        const double value = preferred(si(worked->result.smallest_gate_resistor), Series::E12, Round::Up);
                        remedies.push_back({fmt::format("Use {}", displayPlain(Kind::Resistance, value)), {{"channels/" + channel.id + "/drive/gate_resistor", exactText(Kind::Resistance, value)}}, "another resistor"});
                    }
                    if (finding.id == "gate-divided") remedies.push_back({"Pull down at the pin", {{"channels/" + channel.id + "/drive/pulldown_side", "pin"}}, "one wire moves"});
                    add(plan, finding, Stage::Match, channel.id, remedies);
                    if (finding.severity == Severity::Stop) use.verdict = Verdict::Breaks;
                }
            }
        }
        plan.pins.push_back(use);
    }
    for (const auto& input : project.inputs) {
        if (input.pin.empty()) continue;
        common(input.name, input.pin, "inputs/" + input.id + "/pin", "", false);
        plan.pins.push_back({input.pin, input.id, "reads " + input.name, Verdict::Holds, false});
    }
    for (auto& use : plan.pins)
        for (const auto& finding : plan.findings)
            if (finding.stage == Stage::Pins && finding.severity == Severity::Stop && finding.channel == use.user) use.verdict = Verdict::Breaks;
}

std::vector<board::PinWish> pinWishes(const project::Project& project, const Plan& plan) {
    std::vector<board::PinWish> wishes;
    for (const auto& channel : project.channels) {
        const auto* planned = findChannel(plan, channel.id);
        if (planned == nullptr || planned->signal == SignalKind::Unknown) continue;
        board::PinWish wish;
        wish.id = "channels/" + channel.id + "/pin";
        wish.name = channel.name;
        wish.fixed = channel.pin;
        if (planned->signal == SignalKind::FanPwm) wish.pwm = fan_pwm_frequency, wish.name += " (PWM of a 4-wire fan)";
        if (planned->signal == SignalKind::Pwm) wish.pwm = si(channel.signal.frequency), wish.name += " (PWM)";
        wishes.push_back(wish);
        for (const auto& line : linesOf(*planned, channel)) {
            board::PinWish more;
            more.id = "channels/" + channel.id + "/" + line.field;
            more.name = channel.name + " (" + line.name + ")";
            more.fixed = line.pin;
            wishes.push_back(more);
        }
    }
    for (const auto& input : project.inputs) {
        board::PinWish wish;
        wish.id = "inputs/" + input.id + "/pin";
        wish.name = input.name;
        wish.fixed = input.pin;
        wishes.push_back(wish);
    }
    return wishes;
}

void offerPins(const project::Project& project, Plan& plan) {
    const auto wishes = pinWishes(project, plan);
    const auto open = std::count_if(wishes.begin(), wishes.end(), [](const board::PinWish& wish) { return wish.fixed.empty(); });
    if (open == 0) return;
    const auto& family = board::family(project.board.form);
    board::PinRules rules;
    rules.clock_frequency = sketchTimerFrequency(family);
    rules.beat = std::any_of(plan.channels.begin(), plan.channels.end(), [](const ChannelPlan& c) { return isPlaced(c); });
    const auto solved = board::assignPins(family, rules, wishes);
    if (const auto* clash = std::get_if<board::PinClash>(&solved)) {
        add(plan, {"pins-short", Severity::Stop, clash->why + ". Free one of them by hand, ask less of one, or take a board with more."}, Stage::Pins, "");
        return;
    }
    Remedy remedy{open == 1 ? "Give it a pin" : "Give them pins", {}, "wires to run"};
    std::string where;
    for (const auto& choice : std::get<std::vector<board::PinChoice>>(solved)) {
        const auto wish = std::find_if(wishes.begin(), wishes.end(), [&](const board::PinWish& w) { return w.id == choice.id; });
        if (!wish->fixed.empty()) continue;
        remedy.edits.push_back({choice.id, choice.pin});
        where += (where.empty() ? "" : ", ") + wish->name + " on " + choice.pin;
    }
    add(plan, {"pins-open", Severity::Note, fmt::format("{} {} no pin yet. They fit: {}.", open, open == 1 ? "line has" : "lines have", where)}, Stage::Pins, "", {std::move(remedy)});
}

}  // namespace hinge::plan
