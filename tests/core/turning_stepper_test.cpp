// A stepper that goes on: at the rate that Need's speed asks, up to it and down from it at one slope, the other way through nothing.
#include <algorithm>
#include "firmware/runtime/spark_drive_rate.h"
#include "plan/calibration.hpp"
#include "plan/firmware_model.hpp"
#include "plan/pin_plan.hpp"
#include "plan/rules.hpp"
#include "plan/supply.hpp"
#include "support/alone.hpp"

namespace hinge::turning_stepper {
namespace {

project::Project turntable(const std::vector<project::FactEdit>& more = {}) {
    auto project = test::turntable("stepper_42mm_short", "chopper_1a_fine");
    project.channels.front().direction_pin = "D4";
    project.channels.front().enable_pin = "D7";
    return test::edited(project, more);
}

TEST(TurningStepper, goesOnAtTheRateThatItsSpeedAsks) {
    const auto plan = plan::evaluate(turntable(), test::shippedParts());
    const auto& planned = plan.channels.front();
    EXPECT_EQ(planned.not_driven, "");
    EXPECT_EQ(planned.signal, plan::SignalKind::StepRate);
    ASSERT_TRUE(planned.motion.step_rate && plan.program);
    // By hand: 30 rpm of 200 steps of 16 micro-steps are half a turn, 1600 of them, a second.
    EXPECT_NEAR(si(*planned.motion.step_rate), 1600.0, 1e-6);
    EXPECT_NEAR(plan.program->outputs.front().step_rate, 1600.0, 1e-6);
    EXPECT_TRUE(planned.both_ways);
    const auto lines = plan::linesOf(planned, turntable().channels.front(), turntable().routine);
    ASSERT_EQ(lines.size(), 2U);
    EXPECT_EQ(lines[0].field, std::string{"direction_pin"});
    EXPECT_EQ(lines[1].field, std::string{"enable_pin"});
    const auto runs = plan::calibrationsFor(turntable(), test::shippedParts(), plan, "it");
    EXPECT_FALSE(std::any_of(runs.begin(), runs.end(), [](const auto& run) { return run.id == "there-and-back"; })) << "it has no way";
    const auto sketch = plan::sketchOf(turntable(), plan);
    EXPECT_TRUE(sketch) << sentence(sketch.error());
}

TEST(TurningStepper, isRefusedWhereNothingBeats) {
    for (const char* form : {"sbc-header", "atmega328p-8mhz"}) {
        const auto plan = plan::evaluate(turntable({{"board/form", form}}), test::shippedParts());
        EXPECT_NE(plan.channels.front().not_driven, "") << form;
    }
    const auto plan = plan::evaluate(turntable({{"channels/it/demand/speed", "400 rpm"}}), test::shippedParts());
    const auto* fast = test::finding(plan, "step-too-fast");
    ASSERT_NE(fast, nullptr) << "21 333 a second";
    ASSERT_FALSE(fast->remedies.empty());
    EXPECT_EQ(fast->remedies.front().edits.front().value, "8");
}

// Asleep while it is off, where its driver has a line for that: then it draws nothing.
TEST(TurningStepper, drawsAtRestWhereNothingPutsItToSleep) {
    for (const bool line : {true, false}) {
        const auto project = turntable({{"channels/it/enable_pin", line ? "D7" : ""}});
        const auto plan = plan::evaluate(project, test::shippedParts());
        const auto tree = plan::drawnTree(project, test::shippedParts(), plan);
        ASSERT_TRUE(tree);
        EXPECT_EQ(tree->outputs.front().idles, !line);
        EXPECT_GT(tree->outputs.front().rest, 0.01);
    }
}

TEST(StepRate, risesAndFallsAtItsSlopeAndTurnsThroughNothing) {
    spark::StepRate rate{};
    const std::int64_t unit = 1'000'000;
    for (int t = 1; t <= 100; ++t) {
        (void)rate.next(spark::rate_top, 100, unit);
        EXPECT_EQ(rate.now, t * spark::rate_top / 100);
    }
    int crossed = 0, before = rate.now;
    for (int t = 0; t < 200; ++t) {
        (void)rate.next(-spark::rate_top, 100, unit);
        EXPECT_LE(before - rate.now, spark::rate_top / 100);
        crossed += rate.now == 0 ? 1 : 0;
        before = rate.now;
    }
    EXPECT_EQ(crossed, 1);
    EXPECT_EQ(rate.now, -spark::rate_top);
    (void)rate.next(0, 0, unit);
    EXPECT_EQ(rate.now, 0) << "without a ramp at once";
}

// One turn a day of 320 000 micro-steps is 3.7 steps a second: after a day it is out by less than one of them, and so it is at 16 000 a
// second, and backwards. By hand: rate times time.
TEST(StepRate, isOutByLessThanOneStepAfterADay) {
    for (const double steps_a_second : {320'000.0 / 86'400.0, 1600.0, 15'999.0}) {
        routine::ProgramOutput output;
        output.top = spark::rate_top;
        output.step_rate = steps_a_second;
        const auto unit = routine::rateUnit(output);
        for (const int way : {1, -1}) {
            spark::StepRate rate{};
            std::int64_t fine = 0;
            const int ticks = steps_a_second < 100.0 ? 86'400'000 : 3'600'000;
            for (int t = 0; t < ticks; ++t) fine += rate.next(way * spark::rate_top, 0, unit);
            EXPECT_NEAR(static_cast<double>(fine) / 256.0, way * steps_a_second * ticks / 1000.0, 1.0) << steps_a_second;
        }
    }
}

}  // namespace
}  // namespace hinge::turning_stepper
