#pragma once
#include "plan/plan.hpp"

namespace hinge::plan {

/// Judges the supply over time: what sources give against the worst coincidence, rails that fall too low,
/// capacitors, cells, alternatives. Fills the rails' and sources' worst instants and the headline.
/// @param cures  whether remedies of rails that sag are looked for
/// @param before  a plan made earlier: what its study was made from may be the same again; nullptr: none
void evaluateSupply(const project::Project& project, const project::Parts& parts, Plan& plan, const Plan* before = nullptr,
                    bool cures = true);

}  // namespace hinge::plan
