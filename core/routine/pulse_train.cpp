#include "routine/pulse_train.hpp"
#include <algorithm>
#include <cmath>

namespace hinge::routine {
namespace {

std::int32_t levelAt(const timing::PwmTimerResult& pwm, Fraction duty, Duration soft_start, double time) {
    const auto tick_of = std::max<std::int32_t>(1, static_cast<std::int32_t>(std::floor(time * ticks_per_second + 1e-9)) + 1);
    return rampLevel(static_cast<std::int32_t>(std::lround(si(duty) * 1000.0)), static_cast<std::int32_t>(si(pwm.steps)), tick_of,
                     static_cast<std::int32_t>(std::lround(si(soft_start) * ticks_per_second)));
}

}  // namespace

std::vector<Pulse> pulseTrain(const timing::PwmTimerResult& pwm, Fraction duty, Duration soft_start, Duration from, int count) {
    const double period = 1.0 / si(pwm.actual_frequency);
    const auto steps = static_cast<std::int32_t>(si(pwm.steps));
    const double first = std::ceil(si(from) / period - 1e-9);
    std::vector<Pulse> pulses;
    for (int k = 0; k < count; ++k) {
        Pulse pulse{(first + k) * period, period, 0.0, 0, steps};
        pulse.level = std::min(levelAt(pwm, duty, soft_start, pulse.start), steps);
        pulse.high = period * pulse.level / steps;
        pulses.push_back(pulse);
    }
    return pulses;
}

std::vector<RampPoint> rampShape(const timing::PwmTimerResult& pwm, Fraction duty, Duration soft_start, Duration until, int points) {
    std::vector<RampPoint> shape;
    for (int i = 0; i <= points; ++i) {
        const double time = si(until) * i / points;
        shape.push_back({time, static_cast<double>(levelAt(pwm, duty, soft_start, time)) / si(pwm.steps)});
    }
    return shape;
}

}  // namespace hinge::routine
