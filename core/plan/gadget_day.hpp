#pragma once
// What a gadget draws over one day of its own.
#include "plan/supply.hpp"

namespace hinge::plan {

/// A stretch of a day in which more than the rest is drawn.
struct Stretch {
    double more = 0.0;     ///< A from the section that was looked at
    double seconds = 0.0;  ///< of the day
};
/// By its cues, as often as the clock, their intervals, the power-up and the log's uses start them; a cue without an end, a follower and a
/// loop all day long, unless Work says how much of it. The plan has a program and its profiles.
/// @param root  section of the tree from which the amps are counted
[[nodiscard]] std::vector<Stretch> dayOf(const project::Project& project, const Plan& plan, const SupplyTree& tree, std::size_t root);

}  // namespace hinge::plan
