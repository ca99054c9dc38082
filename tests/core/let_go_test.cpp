// What is sent to places and let go when it has stood for its time.
#include <random>
#include "plan/behaviour.hpp"
#include "plan/firmware_model.hpp"
#include "routine/machine.hpp"
#include "routine/quiet.hpp"
#include "simulation/simulate.hpp"
#include "support/alone.hpp"

namespace hinge {
namespace {

project::Project arm(const char* actuator, const char* driver) {
    auto project = test::alone(project::ChannelKind::Turn, actuator, driver,
                               {{"channels/it/demand/mass", "60 g"},
                                {"channels/it/demand/arm", "80 mm"},
                                {"channels/it/demand/angle", "90 deg"},
                                {"channels/it/demand/time", "2 s"},
                                {"channels/it/calibration/pulse_min", "1 ms"},
                                {"channels/it/calibration/pulse_max", "2 ms"},
                                {"channels/it/direction_pin", "D4"},
                                {"channels/it/enable_pin", "D7"},
                                {"channels/it/signal/let_go_after", "0.5 s"}});
    project.routine.cues.clear();
    routine::Cue cue;
    cue.id = cue.name = "cue";
    cue.input = project.inputs.front().id;
    cue.moves.push_back({"go", routine::Action::Go, "it", of<Duration>(0.2)});
    project.routine.cues.push_back(cue);
    return project;
}

const char* choppersId() {
    static const auto parts = test::shippedParts();
    for (const auto& driver : parts.drivers)
        if (driver.driver_class == driver::DriverClass::Chopper) return driver.id.c_str();
    return "";
}

// By hand: 200 ticks of move, 500 of rest, then asleep until the next.
TEST(LetGo, holdsForItsTimeAndNotLonger) {
    for (const auto& [actuator, driver] : {std::pair{"servo_micro_digital", "straight_from_pin"}, {"stepper_42mm_short", choppersId()}}) {
        SCOPED_TRACE(actuator);
        const auto plan = plan::evaluate(arm(actuator, driver), test::shippedParts());
        ASSERT_TRUE(plan.program) << sentence(*plan.program_error);
        const routine::Machine machine{*plan.program};
        auto state = routine::powerUp(*plan.program);
        const std::vector<std::uint8_t> open(plan.program->inputs.size(), 0);
        const auto tick = [&](bool starts) {
            routine::Happening now;
            now.pin_active = open;
            if (starts) now.start_cues = {0};
            machine.tick(state, now);
        };
        for (int t = 0; t < 3000; ++t) {
            // Started in the middle of the second rest too: it counts anew.
            const bool starts = t == 100 || t == 1000 || t == 1500;
            tick(starts);
            const bool awake = (t >= 100 && t < 800) || (t >= 1000 && t < 2200);
            const bool near = std::abs(t - 100) < 3 || std::abs(t - 800) < 3 || std::abs(t - 1000) < 3 || std::abs(t - 2200) < 3;
            if (!near) EXPECT_EQ(state.output(0).awake != 0, awake) << t;
            if (t > 320)
                EXPECT_EQ(routine::shareOf(plan.program->outputs[0], state.output(0).level), 1.0) << "it stays where it was told to be";
        }
    }
}

// Tick by tick or in leaps: the same states.
TEST(LetGo, comesInALeapAsItDoesTickByTick) {
    const auto plan = plan::evaluate(arm("servo_micro_digital", "straight_from_pin"), test::shippedParts());
    ASSERT_TRUE(plan.program);
    const routine::Machine machine{*plan.program};
    const std::vector<std::uint8_t> open(plan.program->inputs.size(), 0);
    const std::vector<std::int32_t> values(plan.program->inputs.size(), 0);
    std::mt19937 dice(7);
    for (int round = 0; round < 40; ++round) {
        auto slow = routine::powerUp(*plan.program), fast = slow;
        const int start = 50 + static_cast<int>(dice() % 300), again = start + 100 + static_cast<int>(dice() % 1500);
        std::vector<int> woken(4000, 0);
        const auto happening = [&](int t) {
            routine::Happening now;
            now.pin_active = open;
            if (t == start || t == again) now.start_cues = {0};
            return now;
        };
        for (int t = 0; t < 4000; ++t) machine.tick(slow, happening(t)), woken[static_cast<std::size_t>(t)] = slow.output(0).awake;
        for (int t = 0; t < 4000; ++t) {
            machine.tick(fast, happening(t));
            ASSERT_EQ(fast.output(0).awake, woken[static_cast<std::size_t>(t)]) << t;
            const int next = t < start ? start : t < again ? again : 4000;
            const auto quiet = std::min<std::int32_t>(routine::quietTicks(*plan.program, fast, open, true, values), next - t - 1);
            if (quiet <= 1) continue;
            routine::skip(*plan.program, fast, quiet);
            t += quiet;
            ASSERT_EQ(fast.output(0).awake, woken[static_cast<std::size_t>(t)]) << t << " after a leap of " << quiet;
        }
        EXPECT_EQ(fast.output(0).level, slow.output(0).level);
    }
}

TEST(LetGo, asksForAnEnableLineWhereAStepperIsLetGo) {
    const auto parts = test::shippedParts();
    const auto project = arm("stepper_42mm_short", choppersId());
    EXPECT_EQ(plan::evaluate(project, parts).channels.front().not_driven, "");
    const auto bare = plan::evaluate(test::edited(project, {{"channels/it/enable_pin", ""}}), parts);
    EXPECT_NE(bare.channels.front().not_driven, "");
    const auto* stop = test::finding(bare, "not-driven");
    ASSERT_TRUE(stop != nullptr && !stop->remedies.empty());
    EXPECT_NE(test::finding(plan::evaluate(project, parts), "let-go"), nullptr) << "and what that means is said";
    const auto sketch = plan::sketchOf(project, plan::evaluate(project, parts));
    ASSERT_TRUE(sketch);
    EXPECT_NE(sketch->text.find("letGoAfter(P_IT_LET_GO, stepper("), std::string::npos);
}

// What cannot be is said: a loop that holds it, a driver that nothing tells to brake.
TEST(LetGo, isNotLeftOutInSilence) {
    const auto parts = test::shippedParts();
    auto rider = test::exampleProject("tightrope-rider");
    const auto loop = rider.routine.loops.front().channel;
    const auto held = plan::evaluate(test::edited(rider, {{"channels/" + loop + "/signal/let_go_after", "2 s"}}), parts);
    ASSERT_NE(test::finding(held, "let-go"), nullptr);
    EXPECT_NE(test::finding(held, "let-go")->text.find("a loop holds it"), std::string::npos);
    const auto line =
        plan::evaluate(test::edited(test::exampleProject("cloud-chamber-door"), {{"channels/door/drive/part", "bridge_3a"}}), parts);
    ASSERT_NE(test::finding(line, "coasts-on"), nullptr) << "the door is to brake";
    EXPECT_EQ(test::finding(plan::evaluate(test::exampleProject("cloud-chamber-door"), parts), "coasts-on"), nullptr);
}

// While it is let go its supply gives nothing for it; held it did.
TEST(LetGo, itsSupplyGivesNothingThen) {
    const auto parts = test::shippedParts();
    const auto held = test::edited(arm("stepper_42mm_short", choppersId()), {{"channels/it/signal/let_go_after", ""}});
    const auto drive = [&](const project::Project& project, double at) {
        const auto plan = plan::evaluate(project, parts);
        simulation::Options options;
        options.length = 4.0;
        options.events.push_back({.time = 0.5, .cue = "cue"});
        const auto traces = simulation::simulate(*plan.program, {}, options);
        EXPECT_TRUE(traces);
        auto phase = plan::Phase::Off;
        for (const auto& change : traces->changes)
            if (change.time <= at) phase = change.phases.front();
        return phase;
    };
    EXPECT_EQ(drive(held, 3.9), plan::Phase::Holding);
    EXPECT_EQ(drive(arm("stepper_42mm_short", choppersId()), 1.0), plan::Phase::Holding);
    EXPECT_EQ(drive(arm("stepper_42mm_short", choppersId()), 3.9), plan::Phase::Off);
}

}  // namespace
}  // namespace hinge
