// A tach that belongs to a channel: true while that is on and stands still.
#include <gtest/gtest.h>
#include <random>
#include "plan/firmware_model.hpp"
#include "plan/input_wiring.hpp"
#include "plan/wiring.hpp"
#include "routine/machine.hpp"
#include "routine/quiet.hpp"
#include "support/alone.hpp"

namespace hinge {
namespace {

// A fan that a press runs for a minute, put off where its tach says that it stands still.
project::Project watched(bool follows = false) {
    auto project = test::running(test::alone(project::ChannelKind::Blow, "fan_80_pwm_70", "straight_from_pin"), 60.0);
    project = test::withStallAlarm(std::move(project));
    if (!follows) return project;
    project.routine.cues.clear();
    project = project::addInput(project, project::InputKind::Sensor, "warm");
    project.inputs.back().pin = "D7";
    project.routine.followers.push_back({"f", "it", project.inputs.back().id});
    return project;
}

class Fan {
public:
    explicit Fan(const project::Project& project) : plan_(plan::evaluate(project, test::shippedParts())) {
        EXPECT_TRUE(plan_.program) << sentence(plan_.program_error.value_or(Error{}));
        machine_.emplace(*plan_.program);
        state_ = routine::powerUp(*plan_.program);
        pins_.assign(plan_.program->inputs.size(), 0);
        for (std::size_t i = 0; i < plan_.program->inputs.size(); ++i)
            if (plan_.program->inputs[i].id == "still") tach_ = i;
    }
    double rate = 0.0;  ///< pulses a second while it is on
    bool turns_always = false;
    void press(std::size_t input, bool so) { pins_[input] = so ? 1 : 0; }
    // @return the tick of the last change of the tach's truth within the time; -1: none
    int run(int ticks) {
        int changed = -1;
        for (int t = 0; t < ticks; ++t, ++now_) {
            phase_ += (on() || turns_always) ? rate / 1000.0 : 0.0;
            pulses_.assign(pins_.size(), 0);
            pulses_[tach_] = static_cast<std::int32_t>(phase_);
            phase_ -= pulses_[tach_];
            routine::Happening happening;
            happening.pin_active = pins_;
            happening.pulses = pulses_;
            const bool was = still(), ran = on();
            machine_->tick(state_, happening);
            if (still() != was) changed = now_;
            if (on() && !ran) ++starts, started = now_;
        }
        return changed;
    }
    [[nodiscard]] bool on() const { return state_.output(0).on != 0; }
    [[nodiscard]] bool still() const { return state_.input(tach_).active != 0 && state_.input(tach_).heard != 0; }
    int starts = 0, started = -1;

private:
    plan::Plan plan_;
    std::optional<routine::Machine> machine_;
    routine::State state_;
    std::vector<std::uint8_t> pins_;
    std::vector<std::int32_t> pulses_;
    std::size_t tach_ = 0;
    double phase_ = 0.0;
    int now_ = 0;
};

// A reading is a reading, whether its loop is on or not: the stage's turntable turns by hand, 200 pulses a second, counted over the loop's
// 60 ms: twelve. The loop's first period begins with it, without what was counted before.
TEST(TachOfALoop, readsWhileItsLoopIsOff) {
    const auto project = test::exampleProject("paper-moon-stage");
    const auto plan = plan::evaluate(project, test::shippedParts());
    ASSERT_TRUE(plan.program);
    const routine::Machine machine(*plan.program);
    auto state = routine::powerUp(*plan.program), leapt = state;
    std::size_t spin = 0;
    while (plan.program->inputs[spin].id != "spin") ++spin;
    const std::vector<std::uint8_t> pins(plan.program->inputs.size(), 0);
    std::vector<std::int32_t> pulses(plan.program->inputs.size(), 0);
    double phase = 0.0;
    const auto run = [&](int ticks, double rate, bool scene) {
        for (int t = 0; t < ticks; ++t) {
            phase += rate / 1000.0;
            pulses[spin] = static_cast<std::int32_t>(phase);
            phase -= pulses[spin];
            auto active = pins;
            for (std::size_t i = 0; i < plan.program->inputs.size(); ++i)
                if (plan.program->inputs[i].id == "scene") active[i] = scene ? 1 : 0;
            routine::Happening happening;
            happening.pin_active = active, happening.pulses = pulses;
            machine.tick(state, happening);
        }
    };
    run(500, 200.0, false);
    EXPECT_NEAR(state.input(spin).value, 12, 1) << "nothing is on, and the disc turns";
    run(120, 0.0, false);
    EXPECT_EQ(state.input(spin).value, 0) << "it stands";
    run(500, 200.0, false);
    run(20 + 60, 200.0, true);
    EXPECT_NEAR(state.input(spin).value, 12, 1) << "the period in which it starts has its own pulses only";
    // What leaps over quiet stretches leaves the same state.
    state = routine::powerUp(*plan.program);
    run(300, 0.0, false);
    leapt = state;
    run(137, 0.0, false);
    ASSERT_GE(routine::quietTicks(*plan.program, leapt, pins), 137);
    routine::skip(*plan.program, leapt, 137);
    EXPECT_TRUE(state == leapt);
}

// Its pulses are counted second by second: less than that is no run-up, and is refused rather than made longer.
TEST(StallAlarm, aRunUpShorterThanItsCountIsRefused) {
    const auto project = test::edited(watched(), {{"inputs/still/run_up", "0.5 s"}});
    const auto plan = plan::evaluate(project, test::shippedParts());
    ASSERT_TRUE(plan.program_error);
    EXPECT_EQ(plan.program_error->field, "inputs/still/run_up");
}

TEST(StallAlarm, saysNothingWhileItIsOffAndWhileItTurns) {
    Fan fan(watched());
    fan.rate = 95.0;  // 2850 rpm, two a turn
    fan.run(5000);
    EXPECT_FALSE(fan.still()) << "off, it stands still as it should";
    fan.press(0, true);
    fan.run(30'000);
    EXPECT_TRUE(fan.on());
    EXPECT_FALSE(fan.still());
}
// By hand: it is believed once it has been on for two seconds. The next tick but one puts it off.
TEST(StallAlarm, aFanThatNeverTurnsIsPutOffAfterItsRunUp) {
    Fan fan(watched());
    fan.run(1000);
    fan.press(0, true);
    const int at = fan.run(3000);
    EXPECT_NEAR(at - fan.started, 2000, 2);
    EXPECT_FALSE(fan.on());
    EXPECT_EQ(fan.starts, 1);
}
// Put off, it says so for as long as its run-up: two seconds, in which it cannot be started either; then it can.
TEST(StallAlarm, saysSoForAWhileAfterItWasPutOff) {
    auto project = watched();
    project.routine.cues.front().guards.push_back({"g", "still", true});
    Fan fan(project);
    fan.run(1000);
    fan.press(0, true);
    fan.run(2100);
    ASSERT_FALSE(fan.on());
    fan.press(0, false);
    EXPECT_TRUE(fan.still());
    fan.run(1000);
    fan.press(0, true);
    fan.run(100);
    EXPECT_TRUE(fan.still());
    EXPECT_FALSE(fan.on()) << "a guard keeps it from starting";
    fan.press(0, false);
    fan.run(1200);
    EXPECT_FALSE(fan.still());
    fan.rate = 95.0;
    fan.press(0, true);
    fan.run(5000);
    EXPECT_TRUE(fan.on());
}
// Pulses are counted second by second: it is told within two, and not before one has passed without.
TEST(StallAlarm, aFanThatJamsIsPutOffWithinTwoSeconds) {
    std::mt19937 dice(3);
    for (int round = 0; round < 20; ++round) {
        Fan fan(watched());
        fan.rate = 95.0;
        fan.run(300);
        fan.press(0, true);
        const int jams = 4000 + static_cast<int>(dice() % 3000);
        fan.run(jams);
        ASSERT_TRUE(fan.on());
        fan.rate = 0.0;
        const int at = fan.run(2600);
        EXPECT_FALSE(fan.on());
        EXPECT_GE(at - (300 + jams), 890) << "ten pulses of 95 a second take 105 ms";
        EXPECT_LE(at - (300 + jams), 2001);
    }
}
// What follows a sensor is not tried again and again: only once the sensor has let go.
TEST(StallAlarm, isNotTriedAgainByItself) {
    Fan fan(watched(true));
    fan.run(500);
    std::size_t warm = 2;
    fan.press(warm, true);
    fan.run(60'000);
    EXPECT_EQ(fan.starts, 1) << "a minute later it is still off";
    EXPECT_FALSE(fan.on());
    fan.press(warm, false);
    fan.run(2500);
    EXPECT_FALSE(fan.still());
    fan.rate = 95.0;
    fan.press(warm, true);
    fan.run(10'000);
    EXPECT_TRUE(fan.on()) << "freed, and asked for anew";
    EXPECT_EQ(fan.starts, 2);
}
// Where nothing puts it off it is told, and told to be over when it turns again.
TEST(StallAlarm, isOverWhenItTurnsAgain) {
    auto project = watched();
    project.routine.interlocks.clear();
    Fan fan(project);
    fan.run(500);
    fan.press(0, true);
    fan.run(5000);
    EXPECT_TRUE(fan.on());
    EXPECT_TRUE(fan.still());
    fan.rate = 95.0;
    fan.run(2500);
    EXPECT_FALSE(fan.still());
}
// Tick by tick or in leaps: the same states.
TEST(StallAlarm, comesInALeapAsItDoesTickByTick) {
    const auto plan = plan::evaluate(watched(), test::shippedParts());
    ASSERT_TRUE(plan.program);
    const routine::Machine machine{*plan.program};
    const std::vector<std::int32_t> values(plan.program->inputs.size(), 0);
    std::mt19937 dice(11);
    for (int round = 0; round < 60; ++round) {
        std::vector<std::uint8_t> pins(plan.program->inputs.size(), 0);
        auto slow = routine::powerUp(*plan.program), fast = slow;
        const int press = 50 + static_cast<int>(dice() % 500), let_go = press + 30 + static_cast<int>(dice() % 4000);
        int at = 0;
        while (at < 6000) {
            pins[0] = at >= press && at < let_go ? 1 : 0;
            routine::Happening now;
            now.pin_active = pins;
            const int next = at < press ? press : at < let_go ? let_go : 6000;
            const auto quiet = std::min(routine::quietTicks(*plan.program, fast, pins, true, values), next - at - 1);
            if (quiet > 0) {
                routine::skip(*plan.program, fast, quiet);
                // Its pulses are none, so that its seconds may begin anywhere.
                for (int t = 0; t < quiet; ++t) machine.tick(slow, now);
                at += quiet;
            }
            machine.tick(slow, now), machine.tick(fast, now);
            ++at;
            ASSERT_EQ(slow.output(0).on, fast.output(0).on) << at << " of round " << round;
            ASSERT_EQ(slow.input(1).active, fast.input(1).active) << at;
            ASSERT_EQ(slow.input(1).running, fast.input(1).running) << at;
        }
    }
}
// One wire, and it stands once in the list, by the fan's own name for it.
TEST(StallAlarm, itsWireIsTheFansTach) {
    const auto project = watched();
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    int wires = 0;
    for (const auto& wire : plan::gadgetWires(project, parts, plan))
        if (wire.from == "board D3" || wire.to == "board D3") {
            ++wires;
            EXPECT_EQ(wire.to, "it tach wire");
        }
    EXPECT_EQ(wires, 1);
}
TEST(StallAlarm, aChannelThatIsTakenOutLeavesATachOfItsOwn) {
    const auto project = project::removeChannel(watched(), "it");
    EXPECT_EQ(project::findInput(project, "still")->belongs_to, "");
}

}  // namespace
}  // namespace hinge
