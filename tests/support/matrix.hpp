#pragma once
// Every class of part on every class of driver on every board with a sketch, each asked for as its kind is: what is driven and what is not.
#include <fmt/format.h>
#include <algorithm>
#include <string>
#include <vector>
#include "support/alone.hpp"

namespace hinge::test {

struct MatrixCase {
    std::string what;
    driver::DriverClass driver{};
    project::Project project;
};

inline std::vector<const char*> everyBoard() {
    std::vector<const char*> forms;
    for (const auto& form : Names<board::BoardForm>::all) forms.push_back(form.id);
    return forms;
}
// At a rate that timers of eight bits give with both their outputs, where the plan itself would put the lines.
inline project::Project onPairs(project::Project project, const project::Parts& parts) {
    auto& channel = project.channels.front();
    channel.pin = channel.direction_pin = channel.enable_pin = project.inputs.front().pin = "";
    channel.signal.frequency = of<Frequency>(board::family(project.board.form).clock / (510.0 * 8.0));
    const auto plan = plan::evaluate(project, parts);
    const auto* open = finding(plan, "pins-open");
    return open != nullptr && !open->remedies.empty() ? edited(project, open->remedies.front().edits) : project;
}

/// Two outputs of one timer that nothing else wants, for the inputs of a bridge; where there are none, of any two.
inline void twoWithPulses(project::Project& project, const board::Family& family, const std::vector<std::string>& free) {
    const auto timerOf = [&](const std::string& name) { return board::pinNamed(family, name)->pwm_timer; };
    const auto suits = [&](int timer) {
        return timer >= 0 && timer != family.clock_timer && timer != family.beat_timer && timer != family.untimed_timer;
    };
    const auto clash = [&](const std::string& one, const std::string& other) {
        const auto a = board::pinNamed(family, one), b = board::pinNamed(family, other);
        return a->pwm_timer == b->pwm_timer && a->pwm_output == b->pwm_output;
    };
    for (const bool same : {true, false})
        for (std::size_t a = 0; a < free.size(); ++a)
            for (std::size_t b = a + 1; b < free.size(); ++b) {
                if (!suits(timerOf(free[a])) || !suits(timerOf(free[b])) || (same && timerOf(free[a]) != timerOf(free[b])) ||
                    clash(free[a], free[b]))
                    continue;
                auto& channel = project.channels.front();
                channel.pin = free[a], channel.direction_pin = free[b];
                for (const auto& name : free)
                    if (auto& start = project.inputs.front().pin; start == free[a] || start == free[b])
                        if (name != free[a] && name != free[b] && name != channel.enable_pin) start = name;
                return;
            }
}

/// @param forms  boards by name
inline std::vector<MatrixCase> matrix(const project::Parts& parts, const std::vector<const char*>& forms) {
    using project::ChannelKind;
    struct Kind {
        ChannelKind kind;
        const char* actuator;
        std::vector<project::FactEdit> edits;
    };
    const std::vector<project::FactEdit> turn{{"channels/it/demand/mass", "60 g"},           {"channels/it/demand/arm", "80 mm"},
                                              {"channels/it/demand/angle", "90 deg"},        {"channels/it/demand/time", "2 s"},
                                              {"channels/it/calibration/pulse_min", "1 ms"}, {"channels/it/calibration/pulse_max", "2 ms"}};
    const std::vector<project::FactEdit> wheel{{"channels/it/demand/way", "disc"},       {"channels/it/demand/mass", "30 g"},
                                               {"channels/it/demand/diameter", "60 mm"}, {"channels/it/demand/speed", "30 rpm"},
                                               {"channels/it/demand/time", "0.5 s"},     {"channels/it/demand/friction", "2 mNm"}};
    const std::vector<Kind> kinds{
        {ChannelKind::Pump,
         "centrifugal_12v_small",
         {{"channels/it/demand/volume", "50 mL"},
          {"channels/it/demand/lift", "0.3 m"},
          {"channels/it/demand/tube_length", "1 m"},
          {"channels/it/demand/tube_diameter", "6 mm"},
          {"routine/cues/run_it/moves/runs/time", "2 s"}}},
        {ChannelKind::Turn, "servo_micro_digital", turn},
        {ChannelKind::Turn, "servo_micro_turning", turn},
        {ChannelKind::Turn, "servo_micro_turning", wheel},
        {ChannelKind::Turn, "stepper_42mm_short", turn},
        {ChannelKind::Turn, "stepper_42mm_short", wheel},
        {ChannelKind::Turn, "small_12v_g100", turn},
        {ChannelKind::Blow, "fan_40_12v", {}},
        {ChannelKind::Blow, "fan_80_pwm_70", {}},
        {ChannelKind::Blow, "fan_120_230v", {{"channels/it/demand/feeding", "mains"}}},
        {ChannelKind::Switch, "led_string_12v_6w", {{"channels/it/demand/power", "6 W"}}},
        {ChannelKind::Switch, "led_red_5mm", {{"channels/it/demand/power", "20 mW"}}},
        {ChannelKind::Switch, "own_load", {{"channels/it/demand/feeding", "mains"}, {"channels/it/demand/power", "60 W"}}},
        {ChannelKind::Heat, "mat_230v_40w", {{"channels/it/demand/feeding", "mains"}}}};
    std::vector<MatrixCase> list;
    for (const char* form : forms)
        for (const auto& kind : kinds)
            for (std::size_t d = 0; d < parts.drivers.size(); ++d) {
                const auto& driver = parts.drivers[d];
                // The first of each class, and the first that is told otherwise.
                if (std::any_of(parts.drivers.begin(), parts.drivers.begin() + static_cast<std::ptrdiff_t>(d), [&](const auto& other) {
                        return other.driver_class == driver.driver_class && other.inputs == driver.inputs &&
                               other.registers == driver.registers;
                    }))
                    continue;
                auto project = edited(alone(kind.kind, kind.actuator, driver.id, kind.edits), {{"board/form", form}});
                const auto& family = board::family(project.board.form);
                // Pins that are there and free: the first ones that can.
                std::vector<std::string> free;
                for (const bool pulses : {true, false})
                    for (const auto& pin : family.pins)
                        if (!pin.console && !pin.input_only && !pin.strap && (pin.pwm_timer > 0) == pulses) free.emplace_back(pin.name);
                if (free.size() < 4) continue;
                // The last of those with an interrupt, else the last: for the mains' crossings.
                std::string crossing = free.back();
                for (const auto& pin : family.pins)
                    if (pin.interrupt && std::find(free.begin() + 4, free.end(), pin.name) != free.end()) crossing = pin.name;
                project.board.crossing_pin = crossing;
                std::swap(free[0], free[1]);
                project.inputs.front().pin = free[0];
                project.channels.front().pin = free[1];
                project.channels.front().direction_pin = free[2];
                project.channels.front().enable_pin = free[3];
                if (kinds::driverKind(driver).own_outputs && free.size() > 8) {
                    project.channels.front().pin = "X2";
                    project.board.expander_clock_pin = free[5], project.board.expander_data_pin = free[6];
                    project.board.expander_serial_pin = free[7];
                } else if (kinds::registersOf(driver) != nullptr && free.size() > 8) {
                    project.channels.front().select_pin = free[4];
                    project.board.register_clock_pin = free[5], project.board.register_out_pin = free[6];
                    project.board.register_in_pin = free[7];
                }
                if (kinds::hasTwoInputs(driver)) twoWithPulses(project, family, free);
                if (kinds::switchedEnds(driver) > 0) project = onPairs(std::move(project), parts);
                list.push_back({fmt::format("{} on {} on {}", kind.actuator, driver.id, form), driver.driver_class, std::move(project)});
            }
    return list;
}

/// What a routine can ask of a channel: each as the moves of one cue, "v_run" and so on. Whether a class can do it is for the plan to say.
struct Verb {
    std::string name;
    std::vector<routine::Move> moves;
};
inline std::vector<Verb> verbs() {
    using routine::Action;
    const auto move = [](Action action, std::optional<double> time = std::nullopt, std::optional<double> level = std::nullopt) {
        routine::Move made;
        made.action = action;
        made.channel = action == Action::Wait || action == Action::Again ? "" : "it";
        if (time) made.time = of<Duration>(*time);
        if (level) made.level = of<Fraction>(*level);
        if (action == Action::Home) made.input = "start";
        return made;
    };
    const auto backwards = [](routine::Move made) {
        made.backwards = true;
        return made;
    };
    auto halfway = move(Action::Go, 1.0);
    halfway.angle = of<Angle>(0.7);
    auto swing = move(Action::Sweep, 1.2);
    swing.angle = of<Angle>(0.5);
    const auto wait = move(Action::Wait, 0.4);
    return {
        {"run", {move(Action::Run, 1.0)}},
        {"on and off", {move(Action::On), wait, move(Action::Off)}},
        {"toggle", {move(Action::Toggle), wait, move(Action::Toggle), wait}},
        {"on at half", {move(Action::On, std::nullopt, 0.5), wait, move(Action::Off)}},
        {"fade", {move(Action::Fade, 1.0, 0.6), wait, move(Action::Fade, 0.5, 0.0)}},
        {"flicker", {move(Action::Flicker, 1.0)}},
        {"again", {move(Action::Run, 0.3), wait, move(Action::Again)}},
        {"go", {move(Action::Go)}},
        {"go halfway", {halfway}},
        {"sweep", {swing}},
        {"home", {move(Action::Home, 2.0)}},
        {"brake", {move(Action::On), wait, move(Action::Brake), wait}},
        {"backwards", {backwards(move(Action::On)), wait, move(Action::Off), move(Action::Run, 0.3), backwards(move(Action::Run, 0.3))}}};
}
/// The project with one more cue, the verb's; its id is "v_" and the verb's place in the list.
inline project::Project withVerb(project::Project project, const Verb& verb, std::size_t place) {
    routine::Cue cue;
    cue.id = fmt::format("v_{}", place);
    cue.name = verb.name;
    for (std::size_t m = 0; m < verb.moves.size(); ++m) {
        cue.moves.push_back(verb.moves[m]);
        cue.moves.back().id = fmt::format("m{}", m);
        if (!cue.moves.back().input.empty()) cue.moves.back().input = project.inputs.front().id;
    }
    project.routine.cues.push_back(std::move(cue));
    return project;
}

}  // namespace hinge::test
