#pragma once
// What each drive is asked on a board beside the interpreter, and what a hand says of its edges.
#include "plan/pin_plan.hpp"
#include "plan/radio_line.hpp"
#include "support/agreeing_board.hpp"
#include "support/expanders.hpp"
#include "support/radio.hpp"

namespace hinge::test {

/// A motor on a bridge that its cues drive both ways; one cue asks for the other way while it is driven.
/// @param actuator, driver_class  that drive it; a servo that turns on needs no bridge
inline project::Project bothWays(const char* form, const char* actuator = "small_12v_g100",
                                 driver::DriverClass driver_class = driver::DriverClass::HBridge,
                                 driver::BridgeInputs inputs = driver::BridgeInputs::SpeedAndWay) {
    const auto parts = shippedParts();
    project::Project project;
    for (auto& [what, driver, each] : matrix(parts, {form}))
        if (driver == driver_class && each.channels.front().actuator == actuator &&
            project::findDriver(parts, each.channels.front().drive.part)->inputs == inputs)
            project = std::move(each);
    project.channels.front().signal.turn_pause = of<Duration>(0.05);
    project.channels.front().signal.soft_start = of<Duration>(0.02);
    project.routine.cues.clear();
    const auto move = [](routine::Action action, double time, bool backwards, std::optional<double> level = std::nullopt) {
        routine::Move made;
        made.action = action;
        made.channel = action == routine::Action::Wait ? "" : "it";
        if (time > 0.0) made.time = of<Duration>(time);
        made.backwards = backwards;
        if (level) made.level = of<Fraction>(*level);
        return made;
    };
    using routine::Action;
    project = withVerb(std::move(project),
                       {"to and fro",
                        {move(Action::Run, 0.2, false), move(Action::Run, 0.15, true), move(Action::Run, 0.1, true, 0.4),
                         move(Action::Run, 0.1, false, 0.6)}},
                       0);
    return withVerb(std::move(project),
                    {"backwards", {move(Action::On, 0.0, true), move(Action::Wait, 0.1, false), move(Action::Off, 0.0, false)}}, 1);
}
/// Plays it, and holds the pins against the interpreter.
inline void playBothWays(const char* form, const Board& board, double late = 0.4e-3) {
    // To and fro; the other way beside it, which ends both; the other way alone; stopped while it turns; and from the link's hand.
    const auto seen = agree(bothWays(form), board, {}, 2.6,
                            {{100, "start 0\n"},
                             {950, "start 0\n"},
                             {1000, "start 1\n"},
                             {1300, "start 1\n"},
                             {1600, "start 0\n"},
                             {1620, "stop\n"},
                             {1800, "start 1\n"},
                             {1980, "start 0\n"}},
                            late);
    EXPECT_GT(seen.turns, 5);
    EXPECT_GT(seen.pwm, 2);
}

/// The same on a bridge with two inputs; and a cue that brakes it, which is let go again by stop.
inline void playTwoInputs(const char* form, const Board& board, double late = 0.4e-3) {
    auto project = bothWays(form, "small_12v_g100", driver::DriverClass::HBridge, driver::BridgeInputs::TwoInputs);
    routine::Move on{"on", routine::Action::On, "it"}, wait{"wait", routine::Action::Wait, "", of<Duration>(0.1)},
        brake{"brake", routine::Action::Brake, "it"};
    on.backwards = true;
    on.level = of<Fraction>(0.5);
    project = withVerb(std::move(project), {"brakes", {on, wait, brake}}, 2);
    const auto plan = plan::evaluate(project, shippedParts());
    EXPECT_EQ(plan.channels.front().not_driven, "");
    EXPECT_TRUE(plan.channels.front().two_inputs);
    const auto seen = agree(
        project, board, {}, 2.8,
        {{100, "start 0\n"}, {900, "start 1\n"}, {1200, "start 2\n"}, {1500, "stop\n"}, {1700, "start 2\n"}, {2000, "start 0\n"}}, late);
    EXPECT_GE(seen.turns, 4);
    EXPECT_GT(seen.pwm, 2);
    // By hand: started at 1.2 s, braked 100 ms later, let go by stop at 1.5 s.
    const auto& family = board::family(project.board.form);
    const auto level = [&](const std::string& pin, double time) {
        return agreeing::levelAt(seen.heard.pins.at(board::pinNamed(family, pin)->number), time);
    };
    const auto& channel = project.channels.front();
    EXPECT_EQ(level(channel.pin, 0.05), 0) << "coasts";
    EXPECT_EQ(level(channel.direction_pin, 0.05), 0);
    EXPECT_EQ(level(channel.pin, 1.45), 1) << "brakes";
    EXPECT_EQ(level(channel.direction_pin, 1.45), 1);
    EXPECT_EQ(level(channel.pin, 1.6), 0) << "put to rest it coasts";
    EXPECT_EQ(level(channel.direction_pin, 1.6), 0);
}

/// What is sent to places and let go 0.3 s after each move: a servo without pulses, a stepper's driver asleep.
inline void playLetGo(const char* form, const Board& board, double late = 0.4e-3, double jitter = 1.01) {
    const auto parts = shippedParts();
    for (const auto& [actuator, driver_class] :
         {std::pair{"servo_micro_digital", driver::DriverClass::Pin}, {"stepper_42mm_short", driver::DriverClass::Chopper}}) {
        SCOPED_TRACE(actuator);
        project::Project project;
        for (auto& [what, driver, each] : matrix(parts, {form}))
            if (driver == driver_class && each.channels.front().actuator == actuator && project.channels.empty()) project = std::move(each);
        project.channels.front().signal.let_go_after = of<Duration>(0.3);
        project.routine.cues.clear();
        routine::Move there{"there", routine::Action::Go, "it", of<Duration>(0.4)}, back = there;
        back.angle = of<Angle>(0.0);
        project = withVerb(withVerb(std::move(project), {"there", {there}}, 0), {"back", {back}}, 1);
        const auto plan = plan::evaluate(project, parts);
        EXPECT_EQ(plan.channels.front().not_driven, "");
        const auto seen = agree(project, board, {}, 2.4, {{100, "start 0\n"}, {1500, "start 1\n"}}, late, jitter);
        // By hand: it moves from 0.1 to 0.5 s and from 1.5 to 1.9 s, and is let go 0.3 s later.
        const auto& channel = project.channels.front();
        const auto& family = board::family(project.board.form);
        const auto& edges = seen.heard.pins.at(board::pinNamed(family, channel.pin)->number);
        const auto rises = [&](double from, double to) {
            return std::count_if(edges.begin(), edges.end(),
                                 [&](const Heard::Edge& edge) { return edge.level == 1 && edge.time > from && edge.time < to; });
        };
        EXPECT_GT(rises(0.15, 0.5), 0);
        EXPECT_EQ(rises(0.83, 1.5), 0) << "let go";
        EXPECT_GT(rises(1.52, 1.9), 0);
        EXPECT_EQ(rises(2.23, 2.4), 0) << "let go again";
        if (driver_class == driver::DriverClass::Pin) {
            EXPECT_GT(rises(0.55, 0.78), 5) << "held until then";
            continue;
        }
        const auto& enable = seen.heard.pins.at(board::pinNamed(family, channel.enable_pin)->number);
        for (const auto& [time, asleep] : {std::pair{0.05, 1}, {0.3, 0}, {0.78, 0}, {0.83, 1}, {1.45, 1}, {1.7, 0}, {2.18, 0}, {2.25, 1}})
            EXPECT_EQ(agreeing::levelAt(enable, time), asleep) << "at " << time << " s";
    }
}

/// A servo that turns on: forwards, backwards, in parts, stopped, and with another pulse at which it stands still, set over the link.
/// Standing still at 1.5 ms and full speed half a millisecond away either way: common practice, no published source.
inline void playTurningServo(const char* form, const Board& board, double late = 0.4e-3, double jitter = 1.01) {
    const auto project = bothWays(form, "servo_micro_turning", driver::DriverClass::Pin);
    const auto plan = plan::evaluate(project, shippedParts());
    EXPECT_EQ(plan.channels.front().not_driven, "");
    const auto seen =
        agree(project, board, {}, 2.6, {{200, "start 0\n"}, {1100, "start 1\n"}, {1400, "stop\n"}, {1700, "start 0\n"}, {1800, "stop\n"}},
              late, jitter);
    EXPECT_GT(seen.servo_pulses, 100);
    // By hand, in the middle of each stretch: 200 ms forwards, 50 ms of standing still, 150 ms and 100 ms backwards.
    const auto& family = board::family(project.board.form);
    const auto& edges = seen.heard.pins.at(board::pinNamed(family, project.channels.front().pin)->number);
    const auto widthAt = [&](double time) {
        double width = 0.0;
        for (std::size_t k = 0; k + 1 < edges.size(); ++k)
            if (edges[k].level == 1 && edges[k].time < time) width = edges[k + 1].time - edges[k].time;
        return width;
    };
    const double near = (jitter + 1.0) * 0.5e-6;
    EXPECT_NEAR(widthAt(0.15), 1.5e-3, near) << "off";
    EXPECT_NEAR(widthAt(0.39), 2.0e-3, near) << "forwards, all of it";
    EXPECT_NEAR(widthAt(0.59), 1.0e-3, near) << "backwards";
    EXPECT_NEAR(widthAt(0.69), 1.3e-3, near) << "backwards at 0.4";
    EXPECT_NEAR(widthAt(0.845), 1.8e-3, near) << "forwards at 0.6";
    EXPECT_NEAR(widthAt(1.0), 1.5e-3, near) << "off again";
    EXPECT_NEAR(widthAt(2.5), 1.5e-3, near) << "stopped";
}

/// A stepper that goes on: up to its rate and down again, the other way, in parts, and stopped.
inline void playTurningStepper(const char* form, const Board& board, double late = 0.4e-3) {
    const auto project = bothWays(form, "stepper_42mm_short", driver::DriverClass::Chopper);
    const auto plan = plan::evaluate(project, shippedParts());
    EXPECT_EQ(plan.channels.front().signal, plan::SignalKind::StepRate);
    EXPECT_EQ(plan.channels.front().not_driven, "");
    const auto seen = agree(project, board, {}, 2.6,
                            {{200, "start 0\n"}, {1100, "start 1\n"}, {1400, "stop\n"}, {1700, "start 0\n"}, {1800, "stop\n"}}, late);
    // By hand: 30 rpm of 200 full steps of 16 micro-steps are 1600 steps a second; 200 ms forwards, of which the 20 ms of its ramp and the
    // 20 ms after it make 20 ms' worth, are 320 steps.
    const auto& family = board::family(project.board.form);
    const auto& edges = seen.heard.pins.at(board::pinNamed(family, project.channels.front().pin)->number);
    const auto steps = [&](double from, double to) {
        return std::count_if(edges.begin(), edges.end(),
                             [&](const Heard::Edge& edge) { return edge.level == 1 && edge.time > from && edge.time < to; });
    };
    EXPECT_EQ(steps(0.0, 0.2), 0) << "asleep";
    EXPECT_NEAR(static_cast<double>(steps(0.2, 0.44)), 320.0, 3.0) << "forwards";
    EXPECT_NEAR(static_cast<double>(steps(0.25, 0.35)), 160.0, 1.5) << "at its rate";
    EXPECT_NEAR(static_cast<double>(steps(0.63, 0.69)), 0.4 * 96.0, 1.5) << "backwards at 0.4";
    EXPECT_EQ(steps(1.45, 1.7), 0) << "stopped";
    const auto& enable = seen.heard.pins.at(board::pinNamed(family, project.channels.front().enable_pin)->number);
    EXPECT_EQ(agreeing::levelAt(enable, 0.1), 1) << "asleep, active low";
    EXPECT_EQ(agreeing::levelAt(enable, 0.3), 0);
    EXPECT_EQ(agreeing::levelAt(enable, 1.6), 1) << "asleep again";
}

/// One that takes half a second to its rate takes as long to run down when its time is over, and stops at once on stop.
inline void playStopOfATurningStepper(const char* form, const Board& board, double late = 0.4e-3) {
    auto project = bothWays(form, "stepper_42mm_short", driver::DriverClass::Chopper);
    project.channels.front().signal.soft_start = of<Duration>(0.5);
    project.routine.cues.front().moves.resize(1);
    project.routine.cues.front().moves.front().time = of<Duration>(0.8);
    const auto seen = agree(project, board, {}, 3.6, {{200, "start 0\n"}, {2000, "start 0\n"}, {2700, "stop\n"}}, late);
    const auto& edges = seen.heard.pins.at(board::pinNamed(board::family(project.board.form), project.channels.front().pin)->number);
    const auto steps = [&](double from, double to) {
        return std::count_if(edges.begin(), edges.end(),
                             [&](const Heard::Edge& edge) { return edge.level == 1 && edge.time > from && edge.time < to; });
    };
    EXPECT_NEAR(static_cast<double>(steps(1.005, 1.6)), 400.0, 12.0) << "1600 a second run down in half a second: half of 800 steps";
    EXPECT_GT(steps(2.6, 2.7), 100);
    EXPECT_EQ(steps(2.706, 3.5), 0) << "stop is stop";
}
/// A coil that latches: pulsed shut at power-up, open and shut by its cue, shut again on stop.
inline void playLatchingCoil(const char* form, const Board& board, double late = 0.4e-3) {
    auto project =
        alone(project::ChannelKind::Press, "latching_12v", "bridge_3a",
              {{"channels/it/demand/way", "plunger"}, {"channels/it/demand/force", "2 N"}, {"channels/it/demand/stroke", "4 mm"}});
    project = moved(running(std::move(project), 0.3), form);
    const auto plan = plan::evaluate(project, shippedParts());
    EXPECT_EQ(plan.channels.front().not_driven, "");
    EXPECT_EQ(plan.channels.front().signal, plan::SignalKind::LatchPulses);
    const bool linked = board::family(project.board.form).link;
    const auto seen = agree(project, board, {{300, project.inputs.front().id, 100}, {1000, project.inputs.front().id, 100}}, 1.6,
                            linked ? std::vector<Said>{{1150, "stop\n"}} : std::vector<Said>{}, late);
    // By hand, and the data sheet's 40 ms: shut at power-up; open and shut again, twice.
    const auto& family = board::family(project.board.form);
    const auto& edges = seen.heard.pins.at(board::pinNamed(family, project.channels.front().pin)->number);
    const auto& way = seen.heard.pins.at(board::pinNamed(family, project.channels.front().direction_pin)->number);
    std::vector<std::pair<double, int>> pulses;
    for (std::size_t k = 0; k + 1 < edges.size(); ++k)
        if (edges[k].level == 1) {
            EXPECT_NEAR(edges[k + 1].time - edges[k].time, 0.040, late + 1e-3);
            pulses.emplace_back(edges[k].time, agreeing::levelAt(way, edges[k].time + 1e-3));
        }
    ASSERT_EQ(pulses.size(), 5U);
    const double starts[] = {0.0, 0.32, 0.62, 1.02, linked ? 1.15 : 1.32};
    for (std::size_t k = 0; k < 5; ++k) {
        EXPECT_NEAR(pulses[k].first, starts[k], 0.005) << k;
        EXPECT_EQ(pulses[k].second, k % 2 == 0 ? 1 : 0) << k;
    }
}

/// An arm on a driver that is told its settings over a bus with a clock: with a chip of that kind at its pins it goes there and back, step
/// by step; with none it is said to be silent, and takes no step.
inline void playRegisters(const char* form, const Board& board) {
    const auto parts = shippedParts();
    project::Project project;
    for (auto& [what, driver, each] : matrix(parts, {form}))
        if (each.channels.front().drive.part == "chopper_serial_strong" && each.channels.front().actuator == "stepper_42mm_short" &&
            project.channels.empty())
            project = std::move(each);
    ASSERT_FALSE(project.channels.empty()) << form;
    const auto plan = plan::evaluate(project, parts);
    const auto sketch = plan::sketchOf(project, plan);
    ASSERT_TRUE(sketch) << sentence(sketch.error());
    const auto& family = board::family(project.board.form);
    const auto number = [&](const std::string& pin) { return board::pinNamed(family, pin)->number; };
    const auto& channel = project.channels.front();
    for (const bool there : {true, false}) {
        Outside outside;
        outside.pin(0.0, number(project.inputs.front().pin), true);
        outside.pin(1.0, number(project.inputs.front().pin), false);
        // Its version stands in the highest eight bits of its register 4.
        if (there)
            outside.chip(number(channel.select_pin), number(project.board.register_clock_pin), number(project.board.register_out_pin),
                         number(project.board.register_in_pin), 4, 0x11000000U);
        else outside.pin(0.0, number(project.board.register_in_pin), true);
        outside.say(0.9, "hello\n");
        const auto heard = board(*sketch, outside, 6.0);
        EXPECT_EQ(heard.trouble, "");
        const auto found = heard.pins.find(number(channel.pin));
        ASSERT_NE(found, heard.pins.end());
        const auto rises = std::count_if(found->second.begin(), found->second.end(), [](const auto& edge) { return edge.level == 1; });
        EXPECT_EQ(rises, there ? 2 * std::lround(si(*plan.channels.front().motion.steps)) : 0) << there;
        EXPECT_EQ(heard.sent.find("its driver is set") != std::string::npos, there) << heard.sent.substr(0, 400);
        EXPECT_EQ(heard.sent.find("its driver does not answer") != std::string::npos, !there);
        const auto& enable = heard.pins.at(number(channel.enable_pin));
        const bool woken = std::any_of(enable.begin(), enable.end(), [](const auto& edge) { return edge.time > 0.5 && edge.level == 0; });
        EXPECT_EQ(woken, there) << "asleep where nobody answers";
    }
}

/// Bytes on a serial line that was heard, eight bits each with a start and a stop bit.
inline std::vector<int> bytesOn(const std::vector<Heard::Edge>& edges, double baud) {
    std::vector<int> bytes;
    for (const char c : textIn(edges, baud)) bytes.push_back(static_cast<unsigned char>(c));
    return bytes;
}
/// An arm behind a servo expander. On a serial line the last command is the end of its move, by the plan's own pulse; on two wires, where
/// nothing answers, that is said and no more is sent.
inline void playExpander(const char* form, const Board& board) {
    const auto parts = shippedParts();
    int played = 0;
    for (auto& [what, driver, project] : matrix(parts, {form})) {
        if (driver != driver::DriverClass::ServoExpander || project.channels.front().actuator != "servo_micro_digital") continue;
        auto each = project;
        each.routine.cues.front().moves.resize(1);
        const auto plan = plan::evaluate(each, parts);
        const auto sketch = plan::sketchOf(each, plan);
        ASSERT_TRUE(sketch) << what << sentence(sketch.error());
        const auto& family = board::family(each.board.form);
        const auto number = [&](const std::string& pin) { return board::pinNamed(family, pin)->number; };
        Outside outside;
        outside.pin(0.0, number(each.inputs.front().pin), true);
        outside.pin(0.0, number(each.board.expander_data_pin), true);
        outside.pin(1.0, number(each.inputs.front().pin), false);
        const auto heard = board(*sketch, outside, 3.5);
        EXPECT_EQ(heard.trouble, "") << what;
        const bool serial = plan.channels.front().expander->map->bus == driver::RegisterBus::Serial;
        EXPECT_EQ(heard.sent.find("PWM expander: its driver does not answer") != std::string::npos, !serial) << heard.sent.substr(0, 300);
        ++played;
        if (!serial) continue;
        const auto bytes = bytesOn(heard.pins.at(number(each.board.expander_serial_pin)), 19'200.0);
        ASSERT_GT(bytes.size(), 100U);
        EXPECT_EQ(bytes.front(), 0xAA);
        ASSERT_EQ((bytes.size() - 1) % 4, 0U);
        EXPECT_EQ(bytes[bytes.size() - 4], 0x84);
        EXPECT_EQ(bytes[bytes.size() - 3], 2);
        // In quarter microseconds, but for half of one of the two of the sketch's own.
        EXPECT_NEAR(bytes[bytes.size() - 2] + 128 * bytes[bytes.size() - 1], 4e6 * si(*plan.channels.front().motion.pulse_to), 1.5) << what;
    }
    EXPECT_EQ(played, 2) << form;
    // Boards of lines and of a converter besides: nobody answers there either, each says so, and nothing of the gadget is held up.
    auto lamps = edited(lampsOnExpanders(), {{"board/form", form}, {"board/expander_clock_pin", ""}, {"board/expander_data_pin", ""}});
    for (const auto& open : plan::evaluate(lamps, parts).findings)
        if (open.id == "pins-open" && !open.remedies.empty()) lamps = edited(lamps, open.remedies.front().edits);
    const auto plan = plan::evaluate(lamps, parts);
    for (const auto& channel : plan.channels) ASSERT_EQ(channel.not_driven, "") << form;
    const auto sketch = plan::sketchOf(lamps, plan);
    ASSERT_TRUE(sketch) << form << sentence(sketch.error());
    Outside outside;
    outside.pin(0.0, board::pinNamed(board::family(lamps.board.form), lamps.board.expander_data_pin)->number, true);
    const auto heard = board(*sketch, outside, 3.5);
    EXPECT_EQ(heard.trouble, "") << form;
    for (const char* box : {"PWM expander", "I/O expander"})
        EXPECT_NE(heard.sent.find(std::string{box} + ": its driver does not answer"), std::string::npos) << heard.sent.substr(0, 300);
}

/// A radio on a line of its own: it is heard and answered at its pins, and may do what it is granted.
/// @param in, out  empty: where the program proposes them, a serial port of the chip's own
inline void playRadio(const char* form, const Board& board, const char* in = "", const char* out = "") {
    const auto parts = shippedParts();
    auto project = withRadio({{"board/form", form},
                              {"channels/it/pin", ""},
                              {"inputs/start/pin", ""},
                              {"board/radio_in_pin", in},
                              {"board/radio_out_pin", out}});
    const bool port = *in == 0;
    if (port) project = edited(project, {{"board/radio_rate", "115200"}});
    for (const auto& open : plan::evaluate(project, parts).findings)
        if (open.id == "pins-open" && !open.remedies.empty()) project = edited(project, open.remedies.front().edits);
    const auto plan = plan::evaluate(project, parts);
    const auto sketch = plan::sketchOf(project, plan);
    ASSERT_TRUE(sketch) << form << sentence(sketch.error());
    const auto number = [&](const std::string& pin) { return board::pinNamed(board::family(project.board.form), pin)->number; };
    Outside outside;
    outside.pin(0.0, number(project.board.radio_in_pin), true);
    outside.pin(0.0, number(project.inputs.front().pin), true);
    EXPECT_EQ(plan::radioPort(project.board) > 0, port) << form;
    if (port) outside.air(1.0, "start 0\nlist\n");
    else
        for (const auto& [at, high] : edgesOf("start 0\nlist\n", 1.0, 9600.0)) outside.pin(at, number(project.board.radio_in_pin), high);
    const auto heard = board(*sketch, outside, 1.6);
    EXPECT_EQ(heard.trouble, "") << form;
    EXPECT_EQ(port ? heard.aired : textIn(heard.pins.at(number(project.board.radio_out_pin)), 9600.0), "ok start\r\nerror not by radio\r\n")
        << form;
    const auto& drives = heard.pins.at(number(project.channels.front().pin));
    EXPECT_TRUE(std::any_of(drives.begin(), drives.end(), [](const auto& edge) { return edge.time > 1.0 && edge.level != 0; })) << form;
}

}  // namespace hinge::test
