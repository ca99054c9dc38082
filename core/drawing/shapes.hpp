#pragma once
// What a drawing is made of, as values: window, packet and paper paint the same. Lengths are in px at full size; x to the right, y down.
#include <string>
#include <vector>

namespace hinge::drawing {

struct Point {
    double x = 0.0, y = 0.0;
};
[[nodiscard]] constexpr Point operator+(Point a, Point b) {
    return {a.x + b.x, a.y + b.y};
}

/// What no wire carries.
inline constexpr int no_wire = -1;

enum class Stroke {
    Wire,    ///< a wire, in its sleeve's colour
    Symbol,  ///< the parts
    Box,     ///< what is bought as one, filled like a card
    Flag,    ///< a pin or a supply by its name
    Bundle,  ///< several wires side by side
    Filled,  ///< filled in ink: a diode's arrow, a junction
};
/// A line through its points; closed, where it bounds something.
struct Line {
    std::vector<Point> points;
    Stroke stroke = Stroke::Symbol;
    bool closed = false;
    int wire = no_wire;  ///< row of the wiring list that it belongs to
};
struct Disc {
    Point at;
    double radius = 0.0;
    Stroke stroke = Stroke::Symbol;
    int wire = no_wire;
};
enum class Toward { Right, Left, Centre };  ///< where its words go from their point
enum class Tone { Name, Plain, Soft };
struct Words {
    Point at;  ///< on the base line
    std::string text;
    double size = 10.0;
    Toward toward = Toward::Right;
    Tone tone = Tone::Plain;
    int wire = no_wire;
};
/// Where a wire of the list is drawn: its two ends by name, as the list has them, and where on the sheet they lie.
struct Run {
    int wire = no_wire;
    std::string from, to;
    Point a, b;
};

/// One closed picture: a channel's circuit, an input's, the supply, or the whole gadget.
struct Drawing {
    std::string title, subtitle;
    std::string owner;  ///< id of its channel or input; empty: the supply, a clock, or several
    double width = 0.0, height = 0.0;
    std::vector<Line> lines;
    std::vector<Disc> discs;
    std::vector<Words> words;
    std::vector<Run> runs;
};

/// How wide words are set, at least: a sheet must hold them in any font of the usual width.
[[nodiscard]] double widthOf(const std::string& text, double size);
/// The same drawing elsewhere.
void moveBy(Drawing& drawing, Point by);

/// Drawings laid out in rows on a sheet.
struct Sheet {
    double width = 0.0, height = 0.0;
    std::vector<Drawing> drawings;  ///< moved to their place
    std::vector<Point> at;          ///< upper left corner of each
};
/// Of a sheet that is read on a page held upright.
inline constexpr double paper_wide = 760.0;
/// @param width  of the sheet; a wider drawing widens it
[[nodiscard]] Sheet onSheet(std::vector<Drawing> drawings, double width);
/// The rows of a sheet, each a drawing of its width: a page may break between them.
[[nodiscard]] std::vector<Drawing> inRows(std::vector<Drawing> drawings, double width);
/// All of a sheet as one drawing.
[[nodiscard]] Drawing asOne(const Sheet& sheet, const std::string& title);

}  // namespace hinge::drawing
