#pragma once
#include "plan/plan.hpp"

namespace hinge::plan {

/// The PWM frequency that timer 0 has while it keeps the sketch's clock: clk/(64·256).
[[nodiscard]] double sketchTimerFrequency(const board::Family& family);
/// Judges pins and pulses; fills plan.pins and each channel's PWM.
void evaluatePins(const project::Project& project, const project::Parts& parts, Plan& plan);

}  // namespace hinge::plan
