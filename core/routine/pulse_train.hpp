#pragma once
#include <vector>
#include "routine/program.hpp"
#include "timing/pwm_timer.hpp"

namespace hinge::routine {

/// One PWM pulse as it stands at the pin.
struct Pulse {
    double start = 0.0;   ///< s after switch-on
    double period = 0.0;  ///< s
    double high = 0.0;    ///< s, from the register's level: level/steps of the period
    std::int32_t level = 0;
    std::int32_t steps = 0;
};
/// The pulses from the first one that starts at or after `from`, as the compiled program sets them:
/// the level changes on whole ticks of 1 ms, and a pulse keeps the level it started with.
/// @param soft_start  from nothing to `duty`; 0: straight on
/// @param count       at least 1
/// @source derived: rampLevel() sampled at each period's start
[[nodiscard]] std::vector<Pulse> pulseTrain(const timing::PwmTimerResult& pwm, Fraction duty, Duration soft_start, Duration from,
                                            int count);

struct RampPoint {
    double time = 0.0;   ///< s after switch-on
    double share = 0.0;  ///< of full power
};
/// The level over time, from switch-on to `until`, at `points` + 1 even instants.
[[nodiscard]] std::vector<RampPoint> rampShape(const timing::PwmTimerResult& pwm, Fraction duty, Duration soft_start, Duration until,
                                               int points);

}  // namespace hinge::routine
