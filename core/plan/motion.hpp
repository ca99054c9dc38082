#pragma once
#include "plan/plan.hpp"

namespace hinge::plan {

/// The pulses of a servo's or a stepper's move; fills `out.motion`, shows its workings and findings.
void evaluateMotion(const project::Channel& channel, const project::Parts& parts, Plan& plan, ChannelPlan& out);

}  // namespace hinge::plan
