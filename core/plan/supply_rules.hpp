#pragma once
#include "plan/plan.hpp"

namespace hinge::plan {

/// Judges the supply over time: what sources give against the worst coincidence, rails that fall too low,
/// capacitors, cells, alternatives. Fills the rails' and sources' worst instants and the headline.
void evaluateSupply(const project::Project& project, const project::Parts& parts, Plan& plan);

}  // namespace hinge::plan
