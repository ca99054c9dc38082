#pragma once
#include "plan/plan.hpp"

namespace hinge::plan {

/// The pulses of a servo's or a stepper's move; fills `out.motion`, shows its workings and findings.
void evaluateMotion(const project::Channel& channel, const project::Parts& parts, Plan& plan, ChannelPlan& out);

/// Firing delay or whole-cycle pattern of a channel on the mains; fills `out.mains`.
void evaluateMains(const project::Channel& channel, const project::Parts& parts, Plan& plan, ChannelPlan& out);

/// How much of the processor the beat for servos and steps takes, with the sketch's other interrupts.
/// The cycles of each were measured on the emulated board (tests/emulator holds them against it).
void evaluateInterrupts(const project::Project& project, Plan& plan);

/// What a channel's motor takes at most where it is turned round at full speed without a pause: its back-EMF then adds to the rail's volts.
/// nullopt: its stall current is not known.
/// @source derived: (U + E)/R, E at most U
[[nodiscard]] std::optional<Current> turnedAtSpeed(const ChannelPlan& channel);

}  // namespace hinge::plan
