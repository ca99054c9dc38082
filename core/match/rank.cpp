#include "match/rank.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <limits>
#include <unordered_map>
#include "kinds/demand_kind.hpp"
#include "project/facts.hpp"
#include "quantity/text.hpp"

namespace hinge::match {
namespace {

using driver::DriverPart;
using project::Matters;

double weightOf(Matters matters) {
    return matters == Matters::No ? 0.0 : matters == Matters::Some ? 1.0 : 4.0;
}
double saturate(double value, double reference) {
    return std::isnan(value) ? 1.0 : value / (value + reference);
}

constexpr std::size_t criterion_count = 6;
struct Criterion {
    const char* name;  // "cheaper", for the winner
    double contribution;
};
std::array<Criterion, criterion_count> criteriaOf(const project::Weights& w, const Numbers& n) {
    return {Criterion{"cheaper", weightOf(w.price) * saturate(n.price, 10.0)},
            Criterion{"quieter", weightOf(w.quiet) * saturate(n.noise, 40.0)},
            Criterion{"lighter", weightOf(w.light) * saturate(n.mass, 0.1)},
            Criterion{"its driver stays cooler", weightOf(w.cool) * saturate(n.heat, 1.0)},
            Criterion{"smoother when slow", weightOf(w.smooth) * n.smooth},
            Criterion{"more in reserve", weightOf(w.reserve) * saturate(n.share, 1.0)}};
}

int placeOf(Verdict v) {
    return v == Verdict::Holds ? 0 : v == Verdict::Tight ? 1 : v == Verdict::Unknown ? 2 : 3;
}
double orLarge(double value) {
    return std::isnan(value) ? 1e9 : value;
}

Row rowOf(const Context& c, const actuator::Part& part, const DriverPart& driver, int rail, const Numbers& n) {
    Row row{&part, &driver, rail, n.verdict(), 0, scoreOf(c.weights, n), orLarge(n.share), orLarge(n.heat)};
    for (int i = 0; i < n.hit_count; ++i) row.stops += n.hits[static_cast<std::size_t>(i)].severity == Severity::Stop ? 1 : 0;
    return row;
}

template <class Visit>
void eachPart(const Context& c, const project::Parts& parts, Visit visit) {
    if (c.own) visit(*c.own);
    for (const auto& part : parts.actuators) visit(part);
}

// The best pairing of one part over all drivers and rails; nullopt when none can drive it.
std::optional<Row> bestOf(const Context& c, const project::Parts& parts, const actuator::Part& part) {
    std::optional<Row> best;
    for (std::size_t r = 0; r < c.rails.size(); ++r) {
        const Glance look = glance(c, part, c.rails[r]);
        if (!look.suits) return std::nullopt;
        for (const auto& driver : parts.drivers) {
            if (!canDrive(driver, look.method)) continue;
            const Row row = rowOf(c, part, driver, static_cast<int>(r), judge(c, part, driver, c.rails[r]));
            if (!best || better(row, *best)) best = row;
        }
    }
    return best;
}

const Finding* firstOf(const Pairing& p, Severity severity) {
    for (const auto& finding : p.findings)
        if (finding.severity == severity) return &finding;
    return nullptr;
}

// Why a row stands where it does, against the first.
void giveReasons(const Context& c, std::vector<Pairing>& list) {
    for (std::size_t i = 0; i < list.size(); ++i) {
        auto& p = list[i];
        if (const auto* stop = firstOf(p, Severity::Stop)) {
            p.reason = stop->text;
        } else if (p.verdict == Verdict::Unknown) {
            const auto* note = firstOf(p, Severity::Note);
            p.reason = note != nullptr && note->id == "figure-missing" ? note->text : "A figure is missing.";
        } else if (const auto* warn = firstOf(p, Severity::Warn)) {
            p.reason = warn->text;
        } else {
            // Against its neighbour: the winner against the second, the others against the winner.
            const bool winner = i == 0;
            const Pairing* other = winner ? (list.size() > 1 ? &list[1] : nullptr) : &list.front();
            if (other == nullptr || (winner && (other->verdict != Verdict::Holds))) {
                p.reason = winner ? "The only one that does it with room to spare." : "Does it too.";
                continue;
            }
            const auto mine = criteriaOf(c.weights, p.numbers), theirs = criteriaOf(c.weights, other->numbers);
            std::size_t most = 0;
            double gap = 0.0;
            for (std::size_t k = 0; k < criterion_count; ++k) {
                const double difference =
                    winner ? theirs[k].contribution - mine[k].contribution : mine[k].contribution - theirs[k].contribution;
                if (difference > gap) gap = difference, most = k;
            }
            if (winner) {
                p.reason = gap > 1e-9 ? fmt::format("First because it is {}: compare '{}'.",
                                                    most == 3   ? "the one whose driver stays cooler"
                                                    : most == 5 ? "the one with more in reserve"
                                                                : theirs[most].name,
                                                    other->actuator_name)
                                      : "First of several that do it alike.";
                if (most == 0 && gap > 1e-9 && p.price && other->price)
                    p.reason = fmt::format("Does it with room to spare for the least money: {:.2f}.", si(*p.price));
            } else if (gap <= 1e-9) {
                p.reason = "Does it too, with no more in its favour.";
            } else if (most == 0 && p.price && other->price) {
                p.reason = fmt::format("Does it too, for {:.2f} more.", si(*p.price) - si(*other->price));
            } else {
                p.reason = fmt::format("Does it too, but the first is {}.", most == 3   ? "easier on its driver"
                                                                            : most == 5 ? "stronger in reserve"
                                                                                        : theirs[most].name);
            }
        }
    }
}

bool worksWith(const Context& c, const project::Parts& parts, const actuator::Part& part) {
    const auto row = bestOf(c, parts, part);
    return row && (row->verdict == Verdict::Holds || row->verdict == Verdict::Tight);
}

}  // namespace

double scoreOf(const project::Weights& w, const Numbers& n) {
    double sum = 0.0;
    for (const auto& criterion : criteriaOf(w, n)) sum += criterion.contribution;
    return sum;
}

bool better(const Row& a, const Row& b) {
    if (placeOf(a.verdict) != placeOf(b.verdict)) return placeOf(a.verdict) < placeOf(b.verdict);
    if (a.stops != b.stops) return a.stops < b.stops;
    if (a.score != b.score) return a.score < b.score;
    if (a.share != b.share) return a.share < b.share;
    if (a.heat != b.heat) return a.heat < b.heat;
    const auto& mine = actuator::head(*a.part).id;
    const auto& theirs = actuator::head(*b.part).id;
    if (mine != theirs) return mine < theirs;
    if (a.driver->id != b.driver->id) return a.driver->id < b.driver->id;
    return a.rail < b.rail;
}

std::vector<Row> everyPair(const Context& c, const project::Parts& parts) {
    std::vector<Row> rows;
    eachPart(c, parts, [&](const actuator::Part& part) {
        for (std::size_t r = 0; r < c.rails.size(); ++r) {
            const Glance look = glance(c, part, c.rails[r]);
            if (!look.suits) return;
            for (const auto& driver : parts.drivers)
                if (canDrive(driver, look.method))
                    rows.push_back(rowOf(c, part, driver, static_cast<int>(r), judge(c, part, driver, c.rails[r])));
        }
    });
    std::sort(rows.begin(), rows.end(), better);
    return rows;
}

namespace {

double leastAmps(const DriverPart& driver) {
    return driver.current_max ? si(*driver.current_max) : 1e9;
}

// Drivers for each rail and method, those left out that break with every part; by their current.
using Table = std::array<std::vector<const DriverPart*>, methodCount>;
std::vector<Table> driverTables(const Context& c, const project::Parts& parts) {
    std::vector<Table> tables(c.rails.size());
    for (std::size_t r = 0; r < c.rails.size(); ++r) {
        const double volts = supplyOf(c, c.rails[r]);
        for (const auto& driver : parts.drivers) {
            if (driver.logic_min && si(c.logic) < si(*driver.logic_min) / (1 + 1e-9)) continue;
            if (!std::isnan(volts) && driver.voltage_max && volts > si(*driver.voltage_max) * slack && !driverKind(driver).from_pin)
                continue;
            for (std::size_t m = 0; m < methodCount; ++m)
                if (canDrive(driver, static_cast<Method>(m))) tables[r][m].push_back(&driver);
        }
        for (auto& table : tables[r])
            std::stable_sort(table.begin(), table.end(),
                             [](const DriverPart* a, const DriverPart* b) { return leastAmps(*a) < leastAmps(*b); });
    }
    return tables;
}

// The best that a part could come to: no heat in the driver, the cheapest driver there is.
struct Hope {
    const actuator::Part* part;
    std::size_t rail;
    Method method;
    double least_current;
    Row bound;
};
std::vector<Hope> hopesOf(const Context& c, const project::Parts& parts, const std::vector<Table>& tables) {
    double cheapest = std::numeric_limits<double>::infinity();
    for (const auto& driver : parts.drivers) cheapest = std::min(cheapest, driver.drawer ? 0.0 : driver.price ? si(*driver.price) : 0.0);
    std::vector<Hope> hopes;
    eachPart(c, parts, [&](const actuator::Part& part) {
        for (std::size_t r = 0; r < c.rails.size(); ++r) {
            Glance look = glance(c, part, c.rails[r]);
            if (!look.suits) return;
            if (look.broken || tables[r][static_cast<std::size_t>(look.method)].empty()) continue;
            look.numbers.price += cheapest;
            look.numbers.heat = 0.0;
            look.numbers.smooth = std::min(look.numbers.smooth, actuatorKind(part).smoothest);
            Row bound{&part,
                      nullptr,
                      static_cast<int>(r),
                      look.numbers.incomplete ? Verdict::Holds : look.numbers.verdict(),
                      0,
                      scoreOf(c.weights, look.numbers),
                      std::isnan(look.numbers.share) ? 0.0 : look.numbers.share,
                      0.0};
            hopes.push_back({&part, r, look.method, look.least_current, bound});
        }
    });
    return hopes;
}

bool hopesFirst(const Hope& x, const Hope& y) {
    return placeOf(x.bound.verdict) != placeOf(y.bound.verdict) ? placeOf(x.bound.verdict) < placeOf(y.bound.verdict)
                                                                : x.bound.score < y.bound.score;
}

// Keys only; a hair of slack, so that rounding in the bound never costs a row.
bool isBehind(const Row& bound, const Row& row) {
    if (placeOf(bound.verdict) != placeOf(row.verdict)) return placeOf(bound.verdict) > placeOf(row.verdict);
    return bound.score > row.score * (1 + 1e-9) + 1e-12;
}

// The rows that are left as more are looked at.
struct Kept {
    const Search& search;
    std::vector<Row> rows;
    std::unordered_map<const actuator::Part*, std::size_t> place_of;  ///< one row a part

    void add(const actuator::Part* part, const Row& best) {
        const auto [entry, fresh] = place_of.emplace(part, rows.size());
        if (fresh) rows.push_back(best);
        else if (better(best, rows[entry->second])) rows[entry->second] = best;
    }
    // More than twice as many as are wanted: drop the worse half.
    void thin() {
        if (search.most > rows.max_size() / 2 || rows.size() < 2 * search.most + 64) return;
        std::nth_element(rows.begin(), rows.begin() + static_cast<std::ptrdiff_t>(search.most), rows.end(), better);
        rows.resize(search.most);
    }
    /// The worst of the `most` best so far, once there are as many.
    [[nodiscard]] std::optional<Row> last() const {
        if (rows.size() < search.most || search.most == 0) return std::nullopt;
        std::vector<Row> sample = rows;
        std::nth_element(sample.begin(), sample.begin() + static_cast<std::ptrdiff_t>(search.most - 1), sample.end(), better);
        return sample[search.most - 1];
    }
};

// One part on one rail with every driver that gives it enough.
void tryDrivers(const Context& c, const Hope& hope, const std::vector<const DriverPart*>& table, Kept& kept) {
    const auto first = hope.method == Method::Steps
                           ? table.begin()
                           : std::lower_bound(table.begin(), table.end(), hope.least_current / (1 + 1e-6),
                                              [](const DriverPart* d, double amps) { return leastAmps(*d) < amps; });
    std::optional<Row> best;
    for (auto it = first; it != table.end(); ++it) {
        const Row row = rowOf(c, *hope.part, **it, static_cast<int>(hope.rail), judge(c, *hope.part, **it, c.rails[hope.rail]));
        if (row.verdict == Verdict::Breaks) continue;
        if (!kept.search.one_per_part) kept.rows.push_back(row);
        else if (!best || better(row, *best)) best = row;
    }
    if (best) kept.add(hope.part, *best);
    if (!kept.search.one_per_part) kept.thin();
}

}  // namespace

std::vector<Row> survivors(const Context& c, const project::Parts& parts, const Search& search) {
    const auto tables = driverTables(c, parts);
    auto hopes = hopesOf(c, parts, tables);
    if (search.most < hopes.size() * 500) std::sort(hopes.begin(), hopes.end(), hopesFirst);
    Kept kept{search, {}, {}};
    std::optional<Row> last;
    for (const auto& hope : hopes) {
        if (search.cancel != nullptr && search.cancel->load()) break;
        if (last && isBehind(hope.bound, *last)) {
            if (search.one_per_part) continue;
            break;
        }
        tryDrivers(c, hope, tables[hope.rail][static_cast<std::size_t>(hope.method)], kept);
        if (auto now = kept.last()) last = std::move(now);
    }
    auto rows = std::move(kept.rows);
    std::sort(rows.begin(), rows.end(), better);
    if (rows.size() > search.most) rows.resize(search.most);
    return rows;
}

std::vector<Pairing> candidates(const Context& c, const project::Parts& parts, std::size_t most) {
    constexpr std::size_t whole = 400'000;  // pairs that are judged one by one, losers and all
    std::vector<Row> rows;
    if (parts.actuators.size() * parts.drivers.size() * c.rails.size() <= whole) {
        eachPart(c, parts, [&](const actuator::Part& part) {
            if (const auto row = bestOf(c, parts, part)) rows.push_back(*row);
        });
        std::sort(rows.begin(), rows.end(), better);
    } else {
        rows = survivors(c, parts, {most, true, nullptr});
    }
    if (rows.size() > most) rows.resize(most);
    std::vector<Pairing> list;
    for (const auto& row : rows) list.push_back(explain(c, *row.part, *row.driver, c.rails[static_cast<std::size_t>(row.rail)], false));
    giveReasons(c, list);
    return list;
}

std::vector<Pairing> driversFor(const Context& c, const project::Parts& parts, const actuator::Part& part, std::size_t most) {
    std::vector<Row> rows;
    if (!c.rails.empty()) {
        const Glance look = glance(c, part, c.rails.front());
        if (look.suits)
            for (const auto& driver : parts.drivers)
                if (canDrive(driver, look.method)) rows.push_back(rowOf(c, part, driver, 0, judge(c, part, driver, c.rails.front())));
    }
    std::sort(rows.begin(), rows.end(), better);
    if (rows.size() > most) rows.resize(most);
    std::vector<Pairing> list;
    for (const auto& row : rows) list.push_back(explain(c, *row.part, *row.driver, c.rails.front(), false));
    giveReasons(c, list);
    return list;
}

std::string changeToWin(const Context& c, const project::Parts& parts, const actuator::Part& part) {
    std::vector<std::string> ways;
    const double now = c.rails.empty() ? unknown : supplyOf(c, c.rails.front());
    if (!onMains(c.demand) && !std::isnan(now)) {
        std::vector<double> volts{3.3, 5.0, 6.0, 7.4, 9.0, 12.0, 24.0};
        std::sort(volts.begin(), volts.end(),
                  [&](double a, double b) { return std::abs(std::log(a / now)) < std::abs(std::log(b / now)); });
        for (const double v : volts) {
            if (std::abs(v / now - 1.0) < 0.02) continue;
            Context other = c;
            other.rails = {{"", "", of<Voltage>(v), c.rails.front().wire}};
            if (!worksWith(other, parts, part)) continue;
            ways.push_back(fmt::format("on {} instead of {}", displayPlain(Kind::Voltage, v), display(Kind::Voltage, now)));
            break;
        }
    }
    if (c.ask.torque && c.ask.speed) {
        for (const double ratio : {1.5, 2.0, 3.0, 4.0, 5.0, 8.0, 0.67, 0.5, 0.33, 0.25}) {
            Context other = c;
            other.gear_ratio = c.gear_ratio * ratio;
            if (!worksWith(other, parts, part)) continue;
            ways.push_back(ratio > 1.0 ? fmt::format("with 1:{:g} gearing", ratio) : fmt::format("geared up {:.2g}:1", 1.0 / ratio));
            break;
        }
    }
    for (const auto& way : demandKind(c.demand).ways(c.demand))
        for (const double factor : way.factors) {
            const auto changed = project::scaled(c.demand, way.field, factor);
            if (!changed) break;
            Context other = c;
            other.demand = *changed;
            other.ask = ask(*changed);
            if (!worksWith(other, parts, part)) continue;
            ways.push_back(way.say(factor));
            break;
        }
    std::string text;
    for (std::size_t i = 0; i < ways.size() && i < 2; ++i) text += (i > 0 ? ", or " : "") + ways[i];
    return text;
}

const actuator::Part* partOf(const Context& c, const project::Parts& parts, std::string_view id) {
    if (c.own && actuator::head(*c.own).id == id) return &*c.own;
    return project::findActuator(parts, id);
}

}  // namespace hinge::match
