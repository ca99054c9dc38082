#include "control/search.hpp"
#include <algorithm>
#include <cmath>

namespace hinge::control {
namespace {

constexpr double hopeless = 1e6;

// A gain as the search moves it: its size by a logarithm; nothing is a size too.
struct Point {
    std::array<double, 3> size{};  // P, I, D
};
constexpr double nothing = 1e-9;

ParallelGains gainsAt(const Point& point, double way) {
    const auto of = [way](double size) { return size <= std::log(nothing) + 1e-9 ? 0.0 : way * std::exp(size); };
    return {of(point.size[0]), of(point.size[1]), of(point.size[2])};
}

}  // namespace

double costOf(const LoopRun& run, const SearchAsk& ask) {
    if (run.troubled) return hopeless;
    const double length = ask.setup.length - ask.setup.step_at;
    if (ask.setup.rolls) {
        const auto standing = readStanding(run);
        if (!standing.stands) return hopeless;
        double far = 0.0;
        for (const auto& row : run.rows) far = std::max(far, std::abs(row.drive));
        const double wander = standing.wanders / 10.0 + standing.furthest / 60.0, hum = standing.hum / (0.05 * ask.setup.pid.most);
        const double speed = far / ask.setup.pid.most;
        return ask.cost == Cost::Quiet   ? wander + 3.0 * hum
               : ask.cost == Cost::Cool  ? wander + 2.0 * speed
               : ask.cost == Cost::Quick ? 2.0 * wander + 0.3 * hum
                                         : wander + hum + 0.5 * speed;
    }
    const auto r = readResponse(run.rows, ask.target, ask.setup.pid.least, ask.setup.pid.most);
    if (!r || r->runs_away || !r->moved) return hopeless;
    // The error's sum over time, in seconds of a whole step.
    double missed = 0.0;
    const double step = std::abs(r->target - r->start);
    for (const auto& row : run.rows)
        if (row.time >= ask.setup.step_at) missed += std::abs(row.reading - row.wanted) / step * ask.setup.pid.period;
    const double late = r->settled ? *r->settled : 3.0 * length, over = std::max(0.0, r->overshoot - ask.target.band * 0.5), hum = r->hum,
                 heat = run.energy / ask.setup.length;
    const double within = ask.target.settle_within;
    // What stays off for good, though within the band, wants a sum: without this a quiet search ends with P alone.
    const double stays = std::abs(r->lean) / ask.target.band;
    const double fails = (r->settled && *r->settled <= within ? 0.0 : late / within) + over / ask.target.band + stays;
    switch (ask.cost) {
        case Cost::Calm: return fails + 0.3 * late / within + 2.0 * r->overshoot / ask.target.band * 0.3 + 4.0 * hum + 0.3 * r->rings;
        case Cost::Quick: return fails * 0.5 + 2.0 * late / within + missed / within;
        case Cost::Quiet: return fails + 30.0 * hum + 0.1 * late / within;
        case Cost::Cool: return fails + 6.0 * heat + 0.2 * r->most + 0.1 * late / within;
    }
    return hopeless;
}

Result<SearchResult> searchGains(const SearchAsk& ask) {
    if (!ask.setup.rolls && ask.setup.wanted == ask.setup.before)
        return fail(ErrorCode::OutOfRange, "wanted", "no step", "a step of what is wanted");
    std::vector<plant::Coupling> machines{ask.setup.machine};
    if (ask.variation != 0)
        for (int i = 0; i < 2; ++i) machines.push_back(plant::varied(ask.setup.machine, ask.variation + static_cast<std::uint64_t>(i)));
    SearchResult result;
    result.pid = ask.setup.pid;
    const auto& from = ask.setup.pid.gains;
    const double way = from.proportional < 0.0 ? -1.0 : 1.0;
    bool cancelled = false;
    const auto at = [&](const ParallelGains& gains, double no_worse_than) {
        double worst = 0.0;
        for (const auto& machine : machines) {
            if (ask.cancel != nullptr && ask.cancel->load()) cancelled = true;
            if (cancelled) return hopeless;
            auto setup = ask.setup;
            setup.machine = machine;
            setup.pid.gains = gains;
            ++result.trials;
            worst = std::max(worst, costOf(runLoop(setup), ask));
            if (worst >= no_worse_than) break;
        }
        return worst;
    };
    const auto point = [](double p, double i, double d) {
        const auto size = [](double g) { return std::log(std::max(nothing, std::abs(g))); };
        return Point{{size(p), size(i), size(d)}};
    };
    result.before = at(from, 2.0 * hopeless);
    // Where to begin: the gains given, and a grid about what takes the whole drive for the whole step.
    const double span = ask.setup.rolls ? 60.0 : std::max(1.0, std::abs(ask.setup.wanted - ask.setup.before));
    const double usual = ask.setup.pid.most / span, quick = std::max(ask.target.settle_within, 4.0 * ask.setup.pid.period);
    Point best = point(from.proportional, from.integral, from.derivative);
    double least = result.before;
    for (const double p : {0.15, 0.4, 1.0, 2.5, 6.0})
        for (const double i : {0.5, 2.0, 6.0})
            for (const double d : {0.0, 0.03}) {
                const auto here = point(p * usual, p * usual * i / quick, p * usual * d * quick);
                const double cost = at(gainsAt(here, way), least);
                if (cost < least) least = cost, best = here;
            }
    // Then along each gain and its opposite, by smaller and smaller factors.
    for (double stride = std::log(2.0); stride > std::log(1.02) && result.trials < ask.most_trials && !cancelled;) {
        bool moved = false;
        for (std::size_t k = 0; k < 3; ++k)
            for (const double sign : {1.0, -1.0}) {
                Point next = best;
                if (next.size[k] <= std::log(nothing) + 1e-9) {
                    if (sign < 0.0) continue;
                    // From nothing: a little of it, in proportion to P.
                    next.size[k] = best.size[0] + std::log(k == 1 ? 0.3 / quick : 0.01 * quick) + stride;
                } else {
                    next.size[k] += sign * stride;
                }
                const double cost = at(gainsAt(next, way), least);
                if (cost < least) least = cost, best = next, moved = true;
            }
        Point both = best;
        for (const double sign : {1.0, -1.0}) {
            both = best;
            for (auto& size : both.size)
                if (size > std::log(nothing) + 1e-9) size += sign * stride;
            const double cost = at(gainsAt(both, way), least);
            if (cost < least) least = cost, best = both, moved = true;
        }
        if (!moved) stride *= 0.5;
    }
    if (cancelled) return fail(ErrorCode::Cancelled, "search", "", "");
    if (least >= hopeless)
        return fail(ErrorCode::OutOfRange, "gains", "nothing that settles",
                    "a sensor that is the right way round, a period that is short enough, and a wanted reading that it can reach");
    result.pid.gains = gainsAt(best, way);
    result.cost = least;
    auto setup = ask.setup;
    setup.pid = result.pid;
    if (!setup.rolls) result.response = readResponse(runLoop(setup).rows, ask.target, setup.pid.least, setup.pid.most);
    return result;
}

}  // namespace hinge::control
