#pragma once
#include "plan/plan.hpp"

namespace hinge::plan {

/// Judges pins and pulses; fills plan.pins and each channel's PWM. All PWMs of one timer are planned together.
void evaluatePins(const project::Project& project, const project::Parts& parts, Plan& plan);

}  // namespace hinge::plan
