#include "simulation/supply_day.hpp"
#include <algorithm>
#include <cmath>

namespace hinge::simulation {
namespace {

// Rails and amps over the drive changes.
SupplyDay onTheTree(SupplyDay day, const plan::SupplyTree& tree, double from, double to, std::size_t keep) {
    day.ids = tree.ids;
    day.names = tree.names;
    day.outputs = tree.outputs;
    day.length = to - from;
    double standing = 0.0;
    for (const auto& load : tree.standing) standing += tree.taken[0][static_cast<std::size_t>(load.section)] * load.steady;
    std::size_t stride = 1, seen = 0;
    SupplyDay::Point top;  // the largest sum: kept, whatever is thinned out
    double before = from, amps_before = 0.0;
    bool first = true;
    const bool done = plan::playSupply(
        tree, day.changes, from, to, day.lowest,
        [&](double time, const plant::SupplyNetwork::Instant& now, std::span<const double> amps) {
            const double source = std::max(0.0, now.amps[0]);
            if (!first) day.charge += 0.5 * (source + amps_before) * (time - before);
            first = false;
            before = time, amps_before = source;
            if (source > day.peak) day.peak = source, day.peak_time = time - from;
            double drawn = standing;
            for (const double each : amps) drawn += each;
            const bool most = drawn > day.drawn;
            if (most) day.drawn = drawn, day.drawn_time = time - from;
            // At a change both sides of the step are kept, whatever the stride.
            const bool step = !day.points.empty() && time - from - day.points.back().time < 1e-9;
            const bool skipped = seen++ % stride != 0 && !step;
            if (skipped && !most) return;
            SupplyDay::Point point{time - from, now.volts, {amps.begin(), amps.end()}, source, standing, drawn};
            for (auto& volts : point.volts) volts = std::max(0.0, volts);
            if (most) top = point;
            if (skipped) return;
            day.points.push_back(std::move(point));
            if (day.points.size() < keep) return;
            std::vector<SupplyDay::Point> half;
            for (std::size_t i = 0; i < day.points.size(); i += 2) half.push_back(std::move(day.points[i]));
            day.points = std::move(half);
            stride *= 2;
        },
        to - from > 600.0 ? 1.6 : 1.2);  // a scene is looked at closely, a day for its changes
    if (!done) {
        day.collapsed = true;
        for (auto& low : day.lowest) low.volts = 0.0;
    }
    const auto here = std::lower_bound(day.points.begin(), day.points.end(), top.time - 1e-9,
                                       [](const SupplyDay::Point& p, double time) { return p.time < time; });
    if (!top.volts.empty() && (here == day.points.end() || here->time > top.time + 1e-9 || here->drawn < top.drawn))
        day.points.insert(here, top);
    for (auto& low : day.lowest) low.time -= from;
    for (auto& change : day.changes) change.time -= from;
    return day;
}

}  // namespace

double SupplyDay::drawnAt(double time) const {
    const auto after = std::upper_bound(points.begin(), points.end(), time + 1e-9, [](double t, const Point& p) { return t < p.time; });
    if (after == points.begin()) return points.empty() ? 0.0 : points.front().drawn;
    // At a step both sides stand at the same time: the larger is told.
    double largest = -1.0;
    for (auto at = after; at != points.begin() && std::prev(at)->time > time - 1e-9; --at)
        largest = std::max(largest, std::prev(at)->drawn);
    if (largest >= 0.0) return largest;
    const auto& before = *std::prev(after);
    if (after == points.end()) return before.drawn;
    return before.drawn + (after->drawn - before.drawn) * (time - before.time) / (after->time - before.time);
}

SupplyDay supplyOf(const Traces& traces, const plan::SupplyTree& tree, std::size_t keep_points) {
    SupplyDay day;
    day.changes = traces.changes;
    return onTheTree(std::move(day), tree, 0.0, traces.length, keep_points);
}

Result<SupplyDay> supplyDay(const routine::Program& program, const plan::SupplyTree& tree, const std::vector<Event>& events, double length,
                            std::size_t keep_points) {
    if (!(length > 0.0) || !std::isfinite(length))
        return fail(ErrorCode::OutOfRange, "length", std::to_string(length), "a time above zero");
    Options options;
    options.length = length;
    options.events = events;
    const auto traces = simulate(program, {}, options);
    if (!traces) return tl::unexpected(traces.error());
    return supplyOf(*traces, tree, keep_points);
}

Result<SupplyDay> worstInstant(const routine::Program& program, const plan::SupplyTree& tree, int section) {
    const auto followed = plan::cueProfiles(program);
    const auto& profiles = followed->profiles;
    const auto worst = plan::worstCoincidence(program, profiles, tree, section);
    SupplyDay day;
    day.changes = plan::coinciding(profiles, worst);
    return onTheTree(std::move(day), tree, -0.5, 1.5, 20'000);
}

}  // namespace hinge::simulation
