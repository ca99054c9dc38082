#include "drawing/circuit.hpp"
#include <algorithm>
#include "drawing/pencil.hpp"
#include "drawing/supply_drawing.hpp"
#include "plan/apart.hpp"
#include "quantity/text.hpp"

namespace hinge::drawing {
namespace {

// "Logic-level MOSFET" within a sentence: "logic-level MOSFET"; "H-bridge" stays.
std::string within(std::string name) {
    if (name.size() > 1 && name[0] >= 'A' && name[0] <= 'Z' && name[1] >= 'a' && name[1] <= 'z')
        name[0] = static_cast<char>(name[0] - 'A' + 'a');
    return name;
}

constexpr double supply_high = 54.0, ground_high = 46.0, title_high = 26.0, mark_wide = 56.0, resistor_wide = 44.0, least_box = 100.0;

double branchWide(const Branch& branch, const Pencil& pencil) {
    double text = 26.0;
    if (branch.up())
        for (const auto& line : Pencil::twoLines(branch.other.name)) text = std::max(text, widthOf(line, flag_size));
    // Its mark, or the ohms of what lies in it, stand to its right.
    return std::max(text / 2.0, 14.0) + std::max(text / 2.0, 10.0 + widthOf(pencil.mark(branch.row), mark_size));
}
double above(const std::vector<Branch>& branches) {
    return std::any_of(branches.begin(), branches.end(), [](const Branch& b) { return b.up(); }) ? branch_high + 14.0 : 0.0;
}
double below(const std::vector<Branch>& branches) {
    return std::any_of(branches.begin(), branches.end(), [](const Branch& b) { return !b.up(); }) ? branch_high : 0.0;
}

// A run between two boxes as one of them sees it.
struct Inner {
    const Track* track = nullptr;
    std::string raw;               ///< its terminal there
    std::optional<double> height;  ///< where the other box has it
};

// A box and where it lies; how high its tracks are, by their order.
struct Laid {
    const Placed* placed = nullptr;
    Point corner;
    double width = 0.0, height = 0.0;
    double head = 0.0;                 ///< room for names of what goes up from it
    double middle = 0.0;               ///< between the names at its two sides
    std::vector<double> outer, inner;  ///< heights of its tracks
    Leads leads;
    std::vector<std::string> lead_ends;  ///< the terminal that each lead belongs to
};

class CircuitMaker {
public:
    CircuitMaker(const Circuit& circuit, const std::vector<plan::WireRow>& rows) : circuit_(circuit), pencil_(rows) {}
    Drawing make();

private:
    [[nodiscard]] double zone(const std::vector<Track>& tracks) const;
    [[nodiscard]] double wide(const Placed& placed, const std::vector<std::string>& inner_names) const;
    /// Heights of everything in a box: its tracks, and its symbol between them. @param inner  tracks at its inner side
    void lay(Laid& laid, const std::vector<Inner>& inner);
    void layTransistor(Laid& laid, const std::vector<Inner>& inner, double y);
    [[nodiscard]] std::vector<double> layBehind(double y0, double x, double head);
    /// The middle between the names at a box's two sides.
    [[nodiscard]] static double middleOf(const Laid& laid, const std::vector<std::string>& inner_names, bool first);
    void paint(const Laid& laid, bool first);
    void paintNames(const Laid& laid, bool first);
    void paintLeads(const Laid& laid, bool first);
    void paintOuter(const Laid& laid, bool first);
    void paintStrap(const Track& track, double x, double out, double y, double below_y);
    void paintInner();
    void paintRisers(const Laid& laid);
    void paintBranches(const std::vector<Branch>& branches, bool at_port, double& x, double y, double out);
    void paintLoose(double y);
    [[nodiscard]] double risersWide(const Placed& placed) const;
    [[nodiscard]] double riserX(const Laid& laid, const std::vector<Riser>& risers, std::size_t k) const;
    const Circuit& circuit_;
    Pencil pencil_;
    Laid first_;
    std::vector<Laid> behind_;
};

// How far a side's runs reach: mark, branches, what lies in them.
double CircuitMaker::zone(const std::vector<Track>& tracks) const {
    double most = 0.0;
    for (const auto& track : tracks) {
        double wide = mark_wide + 10.0;
        const auto& wire = pencil_.row(track.row).wire;
        if (wire.through || wire.diode) wide += resistor_wide;
        for (const auto& branch : track.branches) wide += branchWide(branch, pencil_);
        most = std::max(most, wide);
    }
    return most;
}

double CircuitMaker::risersWide(const Placed& placed) const {
    double most = 0.0;
    for (const auto* risers : {&placed.top, &placed.bottom}) {
        double wide = 0.0;
        for (const auto& riser : *risers) {
            double text = 0.0;
            if (riser.port.kind != EndKind::Ground)
                for (const auto& line : Pencil::twoLines(riser.port.name)) text = std::max(text, widthOf(line, flag_size));
            wide += std::max({text, 2.0 * (10.0 + widthOf(pencil_.mark(riser.row), mark_size)), widthOf(riser.terminal, name_size)}) + 10.0;
        }
        most = std::max(most, wide);
    }
    return most;
}

double CircuitMaker::wide(const Placed& placed, const std::vector<std::string>& inner_names) const {
    double outer = 0.0, inner = 0.0;
    for (const auto& track : placed.outer) outer = std::max(outer, widthOf(track.terminal, name_size));
    for (const auto& name : inner_names) inner = std::max(inner, widthOf(name, name_size));
    // Above a lead that comes from above there is half of it for its title.
    const double title = widthOf(placed.box.title, flag_size) * (placed.top.empty() ? 1.0 : 2.0) + 24.0;
    return std::max({least_box, outer + inner + 2.0 * symbol_half + 40.0, risersWide(placed), title});
}

// Of a transistor the collector or drain is above its base, and its emitter or source goes down.
void CircuitMaker::layTransistor(Laid& laid, const std::vector<Inner>& inner, double y) {
    y = inner.front().height.value_or(y + above(inner.front().track->branches));
    laid.corner.y = std::max(laid.corner.y, y - 36.0);
    laid.inner.push_back(y);
    const Point centre{laid.corner.x + laid.width / 2.0, y + 26.0};
    laid.leads = drawSymbol(pencil_.drawing, laid.placed->box.symbol, centre);
    laid.lead_ends = {laid.placed->outer.front().raw, inner.front().raw, laid.placed->bottom.front().raw};
    laid.outer.push_back(laid.leads.at.front().y);
    laid.height = centre.y + 34.0 - laid.corner.y;
}

void CircuitMaker::lay(Laid& laid, const std::vector<Inner>& inner) {
    const auto& placed = *laid.placed;
    const auto symbol = placed.box.symbol;
    double y = laid.corner.y + laid.head + 22.0;
    const bool transistor = symbol == kinds::Symbol::Mosfet || symbol == kinds::Symbol::Transistor;
    if (transistor && placed.outer.size() == 1 && inner.size() == 1 && placed.bottom.size() == 1 && placed.top.empty())
        return layTransistor(laid, inner, y + 4.0);
    // A part with two ends stands between them.
    const std::size_t tracks = placed.outer.size() + inner.size();
    auto terminals = placed.terminals();
    for (const auto& one : inner) terminals.insert(one.raw);
    const bool two = terminals.size() == 2 && tracks + placed.top.size() + placed.bottom.size() == 2 && symbol != kinds::Symbol::Board;
    const bool tapped = terminals.size() == 3 && placed.outer.size() == 1 && placed.top.size() == 1 && placed.bottom.size() == 1 &&
                        (symbol == kinds::Symbol::Potentiometer || symbol == kinds::Symbol::Resistors);
    std::vector<std::string> ends;
    for (const auto& riser : placed.top) ends.push_back(riser.raw);
    const auto draw = [&] {
        const bool led = two || tapped;
        const Point centre{led ? laid.corner.x + laid.width / 2.0 : laid.middle, y + symbol_half + 2.0};
        laid.leads = drawSymbol(pencil_.drawing, symbol, centre);
        if (!led) laid.leads.at.clear();
        y += 2.0 * symbol_half + 8.0;
    };
    double outer_y = y, inner_y = y;
    // What hangs below its last run hangs beside the box.
    const double hanging = placed.outer.empty() ? 0.0 : below(placed.outer.back().branches);
    const auto place = [&](const Inner& one, std::vector<double>& heights, double& at) {
        at = one.height ? *one.height - 8.0 : at + above(one.track->branches);
        heights.push_back(at + 8.0);
        at += row_high + below(one.track->branches);
        ends.push_back(one.raw);
    };
    if (tapped) {
        ends = {placed.top.front().raw, placed.bottom.front().raw, placed.outer.front().raw};
        const double room = above(placed.outer.front().branches);
        y += room;
        laid.outer.push_back(y + symbol_half + 2.0);
        draw();
    } else if (two) {
        bool drawn = !placed.top.empty();
        if (drawn) draw(), outer_y = inner_y = y;
        for (const auto& track : placed.outer) {
            place({&track, track.raw, {}}, laid.outer, outer_y);
            if (!drawn) y = outer_y - 10.0, draw(), inner_y = outer_y = y, drawn = true;
        }
        for (const auto& one : inner) {
            place(one, laid.inner, inner_y);
            if (!drawn) y = inner_y - 10.0, draw(), inner_y = y, drawn = true;
        }
        y = std::max({y, outer_y, inner_y}) - hanging;
    } else {
        for (const auto& track : placed.outer) place({&track, track.raw, {}}, laid.outer, outer_y);
        for (const auto& one : inner) place(one, laid.inner, inner_y);
        const double rows = std::max(outer_y, inner_y) - y;
        if (symbol != kinds::Symbol::Board) {
            y += std::max(0.0, (rows - 2.0 * symbol_half) / 2.0 - 4.0);
            draw();
        }
        y = std::max({y, outer_y - hanging, inner_y});
    }
    for (const auto& riser : placed.bottom)
        if (!tapped) ends.push_back(riser.raw);
    laid.lead_ends = ends;
    laid.height = std::max(y - laid.corner.y + (placed.bottom.empty() ? 0.0 : 12.0), 44.0);
}

double CircuitMaker::riserX(const Laid& laid, const std::vector<Riser>& risers, std::size_t k) const {
    for (std::size_t lead = 0; lead < laid.leads.at.size() && lead < laid.lead_ends.size(); ++lead)
        if (laid.lead_ends[lead] == risers[k].raw) return laid.leads.at[lead].x;
    return laid.corner.x + laid.width * (static_cast<double>(k) + 0.5) / static_cast<double>(risers.size());
}

// From the terminals to the symbol's own ends.
void CircuitMaker::paintLeads(const Laid& laid, bool first) {
    const double outer_x = first ? laid.corner.x : laid.corner.x + laid.width, inner_x = first ? laid.corner.x + laid.width : laid.corner.x;
    const auto lead = [&](const std::string& raw, double x, double y, bool level) {
        for (std::size_t k = 0; k < laid.leads.at.size() && k < laid.lead_ends.size(); ++k) {
            if (laid.lead_ends[k] != raw) continue;
            const auto to = laid.leads.at[k];
            if (level) pencil_.drawing.lines.push_back({{{x, y}, {to.x, y}, to}, Stroke::Symbol, false, no_wire});
            else pencil_.drawing.lines.push_back({{{x, y}, to}, Stroke::Symbol, false, no_wire});
        }
    };
    for (std::size_t k = 0; k < laid.outer.size(); ++k) lead(laid.placed->outer[k].raw, outer_x, laid.outer[k], true);
    std::size_t n = 0;
    for (const auto& track : circuit_.first.inner) {
        const bool mine = first || track.far_box == laid.placed->box.key;
        if (mine && n < laid.inner.size()) lead(first ? track.raw : track.far_raw, inner_x, laid.inner[n++], true);
    }
    const auto& placed = *laid.placed;
    for (std::size_t k = 0; k < placed.top.size(); ++k) lead(placed.top[k].raw, riserX(laid, placed.top, k), laid.corner.y, false);
    for (std::size_t k = 0; k < placed.bottom.size(); ++k)
        lead(placed.bottom[k].raw, riserX(laid, placed.bottom, k), laid.corner.y + laid.height, false);
}

void CircuitMaker::paintNames(const Laid& laid, bool first) {
    const auto& placed = *laid.placed;
    const bool lined = !laid.leads.at.empty();
    const double left = laid.corner.x + 6.0, right = laid.corner.x + laid.width - 6.0;
    const auto name = [&](const std::string& text, double y, bool at_left) {
        pencil_.words({at_left ? left : right, y + (lined ? -3.5 : 3.5)}, text, name_size, at_left ? Toward::Right : Toward::Left);
    };
    for (std::size_t k = 0; k < laid.outer.size(); ++k) name(placed.outer[k].terminal, laid.outer[k], first);
    std::size_t n = 0;
    for (const auto& track : circuit_.first.inner)
        if ((first || track.far_box == placed.box.key) && n < laid.inner.size())
            name(first ? track.terminal : track.far_terminal, laid.inner[n++], !first);
    const auto beside = [&](const std::vector<Riser>& risers, double y) {
        for (std::size_t k = 0; k < risers.size(); ++k)
            pencil_.words({riserX(laid, risers, k) + (lined ? 5.0 : 0.0), y}, risers[k].terminal, name_size,
                          lined ? Toward::Right : Toward::Centre);
    };
    beside(placed.top, laid.corner.y + 11.0);
    beside(placed.bottom, laid.corner.y + laid.height - 5.0);
    const double title_y = laid.corner.y + 14.0 + std::min(laid.head, 11.0);
    if (lined && !placed.top.empty()) pencil_.words({left, title_y}, placed.box.title, flag_size, Toward::Right, Tone::Soft);
    else pencil_.words({laid.corner.x + laid.width / 2.0, title_y}, placed.box.title, flag_size, Toward::Centre, Tone::Soft);
}

void CircuitMaker::paintBranches(const std::vector<Branch>& branches, bool at_port, double& x, double y, double out) {
    for (const auto& branch : branches) {
        if (branch.at_port != at_port) continue;
        const double wide = branchWide(branch, pencil_);
        const double left = std::max(14.0, wide - 10.0 - widthOf(pencil_.mark(branch.row), mark_size));
        const double at = out > 0.0 ? x + left : x - (wide - left);
        x += out * wide;
        const double far = branch.up() ? y - branch_high + 8.0 : y + branch_high - 12.0;
        const Point on_run{at, y}, away{at, far};
        // What lies in it points as the list says: from its first end to its second.
        const auto &from = branch.leaves ? on_run : away, &to = branch.leaves ? away : on_run;
        pencil_.lying(branch.row, from, to, (y + far) / 2.0 + (branch.up() ? -4.0 : 4.0));
        pencil_.join(on_run, branch.row);
        if (branch.up()) pencil_.supply(away, branch.other, branch.row);
        else pencil_.ground(away, branch.other, branch.row);
        const double mark_y = branch.up() ? y - 8.0 : y + 11.0;
        pencil_.words({at + 5.0, mark_y}, pencil_.mark(branch.row), mark_size, Toward::Right, Tone::Soft, static_cast<int>(branch.row));
        pencil_.ended(branch.row, from, to);
    }
}

void CircuitMaker::paintStrap(const Track& track, double x, double out, double y, double below_y) {
    const double far = x + out * 26.0;
    const int row = static_cast<int>(track.row);
    if (pencil_.row(track.row).wire.diode || pencil_.row(track.row).wire.through) {
        pencil_.wire(track.row, {{x, y}, {far, y}});
        pencil_.wire(track.row, {{far, below_y}, {x, below_y}});
        pencil_.lying(track.row, {far, y}, {far, below_y}, (y + below_y) / 2.0);
    } else {
        pencil_.wire(track.row, {{x, y}, {far, y}, {far, below_y}, {x, below_y}});
    }
    pencil_.words({far + out * 9.0, (y + below_y) / 2.0 + 3.0}, pencil_.mark(track.row), mark_size, out > 0 ? Toward::Right : Toward::Left,
                  Tone::Soft, row);
    pencil_.ended(track.row, {x, y}, {x, below_y});
}

// Runs from the board and supplies to a box. Away from the box: branches at the terminal, what lies in the wire, branches at the pin, mark.
void CircuitMaker::paintOuter(const Laid& laid, bool first) {
    const auto& placed = *laid.placed;
    const double out = first ? -1.0 : 1.0, x = first ? laid.corner.x : laid.corner.x + laid.width, far = x + out * zone(placed.outer);
    for (std::size_t k = 0; k < laid.outer.size(); ++k) {
        const auto& track = placed.outer[k];
        const double y = laid.outer[k];
        if (track.strap && k + 1 < laid.outer.size()) {
            paintStrap(track, x, out, y, laid.outer[k + 1]);
            ++k;
            continue;
        }
        double at = x + out * 6.0;
        paintBranches(track.branches, false, at, y, out);
        const auto& wire = pencil_.row(track.row).wire;
        const double middle = at + out * resistor_wide / 2.0;
        if (wire.through || wire.diode) at += out * resistor_wide;
        paintBranches(track.branches, true, at, y, out);
        const bool starts_at_box = wire.from == track.raw;
        const Point inside{x, y}, outside{far, y};
        pencil_.lying(track.row, starts_at_box ? inside : outside, starts_at_box ? outside : inside, middle);
        pencil_.words({far - out * 6.0, y - 4.0}, pencil_.mark(track.row), mark_size, first ? Toward::Right : Toward::Left, Tone::Soft,
                      static_cast<int>(track.row));
        pencil_.flag(outside, track.port, first, static_cast<int>(track.row));
        pencil_.ended(track.row, starts_at_box ? inside : outside, starts_at_box ? outside : inside);
    }
}

// From the first box to those behind it.
void CircuitMaker::paintInner() {
    const double x = first_.corner.x + first_.width;
    for (std::size_t k = 0; k < circuit_.first.inner.size() && k < first_.inner.size(); ++k) {
        const auto& track = circuit_.first.inner[k];
        const auto to =
            std::find_if(behind_.begin(), behind_.end(), [&](const Laid& laid) { return laid.placed->box.key == track.far_box; });
        if (to == behind_.end()) continue;
        const double y = first_.inner[k], end = to->corner.x;
        double at = x + 6.0 + mark_wide;
        pencil_.words({x + 6.0, y - 4.0}, pencil_.mark(track.row), mark_size, Toward::Right, Tone::Soft, static_cast<int>(track.row));
        const auto& wire = pencil_.row(track.row).wire;
        const double middle = at + resistor_wide / 2.0 - 6.0;
        if (wire.through || wire.diode) at += resistor_wide;
        paintBranches(track.branches, false, at, y, 1.0);
        const bool forward = wire.from == track.raw;
        pencil_.lying(track.row, forward ? Point{x, y} : Point{end, y}, forward ? Point{end, y} : Point{x, y}, middle);
        pencil_.ended(track.row, forward ? Point{x, y} : Point{end, y}, forward ? Point{end, y} : Point{x, y});
    }
}

void CircuitMaker::paintRisers(const Laid& laid) {
    const auto& placed = *laid.placed;
    const auto rise = [&](const std::vector<Riser>& risers, bool up) {
        for (std::size_t k = 0; k < risers.size(); ++k) {
            const auto& riser = risers[k];
            const double x = riserX(laid, risers, k), y = up ? laid.corner.y : laid.corner.y + laid.height, far = up ? y - 24.0 : y + 22.0;
            const bool from_box = pencil_.row(riser.row).wire.from == riser.raw;
            pencil_.lying(riser.row, from_box ? Point{x, y} : Point{x, far}, from_box ? Point{x, far} : Point{x, y}, (y + far) / 2.0);
            if (up) pencil_.supply({x, far}, riser.port, riser.row);
            else pencil_.ground({x, far}, riser.port, riser.row);
            pencil_.words({x + 5.0, (y + far) / 2.0 + 3.0}, pencil_.mark(riser.row), mark_size, Toward::Right, Tone::Soft,
                          static_cast<int>(riser.row));
            pencil_.ended(riser.row, from_box ? Point{x, y} : Point{x, far}, from_box ? Point{x, far} : Point{x, y});
        }
    };
    rise(placed.top, true);
    rise(placed.bottom, false);
}

// What hangs on no run: both ends by their names.
void CircuitMaker::paintLoose(double y) {
    for (const auto row : circuit_.loose) {
        const auto& wire = pencil_.row(row).wire;
        const End from{EndKind::Nothing, {}, wire.from}, to{EndKind::Nothing, {}, wire.to};
        const double a = Pencil::flagWidth(from), b = a + mark_wide + resistor_wide + 16.0;
        pencil_.flag({a, y}, from, true, static_cast<int>(row));
        pencil_.flag({b, y}, to, false, static_cast<int>(row));
        pencil_.words({a + 6.0, y - 4.0}, pencil_.mark(row), mark_size, Toward::Right, Tone::Soft, static_cast<int>(row));
        pencil_.lying(row, {a, y}, {b, y}, b - resistor_wide / 2.0);
        pencil_.ended(row, {a, y}, {b, y});
        pencil_.drawing.width = std::max(pencil_.drawing.width, b + Pencil::flagWidth(to));
        y += row_high;
    }
    pencil_.drawing.height = y;
}

double CircuitMaker::middleOf(const Laid& laid, const std::vector<std::string>& inner_names, bool first) {
    double outer = 0.0, inner = 0.0;
    for (const auto& track : laid.placed->outer) outer = std::max(outer, widthOf(track.terminal, name_size));
    for (const auto& name : inner_names) inner = std::max(inner, widthOf(name, name_size));
    return laid.corner.x + laid.width / 2.0 + (first ? outer - inner : inner - outer) / 2.0;
}

// What stands behind the first box, one below the other. Its tracks say how high the first box's are.
std::vector<double> CircuitMaker::layBehind(double y0, double x, double head) {
    const auto& links = circuit_.first.inner;
    std::vector<double> heights(links.size(), 0.0);
    double widest = 0.0, y = y0;
    const auto mine = [&](const Placed& placed) {
        std::vector<std::size_t> which;
        for (std::size_t k = 0; k < links.size(); ++k)
            if (links[k].far_box == placed.box.key) which.push_back(k);
        return which;
    };
    for (const auto& placed : circuit_.behind) {
        std::vector<std::string> names;
        for (const auto k : mine(placed)) names.push_back(links[k].far_terminal);
        widest = std::max(widest, wide(placed, names));
    }
    for (const auto& placed : circuit_.behind) {
        if (!behind_.empty()) y += placed.top.empty() ? 14.0 : supply_high;
        Laid laid{&placed, {x, y}, widest, 0.0, placed.top.empty() && !behind_.empty() ? 0.0 : head, 0.0, {}, {}, {}, {}};
        std::vector<std::string> names;
        for (const auto k : mine(placed)) names.push_back(links[k].far_terminal);
        laid.middle = middleOf(laid, names, false);
        std::vector<Inner> inner;
        const auto which = mine(placed);
        for (const auto k : which) inner.push_back({&links[k], links[k].far_raw, {}});
        lay(laid, inner);
        for (std::size_t k = 0; k < which.size(); ++k) heights[which[k]] = laid.inner[k];
        y += laid.height + (placed.bottom.empty() ? 0.0 : ground_high);
        behind_.push_back(std::move(laid));
    }
    return heights;
}

void CircuitMaker::paint(const Laid& laid, bool first) {
    paintNames(laid, first);
    paintLeads(laid, first);
    paintOuter(laid, first);
    paintRisers(laid);
}

Drawing CircuitMaker::make() {
    const auto& first = circuit_.first;
    double flags = 0.0;
    std::vector<std::string> names;
    for (const auto& track : first.outer)
        if (!track.strap && !track.port.name.empty()) flags = std::max(flags, Pencil::flagWidth(track.port));
    for (const auto& track : first.inner) names.push_back(track.terminal);
    const bool any_top = !first.top.empty() || (!circuit_.behind.empty() && !circuit_.behind.front().top.empty());
    const double y0 = title_high + (any_top ? supply_high : 6.0), width = wide(first, names);
    const double head = any_top ? 13.0 : 0.0;
    first_ = {&first, {flags + zone(first.outer), y0}, width, 0.0, head, 0.0, {}, {}, {}, {}};
    first_.middle = middleOf(first_, names, true);
    const auto heights = layBehind(y0, first_.corner.x + width + zone(first.inner) + 10.0, head);
    std::vector<Inner> inner;
    for (std::size_t k = 0; k < first.inner.size(); ++k) inner.push_back({&first.inner[k], first.inner[k].raw, heights[k]});
    lay(first_, inner);
    auto symbols = std::exchange(pencil_.drawing, {});
    double right = 0.0, low = 0.0;
    const auto bound = [&](const Laid& laid, bool is_first) {
        pencil_.box(laid.corner, laid.width, laid.height);
        double beside = 0.0;
        for (const auto& track : laid.placed->outer)
            if (!is_first) beside = std::max(beside, zone(laid.placed->outer) + (track.strap ? 30.0 : Pencil::flagWidth(track.port)));
        right = std::max(right, laid.corner.x + laid.width + beside);
        low = std::max(low, laid.corner.y + laid.height + (laid.placed->bottom.empty() ? 0.0 : ground_high));
    };
    bound(first_, true);
    for (const auto& laid : behind_) bound(laid, false);
    for (auto& line : symbols.lines) pencil_.drawing.lines.push_back(std::move(line));
    pencil_.drawing.discs = std::move(symbols.discs);
    pencil_.drawing.words = std::move(symbols.words);
    paint(first_, true);
    for (const auto& laid : behind_) paint(laid, false);
    paintInner();
    for (std::size_t k = 0; k < first_.outer.size(); ++k) low = std::max(low, first_.outer[k] + 14.0 + below(first.outer[k].branches));
    pencil_.drawing.width = right + 8.0;
    paintLoose(low + (circuit_.loose.empty() ? 4.0 : row_high));
    return std::move(pencil_.drawing);
}

}  // namespace

std::vector<Drawing> circuits(const project::Project& project, const project::Parts& parts, const plan::Plan& plan,
                              const std::vector<plan::WireRow>& rows) {
    if (plan.apart) {
        auto drawings = circuits(plan.apart->project(), parts, plan.apart->plan, rows);
        for (auto& drawing : drawings) drawing.owner = plan::channelOf(plan, drawing.owner);
        return drawings;
    }
    const Ends ends(project, parts, plan, rows);
    std::vector<Drawing> drawings{supplyDrawing(ends, rows)};
    for (const auto& circuit : arranged(ends, rows)) {
        auto drawing = CircuitMaker(circuit, rows).make();
        std::vector<std::string> names, owners;
        const auto add = [](std::vector<std::string>& to, const std::string& what) {
            if (!what.empty() && std::find(to.begin(), to.end(), what) == to.end()) to.push_back(what);
        };
        const auto tell = [&](const Placed& placed) {
            add(owners, placed.box.owner);
            const auto* channel = project::findChannel(project, placed.box.owner);
            const auto* input = project::findInput(project, placed.box.owner);
            add(names, channel != nullptr ? channel->name : input != nullptr ? input->name : placed.box.title);
        };
        for (const auto& placed : circuit.behind) tell(placed);
        if (circuit.behind.empty() || !circuit.first.box.owner.empty()) tell(circuit.first);
        drawing.title = joined(names, ", ");
        drawing.owner = owners.size() == 1 ? owners.front() : "";
        if (const auto* planned = plan::findChannel(plan, drawing.owner); planned != nullptr && planned->chosen)
            drawing.subtitle = planned->chosen->actuator_name + ", " + within(planned->chosen->driver_name);
        drawing.words.push_back({{0.0, 16.0}, drawing.title, title_size, Toward::Right, Tone::Name, no_wire});
        const double title = widthOf(drawing.title, title_size) + 12.0;
        drawing.words.push_back({{title, 16.0}, drawing.subtitle, name_size, Toward::Right, Tone::Soft, no_wire});
        drawing.width = std::max(drawing.width, title + widthOf(drawing.subtitle, name_size));
        drawings.push_back(std::move(drawing));
    }
    return drawings;
}

}  // namespace hinge::drawing
