// A coil that latches: a pulse one way when it is switched on, one the other way when it is switched off.
#include <algorithm>
#include "firmware/runtime/spark_drive_latch.h"
#include "plan/behaviour.hpp"
#include "plan/firmware_model.hpp"
#include "plan/pin_plan.hpp"
#include "plan/rules.hpp"
#include "plan/supply.hpp"
#include "proof/bring_up.hpp"
#include "simulation/simulate.hpp"
#include "simulation/supply_day.hpp"
#include "support/alone.hpp"

namespace hinge {
namespace {

project::Project bolt(const std::vector<project::FactEdit>& more = {}) {
    const auto project = test::alone(project::ChannelKind::Press, "latching_12v", "bridge_3a",
                                     {{"channels/it/demand/way", "plunger"},
                                      {"channels/it/demand/force", "2 N"},
                                      {"channels/it/demand/stroke", "4 mm"},
                                      {"channels/it/direction_pin", "D4"}});
    return test::edited(test::running(project), more);
}

TEST(LatchPulse, isOneEachWayAndNothingBetween) {
    spark::LatchPulse latch{};
    std::vector<int> ways;
    // Off at first, on from tick 20 to 60, with pulses of 5 ticks.
    for (int t = 0; t < 100; ++t) ways.push_back(latch.next(t >= 20 && t < 60, 5, 0));
    for (int t = 0; t < 100; ++t) {
        const int expected = t < 5 || (t >= 60 && t < 65) ? -1 : t >= 20 && t < 25 ? 1 : 0;
        EXPECT_EQ(ways[static_cast<std::size_t>(t)], expected) << t;
    }
}

TEST(LatchPulse, waitsForItsTurnAndNeverTurnsRoundInAPulse) {
    spark::LatchPulse latch{};
    for (int t = 0; t < 30; ++t) EXPECT_EQ(latch.next(false, 5, 30), 0);
    EXPECT_EQ(latch.next(false, 5, 30), -1);
    // Whatever is wanted meanwhile: each pulse is whole, and there is a tick without current before the next.
    int length = 1, before = -1;
    bool on = false;
    for (int t = 0; t < 1000; ++t) {
        if (t % 3 == 0) on = !on;
        const int way = latch.next(on, 5, 30);
        if (way != 0 && before != 0) EXPECT_EQ(way, before);
        if (way == 0 && before != 0) EXPECT_EQ(length, 5);
        length = way == 0 ? 0 : before == 0 ? 1 : length + 1;
        before = way;
    }
}

TEST(Latching, isDrivenByPulsesFromAWholeBridge) {
    const auto plan = plan::evaluate(bolt(), test::shippedParts());
    const auto& planned = plan.channels.front();
    EXPECT_EQ(planned.not_driven, "");
    EXPECT_EQ(planned.signal, plan::SignalKind::LatchPulses);
    ASSERT_TRUE(planned.latch && plan.program);
    EXPECT_NEAR(si(*planned.latch), 0.040, 1e-12) << "the catalogue's";
    EXPECT_EQ(plan.program->outputs.front().latch, 40);
    EXPECT_FALSE(planned.both_ways) << "backwards is what switching off does";
    const auto lines = plan::linesOf(planned, bolt().channels.front(), bolt().routine);
    ASSERT_EQ(lines.size(), 1U);
    EXPECT_EQ(lines[0].field, std::string{"direction_pin"});
    EXPECT_TRUE(plan::sketchOf(bolt(), plan));
    EXPECT_FALSE(plan::sketchOf(bolt({{"channels/it/direction_pin", ""}}),
                                plan::evaluate(bolt({{"channels/it/direction_pin", ""}}), test::shippedParts())));
    const auto list = proof::bringUp(bolt(), test::shippedParts(), plan);
    EXPECT_TRUE(std::any_of(list.begin(), list.end(), [](const auto& step) { return step.id == "it.latch"; }));
    EXPECT_FALSE(std::any_of(list.begin(), list.end(), [](const auto& step) { return step.id == "it.running"; }));
    EXPECT_EQ(plan::fiveStates(bolt(), plan).front().without_power, "stays as it was");
    EXPECT_NE(test::finding(plan, "latch-stays"), nullptr);
}

TEST(Latching, isRefusedWhereItsPulsesWouldNotDo) {
    auto parts = test::shippedParts();
    const auto why = [&](const std::vector<project::FactEdit>& edits) {
        return plan::evaluate(bolt(edits), parts).channels.front().not_driven;
    };
    EXPECT_EQ(why({}), "");
    EXPECT_NE(why({{"channels/it/safe", "on"}}).find("pulsed open at every reset"), std::string::npos);
    EXPECT_NE(why({{"channels/it/remembers", "yes"}}).find("does not come back on"), std::string::npos);
    EXPECT_NE(why({{"channels/it/drive/part", "mosfet_logic_30v"}}), "") << "one way only";
    for (auto& part : parts.actuators)
        if (auto* coil = std::get_if<actuator::Coil>(&part); coil != nullptr && coil->id == "latching_12v") coil->pulse_time.reset();
    EXPECT_NE(why({}).find("how long"), std::string::npos);
}

// It draws while it is pulsed, also when it is switched off; by hand 12 V over 9 Ω and what lies between.
TEST(Latching, drawsInItsPulsesOnly) {
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(bolt(), parts);
    const auto tree = plan::drawnTree(bolt(), parts, plan);
    ASSERT_TRUE(tree && plan.program);
    EXPECT_NEAR(tree->outputs.front().pulse, 0.040, 1e-12);
    EXPECT_EQ(tree->outputs.front().rest, 0.0);
    simulation::Options options;
    options.length = 3.0;
    options.events = {{0.5, bolt().inputs.front().id, true, "", {}, false}, {0.7, bolt().inputs.front().id, false, "", {}, false}};
    const auto charge = [&] {
        const auto traces = simulation::simulate(*plan.program, {}, options);
        EXPECT_TRUE(traces) << sentence(traces.error());
        return simulation::supplyOf(*traces, *tree, 4000).charge;
    };
    const double moved = charge(), amps = si(*plan.channels.front().chosen->running);
    options.events.clear();
    const double idle = charge();
    EXPECT_NEAR(amps, 12.0 / 9.0, 0.25);
    // Cells: on all day after one use it is two pulses a day, not a day of current.
    auto cells = test::edited(bolt(), {{"sources/adapter/kind", "battery"},
                                       {"sources/adapter/series", "4"},
                                       {"sources/adapter/capacity", "3 Ah"},
                                       {"sources/adapter/cell_resistance", "40 mohm"}});
    cells.routine.cues.front().input.clear();
    cells.routine.cues.front().times = "08:00";
    const auto by_day = plan::evaluate(cells, parts);
    cells.routine.cues.front().moves.front().time = of<Duration>(36000.0);
    const auto ten_hours = plan::evaluate(cells, parts);
    ASSERT_TRUE(by_day.battery && ten_hours.battery);
    EXPECT_NEAR(si(by_day.battery->average), si(by_day.battery->idle) + 2.0 * 0.040 * amps / 86400.0, 0.02 * si(by_day.battery->idle));
    EXPECT_NEAR(si(ten_hours.battery->average), si(by_day.battery->average), 1e-6);
    EXPECT_NEAR(moved - idle, 2.0 * 0.040 * amps, 0.1 * 0.080 * amps) << "two pulses, not a second of current";
}

}  // namespace
}  // namespace hinge
