#include "drawing/pencil.hpp"
#include <algorithm>
#include <cmath>
#include "drawing/circuit.hpp"
#include "quantity/text.hpp"

namespace hinge::drawing {

std::string markOf(const plan::WireRow& row) {
    const auto code = plan::sleeveCode(row.colour);
    return code.empty() ? row.label : row.label + " " + std::string{code};
}

std::string Pencil::mark(std::size_t row) const {
    return markOf(rows_[row]);
}

void Pencil::lying(std::size_t row, Point a, Point b, double middle) {
    const auto& wire_of = rows_[row].wire;
    const int index = static_cast<int>(row);
    const bool upright = std::abs(a.x - b.x) < 1e-9;
    const Point centre = upright ? Point{a.x, middle} : Point{middle, a.y};
    if (!wire_of.through && !wire_of.diode) return wire(row, {a, b});
    const double half = wire_of.through ? 11.0 : 7.0, towards = upright ? (b.y > a.y ? half : -half) : (b.x > a.x ? half : -half);
    const Point before = upright ? Point{centre.x, centre.y - towards} : Point{centre.x - towards, centre.y},
                after = upright ? Point{centre.x, centre.y + towards} : Point{centre.x + towards, centre.y};
    wire(row, {a, before});
    wire(row, {after, b});
    if (wire_of.through) {
        drawResistor(drawing, centre, upright ? Along::Up : Along::Right, index);
        const auto ohms = displayPlain(*wire_of.through);
        if (upright) words({centre.x + 8.0, centre.y + 3.5}, ohms, mark_size, Toward::Right, Tone::Plain, index);
        else words({centre.x, centre.y - 7.5}, ohms, mark_size, Toward::Centre, Tone::Plain, index);
    } else {
        drawDiode(drawing, centre, upright ? (b.y > a.y ? Along::Down : Along::Up) : b.x > a.x ? Along::Right : Along::Left, index);
    }
}

std::vector<std::string> Pencil::twoLines(const std::string& name) {
    if (name.size() <= 16) return {name};
    // The blank that is nearest to the middle.
    std::size_t best = std::string::npos;
    for (std::size_t at = name.find(' '); at != std::string::npos; at = name.find(' ', at + 1))
        if (best == std::string::npos || std::max(at, name.size() - at) < std::max(best, name.size() - best)) best = at;
    if (best == std::string::npos) return {name};
    return {name.substr(0, best), name.substr(best + 1)};
}

void Pencil::flag(Point at, const End& end, bool right, int row) {
    const double wide = flagWidth(end), out = right ? -1.0 : 1.0, tip = end.kind == EndKind::Pin ? 6.0 : 0.0;
    drawing.lines.push_back({{at,
                              {at.x + out * tip, at.y - 8.5},
                              {at.x + out * wide, at.y - 8.5},
                              {at.x + out * wide, at.y + 8.5},
                              {at.x + out * tip, at.y + 8.5}},
                             Stroke::Flag,
                             true,
                             row});
    words({at.x + out * (wide / 2.0 + tip / 3.0), at.y + 3.6}, end.name, flag_size, Toward::Centre, Tone::Name, row);
}

void Pencil::supply(Point at, const End& end, std::size_t row) {
    const int index = static_cast<int>(row);
    drawing.lines.push_back({{{at.x - 11.0, at.y}, {at.x + 11.0, at.y}}, Stroke::Symbol, false, index});
    const auto lines = twoLines(end.name);
    for (std::size_t k = 0; k < lines.size(); ++k)
        words({at.x, at.y - 5.0 - 11.0 * static_cast<double>(lines.size() - 1 - k)}, lines[k], flag_size, Toward::Centre, Tone::Plain,
              index);
}

void Pencil::ground(Point at, const End& end, std::size_t row) {
    const int index = static_cast<int>(row);
    if (end.kind == EndKind::Ground) return drawGround(drawing, at, index);
    const auto lines = twoLines(end.name);
    drawing.lines.push_back({{{at.x - 11.0, at.y}, {at.x + 11.0, at.y}}, Stroke::Symbol, false, index});
    for (std::size_t k = 0; k < lines.size(); ++k)
        words({at.x, at.y + 12.0 + 11.0 * static_cast<double>(k)}, lines[k], flag_size, Toward::Centre, Tone::Plain, index);
}

}  // namespace hinge::drawing
