#include "drawing/supply_drawing.hpp"
#include <algorithm>
#include "drawing/pencil.hpp"

namespace hinge::drawing {
namespace {

constexpr double high = 40.0, stretch = 118.0, converter_wide = 150.0;

class SupplyMaker {
public:
    SupplyMaker(const Ends& ends, const std::vector<plan::WireRow>& rows) : ends_(ends), pencil_(rows) {}
    Drawing make();

private:
    /// One wire from a place on: mark, what lies in it. @return where it ends
    Point run(std::size_t row, Point from, double wide);
    void line(std::size_t& row);
    const Ends& ends_;
    Pencil pencil_;
    double y_ = 46.0, flags_ = 0.0;
};

Point SupplyMaker::run(std::size_t row, Point from, double wide) {
    const Point to{from.x + wide, from.y};
    const auto& fuse = pencil_.row(row).wire.fuse;
    const int index = static_cast<int>(row);
    pencil_.words({from.x + 6.0, from.y - 5.0}, pencil_.mark(row), mark_size, Toward::Right, Tone::Soft, index);
    pencil_.ended(row, from, to);
    if (!fuse) {
        pencil_.lying(row, from, to, (from.x + to.x) / 2.0);
        return to;
    }
    const Point centre{from.x + 78.0, from.y};
    pencil_.wire(row, {from, {centre.x - 12.0, from.y}});
    pencil_.wire(row, {{centre.x + 12.0, from.y}, to});
    drawFuse(pencil_.drawing, centre, index);
    pencil_.words({centre.x, from.y - 8.0}, display(*fuse), mark_size, Toward::Centre, Tone::Plain, index);
    return to;
}

// A source or rail, its wire, a converter where one follows, and the rail's name.
void SupplyMaker::line(std::size_t& row) {
    const auto& wire = pencil_.row(row).wire;
    const auto from = ends_.read(wire.from, row);
    auto to = ends_.read(wire.to, row);
    Point at{flags_, y_};
    if (from.kind == EndKind::Terminal) {
        // The other way round: its minus, down to ground.
        const Point down{at.x + 30.0, y_ + 4.0};
        pencil_.words({at.x, y_ + 3.5}, wire.from, flag_size, Toward::Left);
        pencil_.wire(row, {at, {down.x, y_}, down});
        pencil_.ground(down, to, row);
        pencil_.words({down.x + 12.0, y_ + 8.0}, pencil_.mark(row), mark_size, Toward::Right, Tone::Soft, static_cast<int>(row));
        pencil_.ended(row, at, down);
        y_ += high, ++row;
        return;
    }
    pencil_.flag(at, from, true, static_cast<int>(row));
    at = run(row, at, stretch);
    if (row + 1 < ends_.supplyRows() && to.kind == EndKind::Converter) {
        // Its second wire is the one behind what converts; what that is begins its note.
        const auto& second = pencil_.row(row + 1).wire;
        pencil_.box({at.x, y_ - 14.0}, converter_wide, 28.0);
        pencil_.words({at.x + converter_wide / 2.0, y_ + 3.5}, second.note.substr(0, second.note.find(';')), name_size, Toward::Centre);
        ++row;
        at = run(row, {at.x + converter_wide, y_}, stretch * 0.55);
        to = ends_.read(second.to, row);
    }
    if (to.kind == EndKind::Ground) pencil_.ground(at, to, row);
    if (to.kind == EndKind::Terminal) to.name = wire.to;
    pencil_.flag(to.kind == EndKind::Ground ? at + Point{14.0, 0.0} : at, to, false, no_wire);
    pencil_.drawing.width = std::max(pencil_.drawing.width, at.x + Pencil::flagWidth(to) + 22.0);
    y_ += high, ++row;
}

Drawing SupplyMaker::make() {
    for (std::size_t row = 0; row < ends_.supplyRows(); ++row)
        flags_ = std::max(flags_, Pencil::flagWidth(ends_.read(pencil_.row(row).wire.from, row)));
    for (std::size_t row = 0; row < ends_.supplyRows();) line(row);
    pencil_.drawing.title = "Supply";
    pencil_.words({0.0, 16.0}, pencil_.drawing.title, title_size, Toward::Right, Tone::Name);
    pencil_.drawing.height = y_ - 12.0;
    return std::move(pencil_.drawing);
}

}  // namespace

Drawing supplyDrawing(const Ends& ends, const std::vector<plan::WireRow>& rows) {
    return SupplyMaker(ends, rows).make();
}

}  // namespace hinge::drawing
