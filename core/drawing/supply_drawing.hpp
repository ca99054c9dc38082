#pragma once
// From the sources to rails, standing loads and the board, as one drawing.
#include "drawing/ends.hpp"
#include "drawing/shapes.hpp"

namespace hinge::drawing {

[[nodiscard]] Drawing supplyDrawing(const Ends& ends, const std::vector<plan::WireRow>& rows);

}  // namespace hinge::drawing
