#pragma once
// A sketch on another board against the interpreter of the same routine: every tick's levels, every edge of its pins.
#include <functional>
#include <random>
#include <set>
#include "firmware/runtime/spark_drive_cycles.h"
#include "firmware/runtime/spark_drive_latch.h"
#include "firmware/runtime/spark_drive_rate.h"
#include "link/protocol.hpp"
#include "plan/firmware_model.hpp"
#include "simulation/interpreted_board.hpp"
#include "support/agreeing_sides.hpp"
#include "support/matrix.hpp"
#include "support/other_board.hpp"

namespace hinge::test {

/// Contacts change in the middle between two ticks, so that both see each change at the same tick.
/// @param jitter  of a servo's pulse, in half microseconds
/// @param late  a board's tick comes so much after the millisecond at most: its start-up, a pass of loop(), and the tick itself [s]
inline Agreed agree(const project::Project& project, const Board& board, const std::vector<Pressed>& presses, double seconds,
                    const std::vector<Said>& said = {}, double late = 0.4e-3, double jitter = 1.01) {
    Agreed seen;
    const auto parts = shippedParts();
    const auto plan = plan::evaluate(project, parts);
    const auto sketch = plan::sketchOf(project, plan);
    EXPECT_TRUE(sketch) << (sketch ? "" : sentence(sketch.error()));
    if (!sketch || !plan.program) return seen;
    const auto& program = *plan.program;
    const auto& family = board::family(project.board.form);
    Outside outside;
    auto desk = agreeing::playDesk(project, program, presses, seconds, said, outside);
    for (std::size_t o = 0; o < program.outputs.size(); ++o) agreeing::drive(plan, o, desk);
    seen.heard = board(*sketch, outside, seconds);
    EXPECT_EQ(seen.heard.trouble, "");
    if (!seen.heard.trouble.empty()) return seen;
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        const auto& output = program.outputs[o];
        const auto& channel = *project::findChannel(project, output.id);
        const auto& planned = *plan::findChannel(plan, output.id);
        const auto edgesAt = [&](const std::string& pin) -> auto& {
            return seen.heard.pins[board::pinNamed(family, pin)->number];
        };
        const auto& edges = edgesAt(channel.pin);
        SCOPED_TRACE(output.name);
        EXPECT_FALSE(edges.empty()) << "it is an output from the start";
        if (edges.empty()) continue;
        EXPECT_LT(edges.front().time, 1e-3);
        EXPECT_EQ(edges.front().level, (output.rest == routine::Rest::On) != planned.inverted ? 1 : 0) << "in its safe state";
        const agreeing::Side side{project,       planned,      channel,    output,  edges, desk.levels[o],
                                  desk.awake[o], desk.back[o], desk.ticks, seconds, late,  jitter};
        if (output.two_inputs) {
            const auto& second = edgesAt(channel.direction_pin);
            EXPECT_FALSE(second.empty()) << "it is an output from the start";
            seen.turns += agreeing::compareInputs(side, desk.braked[o], second);
            const auto driven = agreeing::drivenBy(edges, second);
            const agreeing::Side load{project,       planned,      channel,    output,  driven, desk.levels[o],
                                      desk.awake[o], desk.back[o], desk.ticks, seconds, late,   jitter};
            seen.pwm += agreeing::compareShares(load);
            if (!planned.pwm) seen.switched += agreeing::compareEdges(load);
        } else if (!side.placed()) {
            if (output.turns || output.latch > 0) seen.turns += agreeing::compareWay(side, edgesAt(channel.direction_pin));
            seen.pwm += agreeing::compareShares(side);
            if (!planned.pwm) seen.switched += agreeing::compareEdges(side);
        } else if (output.kind == routine::OutputKind::Stepper || output.step_rate > 0.0) {
            seen.steps += agreeing::compareSteps(side, edgesAt(channel.direction_pin));
        } else {
            seen.servo_pulses += agreeing::compareServo(side);
        }
    }
    return seen;
}

/// Every class of driver and drive that the sketch for that board commands: the first of each kind of signal is asked for every verb that
/// the plan does not refuse, the others for the first. Tick by tick as the interpreter has it.
/// @return classes, and verbs played
inline std::pair<std::size_t, std::size_t> playMatrix(const char* form, const Board& board, double late = 0.4e-3, double jitter = 1.01,
                                                      bool all = false) {
    const auto parts = shippedParts();
    std::set<std::string> seen;
    std::set<plan::SignalKind> signals;
    std::size_t played = 0;
    for (const auto& [what, driver, project] : matrix(parts, {form})) {
        const auto first = plan::evaluate(project, parts);
        const auto& channel = first.channels.front();
        // What waits for its driver's answer has one in playRegisters; an expander's pulses are none of the board's pins.
        if (channel.registers || channel.expander) continue;
        if (!plan::isDriven(channel) || !plan::sketchOf(project, first)) continue;
        if (!seen.insert(fmt::format("{} {} {} {}", static_cast<int>(driver), static_cast<int>(channel.signal), channel.inverted,
                                     channel.pwm.has_value()))
                 .second)
            continue;
        const bool leads = signals.insert(channel.signal).second;
        auto able = project;
        able.routine.cues.clear();
        std::size_t count = 0;
        std::vector<std::string> names;
        for (const auto& verb : verbs()) {
            if (!leads && !all && count == 1) break;
            auto more = withVerb(able, verb, count);
            const auto plan = plan::evaluate(more, parts);
            // What is fired into half-waves waits for a mains, and has one in played_mains.hpp.
            if (plan.channels.front().signal == plan::SignalKind::PartWaves) continue;
            if (plan::sketchOf(more, plan)) able = std::move(more), names.push_back(verb.name), ++count;
        }
        // Found first, where it stands: its switch is closed.
        std::vector<Pressed> presses;
        std::vector<Said> said;
        int at = 100;
        for (const bool home : {true, false})
            for (std::size_t v = 0; v < count; ++v) {
                if ((names[v] == "home") != home) continue;
                if (home) presses.push_back({at - 50, able.inputs.front().id, 500});
                said.push_back({at, fmt::format("start {}\n", v).substr(0, 8)});
                if (v > 9) said.back().line = "start " + std::to_string(v);  // its end comes by itself
                if (v > 9) said.push_back({at + 2, "\n"});
                said.push_back({at + 1600, "stop\n"});
                at += 1700;
                ++played;
            }
        SCOPED_TRACE(what);
        (void)agree(able, board, presses, at * 1e-3, said, late, jitter);
    }
    return {seen.size(), played};
}

/// Everything that may be said over the link of the rich stage.
inline Outside conversation(const routine::Program& program, const project::Project& project) {
    Outside outside;
    const auto& family = board::family(project.board.form);
    for (const auto& input : project.inputs)
        if (const auto pin = board::pinNamed(family, input.pin)) outside.pin(0.0, pin->number, !project::pinActiveHigh(input));
    outside.say(0.10, "hello\n");
    outside.say(0.15, "list\n");
    outside.say(0.60, "set rain_duty 700\n");
    outside.say(0.65, "set rain_duty 7000\n");
    outside.say(0.70, "clock 14:29:58 2026-11-29\n");
    for (std::size_t i = 0; i < program.inputs.size(); ++i) {
        if (program.inputs[i].source == routine::InputSource::Number) outside.say(0.75, fmt::format("number {} 512\n", i));
        if (program.inputs[i].source == routine::InputSource::Word) outside.say(0.80, fmt::format("say {}\n", program.inputs[i].word));
    }
    outside.say(0.85, "state\n");
    outside.say(0.90, "nonsense\n");
    outside.say(0.95, std::string(90, 'x') + "\n");
    outside.say(1.30, "stream 1\n");
    return outside;
}
/// The rich stage is told all that, and answers.
/// @param watchdog  in the sketch too, and fed
/// @return the sketch, for what else is to be done with it
inline firmware::Sketch expectConversation(const char* form, const Board& board, bool watchdog = false) {
    auto project = moved(richStage(), form);
    project.board.watchdog = watchdog;
    const auto plan = plan::evaluate(project, shippedParts());
    const auto sketch = plan::sketchOf(project, plan);
    EXPECT_TRUE(sketch) << (sketch ? "" : sentence(sketch.error()));
    if (!sketch) return {};
    const auto& program = *plan.program;
    const auto heard = board(*sketch, conversation(program, project), 2.5);
    EXPECT_EQ(heard.trouble, "");
    EXPECT_TRUE(heard.watchdog.empty()) << "it is fed at every pass";
    const auto& sent = heard.sent;
    link::Decoder decoder;
    std::map<std::string, int> params;
    std::vector<std::string> errors;
    // What it answers is what the interpreter of the routine answers, to the letter: one runtime says both.
    simulation::InterpretedBoard desk(program, {}, project.brief.name, firmware::planMark(*sketch));
    const auto to_say = conversation(program, project);
    for (const auto& line : to_say.said()) desk.write(line);
    const auto answersIn = [](const std::string& bytes) {
        std::multiset<std::string> lines;
        link::Decoder decoder;
        for (const auto& message : decoder.feed(bytes))
            if (const auto* line = std::get_if<link::Done>(&message)) lines.insert("ok " + line->text);
            else if (const auto* refused = std::get_if<link::Refused>(&message))
                lines.insert("error " + refused->text.substr(0, 60));  // a board without a memory has two commands less
            else if (const auto* name = std::get_if<link::NameLine>(&message)) lines.insert(name->what + " " + name->name);
            else if (const auto* hello = std::get_if<link::Hello>(&message)) lines.insert(hello->plan + " " + hello->gadget);
        return lines;
    };
    EXPECT_EQ(answersIn(sent), answersIn(desk.read()));
    std::optional<link::Telemetry> last;
    int frames = 0, names = 0;
    for (const auto& message : decoder.feed(sent)) {
        if (const auto* line = std::get_if<link::ParameterLine>(&message)) params[line->name] = line->value;
        if (const auto* line = std::get_if<link::Refused>(&message)) errors.push_back(line->text);
        if (const auto* frame = std::get_if<link::Telemetry>(&message)) ++frames, last = *frame;
    }
    for (auto at = sent.find("\ncue "); at != std::string::npos; at = sent.find("\ncue ", at + 1)) ++names;
    EXPECT_EQ(params.size(), program.parameters.size());
    for (const auto& p : program.parameters) EXPECT_EQ(params[p.name], p.value) << p.name;
    EXPECT_EQ(names, static_cast<int>(program.cues.size()));
    for (const char* line : {"hello hinge-spark ", "ok rain_duty 700\r\n", "ok clock\r\n", "ok number\r\n", "ok say\r\n", "ok state\r\n",
                             ": started by power"})
        EXPECT_NE(sent.find(line), std::string::npos) << line;
    EXPECT_EQ(errors.size(), 3U) << "out of its range, no such command, too long";
    EXPECT_TRUE(last);
    if (!last) return *sketch;
    EXPECT_GT(frames, 200) << "every 5 ms";
    EXPECT_TRUE(last->clock_set);
    // By hand: set to 14:29:58 at 0.70 s, seen 1.8 s later.
    EXPECT_NEAR(last->clock_ms / 1000.0, 14 * 3600 + 29 * 60 + 58 + 1.78, 0.05);
    return *sketch;
}
/// The sketch that hangs in its thousandth tick.
inline firmware::Sketch hanging(firmware::Sketch sketch, const std::string& how = "for (;;) {}") {
    const std::string mine = "  // >>> yours: every tick\n";
    sketch.text.insert(sketch.text.find(mine) + mine.size(), "  if (ticks == 1000) " + how + "\n");
    return sketch;
}
/// A tach of 87 pulses a second and a level of 700 parts of 1023, read and told.
inline void expectReadings(const char* form, const Board& board, const char* level_pin = "") {
    auto project = bareStage();
    project = project::addRunningChannel(project, project::ChannelKind::Pump, "it");
    project.channels.back().actuator = "centrifugal_12v_small";
    project.channels.back().drive.part = "mosfet_logic_30v";
    project.channels.back().rail = "movers";
    project = edited(project, {{"channels/it/demand/volume", "50 mL"},
                               {"channels/it/demand/lift", "0.3 m"},
                               {"channels/it/demand/tube_length", "1 m"},
                               {"channels/it/demand/tube_diameter", "6 mm"}});
    project = project::addInput(project, project::InputKind::Tach, "spin");
    project = project::addInput(project, project::InputKind::Level, "water");
    project = edited(project, {{"inputs/water/upper", "60 %"}, {"inputs/water/lower", "40 %"}});
    for (const auto& input : {"spin", "water"}) {
        project = project::addCue(project, std::string{"at "} + input);
        project.routine.cues.back().input = input == std::string{"water"} ? input : "";
        if (input == std::string{"spin"}) project.routine.cues.back().every = of<Duration>(20.0);
        project = project::addMove(project, project.routine.cues.back().id, routine::Action::Run, "it");
        project.routine.cues.back().moves.back().time = of<Duration>(1.0);
    }
    project = moved(project, form);
    if (*level_pin != 0) project = edited(project, {{"inputs/water/pin", level_pin}});
    const auto plan = plan::evaluate(project, shippedParts());
    const auto sketch = plan::sketchOf(project, plan);
    ASSERT_TRUE(sketch) << sentence(sketch.error());
    const auto& family = board::family(project.board.form);
    Outside outside;
    for (const auto& input : project.inputs) {
        const int pin = board::pinNamed(family, input.pin)->number;
        outside.pin(0.0, pin, !project::pinActiveHigh(input));
        if (input.id == "spin")
            for (double at = 0.0; at < 3.0; at += 1.0 / 87.0) outside.pin(at, pin, true), outside.pin(at + 3e-3, pin, false);
        if (input.id == "water") outside.reading(0.0, pin, 700);
    }
    outside.say(2.5, "stream 1\n");
    const auto heard = board(*sketch, outside, 3.0);
    EXPECT_EQ(heard.trouble, "");
    link::Decoder decoder;
    std::optional<link::Telemetry> last;
    for (const auto& message : decoder.feed(heard.sent))
        if (const auto* frame = std::get_if<link::Telemetry>(&message)) last = *frame;
    ASSERT_TRUE(last);
    ASSERT_EQ(last->levels.size(), 3U) << "the pump's level, then the two readings";
    EXPECT_NEAR(last->levels[1], 87.0, 1.0);
    EXPECT_NEAR(last->levels[2], 700.0, 1.0);
    EXPECT_NE(last->inputs & 4, 0) << "700 of 1023 is above 60 %";
}
/// A servo goes to and fro while the link brings rubbish without a pause.
inline void expectSteadyUnderRubbish(const char* form, const Board& board, double late = 0.4e-3, double jitter = 1.01) {
    auto project = alone(project::ChannelKind::Turn, "servo_micro_digital", "straight_from_pin",
                         {{"channels/it/demand/mass", "60 g"},
                          {"channels/it/demand/arm", "80 mm"},
                          {"channels/it/demand/angle", "90 deg"},
                          {"channels/it/demand/time", "2 s"},
                          {"channels/it/calibration/pulse_min", "1 ms"},
                          {"channels/it/calibration/pulse_max", "2 ms"}});
    project = moved(project, form);
    std::mt19937 random(16);
    std::vector<Said> rubbish;
    for (int at = 1; at < 3900; ++at) {
        std::string bytes;
        for (int k = 0; k < 8; ++k) {
            const char c = static_cast<char>(random() % 256);
            bytes += c == '\n' && random() % 2 == 0 ? 'x' : c;
        }
        rubbish.push_back({at, bytes});
    }
    const auto seen = agree(project, board, {{300, project.inputs.front().id, 200}}, 4.0, rubbish, late, jitter);
    EXPECT_GT(seen.servo_pulses, 150);
}

}  // namespace hinge::test
