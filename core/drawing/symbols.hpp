#pragma once
// The standard's generic symbols as lines. @source graphical-symbols
#include "drawing/shapes.hpp"
#include "kinds/words.hpp"

namespace hinge::drawing {

/// Half of the square that a part's symbol takes.
inline constexpr double symbol_half = 18.0;

/// The places where a symbol's leads begin. A part with two: upper and lower; a transistor: its left one, its upper and its lower one.
struct Leads {
    std::vector<Point> at;
};
/// Draws a part's symbol.
/// @return its leads; none where it stands beside its terminals only
Leads drawSymbol(Drawing& into, kinds::Symbol symbol, Point centre);

/// What lies in a wire, drawn along it.
enum class Along { Right, Left, Up, Down };
void drawResistor(Drawing& into, Point centre, Along along, int wire);
void drawFuse(Drawing& into, Point centre, int wire);
/// Its stripe at the end that `along` shows to.
void drawDiode(Drawing& into, Point centre, Along along, int wire);
/// Three bars under a point.
void drawGround(Drawing& into, Point at, int wire);

}  // namespace hinge::drawing
