#pragma once
// The cells of the crossbar: of every channel, at every stage, the telling figure, its verdict and why.
#include "plan/plan.hpp"

namespace hinge::plan {

/// Its verdict as it is read: "holds", "tight", "breaks", "not known", or "to do" where only work is left.
[[nodiscard]] const char* wordOf(const Cell& cell);
/// Fills `cells` of every channel from what is judged. To be called when all findings are there, worst first.
void fillCells(const project::Project& project, const Evidence& evidence, Plan& plan);

/// Counts what breaks, is tight, has to be found out or done, and sets the plan's verdict, from its findings and cells.
void sumUp(Plan& plan);

}  // namespace hinge::plan
