#pragma once
// The wiring, drawn from the wiring list alone: a circuit a channel, one an input, and the supply.
#include "drawing/shapes.hpp"
#include "plan/plan.hpp"
#include "plan/wiring.hpp"

namespace hinge::drawing {

/// Every wire of the list, drawn once: the supply first, then circuit after circuit in the order of the list.
[[nodiscard]] std::vector<Drawing> circuits(const project::Project& project, const project::Parts& parts, const plan::Plan& plan,
                                            const std::vector<plan::WireRow>& rows);
/// What stands at a wire: its label, and its colour's code where it has one: "W07 YE".
[[nodiscard]] std::string markOf(const plan::WireRow& row);

}  // namespace hinge::drawing
