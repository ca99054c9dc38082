#include "routine/pulse_train.hpp"
#include <gtest/gtest.h>

namespace hinge::routine {
namespace {

timing::PwmTimerResult timerZero() {
    timing::PwmTimer in;
    in.frequency = of<Frequency>(16e6 / (64.0 * 256.0));
    in.timer = of<Count>(0);
    in.mode = timing::PwmMode::Fast;
    return timing::pwmTimer(in)->result;
}

TEST(PulseTrain, hasTheTimersPeriodAndWholeSteps) {
    const auto pulses = pulseTrain(timerZero(), of<Fraction>(1.0), of<Duration>(0.1), of<Duration>(0.0), 100);
    ASSERT_EQ(pulses.size(), 100U);
    for (const auto& pulse : pulses) {
        EXPECT_DOUBLE_EQ(pulse.period, 1.024e-3) << "64·256/16 MHz";
        EXPECT_DOUBLE_EQ(pulse.high, pulse.level * 4e-6) << "one step is 64 cycles, 4 µs";
        EXPECT_LE(pulse.level, 256);
    }
    EXPECT_LT(pulses.front().level, pulses.back().level);
}

TEST(PulseTrain, isSteadyWithoutASoftStart) {
    for (const auto& pulse : pulseTrain(timerZero(), of<Fraction>(0.25), Duration{}, of<Duration>(0.5), 5)) {
        EXPECT_EQ(pulse.level, 64) << "a quarter of 256";
        EXPECT_GE(pulse.start, 0.5 - 1e-9);
    }
}

TEST(RampShape, reachesHalfAtHalfTheTime) {
    const auto shape = rampShape(timerZero(), of<Fraction>(1.0), of<Duration>(0.1), of<Duration>(0.2), 200);
    ASSERT_EQ(shape.size(), 201U);
    EXPECT_NEAR(shape[50].share, 0.5, 0.02) << "one tick and one step of slack";
    EXPECT_DOUBLE_EQ(shape[200].share, 1.0);
}

}  // namespace
}  // namespace hinge::routine
