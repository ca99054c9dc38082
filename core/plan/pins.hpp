#pragma once
#include "board/assign.hpp"
#include "plan/plan.hpp"

namespace hinge::plan {

/// The PWM frequency that timer 0 has while it keeps the sketch's clock: clk/(64·256).
[[nodiscard]] double sketchTimerFrequency(const board::Family& family);
/// Judges pins and pulses; fills plan.pins and each channel's PWM.
void evaluatePins(const project::Project& project, const project::Parts& parts, Plan& plan);

/// What every line of the gadget asks of its pin; those pinned by hand are kept there.
[[nodiscard]] std::vector<board::PinWish> pinWishes(const project::Project& project, const Plan& plan);
/// Solves the pins of the lines that have none yet: offers them, or names the wishes that clash.
void offerPins(const project::Project& project, Plan& plan);

}  // namespace hinge::plan
