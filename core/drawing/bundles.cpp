#include "drawing/bundles.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "drawing/pencil.hpp"
#include "plan/apart.hpp"
#include "quantity/text.hpp"

namespace hinge::drawing {
namespace {

constexpr double board_wide = 150.0, box_wide = 210.0, gap = 135.0, line_high = 13.0, between = 16.0;

// Wires of one box by where they go.
struct Sorted {
    std::vector<std::size_t> board, mains;
    std::map<std::string, std::vector<std::size_t>> supplies;  ///< by its name
};

void sortInto(Sorted& sorted, std::size_t row, const End& other) {
    switch (other.kind) {
        case EndKind::Pin:
            if (!other.beside.empty()) {
                sorted.supplies[other.beside].push_back(row);
                break;
            }
            [[fallthrough]];
        case EndKind::Logic: sorted.board.push_back(row); break;
        case EndKind::Mains:
        case EndKind::Return: sorted.mains.push_back(row); break;
        case EndKind::Ground: sorted.supplies["ground"].push_back(row); break;
        default: sorted.supplies[other.name].push_back(row); break;
    }
}

Sorted sortedOf(const Placed& placed) {
    Sorted sorted;
    const auto branches = [&](const Track& track) {
        for (const auto& branch : track.branches) {
            // A resistor from a pin to ground lies at the board; what a terminal has besides is the box's own.
            if (branch.at_port) sorted.board.push_back(branch.row);
            else sortInto(sorted, branch.row, branch.other);
        }
    };
    for (std::size_t k = 0; k < placed.outer.size(); ++k) {
        const auto& track = placed.outer[k];
        branches(track);
        if (track.strap) sorted.supplies["joined"].push_back(track.row), ++k;
        else sortInto(sorted, track.row, track.port);
    }
    for (const auto& track : placed.inner) branches(track);
    for (const auto* risers : {&placed.top, &placed.bottom})
        for (const auto& riser : *risers) sortInto(sorted, riser.row, riser.port);
    return sorted;
}

class BundleMaker {
public:
    BundleMaker(const project::Project& project, const project::Parts& parts, const plan::Plan& plan,
                const std::vector<plan::WireRow>& rows)
        : project_(project), plan_(plan), rows_(rows), ends_(project, parts, plan, rows), pencil_(rows) {}
    Drawing make();

private:
    /// @return how high it is
    double box(Point corner, double width, const std::string& title, const std::string& what, const Sorted& sorted);
    void bundle(double from, double to, double y, const std::vector<std::size_t>& rows);
    double circuit(const Circuit& circuit, double y);
    [[nodiscard]] std::string whatIs(const Placed& placed) const;
    const project::Project& project_;
    const plan::Plan& plan_;
    const std::vector<plan::WireRow>& rows_;
    Ends ends_;
    Pencil pencil_;
};

std::string BundleMaker::whatIs(const Placed& placed) const {
    const auto* planned = plan::findChannel(plan_, placed.box.owner);
    if (planned == nullptr || !planned->chosen) return "";
    return placed.box.drives ? planned->chosen->driver_name : planned->chosen->actuator_name;
}

double BundleMaker::box(Point corner, double width, const std::string& title, const std::string& what, const Sorted& sorted) {
    double y = corner.y + 16.0;
    const auto say = [&](const std::string& text, Tone tone, double size) {
        pencil_.words({corner.x + 8.0, y}, text, size, Toward::Right, tone);
        y += line_high;
    };
    say(title, Tone::Name, flag_size);
    if (!what.empty()) say(what, Tone::Soft, mark_size);
    for (const auto& [name, rows] : sorted.supplies) say(name + ": " + labelsOf(rows, rows_), Tone::Plain, mark_size);
    if (!sorted.mains.empty()) say("mains: " + labelsOf(sorted.mains, rows_), Tone::Plain, mark_size);
    const double height = std::max(44.0, y - corner.y - 2.0);
    pencil_.box(corner, width, height);
    return height;
}

void BundleMaker::bundle(double from, double to, double y, const std::vector<std::size_t>& rows) {
    if (rows.empty()) return;
    pencil_.drawing.lines.push_back(
        {{{from, y}, {to, y}}, Stroke::Bundle, false, rows.size() == 1 ? static_cast<int>(rows.front()) : no_wire});
    pencil_.words({from + 8.0, y - 6.0}, labelsOf(rows, rows_), mark_size, Toward::Right);
    std::string plug = rows_[rows.front()].connector;
    for (const auto row : rows)
        if (rows_[row].connector != plug) plug.clear();
    pencil_.words({from + 8.0, y + 13.0},
                  fmt::format("{} wire{}{}", rows.size(), rows.size() == 1 ? "" : "s", plug.empty() ? "" : ", " + plug), mark_size,
                  Toward::Right, Tone::Soft);
}

double BundleMaker::circuit(const Circuit& circuit, double y) {
    const double first_x = board_wide + gap, behind_x = first_x + box_wide + gap;
    auto own = sortedOf(circuit.first);
    for (const auto row : circuit.loose) own.board.push_back(row);
    double low = y;
    for (const auto& placed : circuit.behind) {
        auto sorted = sortedOf(placed);
        // Its own way to the board goes along with the other wires of its bundle.
        std::vector<std::size_t> rows = sorted.board;
        for (const auto& track : circuit.first.inner)
            if (track.far_box == placed.box.key) rows.push_back(track.row);
        bundle(first_x + box_wide, behind_x, low + 24.0, rows);
        low += box({behind_x, low}, box_wide, placed.box.title, whatIs(placed), sorted) + between;
    }
    const double height = box({first_x, y}, box_wide,
                              circuit.first.box.drives && !circuit.first.box.owner.empty() && !circuit.behind.empty()
                                  ? circuit.first.box.title + " of " + circuit.behind.front().box.title
                                  : circuit.first.box.title,
                              whatIs(circuit.first), own);
    bundle(board_wide, first_x, y + 24.0, own.board);
    return std::max(y + height + between, low);
}

Drawing BundleMaker::make() {
    Sorted supply;
    std::vector<std::size_t> to_board;
    for (std::size_t row = 0; row < ends_.supplyRows(); ++row) {
        const auto& wire = rows_[row].wire;
        const auto to = ends_.read(wire.to, row);
        if (to.kind == EndKind::Pin || wire.to == "board GND") to_board.push_back(row);
        else supply.supplies[to.kind == EndKind::Rail ? to.name : wire.to.substr(0, wire.to.find("'s converter, "))].push_back(row);
    }
    double y = 26.0;
    const double first_x = board_wide + gap;
    const double high = box({first_x, y}, box_wide, "supply", "", supply);
    bundle(board_wide, first_x, y + 24.0, to_board);
    y += high + between;
    for (const auto& each : arranged(ends_, rows_)) y = circuit(each, y);
    const std::string form{labelOf(project_.board.form)};
    const auto comma = form.find(", ");
    pencil_.box({0.0, 26.0}, board_wide, y - between - 26.0);
    pencil_.words({8.0, 44.0}, form.substr(0, comma), flag_size, Toward::Right, Tone::Name);
    if (comma != std::string::npos) pencil_.words({8.0, 58.0}, form.substr(comma + 2), mark_size, Toward::Right, Tone::Soft);
    pencil_.drawing.title = "The whole gadget";
    pencil_.words({0.0, 16.0}, pencil_.drawing.title, title_size, Toward::Right, Tone::Name);
    pencil_.drawing.width = first_x + 2.0 * box_wide + gap;
    pencil_.drawing.height = y - between + 4.0;
    // Boxes are filled: they lie below what is written in them.
    std::stable_partition(pencil_.drawing.lines.begin(), pencil_.drawing.lines.end(),
                          [](const Line& line) { return line.stroke == Stroke::Box; });
    return std::move(pencil_.drawing);
}

}  // namespace

std::string labelsOf(std::vector<std::size_t> rows, const std::vector<plan::WireRow>& list) {
    std::sort(rows.begin(), rows.end());
    std::vector<std::string> parts;
    for (std::size_t k = 0; k < rows.size();) {
        std::size_t end = k;
        while (end + 1 < rows.size() && rows[end + 1] == rows[end] + 1) ++end;
        if (end > k + 1) parts.push_back(list[rows[k]].label + " to " + list[rows[end]].label);
        else
            for (std::size_t each = k; each <= end; ++each) parts.push_back(list[rows[each]].label);
        k = end + 1;
    }
    return joined(parts, ", ");
}

Drawing bundles(const project::Project& project, const project::Parts& parts, const plan::Plan& plan,
                const std::vector<plan::WireRow>& rows) {
    if (plan.apart) return bundles(plan.apart->project(), parts, plan.apart->plan, rows);
    return BundleMaker(project, parts, plan, rows).make();
}

}  // namespace hinge::drawing
