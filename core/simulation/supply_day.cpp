#include "simulation/supply_day.hpp"
#include <algorithm>
#include <cmath>
#include "routine/quiet.hpp"

namespace hinge::simulation {
namespace {

// Rails and amps over the drive changes.
Result<SupplyDay> onTheTree(SupplyDay day, const plan::SupplyTree& tree, double from, double to, std::size_t keep) {
    day.ids = tree.ids;
    day.names = tree.names;
    day.outputs = tree.outputs;
    day.length = to - from;
    double standing = 0.0;
    for (const auto& load : tree.standing) standing += tree.taken[0][static_cast<std::size_t>(load.section)] * load.steady;
    std::size_t stride = 1, seen = 0;
    SupplyDay::Point last;
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
            // At a change both sides of the step are kept, whatever the stride.
            const bool step = !day.points.empty() && time - from - day.points.back().time < 1e-9;
            if (seen++ % stride != 0 && !step) return;
            SupplyDay::Point point{time - from, now.volts, {amps.begin(), amps.end()}, source, standing};
            for (std::size_t o = 0; o < point.amps.size(); ++o)
                point.amps[o] *= tree.outputs[o].section >= 0 ? tree.taken[0][static_cast<std::size_t>(tree.outputs[o].section)] : 0.0;
            for (auto& volts : point.volts) volts = std::max(0.0, volts);
            day.points.push_back(std::move(point));
            if (day.points.size() < keep) return;
            std::vector<SupplyDay::Point> half;
            for (std::size_t i = 0; i < day.points.size(); i += 2) half.push_back(std::move(day.points[i]));
            day.points = std::move(half);
            stride *= 2;
        },
        to - from > 600.0 ? 1.6 : 1.2);  // a scene is looked at closely, a day for its changes
    if (!done)
        return fail(ErrorCode::OutOfRange, "rails", "", "rails that come to rest: a limit that is met and left without end was found");
    for (auto& low : day.lowest) low.time -= from;
    for (auto& change : day.changes) change.time -= from;
    return day;
}

}  // namespace

Result<SupplyDay> supplyDay(const routine::Program& program, const plan::SupplyTree& tree, const std::vector<Event>& events, double length,
                            std::size_t keep_points) {
    if (!(length > 0.0) || !std::isfinite(length))
        return fail(ErrorCode::OutOfRange, "length", std::to_string(length), "a time above zero");
    SupplyDay day;
    auto state = routine::powerUp(program);
    Inputs inputs(program);
    const auto last = static_cast<std::int64_t>(std::llround(length * routine::ticks_per_second));
    std::int64_t now = 0;
    std::size_t next = 0;
    const auto note = [&] {
        std::vector<plan::Phase> phases(program.outputs.size(), plan::Phase::Off);
        for (std::size_t o = 0; o < phases.size(); ++o) {
            const bool on = routine::isOn(program, state, o);
            if (program.outputs[o].kind == routine::OutputKind::Switched) phases[o] = on ? plan::Phase::On : plan::Phase::Off;
            else phases[o] = on ? plan::Phase::Moving : state.awake[o] != 0 ? plan::Phase::Holding : plan::Phase::Off;
        }
        if (day.changes.empty() || day.changes.back().phases != phases)
            day.changes.push_back({static_cast<double>(now) / routine::ticks_per_second, std::move(phases)});
    };
    note();
    while (now < last) {
        routine::Happening happening;
        bool events_now = false;
        while (next < events.size() && events[next].time * routine::ticks_per_second <= static_cast<double>(now) + 1e-6) {
            events_now = true;
            if (const auto error = take(program, events[next++], state, inputs, happening)) return tl::unexpected(*error);
        }
        if (!events_now) {
            std::int64_t ahead = std::min<std::int64_t>(
                last - now,
                inputs.pulsing() && !program.loops.empty() ? 0 : routine::quietTicks(program, state, inputs.active, true, inputs.readings));
            if (next < events.size())
                ahead = std::min(ahead, static_cast<std::int64_t>(std::ceil(events[next].time * routine::ticks_per_second - 1e-6)) - now);
            if (ahead > 0) {
                routine::skip(program, state, static_cast<std::int32_t>(ahead));
                now += ahead;
                continue;
            }
        }
        happening.pin_active = inputs.active;
        happening.values = inputs.readings;
        inputs.turn();
        happening.pulses = inputs.pulses;
        routine::tick(program, state, happening);
        ++now;
        note();
    }
    return onTheTree(std::move(day), tree, 0.0, length, keep_points);
}

Result<SupplyDay> worstInstant(const routine::Program& program, const plan::SupplyTree& tree, int section) {
    const auto profiles = plan::cueProfiles(program);
    const auto worst = plan::worstCoincidence(program, profiles, tree, section);
    SupplyDay day;
    day.changes = plan::coinciding(profiles, worst);
    return onTheTree(std::move(day), tree, -0.5, 1.5, 20'000);
}

}  // namespace hinge::simulation
