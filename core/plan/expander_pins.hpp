#pragma once
// What lies on boards of more lines: whose line it is, at which rate its pulses come, and what such a board cannot do.
#include "plan/plan.hpp"

namespace hinge::plan {

/// Judges a channel whose pin lies there, and sets the rate of its pulses. @param planned  one of the plan's own
void judgeExpanded(const project::Project& project, const project::Parts& parts, Plan& plan, const project::Channel& channel,
                   ChannelPlan& planned);
/// Judges an input that lies there.
void judgeExpanded(const project::Project& project, Plan& plan, const project::Input& input, const ExpanderPlan& at);
/// The rate of pulses that a board is asked for [Hz]: a servo's where one hangs there, else what the first channel asks.
struct AskedRate {
    double rate = 0.0;
    std::string whose;  ///< "its servos", or the channel's name
};
/// nullopt: nobody asks it for pulses.
[[nodiscard]] std::optional<AskedRate> rateAskedOf(const project::Project& project, const Plan& plan, const ExpanderPlan& board);
/// Whether such a board can read an input as what it is: contacts on lines, levels at a converter, no tach anywhere.
[[nodiscard]] bool readsIt(const driver::RegisterMap& map, const project::Input& input);
/// What is seen or heard of a channel's pulses, whatever makes them. Wants their rate.
void judgeRhythm(const project::Channel& channel, const project::Parts& parts, Plan& plan, const ChannelPlan& planned);
/// The gate's resistor and pull-down, at a line that gives so much [A] at so many volts. @return whether it breaks
[[nodiscard]] bool judgeGate(const project::Channel& channel, const project::Parts& parts, double pin_current, double logic, Plan& plan);
/// "steps ", "drives ": what a line does to its channel.
[[nodiscard]] const char* whatItDoes(SignalKind signal);

}  // namespace hinge::plan
