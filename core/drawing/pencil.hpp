#pragma once
// What circuits and the supply are drawn with: wires with what lies in them, flags, bars and ground.
#include "drawing/arranged.hpp"
#include "drawing/shapes.hpp"
#include "drawing/symbols.hpp"

namespace hinge::drawing {

inline constexpr double row_high = 28.0, branch_high = 52.0, mark_size = 9.0, name_size = 9.5, flag_size = 10.0, title_size = 13.0;

class Pencil {
public:
    explicit Pencil(const std::vector<plan::WireRow>& rows) : rows_(rows) {}
    Drawing drawing;

    [[nodiscard]] const plan::WireRow& row(std::size_t at) const { return rows_[at]; }
    [[nodiscard]] std::string mark(std::size_t row) const;
    void wire(std::size_t row, std::vector<Point> points) {
        drawing.lines.push_back({std::move(points), Stroke::Wire, false, static_cast<int>(row)});
    }
    /// A wire between two places, with what lies in it in the middle of `over`, and its mark.
    /// @param over  a stretch of it that is level or upright; what lies in the wire points from its first end to its second
    void lying(std::size_t row, Point a, Point b, double middle);
    void words(Point at, const std::string& text, double size, Toward toward, Tone tone = Tone::Plain, int wire = no_wire) {
        drawing.words.push_back({at, text, size, toward, tone, wire});
    }
    void join(Point at, std::size_t row) { drawing.discs.push_back({at, 2.6, Stroke::Filled, static_cast<int>(row)}); }
    void box(Point corner, double width, double height) {
        drawing.lines.push_back(
            {{corner, corner + Point{width, 0}, corner + Point{width, height}, corner + Point{0, height}}, Stroke::Box, true, no_wire});
    }
    void ended(std::size_t row, Point a, Point b) {
        drawing.runs.push_back({static_cast<int>(row), rows_[row].wire.from, rows_[row].wire.to, a, b});
    }
    /// A name in its flag, whose point or end is at `at`. @param right  it points to the right: it stands left of `at`
    void flag(Point at, const End& end, bool right, int row);
    /// A supply above or ground below, at the end of an upright wire.
    void supply(Point at, const End& end, std::size_t row);
    void ground(Point at, const End& end, std::size_t row);
    [[nodiscard]] static double flagWidth(const End& end) { return widthOf(end.name, flag_size) + 16.0; }
    /// A port's name in at most two lines.
    [[nodiscard]] static std::vector<std::string> twoLines(const std::string& name);

private:
    const std::vector<plan::WireRow>& rows_;
};

}  // namespace hinge::drawing
