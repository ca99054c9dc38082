#pragma once
#include "plan/plan.hpp"

namespace hinge::plan {

/// Compiles the routine with the plan's numbers and judges it; adds Routine's findings and the
/// hazards that follow from the choices.
void evaluateBehaviour(const project::Project& project, const Evidence& evidence, Plan& plan);

}  // namespace hinge::plan
