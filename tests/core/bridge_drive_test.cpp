// A bridge with an input for each end of its motor: what its inputs are told, where they go, and what its motor does while it is off.
#include <gtest/gtest.h>
#include <cmath>
#include "firmware/runtime/spark_drive_bridge.h"
#include "plan/behaviour.hpp"
#include "plan/firmware_model.hpp"
#include "plan/pin_plan.hpp"
#include "plan/wiring.hpp"
#include "plant/rotor.hpp"
#include "proof/bring_up.hpp"
#include "proof/capture_check.hpp"
#include "routine/compile.hpp"
#include "routine/machine.hpp"
#include "simulation/simulate.hpp"
#include "support/two_inputs.hpp"
#include "support/wires.hpp"

namespace hinge {
namespace {

using routine::Action;

// The truth table of such a bridge, from memory of data sheets: one high drives, both high brake, both low coast.
TEST(BridgeInputs, areTheTableOfTheirPart) {
    const auto is = [](int level, bool back, bool braked, int first, int second) {
        const auto inputs = spark::bridgeInputs(static_cast<std::uint16_t>(level), 1000, back, braked);
        EXPECT_EQ(inputs.first, first) << level << back << braked;
        EXPECT_EQ(inputs.second, second) << level << back << braked;
    };
    is(1000, false, false, 1000, 0);
    is(1000, true, false, 0, 1000);
    is(300, false, false, 1000, 700);
    is(300, true, false, 700, 1000);
    is(0, false, false, 0, 0);
    is(0, true, false, 0, 0);
    is(0, false, true, 1000, 1000);
    is(2000, false, true, 1000, 0);  // more than all of it is all of it
}

// The two are written one after the other: between the writes the bridge never stands the other way round, whatever it did before and does
// next in the same way.
TEST(BridgeInputs, neverPassThroughTheOtherWay) {
    for (const bool back : {false, true})
        for (const int from : {0, 1, 400, 1000})
            for (const int to : {0, 1, 400, 1000})
                for (const bool was_braked : {false, true})
                    for (const bool braked : {false, true}) {
                        const auto before = spark::bridgeInputs(static_cast<std::uint16_t>(from), 1000, back, was_braked);
                        const auto after = spark::bridgeInputs(static_cast<std::uint16_t>(to), 1000, back, braked);
                        // What is chopped may stand at either level when the other is written.
                        auto first = before.first, second = before.second;
                        (after.second_before ? second : first) = after.second_before ? after.second : after.first;
                        const bool steady_low = back ? second == 0 : first == 0, other_high = back ? first > 0 : second > 0;
                        EXPECT_FALSE(steady_low && other_high) << from << " to " << to << (back ? " backwards" : "");
                    }
}

// By hand: coasting, only friction slows it, along a straight line; shorted, its own current does, to the e-th part in J·R/(k·k').
TEST(Rotor, coastsWhereItsBridgeLetsItGo) {
    plant::RotorFigures figures;
    figures.supply = 12.0, figures.resistance = 4.0, figures.back = figures.torque = 0.02, figures.inertia = 2e-5;
    figures.friction = figures.stiction = 1e-4;
    plant::Rotor coasting{figures}, braking{figures};
    for (auto* each : {&coasting, &braking})
        for (int k = 0; k < 3000; ++k) each->step(1e-3, 1.0);
    const double full = coasting.speed();
    EXPECT_NEAR(full, (12.0 - 1e-4 / 0.02 * 4.0) / 0.02, 0.1);
    for (int k = 0; k < 100; ++k) coasting.step(1e-3, 0.0, true), braking.step(1e-3, 0.0);
    EXPECT_NEAR(coasting.speed(), full - 1e-4 / 2e-5 * 0.1, 1e-6);
    EXPECT_EQ(coasting.current(), 0.0);
    const double tau = 2e-5 * 4.0 / (0.02 * 0.02), settled = -1e-4 * 4.0 / (0.02 * 0.02);
    EXPECT_NEAR(braking.speed(), settled + (full - settled) * std::exp(-0.1 / tau), 1e-6);
    EXPECT_LT(braking.current(), 0.0) << "it brakes by a current that its own speed drives";
}

using test::crank;
using test::moved;

/// The project's program, tick by tick; its cue is started by hand.
struct Played {
    explicit Played(const project::Project& project) : plan{plan::evaluate(project, test::shippedParts())}, machine{*plan.program} {
        state = routine::powerUp(*plan.program);
        open.assign(plan.program->inputs.size(), 0);
    }
    void tick(bool starts = false, bool stops = false) {
        routine::Happening now;
        now.pin_active = open;
        if (starts) now.start_cues = {0};
        now.stop = stops;
        machine.tick(state, now);
    }
    void ticks(int count) {
        while (count-- > 0) tick();
    }
    [[nodiscard]] bool coasts() const { return routine::coasts(*plan.program, state, 0); }
    plan::Plan plan;
    routine::Machine machine;
    routine::State state;
    std::vector<std::uint8_t> open;
};

TEST(TwoInputs, areWiredAndHaveTheLinesOfTheirTable) {
    const auto parts = test::shippedParts();
    const auto project = crank({moved("on", Action::On), moved("w", Action::Wait, 0.1), moved("b", Action::Brake)});
    const auto plan = plan::evaluate(project, parts);
    EXPECT_EQ(plan.channels.front().not_driven, "");
    const auto wires = plan::wiring(project, parts, plan);
    EXPECT_TRUE(test::has(wires, "board D9", "it bridge IN 1"));
    EXPECT_TRUE(test::has(wires, "board D10", "it bridge IN 2"));
    const auto* driver = project::findDriver(parts, "bridge_inputs_4a");
    const auto table = kinds::driverKind(*driver).states(*driver, true);
    EXPECT_EQ(table.lines, (std::vector<std::string>{"IN 1", "IN 2"}));
    for (const auto& line : table.lines)
        EXPECT_TRUE(std::any_of(wires.begin(), wires.end(), [&](const auto& wire) { return wire.to == "it bridge " + line; })) << line;
    for (const auto& state : table.states) EXPECT_EQ(state.levels.size(), 2U);
    EXPECT_EQ(table.states.back().motor, "coasts") << "at reset, by its pull-downs";
    for (const char* pin : {"board D9", "board D10"})
        EXPECT_TRUE(std::any_of(wires.begin(), wires.end(), [&](const auto& w) { return w.from == pin && w.to == "ground" && w.through; }))
            << pin << " is pulled down";
    const auto lines = plan::linesOf(plan.channels.front(), project.channels.front(), project.routine);
    ASSERT_EQ(lines.size(), 1U);
    EXPECT_STREQ(lines.front().name, "second input");
}

TEST(TwoInputs, theSecondWantsPulsesToo) {
    const auto parts = test::shippedParts();
    const auto at = [&](const char* pin) { return crank({moved("on", Action::Run, 1.0)}, {{"channels/it/direction_pin", pin}}); };
    EXPECT_TRUE(plan::evaluate(at("D10"), parts).channels.front().second_pwm);
    const auto plain = plan::evaluate(at("D8"), parts);
    EXPECT_NE(plain.channels.front().not_driven, "") << "D8 has no PWM";
    EXPECT_FALSE(plan::sketchOf(at("D8"), plain));
    const auto* finding = test::finding(plain, "pin-cannot");
    ASSERT_NE(finding, nullptr);
    ASSERT_FALSE(finding->remedies.empty());
    EXPECT_EQ(finding->remedies.front().edits.front().path, "channels/it/direction_pin");
    EXPECT_EQ(plan::evaluate(test::edited(at("D8"), finding->remedies.front().edits), parts).channels.front().not_driven, "");
    // Unpinned, it is offered one that has them.
    const auto open = at("");
    const auto offered = plan::evaluate(open, parts);
    const auto* pins = test::finding(offered, "pins-open");
    ASSERT_NE(pins, nullptr);
    EXPECT_TRUE(plan::evaluate(test::edited(open, pins->remedies.front().edits), parts).channels.front().second_pwm);
}

TEST(TwoInputs, brakeUntilTheyAreOnAgainOrPutToRest) {
    Played it{crank({moved("on", Action::On), moved("w1", Action::Wait, 0.1), moved("b", Action::Brake), moved("w2", Action::Wait, 0.1),
                     moved("r", Action::Run, 0.1), moved("w3", Action::Wait, 0.1), moved("b2", Action::Brake)})};
    it.ticks(5);
    EXPECT_TRUE(it.coasts()) << "as at reset";
    it.tick(true);
    it.ticks(50);
    EXPECT_FALSE(it.coasts()) << "it is driven";
    it.ticks(100);  // braked since 100 ms
    EXPECT_EQ(it.state.output(0).level, 0);
    EXPECT_FALSE(it.coasts()) << "it is braked";
    it.ticks(100);  // on again since 200 ms
    EXPECT_GT(it.state.output(0).level, 0);
    it.ticks(100);  // and let go at 300 ms
    EXPECT_TRUE(it.coasts()) << "a run ends in coasting";
    it.ticks(100);
    EXPECT_EQ(it.state.output(0).level, 0);
    EXPECT_FALSE(it.coasts()) << "braked at the end, and stays so";
    it.ticks(5000);
    EXPECT_FALSE(it.coasts());
    it.tick(false, true);
    EXPECT_TRUE(it.coasts()) << "put to rest it is as at reset";
}

TEST(TwoInputs, brakeAlwaysWhereTheirChannelSaysSo) {
    Played it{crank({moved("r", Action::Run, 0.1), moved("w", Action::Wait, 0.1), moved("on", Action::On), moved("w2", Action::Wait, 0.1),
                     moved("o", Action::Off)},
                    {{"channels/it/signal/at_rest", "brake"}})};
    // Off at any time it is not let go, whatever ended it.
    for (int t = 0; t < 800; ++t) {
        it.tick(t == 50 || t == 500, t == 550);
        EXPECT_FALSE(it.coasts()) << t;
    }
}

TEST(TwoInputs, onlySuchABridgeIsToldToBrake) {
    const auto parts = test::shippedParts();
    const std::vector<routine::Move> moves{moved("on", Action::On), moved("w", Action::Wait, 0.1), moved("b", Action::Brake)};
    for (const char* driver : {"bridge_3a", "mosfet_logic_30v"}) {
        const auto plan = plan::evaluate(crank(moves, {{"channels/it/drive/part", driver}, {"channels/it/demand/both_ways", "no"}}), parts);
        EXPECT_FALSE(plan.program) << driver;
        ASSERT_TRUE(plan.program_error);
        EXPECT_NE(sentence(*plan.program_error).find("brake"), std::string::npos) << sentence(*plan.program_error);
    }
}

// The sketch's tables say it in the routine's word.
TEST(TwoInputs, theSketchReadsAsTheRoutine) {
    const auto parts = test::shippedParts();
    const auto project = crank({moved("on", Action::On), moved("w", Action::Wait, 0.1), moved("b", Action::Brake)});
    const auto plan = plan::evaluate(project, parts);
    const auto sketch = plan::sketchOf(project, plan);
    ASSERT_TRUE(sketch) << sentence(sketch.error());
    EXPECT_NE(sketch->text.find("  brake(OUT_IT),"), std::string::npos);
    EXPECT_NE(sketch->text.find("bridgeInputs("), std::string::npos);
    const auto without = crank({moved("on", Action::Run, 1.0)});
    const auto lean = plan::sketchOf(without, plan::evaluate(without, parts));
    ASSERT_TRUE(lean);
    bool said = false;
    for (const auto& file : lean->beside) said = said || file.text.find("#define SPARK_BRAKES    0") != std::string::npos;
    EXPECT_TRUE(said) << "what no cue asks for is left out";
}

// A coil that latches on such a bridge: one input high for its pulse, never both.
TEST(TwoInputs, aLatchingCoilIsPulsedByOneAndThenTheOther) {
    const auto parts = test::shippedParts();
    auto project = test::running(test::alone(project::ChannelKind::Press, "latching_12v", "bridge_inputs_4a",
                                             {{"channels/it/demand/way", "plunger"},
                                              {"channels/it/demand/force", "2 N"},
                                              {"channels/it/demand/stroke", "4 mm"},
                                              {"channels/it/pin", "D9"},
                                              {"channels/it/direction_pin", "D4"}}));
    const auto plan = plan::evaluate(project, parts);
    EXPECT_EQ(plan.channels.front().not_driven, "");
    EXPECT_TRUE(plan.channels.front().two_inputs && plan.channels.front().latch);
    EXPECT_TRUE(plan::sketchOf(project, plan));
}

}  // namespace
}  // namespace hinge
