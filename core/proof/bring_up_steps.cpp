#include "proof/bring_up_steps.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <set>
#include "driver/current_sense.hpp"
#include "firmware/target.hpp"
#include "kinds/expander.hpp"
#include "plan/feed.hpp"
#include "plan/input_wiring.hpp"
#include "proof/step_checks.hpp"
#include "quantity/constants.hpp"
#include "quantity/text.hpp"

namespace hinge::proof {
namespace {

using constants::pi;

/// Makes the hold points, phase by phase.
class StepMaker {
public:
    StepMaker(const project::Project& project, const project::Parts& parts, const plan::Plan& plan)
        : project_{project}, parts_{parts}, plan_{plan}, family_{board::family(project.board.form)} {}

    std::vector<Step> make() {
        phase_ = "Power off";
        powerOff();
        phase_ = "Supplies alone";
        suppliesAlone();
        phase_ = "Logic alone";
        logicAlone();
        inputs();
        drivers();
        phase_ = "One at a time";
        for (const auto& channel : project_.channels)
            if (const auto* planned = plan::findChannel(plan_, channel.id)) alone(channel, *planned);
        phase_ = "All together";
        allTogether();
        return std::move(steps_);
    }

private:
    Step& add(std::string id, std::string channel, std::string title, std::string what, std::string ready, std::string instrument,
              Kind kind) {
        Step step;
        step.id = std::move(id);
        step.channel = std::move(channel);
        step.phase = phase_;
        step.title = std::move(title);
        step.what = std::move(what);
        step.ready = std::move(ready);
        step.instrument = std::move(instrument);
        step.kind = kind;
        steps_.push_back(std::move(step));
        return steps_.back();
    }
    // The same as a value, for what a kind's own file says.
    auto adder() {
        return [this](auto&&... of_step) -> Step& { return add(std::forward<decltype(of_step)>(of_step)...); };
    }
    [[nodiscard]] bool linked() const { return family_.link && plan_.program.has_value(); }

    void powerOff() {
        for (const auto& channel : project_.channels) {
            const auto* part = project::findActuator(parts_, channel.actuator);
            const auto winding = part != nullptr ? kinds::windingOf(*part) : std::nullopt;
            if (!winding || plan::onMains(channel)) continue;
            auto& step =
                add(channel.id + ".winding", channel.id, channel.name + ": winding, power off",
                    fmt::format("Unplug everything. Measure between the two wires of {}, turning its rotor a little.", channel.name),
                    "nothing, the power is off", "ohmmeter; its test current is harmless here", Kind::Resistance);
            if (*winding > 0.0) range(step, *winding, 0.25, 0.6, "from the data sheet; brushes and leads add a little");
        }
        if (!plan_.rails.empty()) {
            auto& step =
                add("ground", "", "One ground, power off",
                    "Look at every joint and every plus first. Then measure from the board's ground to the supply's minus, and on to "
                    "each driver's ground: the largest counts.",
                    "nothing, the power is off", "ohmmeter; take off what its own leads show", Kind::Resistance);
            step.expected = 0.1, step.least = 0.0, step.most = 1.0,
            step.reason = "a metre of thin wire and two plugs; more is a joint that does not hold. Common practice, no published source";
        }
    }

    void suppliesAlone() {
        for (const auto& rail : plan_.rails) {
            auto& step = add("rail." + rail.id, "", rail.name + ", nothing on it",
                             fmt::format("Board and movers unplugged. Plug the supply in and measure {}.", rail.name), "hand on the plug",
                             "voltmeter; draws next to nothing", Kind::Voltage);
            step.abort =
                "Smoke, a smell, or a supply that goes into its limit: pull the plug. A bench supply is set to a tenth of an ampere for "
                "this.";
            if (rail.voltage) range(step, si(*rail.voltage), 0.05, 0.05, "the rail's volts, 5 % either way");
            // Cells are right from full to empty.
            const auto* decided = project::findRail(project_, rail.id);
            const auto* source = decided != nullptr ? project::findSource(project_, decided->from) : nullptr;
            if (source != nullptr && source->kind == power::SourceKind::Battery && decided->conversion == power::Conversion::Direct) {
                const auto full = power::openVoltage(*source, power::ChargeLevel::Full),
                           empty = power::openVoltage(*source, power::ChargeLevel::Empty);
                if (full && empty) {
                    step.least = si(*empty), step.most = si(*full) * 1.002;  // a meter's own two thousandths
                    step.reason = "the cells' volts, from empty to full";
                }
            }
            if (rail.id == project_.board.rail) neverOver(step, family_.supply_most, "what the board bears");
            for (const auto& channel : project_.channels)
                if (channel.rail == rail.id)
                    if (const auto* part = project::findActuator(parts_, channel.actuator))
                        if (const double bears = kinds::actuatorKind(*part).bears_volts(*part); kinds::known(bears))
                            neverOver(step, bears, "what " + channel.name + " bears");
        }
    }

    void logicAlone() {
        {
            auto& step = add("rest", "", "Board alone", "Plug the board in, movers still off. Measure the current from the supply.",
                             "hand on the plug", "ammeter in the supply's plus; its shunt drops a few millivolts", Kind::Current);
            double rest = family_.own_current;
            for (const auto& rail : plan_.rails)
                if (rail.id == project_.board.rail && rail.rest) {
                    rest = si(*rail.rest);
                    const auto* decided = project::findRail(project_, rail.id);
                    const auto feed = decided != nullptr && decided->conversion == power::Conversion::Buck && !project_.sources.empty()
                                          ? project_.sources.front().voltage
                                          : std::nullopt;
                    if (feed && rail.voltage) rest *= si(*rail.voltage) / (si(*feed) * si(decided->efficiency));
                }
            range(step, rest, 0.6, 0.6, "the board's own current, and of what else hangs on it: common practice, no published source");
        }
        if (linked() && !plan_.program->outputs.empty()) {
            auto& step = add("link", "", "Sketch on it: frames in a second",
                             "Upload the sketch now, before anything is soldered to the serial pins. Then take this reading over the link: "
                             "frames that come in a second.",
                             "hand on the plug", "the link; it adds nothing to the circuit", Kind::Count);
            step.expected = 200.0, step.least = 196.0, step.most = 204.0,
            step.reason = "the sketch sends one every 5 ms; 2 % is the board's clock and the desk's";
            step.over_link = OverLink::Frames, step.link_time = 1.0;
            step.caution = "Movers' supply off: what the sketch does at power-up must not move anything yet.";
        }
    }

    void inputs() {
        // A frame of the link has one bit for each of the first eight inputs.
        const auto seen = std::min<std::size_t>(8, project_.inputs.size());
        const auto wired = std::count_if(
            project_.inputs.begin(), project_.inputs.begin() + static_cast<std::ptrdiff_t>(seen), [](const project::Input& each) {
                return project::hasPin(each.kind) && !project::isAnalogue(each.kind) && each.kind != project::InputKind::Tach;
            });
        if (wired > 0 && linked()) {
            auto& step = add("inputs", "", "Inputs that answer, each by hand",
                             "Press and let go each button, switch and sensor once. The link counts those that changed both ways.",
                             "nothing that moves is powered", "the link; it adds nothing to the circuit", Kind::Count);
            step.expected = step.least = step.most = static_cast<double>(wired),
            step.reason = "one for each that has a wire; a missing one is a wire, a pull-up or the wrong pin";
            step.over_link = OverLink::Inputs, step.link_time = 60.0;
        }
        for (const auto& input : project_.inputs) {
            if (!project::hasPin(input.kind)) continue;
            const auto circuit = plan::circuitOf(project_, input);
            using project::Wired;
            if (circuit.wired == Wired::Contact || circuit.wired == Wired::OpenCollector || !circuit.most) continue;
            const char* what =
                circuit.wired == Wired::Potentiometer ? "Turn it to its upper end and measure its wiper to ground."
                : circuit.wired == Wired::Divider     ? "With the rail that it reads on, measure the middle of its two resistors to ground."
                : circuit.wired == Wired::Thermistor  ? "Warm the probe in your hand and measure its pin to ground: it climbs."
                : circuit.wired == Wired::PoweredSensor
                    ? "Bring it to where it gives most and measure its output to ground, before its wire goes to the pin."
                    : "Measure its wire to ground at its most.";
            auto& step = add("input." + input.id, "", input.name + ": volts at its pin", what, "nothing that moves is powered",
                             "voltmeter; ten megohms of its own do not load it", Kind::Voltage);
            step.expected = si(*circuit.most);
            step.least = circuit.wired == Wired::Potentiometer || circuit.wired == Wired::Divider ? 0.93 * *step.expected : 0.0;
            step.most = 1.05 * *step.expected;
            step.reason = circuit.wired == Wired::Divider ? "the rail by the two resistors, of 1 % each"
                                                          : "what feeds it is the most that it can bring";
            neverOver(step, family_.logic + 0.3, "what the pin bears");
        }
    }

    // Drivers that the sketch tells their settings, before a motor hangs on them.
    void drivers() {
        std::set<std::string> told;  // a chopper each, an expander once
        for (const auto& planned : plan_.channels) {
            if (!plan::isDriven(planned)) continue;
            if (planned.registers) told.insert(planned.id);
            if (planned.expander && planned.expander->map->bus == driver::RegisterBus::TwoWire)
                told.insert("at " + kinds::expanderBox(*planned.expander->map, planned.expander->board));
        }
        for (const auto& input : project_.inputs)
            if (const auto at = plan::expanderOf(input)) told.insert("at " + kinds::expanderBox(*at->map, at->board));
        if (told.empty() || !linked()) return;
        auto& step = add(
            "drivers", "", "Drivers that are told their settings",
            "Motors and servos unplugged, their rails on. Start the board anew, say 'state' over the link, and count the lines that end "
            "in 'its driver is set'.",
            "hand on the plug", "the link; it adds nothing to the circuit", Kind::Count);
        step.expected = step.least = step.most = static_cast<double>(told.size());
        step.reason = "one for each: what was written was read back";
        step.abort =
            "One does not answer: its supply, its ground, its select or serial line, then data out and data in, which are easily swapped.";
        step.caution = "Never plug a stepper in or out while the power is on: it kills the driver.";
    }

    // One channel after another, everything else unplugged.
    void alone(const project::Channel& channel, const plan::ChannelPlan& numbers) {
        const auto* part = project::findDriver(parts_, channel.drive.part);
        const auto* pump = std::get_if<project::PumpDemand>(&channel.demand);
        const auto add_step = adder();
        if (part != nullptr)
            addChecks(add_step, channel,
                      kinds::driverKind(*part).at_the_gate(aloneOf(channel, *part, numbers, plan_, parts_, family_.logic)));
        if (numbers.inverted) fanWire(channel);
        if (part != nullptr)
            addChecks(add_step, channel, kinds::driverKind(*part).alone(aloneOf(channel, *part, numbers, plan_, parts_, family_.logic)));
        if (numbers.latch) return latched(channel, numbers);
        if (numbers.motion.pulse_still) stillness(channel, numbers);
        else if (routine::turnsRound(project_.routine, channel.id) && !plan::isPulsed(numbers)) otherWay(channel);
        addUncoupled(add_step, channel, parts_, numbers);
        const bool servo = numbers.signal == plan::SignalKind::ServoPulse && numbers.motion.pulse_from && numbers.motion.pulse_to &&
                           numbers.motion.pulse_per_angle && *numbers.motion.pulse_per_angle > 0.0;
        if (servo) servoMiddle(channel, numbers);
        if (pump == nullptr) addRunning(add_step, channel, parts_, numbers);
        if (servo) servoSwing(channel, numbers);
        stepperWay(channel, numbers);
        if (pump != nullptr) pumped(channel, numbers, *pump, part);
        held(channel);
        watched(channel);
        warm(channel, numbers, pump != nullptr);
    }

    void fanWire(const project::Channel& channel) {
        const std::string id = channel.id;
        auto& off = add(id + ".wire_off", id, channel.name + ": its PWM wire at rest",
                        "Sketch running, no cue. Measure the fan's PWM wire to ground, at the transistor's collector.", "hand on the plug",
                        "voltmeter", Kind::Voltage);
        off.expected = 0.1, off.least = -0.05, off.most = 0.8;
        off.reason = "pulled down by the transistor, so that the fan is at its slowest; over 0.8 V it counts as speed";
        off.abort = "5 V here: the pin and the transistor are the wrong way round, and the fan runs at full speed.";
        auto& on = add(id + ".wire_on", id, channel.name + ": its PWM wire at full speed", "Start its cue and measure the same wire.",
                       "hand on the plug", "voltmeter on DC; it shows the mean of the pulses", Kind::Voltage);
        const double share = si(channel.signal.duty);
        on.expected = 5.0 * share, on.least = 2.4 * share, on.most = 5.5 * share;
        on.reason = "let go, the fan pulls it up itself, to between 2.4 and 5.25 V by its specification, by the share of the time";
    }

    // A coil that latches takes its current only while it is pulsed.
    void latched(const project::Channel& channel, const plan::ChannelPlan& numbers) {
        if (!numbers.chosen || !numbers.chosen->running) return;
        auto& step = add(channel.id + ".latch", channel.id, channel.name + ": its current between the pulses",
                         "Load its test sketch and say run: it clicks over, and back when its time is over. Read the amps between the two.",
                         "hand on the movers' switch", "ammeter in its plus", Kind::Current);
        step.expected = 0.0, step.least = -0.002, step.most = 0.005;
        step.reason =
            fmt::format("it is pulsed for {} each way and takes nothing between; 5 mA are a meter's own", display(*numbers.latch, 2));
        step.abort = fmt::format("{} that stay: the driver is held on, and the coil burns within seconds. Pull the plug.",
                                 display(*numbers.chosen->running, 2));
        step.caution = "It clicks over as soon as the board has power: the first pulse puts it where it is safe.";
    }

    // A servo that turns on stands still by a pulse, too.
    void stillness(const project::Channel& channel, const plan::ChannelPlan& numbers) {
        auto& step =
            add(channel.id + ".still", channel.id, channel.name + ": how far it creeps in ten seconds, off",
                "Its wheel off, a mark on its shaft. Load its sketch, start nothing, and look for ten seconds how far the mark goes.",
                "hand on the plug", "a protractor, or the eye: a tenth of a turn is 36°", Kind::Angle);
        step.expected = 0.0, step.least = -0.09, step.most = 0.09;
        step.reason = fmt::format("{} is where it stands still; 5° are the reading", display(*numbers.motion.pulse_still, 4));
        step.abort =
            "It turns as soon as it has power: its own pulse for standing still is another. Turn its trimmer, or find the pulse in Tune.";
    }

    // A bridge that is turned round, with nothing on it: its volts turn round too.
    void otherWay(const project::Channel& channel) {
        const auto rail = std::find_if(plan_.rails.begin(), plan_.rails.end(), [&](const auto& each) { return each.id == channel.rail; });
        if (rail == plan_.rails.end() || !rail->voltage) return;
        auto& step =
            add(channel.id + ".way", channel.id, channel.name + ": the other way round",
                "Motor unplugged. Start a cue that drives it backwards at its full share, and measure between the bridge's two outputs, "
                "the probes as they were.",
                "hand on the plug", "voltmeter on DC; it shows the mean of the pulses and draws next to nothing", Kind::Voltage);
        const auto& planned = *plan::findChannel(plan_, channel.id);
        const double volts = -si(*rail->voltage) * si(planned.closedFor(channel.signal.duty));
        const bool inputs = planned.two_inputs, apart = planned.switched_ends > 0;
        step.expected = volts, step.least = 1.05 * volts, step.most = 0.9 * volts;
        step.reason = fmt::format("the same as forwards, below nothing: the {} is {}",
                                  apart    ? "other end's upper switch"
                                  : inputs ? "second input alone"
                                           : "line that says which way",
                                  apart ? "closed" : "high");
        step.abort = fmt::format("Above nothing: {}, and two cues that should part a door would both push it.",
                                 apart    ? "its two ends are swapped"
                                 : inputs ? "its two inputs are swapped"
                                          : "the direction wire is not on its pin");
        step.caution = "Which way is open is seen once the motor is on: hand on the plug, and swap its two wires if need be.";
    }

    void servoMiddle(const project::Channel& channel, const plan::ChannelPlan& numbers) {
        const std::string id = channel.id;
        const double rest_angle = (1.5e-3 - si(*numbers.motion.pulse_from)) / *numbers.motion.pulse_per_angle, tooth = 2.0 * pi / 25.0;
        auto& step = add(id + ".zero", id, channel.name + ": horn on at the middle",
                         "Horn off. Send it to 1.5 ms (its test sketch: say middle). Fit the horn where it stands nearest to the angle "
                         "below, and measure that angle from the start of its move.",
                         "horn in the other hand, nothing coupled", "protractor, or a printed scale behind it", Kind::Angle);
        step.expected = rest_angle, step.least = rest_angle - 0.5 * tooth, step.most = rest_angle + 0.5 * tooth;
        step.reason = "1.5 ms between the pulses of its move; a horn of 25 teeth sits within half a tooth, 7.2°. Trim the rest in Pulse";
        step.caution = "It jumps when its power comes: fingers and strings clear.";
    }

    void servoSwing(const project::Channel& channel, const plan::ChannelPlan& numbers) {
        const std::string id = channel.id;
        const double angle = (si(*numbers.motion.pulse_to) - si(*numbers.motion.pulse_from)) / *numbers.motion.pulse_per_angle;
        auto& step = add(id + ".swing", id, channel.name + ": its whole move, loaded",
                         "Couple the load. Send it to the end and back three times, and measure from end to end.",
                         "hand on the movers' switch; strength before glue: nothing glued yet", "protractor, or a printed scale behind it",
                         Kind::Angle);
        step.expected = angle, step.least = angle - 5.0 * pi / 180.0, step.most = angle + 5.0 * pi / 180.0;
        step.reason =
            "what its pulses say, 5° either way: a servo of its class is no better under load. Common practice, no published source";
        step.abort = "It hums and does not arrive: it is held fast, and its current is the stall current. Switch off.";
    }

    void stepperWay(const project::Channel& channel, const plan::ChannelPlan& numbers) {
        const std::string id = channel.id;
        if (const auto* move = std::get_if<project::MoveDemand>(&channel.demand);
            move != nullptr && numbers.signal == plan::SignalKind::Steps && move->travel) {
            auto& step = add(id + ".travel", id, channel.name + ": its whole way, loaded",
                             "Belt on, by hand to its start. Send it to the end and measure the way.", "hand on the movers' switch",
                             "ruler along its way", Kind::Length);
            step.expected = si(*move->travel), step.least = si(*move->travel) * 0.99, step.most = si(*move->travel) * 1.01;
            step.reason = "steps by steps a turn and belt; 1 % off is a pulley of another size or lost steps";
            step.abort = "It runs into its end: switch off. It has no idea where it is until it has been sent home.";
        }
    }

    void pumped(const project::Channel& channel, const plan::ChannelPlan& numbers, const project::PumpDemand& demand,
                const driver::DriverPart* part) {
        const std::string id = channel.id;
        {
            auto& step =
                add(id + ".running", id, channel.name + ": running current",
                    fmt::format("Pump under water, outlet at its height. Start the cue, read the amps once they are steady, within {}.",
                                numbers.dose_time ? display(*numbers.dose_time, 2) : "the dose"),
                    "hand on the movers' switch", "ammeter in the pump's plus", Kind::Current);
            step.caution = "Never run it dry. Keep mains plugs and the board above the water.";
            if (numbers.chosen && numbers.chosen->running)
                range(step, si(*numbers.chosen->running), 0.25, 0.25, "the pump's figures at this voltage; a quarter either way");
            if (part != nullptr && part->current_max) neverOver(step, si(*part->current_max), "what its driver bears");
        }
        if (!project_.routine.interlocks.empty()) {
            auto& step = add(id + ".empty", id, channel.name + ": tank empty",
                             "While it runs, lift the float switch out. The pump must stop at once. Read the pump's amps.",
                             "hand on the movers' switch", "ammeter in the pump's plus", Kind::Current);
            step.expected = 0.0, step.least = -0.005, step.most = 0.005, step.reason = "the interlock opens the switch";
        }
        {
            auto& step =
                add(id + ".time", id, channel.name + ": time of one dose", "Press start, time it from the first sound to the last.",
                    "cup under the outlet", "stopwatch, or the link's own count", Kind::Duration);
            if (numbers.dose_time) {
                step.over_link = OverLink::OnTime, step.link_time = si(*numbers.dose_time) + 3.0;
                step.expected = si(*numbers.dose_time);
                step.least = si(*numbers.dose_time) - 0.3;
                step.most = si(*numbers.dose_time) + 0.3;
                step.reason = "the dose's run time; a thumb on a stopwatch is good for 0.3 s";
            }
        }
        {
            auto& step = add(id + ".volume", id, channel.name + ": water in the cup", "Weigh what one dose gave: 1 g is 1 mL.",
                             "cup under the outlet", "kitchen scale", Kind::Volume);
            if (demand.volume) range(step, si(*demand.volume), 0.15, 0.15, "what you asked for; 15 % either way");
        }
    }

    void held(const project::Channel& channel) {
        const std::string id = channel.id;
        for (const auto& loop : project_.routine.loops) {
            const auto* input = loop.channel == id ? project::findInput(project_, loop.input) : nullptr;
            if (input == nullptr || input->kind != project::InputKind::Tach) continue;
            auto& step = add(id + ".held", id, channel.name + ": what its loop reads",
                             "In Tune, start it and wait until it is steady. Read its tach on the strip chart, in counts.",
                             "hand on the movers' switch", "the link; it adds nothing to the circuit", Kind::Count);
            step.expected = si(loop.wanted), step.least = std::max(0.0, si(loop.wanted) - 2.0), step.most = si(loop.wanted) + 2.0;
            step.reason = "what the loop is told to hold; a tach counts one more or less, and so does the loop";
            step.abort = "It runs away: the space bar, then the switch.";
            step.over_link = OverLink::Held, step.link_input = loop.input, step.link_time = 3.0;
        }
    }

    // Its current says that it is held fast, or torn off its load.
    void currentWatched(const project::Channel& channel) {
        const auto* input = project::currentOf(project_, channel.id);
        if (input == nullptr) return;
        const bool low = !project::activeHigh(*input);
        auto& step =
            add(channel.id + ".watched", channel.id, channel.name + (low ? ": its load comes off" : ": it is held fast"),
                fmt::format("Start it, and wait for {} more. {} while it runs; stop the time until '{}' is true in Tune.",
                            displayPlain(input->run_up), low ? "Take its load off" : "Hold it with a strap and a lever", input->name),
                "hand on the movers' switch", "a stopwatch, and the link", Kind::Duration);
        step.expected = si(input->debounce) + 0.02, step.least = 0.0, step.most = si(input->debounce) + 0.6;
        step.reason = "its level, a filter of 10 ms, the time that the level must last, and half a second for your thumb";
        step.caution = "Never by hand: what turns takes fingers, hair and sleeves along.";
        step.abort = "Nothing is told after three seconds: what relies on it is not protected. Cut its power before it gets hot.";
    }

    // The tach's wire off is the same to the board as a rotor that stands.
    void watched(const project::Channel& channel) {
        const auto input = std::find_if(project_.inputs.begin(), project_.inputs.end(), [&](const project::Input& each) {
            return each.kind == project::InputKind::Tach && each.belongs_to == channel.id && !project::activeHigh(each);
        });
        if (input == project_.inputs.end()) return currentWatched(channel);
        auto& step = add(channel.id + ".watched", channel.id, channel.name + ": its tach falls silent",
                         fmt::format("Start it, and wait for {} more. Take its tach wire off {} while it runs; stop the time until '{}' is "
                                     "true in Tune.",
                                     displayPlain(input->run_up), input->pin, input->name),
                         "hand on the movers' switch", "a stopwatch, and the link", Kind::Duration);
        constexpr double counted = routine::tach_window / 1000.0;
        step.expected = 1.5 * counted, step.least = 0.0, step.most = 2.0 * counted + 0.5;
        step.reason = "its pulses are counted second by second: two of them at the most, and half of one for your thumb";
        step.abort = "Nothing is told after five seconds: what relies on it is not protected.";
    }

    void warm(const project::Channel& channel, const plan::ChannelPlan& numbers, bool pumps) {
        const std::string id = channel.id;
        if (numbers.chosen && numbers.chosen->junction) {
            const bool mains = plan::onMains(channel);
            auto& step = add(id + ".heat", id, channel.name + (pumps ? ": switch after ten doses" : ": driver after ten minutes"),
                             mains ? "Ten minutes of its heaviest use, closed. Then cut the mains at its plug and measure its case."
                                   : std::string{pumps ? "Ten doses" : "Ten minutes of moves"} +
                                         " in a row, then touch-test beside it and measure its case.",
                             mains ? "the mains' plug or switch at hand" : "hand on the movers' switch",
                             mains ? "thermometer that looks from outside" : "thermometer with a thin probe", Kind::Temperature);
            step.caution = mains ? "No water, no finger, nothing opened while it is live. A licensed electrician does or checks it."
                                 : "It may be hot: a drop of water first, then a finger.";
            step.expected = si(*numbers.chosen->junction);
            step.least = si(project_.brief.ambient) - 5.0;
            step.most = si(*numbers.chosen->junction) + 10.0;
            step.reason = "the junction if it ran for good; the case stays below";
            neverOver(step, 423.15, "what silicon bears");
        }
    }

    void allTogether() {
        if (!plan_.sources.empty() && plan_.sources.front().running && !project_.channels.empty()) {
            auto& step =
                add("together", "", "Everything on at once", "Let all of them run, belts on and horns on. Read the amps from the supply.",
                    "hand on the switch of the supply", "ammeter in the supply's plus; its shunt drops a few tens of millivolts",
                    Kind::Current);
            step.caution = "It all moves at once: nobody near it.";
            step.abort = plan_.headline.source_current
                             ? fmt::format("More than {}: the supply gives no more.", display(*plan_.headline.source_current))
                             : "";
            range(step, si(*plan_.sources.front().running), 0.3, 0.3,
                  "the running currents of all, through their converters; three tenths either way");
            if (plan_.headline.source_current) neverOver(step, si(*plan_.headline.source_current), "what the supply gives");
        }
        if (plan_.headline.lowest_logic && plan_.headline.logic_floor) {
            auto& step = add("lowest", "", "The board's volts while all start",
                             "Play the whole routine. Watch the board's supply with a meter that keeps the lowest, or a scope.",
                             "hand on the switch of the supply", "meter with a minimum hold; a plain one is too slow", Kind::Voltage);
            step.expected = si(*plan_.headline.lowest_logic), step.least = si(*plan_.headline.logic_floor),
            step.most = std::max(si(*plan_.headline.lowest_logic), family_.logic) * 1.05;
            step.reason = "the worst that the cues can come to; below the floor the board is no longer promised to work";
        }
        std::optional<double> hottest;
        for (const auto& channel : plan_.channels)
            if (channel.chosen && channel.chosen->junction) hottest = std::max(hottest.value_or(0.0), si(*channel.chosen->junction));
        if (hottest) {
            auto& step = add("soak", "", "An hour of it",
                             "Box closed, the whole routine again and again for an hour. Then the warmest driver's case.",
                             "somebody who stays with it", "thermometer with a thin probe", Kind::Temperature);
            step.caution = "Never leave it alone on its first hour. It may be hot: water first, then a finger; no finger near the mains.";
            step.abort = "A smell, a change of sound, a cue that does not come.";
            step.expected = *hottest, step.least = si(project_.brief.ambient) - 5.0, step.most = *hottest + 15.0;
            step.reason = "the hottest junction if it ran for good; a closed box adds some";
            neverOver(step, 423.15, "what silicon bears");
        }
    }

    const project::Project& project_;
    const project::Parts& parts_;
    const plan::Plan& plan_;
    const board::Family& family_;
    std::string phase_;
    std::vector<Step> steps_;
};

}  // namespace

std::vector<Step> holdPoints(const project::Project& project, const project::Parts& parts, const plan::Plan& plan) {
    return StepMaker(project, parts, plan).make();
}

}  // namespace hinge::proof
