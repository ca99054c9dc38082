#include "plan/pins.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <map>
#include "board/pwm_pool.hpp"
#include "plan/expander_pins.hpp"
#include "plan/input_wiring.hpp"
#include "plan/motion.hpp"
#include "plan/pin_plan.hpp"
#include "plan/radio_line.hpp"
#include "quantity/series.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

/// Judges one project's lines; knows who sits where.
class PinJudge {
public:
    PinJudge(const project::Project& project, const project::Parts& parts, Plan& plan)
        : project_{project},
          parts_{parts},
          plan_{plan},
          family_{board::family(project.board.form)},
          beat_{beats(plan)},
          fires_{fires(plan)} {
        for (const auto& wish : pinWishes(project, plan, family_))
            if (!wish.fixed.empty()) users_[wish.fixed].push_back(wish.name);
    }

    void run() {
        for (const auto& channel : project_.channels) {
            auto& planned =
                *std::find_if(plan_.channels.begin(), plan_.channels.end(), [&](const ChannelPlan& c) { return c.id == channel.id; });
            evaluateMotion(channel, parts_, plan_, planned);
            evaluateMains(channel, parts_, plan_, planned);
            lines(channel, planned);
            if (planned.expander) judgeExpanded(project_, parts_, plan_, channel, planned);
            else if (!channel.pin.empty()) main(channel, planned);
        }
        if (fires_) crossings();
        for (const auto& line : sharedLines(plan_, project_)) shared(line);
        for (const auto& input : project_.inputs) {
            if (const auto at = expanderOf(input)) {
                judgeExpanded(project_, plan_, input, *at);
                continue;
            }
            if (!input.expander.empty() && project::hasPin(input.kind))
                add({"pin-cannot", Severity::Stop,
                     fmt::format("The pin of {} is to lie on '{}', which is no board of more lines.", input.name, input.expander)},
                    Stage::Pins, "", {{"A pin of the board itself", {{"inputs/" + input.id + "/expander", ""}}, "a pin"}});
            if (input.pin.empty()) continue;
            const auto pin = common(input.name, input.pin, "inputs/" + input.id + "/pin", "", std::nullopt, false);
            if (pin && project::isAnalogue(input.kind) && !pin->analog)
                add({"pin-cannot", Severity::Stop,
                     fmt::format("{} is read as a level; {} has no converter behind it.", input.name, input.pin)},
                    Stage::Pins, "");
            if (pin && pin->input_only && !project::pinActiveHigh(input) && !project::isAnalogue(input.kind))
                add({"pin-cannot", Severity::Warn,
                     fmt::format("{} has no pull-up of its own: give {} a resistor of 10 kΩ to {}.", input.pin, input.name,
                                 display(Kind::Voltage, family_.logic))},
                    Stage::Pins, "");
            if (pin && input.kind == project::InputKind::Tach && family_.emulated && !pin->interrupt)
                add({"no-interrupt", Severity::Stop,
                     fmt::format(
                         "{} has no interrupt of its own, and the sketch counts {}'s pulses by one: D2 or D3 on the smaller boards.",
                         input.pin, input.name)},
                    Stage::Pins, "", moveTo("inputs/" + input.id + "/pin", std::nullopt, false));
            const auto circuit = circuitOf(project_, input);
            const double bears = project::isAnalogue(input.kind) ? family_.logic : family_.logic + 0.3;
            if (circuit.most && si(*circuit.most) > bears + 1e-9) {
                std::vector<Remedy> remedies;
                if (circuit.wired == project::Wired::PoweredSensor && input.output_volts && project::isAnalogue(input.kind))
                    remedies.push_back({"Through a divider", {{"inputs/" + input.id + "/wired", "divider"}}, "two resistors"});
                add({"level-mismatch", Severity::Stop,
                     fmt::format("{} brings up to {} to {}, which bears {}. Feed it lower, or put a divider between.", input.name,
                                 display(*circuit.most, 3), input.pin, display(Kind::Voltage, bears, 3))},
                    Stage::Pins, "", std::move(remedies));
            }
            plan_.pins.push_back({input.pin, input.id, "reads " + input.name, Verdict::Holds, false});
        }
        if (project_.board.clock != project::BusClock::None) {
            const auto bus = family_.bus;
            if (bus.empty())
                add({"pin-cannot", Severity::Stop,
                     fmt::format("No two-wire bus of {} is written for: the clock cannot be read there.", family_.name)},
                    Stage::Pins, "", {{"The time from the link", {{"board/clock", "none"}}, "it is lost at every power cut"}});
            for (const auto& [name, pin] : bus) {
                if (users_[std::string{pin}].size() > 1)
                    add({"pin-cannot", Severity::Stop,
                         fmt::format("{} is the two-wire bus's {}: the clock needs it for itself.", pin, name)},
                        Stage::Pins, "");
                plan_.pins.push_back({std::string{pin}, "clock", "two-wire bus, " + std::string{name}, Verdict::Holds, false});
            }
        }
        grounds();
        evaluateInterrupts(project_, plan_);
        for (auto& use : plan_.pins)
            for (const auto& finding : plan_.findings)
                if (finding.stage == Stage::Pins && finding.severity == Severity::Stop && finding.channel == use.user)
                    use.verdict = Verdict::Breaks;
    }

private:
    void add(const Finding& finding, Stage stage, const std::string& channel, std::vector<Remedy> remedies = {}) {
        plan_.findings.push_back({finding.id, finding.severity, stage, channel, finding.text, std::move(remedies)});
    }

    // The cheapest free pin that can do what is asked.
    std::vector<Remedy> moveTo(const std::string& path, std::optional<double> pwm, bool output = true) {
        board::PinRules rules;
        rules.beat = beat_;
        rules.phase = fires_;
        board::PinWish wish;
        wish.pwm = pwm;
        wish.output = output;
        // An input goes only where it can be read as what it is.
        for (const auto& input : project_.inputs)
            if (path == "inputs/" + input.id + "/pin")
                wish.analog = project::isAnalogue(input.kind), wish.interrupt = input.kind == project::InputKind::Tach;
        if (path == "board/crossing_pin" || path == "board/radio_in_pin") wish.interrupt = true;  // where it is no port of the chip's own
        // The two of a pair are moved together, or not at all.
        for (const auto& channel : project_.channels)
            if (const auto* planned = findChannel(plan_, channel.id);
                planned != nullptr && planned->switched_ends > 0 && path.starts_with("channels/" + channel.id + "/"))
                return {};
        const board::Pin* best = nullptr;
        double least = 0.0;
        for (const auto& pin : family_.pins) {
            if (users_.contains(std::string{pin.name})) continue;
            if (const auto running = timers_.find(pin.pwm_timer);
                pwm && running != timers_.end() &&
                (std::abs(*pwm / running->second.frequency - 1.0) > rules.tolerance || !running->second.pair.empty() ||
                 running->second.outputs.contains(pin.pwm_output)))
                continue;
            const auto cost = board::pinCost(family_, rules, wish, pin);
            if (cost && (best == nullptr || *cost < least)) best = &pin, least = *cost;
        }
        if (best == nullptr) return {};
        return {{fmt::format("Move it to {}", best->name), {{path, std::string{best->name}}}, "one wire moves"}};
    }

    // What every line must do: exist, be alone, leave the console and the straps be.
    std::optional<board::Pin> common(const std::string& name, const std::string& pin_name, const std::string& path,
                                     const std::string& channel, std::optional<double> pwm, bool output) {
        const auto pin = board::pinNamed(family_, pin_name);
        if (!pin) return std::nullopt;  // offerPins() says it once for all of them
        if (const auto& here = users_[pin_name]; here.size() > 1 && here.front() != name && !here.front().starts_with(name + " ("))
            add({"pin-taken", Severity::Stop, fmt::format("{} and {} are both on {}.", here.front(), name, pin_name)}, Stage::Pins, channel,
                moveTo(path, pwm, output));
        if (pin->console)
            add({"serial-shared", Severity::Stop,
                 fmt::format("{} is the {} line: while {} sits there you can neither upload nor tune.", pin_name, pin->shares, name)},
                Stage::Pins, channel, moveTo(path, pwm, output));
        if (output && pin->input_only)
            add({"pin-cannot", Severity::Stop, fmt::format("{} can only read; {} must drive it.", pin_name, name)}, Stage::Pins, channel,
                moveTo(path, pwm, output));
        if (pin->strap)
            add({"strap-pin", Severity::Warn,
                 fmt::format("{} on {}: {}. What hangs there decides how the board starts.", name, pin_name, pin->shares)},
                Stage::Pins, channel, moveTo(path, pwm, output));
        return pin;
    }

    void lines(const project::Channel& channel, ChannelPlan& planned) {
        if (planned.registers && channel.signal.stall_level &&
            std::none_of(project_.inputs.begin(), project_.inputs.end(),
                         [](const project::Input& input) { return input.wired == project::Wired::DriverLine; }))
            add({"stall-unread", Severity::Warn,
                 fmt::format("{}'s driver looks for a stall, and no input reads its line: add a sensor whose wire goes to a driver's line, "
                             "and let a cue ask for it.",
                             channel.name)},
                Stage::Pins, channel.id);
        for (const auto& line : linesOf(planned, channel, project_.routine)) {
            const std::string path = "channels/" + channel.id + "/" + line.field, name = channel.name + " (" + line.name + ")";
            if (line.pin.empty()) {
                plan_.missing.push_back(
                    {path, channel.name + ": " + std::string{line.name} + " pin", "any free pin", Stage::Pins, channel.id});
                continue;
            }
            const auto asked = line.pwm ? pwmAsked(planned, channel) : std::nullopt;
            const auto pin = common(name, line.pin, path, channel.id, asked, line.output);
            if (pin && asked)
                if (const auto worked = pwmAt(channel, false, *pin, *asked, path, pairName(channel, line.pair));
                    worked && std::string_view{line.field} == "direction_pin")
                    planned.second_pwm = worked->result;
            plan_.pins.push_back({line.pin, channel.id, std::string{line.name} + " of " + channel.name, Verdict::Holds, line.output});
        }
    }

    // What the two switches of an end have in common: a timer of their own; empty: it is no such end.
    static std::string pairName(const project::Channel& channel, std::string_view upper) {
        return upper.empty() ? std::string{} : channel.id + "/" + std::string{upper};
    }

    // An upper switch and a lower one whose inputs are apart: both at one timer, which keeps the pause between them.
    void ends(const project::Channel& channel, ChannelPlan& planned) {
        const std::pair<const std::string*, const std::string*> all[] = {{&channel.pin, &channel.low_pin},
                                                                         {&channel.direction_pin, &channel.back_low_pin}};
        for (int end = 0; end < planned.switched_ends; ++end) {
            const auto &high = *all[end].first, &low = *all[end].second;
            const auto upper = board::pinNamed(family_, high), lower = board::pinNamed(family_, low);
            if (!upper || !lower || upper->pwm_timer < 0) continue;
            const auto others = board::pairsOf(family_, *upper);
            if (std::any_of(others.begin(), others.end(), [&](const board::Pin& other) { return other.name == lower->name; })) continue;
            std::vector<Remedy> remedies;
            for (const auto& other : others)
                if (!users_.contains(std::string{other.name}) && remedies.empty())
                    remedies.push_back({fmt::format("Move it to {}", other.name),
                                        {{"channels/" + channel.id + (end == 0 ? "/low_pin" : "/back_low_pin"), std::string{other.name}}},
                                        "one wire moves"});
            add({"pair-apart", Severity::Stop,
                 fmt::format(
                     "{}'s upper switch is on {} and the lower one of the same end on {}: only two outputs of one timer keep a dead time "
                     "between them, and without it both are closed at once and short the supply.",
                     channel.name, high, low)},
                Stage::Pins, channel.id, std::move(remedies));
        }
        const auto* driver = project::findDriver(parts_, channel.drive.part);
        if (planned.switched_ends == 0 || !planned.pwm || driver == nullptr || !driver->dead_time) return;
        const auto deadTimeOf = [&](const timing::PwmTimerResult& pwm) {
            return timing::deadTime({of<Frequency>(family_.clock), pwm.prescaler, pwm.top, *driver->dead_time});
        };
        const auto worked = deadTimeOf(*planned.pwm);
        if (planned.second_pwm)
            if (const auto second = deadTimeOf(*planned.second_pwm)) planned.second_dead_time = second->result;
        // One that a timer of eight bits gives with both its outputs, and one of sixteen too.
        double rate = family_.clock / (510.0 * 8.0);
        while (rate > 1.0 / (80.0 * si(*driver->dead_time))) rate /= 4.0;
        std::vector<Remedy> slower{{fmt::format("Use {}", display(Kind::Frequency, rate)),
                                    {{"channels/" + channel.id + "/signal/frequency", exactText(Kind::Frequency, rate)}},
                                    "it may be heard"}};
        if (!worked) {
            add({"dead-time-long", Severity::Stop,
                 fmt::format("{}'s switches want a dead time of {} between each other, and {} leaves it {}.", channel.name,
                             display(*driver->dead_time), display(channel.signal.frequency), worked.error().accepted)},
                Stage::Pulse, channel.id, std::move(slower));
            return;
        }
        planned.dead_time = worked->result;
        plan_.workings.push_back({"dead time between two switches", Stage::Pulse, channel.id, worked->steps, worked->verdict});
        if (si(worked->result.most) < 0.95)
            add({"dead-time-long", Severity::Warn,
                 fmt::format("Two dead times of {} in each period leave {} at most {} of its full power.", display(worked->result.actual),
                             channel.name, display(worked->result.most))},
                Stage::Pulse, channel.id, std::move(slower));
    }

    // One line for all the drivers that hang on it.
    void shared(const PinLine& line) {
        const std::string path = "board/" + std::string{line.field};
        if (line.pin.empty()) {
            plan_.missing.push_back({path, std::string{line.name} + " pin", "any free pin", Stage::Pins, ""});
            return;
        }
        const auto pin = common(line.name, line.pin, path, "", std::nullopt, line.output);
        if (const auto own = headerBusPin(family_, line.field); pin && !own.empty() && own != line.pin)
            add({"pin-cannot", Severity::Stop,
                 fmt::format("{} is on {}: this header's own two-wire bus speaks to such boards, and it is on {}.", line.name, line.pin,
                             own)},
                Stage::Pins, "", {{"Move it to " + own, {{path, own}}, "one wire moves"}});
        if (pin && std::string_view{line.field} == "radio_in_pin" && family_.emulated && !pin->interrupt && radioPort(project_.board) == 0)
            add({"no-interrupt", Severity::Stop,
                 fmt::format(
                     "{} has no interrupt of its own, and the sketch takes what the radio says by one: D2 or D3 on the smaller boards.",
                     line.pin)},
                Stage::Pins, "", moveTo(path, std::nullopt, false));
        const std::string_view field = line.field;
        plan_.pins.push_back({line.pin,
                              field.starts_with("expander") ? "expander"
                              : field.starts_with("radio")  ? "radio"
                                                            : "registers",
                              line.name, Verdict::Holds, line.output});
    }

    // One line for all that is fired into half-waves.
    void crossings() {
        const std::string path = "board/crossing_pin", name = "Mains crossings";
        const auto& at = project_.board.crossing_pin;
        if (at.empty()) {
            plan_.missing.push_back({path, name + ": pin", "a free pin with an interrupt", Stage::Pins, ""});
            return;
        }
        const auto pin = common(name, at, path, "", std::nullopt, false);
        if (pin && family_.emulated && !pin->interrupt)
            add({"no-interrupt", Severity::Stop,
                 fmt::format("{} has no interrupt of its own, and the sketch takes the time of each crossing by one: D2 or D3 on the "
                             "smaller boards.",
                             at)},
                Stage::Pins, "", moveTo(path, std::nullopt, false));
        if (pin && pin->input_only)
            add({"pin-cannot", Severity::Warn,
                 fmt::format("{} has no pull-up of its own: give the crossings' line a resistor of 10 kΩ to {}.", at,
                             display(Kind::Voltage, family_.logic))},
                Stage::Pins, "", moveTo(path, std::nullopt, false));
        plan_.pins.push_back({at, "mains", "mains crossings", Verdict::Holds, false});
    }

    void main(const project::Channel& channel, ChannelPlan& planned) {
        const auto asked = pwmAsked(planned, channel);
        const std::string path = "channels/" + channel.id + "/pin";
        const auto pin = common(channel.name, channel.pin, path, channel.id, asked, true);
        PinUse use{channel.pin, channel.id, whatItDoes(planned.signal) + channel.name, Verdict::Holds, true};
        if (pin && asked) pwm(channel, planned, *pin, *asked, path);
        ends(channel, planned);
        if (const auto pulses = family_.servo_pwm; pin && pulses && kinds::isServoPulse(planned.signal)) {
            if (pin->pwm_timer < 0)
                add({"pin-cannot", Severity::Stop,
                     fmt::format("{} has no PWM, and on this board a servo's pulses are made by it.", channel.pin)},
                    Stage::Pins, channel.id, moveTo(path, *pulses));
            else if (pin->pwm_timer != board::pooled_timer) (void)shared(channel, *pin, *pulses, path, false, "");
            else pooled(channel, *pulses, board::servo_bits);
        }
        if (pin && isBeaten(planned) && !family_.real_time)
            add({"not-real-time", Severity::Warn,
                 fmt::format("An operating system runs on this board: {}'s pulses may come milliseconds late. Leave them to a small "
                             "controller.",
                             channel.name)},
                Stage::Pulse, channel.id);
        if (pin && judgeGate(channel, parts_, family_.pin_current, family_.logic, plan_)) use.verdict = Verdict::Breaks;
        plan_.pins.push_back(use);
    }

    // Of a pool every two outputs of one frequency take a timer.
    void pooled(const project::Channel& channel, double frequency, int bits) {
        if (!pool_.take(frequency, bits))
            add({"timer-clash", Severity::Stop,
                 fmt::format("{} finds no PWM timer: this board has {}, and each gives one frequency to {} outputs.", channel.name,
                             family_.pool, board::outputs_of_a_pooled_timer)},
                Stage::Pins, channel.id);
    }

    // Every output of a timer has the frequency of the first, which is given back [Hz].
    double shared(const project::Channel& channel, const board::Pin& pin, double asked, const std::string& path, bool may_change,
                  const std::string& pair) {
        const std::string timer = board::timerName(family_, pin.pwm_timer);
        double frequency = asked;
        const auto [running, first] = timers_.try_emplace(pin.pwm_timer, Running{asked, channel.name, pair, {}});
        if (!first && pair != running->second.pair) {
            const auto& owner = pair.empty() ? running->second.name : channel.name;
            add({"timer-clash", Severity::Stop,
                 fmt::format("{} keeps the dead time between two switches of {} and can serve nothing else.", timer, owner)},
                Stage::Pins, channel.id, moveTo(path, asked));
            return running->second.frequency;
        }
        if (!first && std::abs(asked / running->second.frequency - 1.0) > 0.01) {
            std::vector<Remedy> remedies;
            if (may_change)
                remedies.push_back(
                    {fmt::format("Use {}", display(Kind::Frequency, running->second.frequency)),
                     {{"channels/" + channel.id + "/signal/frequency", exactText(Kind::Frequency, running->second.frequency)}},
                     "costs nothing"});
            for (auto& remedy : moveTo(path, asked)) remedies.push_back(std::move(remedy));
            add({"timer-clash", Severity::Stop,
                 fmt::format("{} already runs at {} for {}; {} asks {} of it. All outputs of a timer share one frequency.", timer,
                             display(Kind::Frequency, running->second.frequency), running->second.name, channel.name,
                             display(Kind::Frequency, asked))},
                Stage::Pins, channel.id, remedies);
            frequency = running->second.frequency;
        }
        if (!running->second.outputs.emplace(pin.pwm_output, channel.name).second)
            add({"pin-cannot", Severity::Stop,
                 fmt::format("{} and {} are both output {} of {}: they get the same pulses.", running->second.outputs.at(pin.pwm_output),
                             channel.name, pin.pwm_output, timer)},
                Stage::Pins, channel.id, moveTo(path, asked));
        return frequency;
    }

    // What keeps a timer from giving any PWM; nullptr: nothing.
    [[nodiscard]] const char* takenBy(int timer) const {
        if (timer == family_.untimed_timer) return "is of another make than the others: the sketch is not written for it";
        if (beat_ && timer == family_.beat_timer) return "beats for servos and steps; it cannot give PWM besides";
        if (fires_ && timer == family_.phase_timer) return "times the firing into the mains' half-waves; it cannot give PWM besides";
        return nullptr;
    }

    // One PWM: can the pin, is the timer free, does it agree with what the timer already runs at?
    std::optional<Worked<timing::PwmTimerResult>> pwmAt(const project::Channel& channel, bool fan, const board::Pin& pin, double asked,
                                                        const std::string& path, const std::string& pair = "") {
        if (pin.pwm_timer < 0) {
            add({"pin-cannot", Severity::Stop,
                 fmt::format("{} has no PWM; {} needs it.", pin.name, fan ? "a 4-wire fan" : "a soft start or part power")},
                Stage::Pins, channel.id, moveTo(path, asked));
            return std::nullopt;
        }
        const std::string timer = board::timerName(family_, pin.pwm_timer);
        if (const auto* taken = takenBy(pin.pwm_timer)) {
            add({pin.pwm_timer == family_.untimed_timer ? "pin-cannot" : "timer-clash", Severity::Stop,
                 fmt::format("{} hangs on {}, which {}.", pin.name, timer, taken)},
                Stage::Pins, channel.id, moveTo(path, asked));
            return std::nullopt;
        }
        double frequency = asked;
        const auto fixed = board::clockTimerFrequency(family_);
        if (fixed && pin.pwm_timer == family_.clock_timer) {
            // The sketch's clock lives on this timer: its frequency is what it is.
            frequency = *fixed;
            if (std::abs(asked / *fixed - 1.0) > 0.01) {
                std::vector<Remedy> remedies;
                if (!fan)
                    remedies.push_back({fmt::format("Use {}", display(Kind::Frequency, *fixed)),
                                        {{"channels/" + channel.id + "/signal/frequency", exactText(Kind::Frequency, *fixed)}},
                                        "costs nothing"});
                for (auto& remedy : moveTo(path, asked)) remedies.push_back(std::move(remedy));
                add({fan ? "fan-wrong-pwm" : "timer-clash", Severity::Stop,
                     fmt::format("{} hangs on {}, which keeps the sketch's clock at {}; it cannot give {}.", pin.name, timer,
                                 display(Kind::Frequency, *fixed), display(Kind::Frequency, asked))},
                    Stage::Pins, channel.id, remedies);
            }
        } else if (pin.pwm_timer != board::pooled_timer) {
            frequency = shared(channel, pin, asked, path, !fan, pair);
        }
        const auto worked = board::pwmOf(family_, pin, of<Frequency>(frequency),
                                         pair.empty() ? std::nullopt : std::optional{timing::PwmMode::PhaseCorrect});
        if (!worked) {
            std::vector<Remedy> remedies;
            if (fixed)
                remedies.push_back({fmt::format("Use {}", display(Kind::Frequency, *fixed)),
                                    {{"channels/" + channel.id + "/signal/frequency", exactText(Kind::Frequency, *fixed)}},
                                    "costs nothing"});
            add({"frequency-out-of-reach", Severity::Stop,
                 fmt::format("{} cannot give {}: {}.", timer, display(Kind::Frequency, asked), worked.error().accepted)},
                Stage::Pulse, channel.id, std::move(remedies));
            return std::nullopt;
        }
        if (pin.pwm_timer == board::pooled_timer)
            pooled(channel, si(worked->result.actual_frequency), static_cast<int>(std::lround(std::log2(si(worked->result.steps)))));
        if (pin.pwm_output == 'A' && !worked->findings.empty())
            add({"pin-cannot", Severity::Stop,
                 fmt::format("{} is output A of {}, which this frequency takes for its TOP.", pin.name, timer)},
                Stage::Pins, channel.id, moveTo(path, asked));
        return *worked;
    }

    void pwm(const project::Channel& channel, ChannelPlan& planned, const board::Pin& pin, double asked, const std::string& path) {
        const auto worked = pwmAt(channel, planned.signal == SignalKind::FanPwm, pin, asked, path,
                                  planned.switched_ends > 0 ? pairName(channel, "pin") : "");
        if (!worked) return;
        planned.pwm = worked->result;
        plan_.workings.push_back(
            {"PWM on " + board::timerName(family_, pin.pwm_timer), Stage::Pulse, channel.id, worked->steps, worked->verdict});
        judgeRhythm(channel, parts_, plan_, planned);
    }

    // Each driver and each contact wants a ground, and the supply brings one.
    void grounds() {
        if (project_.board.ground_strip) return;
        int wanted = project_.rails.empty() ? 0 : 1;
        for (const auto& channel : project_.channels)
            if (!channel.pin.empty() && !channel.drive.part.empty()) ++wanted;
        for (const auto& input : project_.inputs)
            if (!input.pin.empty()) ++wanted;
        if (wanted <= family_.ground_pins) return;
        add({"grounds-short", Severity::Warn,
             fmt::format("{} wires want ground and the board has {} ground {}: use a strip that all of them meet on, at the supply.",
                         wanted, family_.ground_pins, family_.ground_pins == 1 ? "pin" : "pins")},
            Stage::Pins, "", {{"Fit a ground strip", {{"board/ground_strip", "yes"}}, "a terminal strip"}});
    }

    struct Running {
        double frequency;
        std::string name;
        std::string pair;  // of an end whose two switches it serves; empty: what it serves needs no pause
        std::map<char, std::string> outputs;
    };
    const project::Project& project_;
    const project::Parts& parts_;
    Plan& plan_;
    const board::Family& family_;
    bool beat_, fires_;
    std::map<std::string, std::vector<std::string>> users_;  // by pin: who sits on it
    std::map<int, Running> timers_;
    board::PwmPool pool_{family_.pool};
};

}  // namespace

void evaluatePins(const project::Project& project, const project::Parts& parts, Plan& plan) {
    PinJudge(project, parts, plan).run();
}

}  // namespace hinge::plan
