// A servo that turns on: its pulse says a speed. Standing still at 1.5 ms, full speed half a millisecond away either way: common
// practice, no published source.
#include <algorithm>
#include "plan/calibration.hpp"
#include "plan/firmware_model.hpp"
#include "plan/pin_plan.hpp"
#include "plant/on_times.hpp"
#include "project/routine_edits.hpp"
#include "proof/bring_up.hpp"
#include "support/alone.hpp"

namespace hinge {
namespace {

project::Project turntable(std::vector<project::FactEdit> more = {}) {
    more.insert(more.begin(), {"channels/it/rail", "servo"});
    return test::turntable("servo_micro_turning", "straight_from_pin", more);
}

TEST(TurningServo, isDrivenByThePulseThatSaysItsSpeed) {
    const auto plan = plan::evaluate(turntable({{"channels/it/signal/duty", "40 %"}}), test::shippedParts());
    const auto& planned = plan.channels.front();
    EXPECT_EQ(planned.not_driven, "");
    EXPECT_EQ(planned.signal, plan::SignalKind::SpeedPulse);
    EXPECT_TRUE(planned.both_ways);
    ASSERT_TRUE(plan.program) << sentence(*plan.program_error);
    ASSERT_TRUE(planned.motion.pulse_still);
    EXPECT_NEAR(si(*planned.motion.pulse_still), 1.5e-3, 1e-12);
    // By hand: 1.5 ms and 0.4 of 0.5 ms are 1.7 ms, and 1.3 ms the other way.
    const auto working = std::find_if(plan.workings.begin(), plan.workings.end(),
                                      [](const auto& each) { return each.title == "pulses that say its speed"; });
    ASSERT_NE(working, plan.workings.end());
    EXPECT_NEAR(*working->steps[0].value, 1.7e-3, 1e-12);
    EXPECT_NEAR(*working->steps[1].value, 1.3e-3, 1e-12);
    EXPECT_TRUE(std::any_of(plan.missing.begin(), plan.missing.end(),
                            [](const auto& each) { return each.path == "channels/it/calibration/pulse_stop"; }));
    EXPECT_FALSE(plan::isPlaced(planned));
    EXPECT_EQ(plan::linesOf(planned, turntable().channels.front(), turntable().routine).size(), 0U) << "one line says it all";
}

TEST(TurningServo, standsStillAtThePulseThatWasFound) {
    const auto project = turntable({{"channels/it/calibration/pulse_stop", "1.52 ms"}});
    const auto plan = plan::evaluate(project, test::shippedParts());
    ASSERT_TRUE(plan.program);
    const auto& output = plan.program->outputs.front();
    EXPECT_EQ(output.pulse_still, 3040) << "half microseconds";
    EXPECT_EQ(output.top, 1000);
    const auto& number = plan.program->parameters[static_cast<std::size_t>(output.still_parameter)];
    EXPECT_EQ(number.name, "it_still");
    EXPECT_EQ(number.value, 3040);
    EXPECT_EQ(number.unit, "half-us");
    const auto runs = plan::calibrationsFor(project, test::shippedParts(), plan, "it");
    EXPECT_TRUE(std::any_of(runs.begin(), runs.end(), [](const auto& run) { return run.id == "servo-still"; }));
    EXPECT_FALSE(std::any_of(runs.begin(), runs.end(), [](const auto& run) { return run.id == "servo-ends"; })) << "it has none";
    const auto list = proof::bringUp(project, test::shippedParts(), plan);
    EXPECT_TRUE(std::any_of(list.begin(), list.end(), [](const auto& step) { return step.id == "it.still"; }));
    EXPECT_FALSE(std::any_of(list.begin(), list.end(), [](const auto& step) { return step.id == "it.middle"; }));
}

TEST(TurningServo, goesNowhereAndNotUnderAnOperatingSystem) {
    // A place is asked for.
    const auto placed =
        plan::evaluate(turntable({{"channels/it/demand/speed", ""}, {"channels/it/demand/angle", "90 deg"}}), test::shippedParts());
    EXPECT_NE(placed.channels.front().not_driven.find("no place, only a speed"), std::string::npos) << placed.channels.front().not_driven;
    for (const char* form : {"sbc-header", "atmega328p-8mhz"}) {
        const auto plan = plan::evaluate(turntable({{"board/form", form}}), test::shippedParts());
        EXPECT_NE(plan.channels.front().not_driven, "") << form;
        EXPECT_FALSE(plan::sketchOf(turntable({{"board/form", form}}), plan)) << form;
    }
}

TEST(TurningServo, drawsItsIdleCurrentWhileItStandsStill) {
    const auto plan = plan::evaluate(turntable(), test::shippedParts());
    const auto rail = std::find_if(plan.rails.begin(), plan.rails.end(), [](const auto& each) { return each.id == "servo"; });
    ASSERT_NE(rail, plan.rails.end());
    ASSERT_TRUE(rail->rest);
    EXPECT_NEAR(si(*rail->rest), 0.008, 1e-9) << "the catalogue's idle current";
}

// What a capture's pulses say: on while they differ from the one at which it stands still, off when they fail to come.
TEST(TurningServo, isOnWhileItsPulsesSaySo) {
    std::vector<plant::Edge> edges;
    const auto pulse = [&](double at, double width) {
        edges.push_back({at, 0, -1, 1});
        edges.push_back({at + width, 0, -1, 0});
    };
    double at = 0.0;
    for (int k = 0; k < 10; ++k, at += 0.020) pulse(at, 1.5e-3 + (k % 2 == 0 ? 1e-6 : -1e-6));
    for (int k = 0; k < 10; ++k, at += 0.020) pulse(at, 2.0e-3);
    for (int k = 0; k < 10; ++k, at += 0.020) pulse(at, 1.2e-3);
    const auto told = plant::speedsTold(edges, 0, 1.5e-3, 2.0);
    ASSERT_EQ(told.size(), 3U);
    EXPECT_NEAR(told[0].time, 0.2, 1e-9);
    EXPECT_NEAR(told[0].off, 0.5e-3, 1e-9);
    EXPECT_NEAR(told[1].time, 0.4, 1e-9);
    EXPECT_NEAR(told[1].off, -0.3e-3, 1e-9);
    EXPECT_NEAR(told[2].time, 0.58 + 1.2e-3 + 0.05, 1e-9);
    EXPECT_EQ(told[2].off, 0.0);
    const auto on = plant::onTimes(plant::speedEdges(edges, 0, 1.5e-3, 2.0), 0);
    ASSERT_EQ(on.size(), 1U) << "turned round it is on all the time";
    EXPECT_NEAR(on[0].from, 0.2, 1e-9);
}

}  // namespace
}  // namespace hinge
