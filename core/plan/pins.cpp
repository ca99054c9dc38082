#include "plan/pins.hpp"
#include "driver/gate_network.hpp"
#include "quantity/series.hpp"
#include "quantity/text.hpp"
#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <set>

namespace hinge::plan {
namespace {

void add(Plan& plan, const Finding& finding, Stage stage, const std::string& channel, std::vector<Remedy> remedies = {}) {
    plan.findings.push_back({finding.id, finding.severity, stage, channel, finding.text, std::move(remedies)});
}

}  // namespace

double sketchTimerFrequency(const board::Family& family) { return family.clock / (64.0 * 256.0); }

void evaluatePins(const project::Project& project, const project::Parts& parts, Plan& plan) {
    const auto& family = board::family(project.board.form);
    std::map<std::string, std::vector<std::string>> users;  // by pin: who sits on it
    for (const auto& channel : project.channels)
        if (!channel.pin.empty()) users[channel.pin].push_back(channel.name);
    for (const auto& input : project.inputs)
        if (!input.pin.empty()) users[input.pin].push_back(input.name);
    const auto freePin = [&](bool pwm) -> std::optional<board::Pin> {
        for (const auto& pin : family.pins)
            if (users[std::string{pin.name}].empty() && pin.shares.empty() && (!pwm || pin.pwm_timer >= 0)) return pin;
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
        if (channel.pin.empty()) continue;
        const auto* part = project::findSwitch(parts, channel.drive.part);
        const bool relay = part != nullptr && part->switch_class == driver::SwitchClass::RelayBoard;
        const bool wants_pwm = !relay && (si(channel.signal.duty) < 1.0 || si(channel.signal.soft_start) > 0.0);
        const std::string path = "channels/" + channel.id + "/pin";
        const auto pin = common(channel.name, channel.pin, path, channel.id, wants_pwm);
        PinUse use{channel.pin, channel.id, "drives " + channel.name, Verdict::Holds, true};
        if (pin && wants_pwm && pin->pwm_timer < 0)
            add(plan, {"pin-cannot", Severity::Stop, fmt::format("{} has no PWM; a soft start or part power needs it.", channel.pin)}, Stage::Pins, channel.id, moveTo(path, true));
        if (pin && pin->pwm_timer >= 0 && wants_pwm) {
            timing::PwmTimer in;
            in.mcu = family.mcu;
            in.clock = of<Frequency>(family.clock);
            in.timer = of<Count>(pin->pwm_timer);
            in.frequency = channel.signal.frequency;
            const double fixed = sketchTimerFrequency(family);
            if (pin->pwm_timer == 0) {
                // The sketch's clock lives on this timer: its frequency is what it is.
                in.frequency = of<Frequency>(fixed);
                in.mode = timing::PwmMode::Fast;
                if (std::abs(si(channel.signal.frequency) / fixed - 1.0) > 0.01) {
                    std::vector<Remedy> remedies{{fmt::format("Use {}", display(Kind::Frequency, fixed)), {{"channels/" + channel.id + "/signal/frequency", exactText(Kind::Frequency, fixed)}}, "costs nothing"}};
                    for (const auto& other : family.pins)
                        if (other.pwm_timer == 1 && users[std::string{other.name}].empty() && other.shares.empty()) remedies.push_back({fmt::format("Move it to {}", other.name), {{path, std::string{other.name}}}, "one wire moves"});
                    add(plan, {"timer-clash", Severity::Stop, fmt::format("{} hangs on timer 0, which keeps the sketch's clock at {}; it cannot give {}.", channel.pin, display(Kind::Frequency, fixed), display(channel.signal.frequency))}, Stage::Pins, channel.id, remedies);
                }
            }
            const auto worked = timing::pwmTimer(in);
            if (worked) {
                channel_plan.pump.pwm = worked->result;
                plan.workings.push_back({"PWM on timer " + std::to_string(pin->pwm_timer), Stage::Pulse, channel.id, worked->steps, worked->verdict});
                if (pin->pwm_output == 'A' && !worked->findings.empty())
                    add(plan, {"pin-cannot", Severity::Stop, fmt::format("{} is output A of timer {}, which this frequency takes for its TOP.", channel.pin, pin->pwm_timer)}, Stage::Pins, channel.id, moveTo(path, true));
            } else {
                add(plan, {"frequency-out-of-reach", Severity::Stop, fmt::format("Timer {} cannot give {}: {}.", pin->pwm_timer, display(channel.signal.frequency), worked.error().accepted)}, Stage::Pulse, channel.id,
                    {{fmt::format("Use {}", display(Kind::Frequency, fixed)), {{"channels/" + channel.id + "/signal/frequency", exactText(Kind::Frequency, fixed)}}, "costs nothing"}});
            }
            const double f = channel_plan.pump.pwm ? si(channel_plan.pump.pwm->actual_frequency) : 0.0;
            if (si(channel.signal.duty) < 1.0 && f > 20.0 && f < 18000.0)
                add(plan, {"audible-pwm", Severity::Warn, fmt::format("{} can be heard while {} runs at {}.", display(Kind::Frequency, f), channel.name, display(channel.signal.duty))}, Stage::Pulse, channel.id,
                    {{"Run it at full power", {{"channels/" + channel.id + "/signal/duty", "1"}}, "a shorter dose"}});
        }
        if (pin && part != nullptr && part->switch_class == driver::SwitchClass::Mosfet) {
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

}  // namespace hinge::plan
