#include "power/battery_discharge.hpp"
#include <algorithm>
#include <cmath>
#include "quantity/text.hpp"

namespace hinge::power {
namespace {

constexpr double longest = 100.0 * 365.25 * 86400.0;

std::string_view trimmed(std::string_view text) {
    while (!text.empty() && text.front() == ' ') text.remove_prefix(1);
    while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
    return text;
}

}  // namespace

double openCellVolts(Chemistry chemistry, double left) {
    const auto cell = cellVolts(chemistry);
    left = std::clamp(left, 0.0, 1.0);
    return left >= 0.5 ? cell.nominal + (cell.full - cell.nominal) * (left - 0.5) * 2.0
                       : cell.empty + (cell.nominal - cell.empty) * left * 2.0;
}

Result<std::vector<Draw>> parseProfile(const std::string& text) {
    std::vector<Draw> draws;
    std::string_view rest = text;
    for (bool more = true; more;) {
        const auto comma = rest.find(',');
        more = comma != std::string_view::npos;
        const auto item = trimmed(rest.substr(0, comma));
        const auto at = item.find('@');
        const auto bad = [&] {
            return fail(ErrorCode::BadFormat, "profile", std::string{item}, "current@time, parted by commas, such as 50mA@3500s,0.8A@100s");
        };
        if (at == std::string_view::npos) return bad();
        const auto current = parseQuantity(Kind::Current, trimmed(item.substr(0, at))),
                   time = parseQuantity(Kind::Duration, trimmed(item.substr(at + 1)));
        if (!current || !time || *current < 0.0 || *time <= 0.0) return bad();
        draws.push_back({*current, *time});
        if (draws.size() > 10'000) return fail(ErrorCode::OutOfRange, "profile", std::to_string(draws.size()), "at most 10 000 steps");
        if (more) rest.remove_prefix(comma + 1);
    }
    return draws;
}

Result<Worked<BatteryDischargeResult>> batteryDischarge(const BatteryDischarge& in) {
    const auto draws = parseProfile(in.profile);
    if (!draws) return tl::unexpected(draws.error());
    double period = 0.0, charge = 0.0;
    for (const auto& draw : *draws) period += draw.time, charge += draw.current * draw.time;
    if (charge <= 0.0) return fail(ErrorCode::OutOfRange, "profile", in.profile.substr(0, 60), "a profile that draws something");
    const double whole = si(in.capacity) * si(in.parallel), ohms = si(in.cell_resistance) * si(in.series) / si(in.parallel),
                 n = si(in.series);
    const auto cell = cellVolts(in.chemistry);
    // Share left at which the pack sags to the cut-off under a current; below 0: never.
    const auto leftAt = [&](double current) {
        if (!in.cutoff) return -1.0;
        const double volts = (si(*in.cutoff) + current * ohms) / n;  // that a cell must stand at
        if (volts <= cell.empty) return -1.0;
        if (volts > cell.full) return 2.0;
        return volts <= cell.nominal ? 0.5 * (volts - cell.empty) / (cell.nominal - cell.empty)
                                     : 0.5 + 0.5 * (volts - cell.nominal) / (cell.full - cell.nominal);
    };
    Worked<BatteryDischargeResult> out;
    auto& r = out.result;
    double time = 0.0, left = 1.0, lowest = n * cell.full;
    bool over = false;
    // Whole periods that no step can end in are taken at once.
    double hungriest = 0.0;
    for (const auto& draw : *draws) hungriest = std::max(hungriest, leftAt(draw.current));
    const double per_period = charge / whole;
    const double clear = std::floor((1.0 - std::max(0.0, hungriest)) / per_period) - 1.0;
    if (clear > 0.0) {
        const double periods = std::min(clear, std::floor(longest / period));
        time = periods * period;
        left -= periods * per_period;
    }
    while (!over && time < longest) {
        for (const auto& draw : *draws) {
            const double ends_at = leftAt(draw.current), stop = std::max(0.0, ends_at);
            if (left <= stop && (ends_at >= 0.0 || left <= 0.0)) {
                lowest = std::min(lowest, n * openCellVolts(in.chemistry, left) - draw.current * ohms);  // it is this draw that trips
                r.by_sag = ends_at >= 0.0;
                over = true;
                break;
            }
            const double falls = draw.current * draw.time / whole;
            lowest = std::min(lowest, n * openCellVolts(in.chemistry, std::max(stop, left - falls)) - draw.current * ohms);
            if (left - falls < stop) {
                time += (left - stop) * whole / draw.current;
                left = stop;
                r.by_sag = ends_at >= 0.0;
                over = true;
                break;
            }
            left -= falls;
            time += draw.time;
        }
    }
    r.runtime = of<Duration>(time);
    r.left = of<Fraction>(std::clamp(left, 0.0, 1.0));
    r.lowest = of<Voltage>(lowest);
    r.average = of<Current>(charge / period);
    addStep(out.steps, "Ī", "drawn on average", "∑I·t/∑t", {}, r.average, "definition");
    addStep(out.steps, "q", "charge in all", "{C}·{p}", {{"C", in.capacity}, {"p", in.parallel}}, of<Charge>(whole), "definition");
    addStep(out.steps, "Vmin", "lowest under load", "{n}·OCV − I·{R}·{n}/{p}",
            {{"n", in.series}, {"R", in.cell_resistance}, {"p", in.parallel}}, r.lowest, "derived: V = n·OCV(left) − I·R·n/p");
    addStep(out.steps, "t", "until it ends", r.by_sag ? "step by step, to the cut-off" : "step by step, to empty cells", {}, r.runtime,
            "derived: V = n·OCV(left) − I·R·n/p");
    if (r.by_sag && si(r.left) > 0.2)
        out.findings.push_back({"battery-peak", Severity::Warn,
                                "The cells sag below what the gadget needs while much is left in them: cells of less resistance, more in "
                                "parallel, or a smaller peak."});
    if (in.chemistry == Chemistry::LiIon || in.chemistry == Chemistry::LiFePo4)
        out.findings.push_back({"lithium-present", Severity::Note,
                                "Lithium cells: a protection board, a fuse, the right charger, and never charging without someone near."});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr batteryDischargeForm() {
    using I = BatteryDischarge;
    using R = BatteryDischargeResult;
    auto form = std::make_shared<FormOf<I, R>>("battery-discharge", "feed", "cells run down step by step under a load that repeats",
                                               "derived: V = n·OCV(left) − I·R·n/p", &batteryDischarge);
    form->rule("V = n·OCV(left) − I·R·n/p; OCV straight between full, nominal at half, and empty; ends at the cut-off or when empty")
        .in("chemistry", &I::chemistry, nullptr, "of the cells")
        .in("series", &I::series, nullptr, "cells in series")
        .in("parallel", &I::parallel, "1", "strings in parallel")
        .in("capacity", &I::capacity, nullptr, "of one cell")
        .bare("Ah")
        .in("cell_resistance", &I::cell_resistance, "0", "of one cell")
        .in("profile", &I::profile, nullptr, "current@time, parted by commas")
        .in("cutoff", &I::cutoff, nullptr, "of the pack under load")
        .otherwise("only when empty")
        .out("runtime", &R::runtime, "until it ends")
        .out("left", &R::left, "share of the charge left then")
        .out("lowest", &R::lowest, "under load")
        .out("average", &R::average, "drawn")
        .out("by_sag", &R::by_sag, "ended by the cut-off");
    return form;
}

}  // namespace hinge::power
