#pragma once
// A drawing as an SVG, for the packet and for files of its own.
#include "drawing/shapes.hpp"
#include "plan/wiring.hpp"

namespace hinge::drawing {

/// Vectors and words only, nothing from elsewhere; on white, and readable in grey: colours stand as codes too.
[[nodiscard]] std::string svgOf(const Drawing& drawing, const std::vector<plan::WireRow>& rows);

}  // namespace hinge::drawing
