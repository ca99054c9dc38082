#pragma once
// Chosen means driven: what the sketch cannot do with a channel is said here, once, with the reason.
#include "plan/plan.hpp"

namespace hinge::plan {

/// Whether an end switch or a sensor ends whatever the cues do with a channel.
[[nodiscard]] bool endsByContact(const project::Project& project, std::string_view channel);
/// Whether the routine gives a channel parts of its full power.
[[nodiscard]] bool asksForShares(const routine::Routine& routine, std::string_view channel);

/// Sets `not_driven` of every channel that the sketch cannot command as it is planned, and adds the stop `not-driven`.
/// To be called when pins and pulses are settled.
void judgeDriven(const project::Project& project, const project::Parts& parts, Plan& plan);
/// What the compiled routine waits for and a sketch without a link cannot hear (`not-read`). Wants the plan's program.
void judgeHeard(const project::Project& project, Plan& plan);

/// A line of a channel that no cue commands, and the level at which it does nothing.
struct IdleLine {
    std::string pin;
    bool high = false;
    std::string why;
};
[[nodiscard]] std::vector<IdleLine> idleLines(const project::Channel& channel, const ChannelPlan& planned);

}  // namespace hinge::plan
