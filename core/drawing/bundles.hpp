#pragma once
// The whole gadget as the board, what stands round it, and the bundles of wires between.
#include "drawing/shapes.hpp"
#include "plan/plan.hpp"
#include "plan/wiring.hpp"

namespace hinge::drawing {

/// "W06, W08 to W10". @param rows  of the list, in any order
[[nodiscard]] std::string labelsOf(std::vector<std::size_t> rows, const std::vector<plan::WireRow>& list);
/// Every wire of the list is in one bundle, or stands in its box as what comes from a supply or goes to ground. The plug that all wires
/// of a bundle have is at the bundle.
[[nodiscard]] Drawing bundles(const project::Project& project, const project::Parts& parts, const plan::Plan& plan,
                              const std::vector<plan::WireRow>& rows);

}  // namespace hinge::drawing
