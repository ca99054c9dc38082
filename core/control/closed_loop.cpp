#include "control/closed_loop.hpp"
#include <algorithm>

namespace hinge::control {
namespace {

// As spark::wayOf: what is turned round stands still first, and for its pause. It has stood since long before it begins.
struct Way {
    double pause = 0.0, stood = -1e9;
    bool back = false;
    double let(double drive, double before, double time) {
        if (drive != 0.0 && (drive < 0.0) != back) {
            if (before != 0.0 || time - stood < pause - 1e-9) drive = 0.0;
            else back = drive < 0.0;
        }
        if (drive == 0.0 && before != 0.0) stood = time;
        return drive;
    }
};

template <class Law>
LoopRun run(const LoopSetup& setup, Law law) {
    LoopRun out;
    const double tick = setup.tick;
    auto coupling = setup.machine;
    coupling.outputs = {0};
    coupling.sense.input = 0;
    plant::Bench bench{{std::move(coupling)}, setup.seed};
    const int every = std::max(1, static_cast<int>(std::lround(setup.pid.period / tick))),
              ticks = static_cast<int>(std::lround(setup.length / tick));
    const int pushed = setup.push_at >= 0.0 ? static_cast<int>(std::lround(setup.push_at / tick)) : -1;
    out.rows.reserve(static_cast<std::size_t>(ticks / every + 1));
    constexpr double middle = 32767.0;  // as the sketch counts what rolls
    double drive = 0.0, place = middle, pulses = 0.0, told = 0.0;
    Way way{setup.turn_pause};
    // What stands still is known before the first tick.
    std::array<double, 1> shares{0.0}, places{place};
    bool first = true;
    for (int t = 1; t <= ticks; ++t) {
        if (t % every == 0) {
            double reading = told;
            if (setup.machine.sense.tach) {
                reading = std::min(1023.0, std::floor(pulses + 1e-9));
                pulses -= std::floor(pulses + 1e-9);
            }
            if (!first || setup.machine.sense.tach) {
                const double time = t * tick, wanted = time >= setup.step_at ? setup.wanted : setup.before, before = drive;
                drive = law(wanted, reading, std::floor(place) - middle);
                if (!setup.rolls && setup.pid.least < 0.0) drive = way.let(drive, before, time);
                out.travel += std::abs(drive - before);
                out.rows.push_back({time, wanted, reading, drive, 0.0});
            }
        }
        if (setup.rolls) place = std::clamp(place + drive * tick, middle - 1e9, middle + 1e9);
        if (t == pushed) bench.disturb(0, setup.push);
        const double on_for = t * tick - setup.step_at + setup.pid.period;
        shares[0] = setup.ramp > 0.0 && on_for < setup.ramp ? drive * std::max(0.0, on_for) / setup.ramp : drive;
        places[0] = std::floor(place);
        const auto& readings = bench.step(tick, shares, places);
        if (setup.machine.sense.tach) pulses += readings.front().value * tick;
        else told = readings.front().value;
        first = false;
        out.energy += drive * drive * tick;
        if (t % every == 0 && !out.rows.empty()) out.rows.back().value = bench.seen().front().value;
    }
    out.troubled = bench.seen().front().troubled;
    return out;
}

}  // namespace

LoopRun runLoop(const LoopSetup& setup) {
    Pid pid{setup.pid};
    return run(setup, [&pid](double wanted, double reading, double way) { return pid.step(wanted, reading, way); });
}

LoopRun runLoop(const LoopSetup& setup, const std::function<double(double, double, double)>& law) {
    return run(setup, law);
}

LoopRun runRelay(LoopSetup setup, double middle, double swing, double slack) {
    bool high = true;
    return run(setup, [&](double wanted, double reading, double) {
        if (reading > wanted + slack) high = false;
        else if (reading < wanted - slack) high = true;
        return std::clamp(middle + (high ? swing : -swing), setup.pid.least, setup.pid.most);
    });
}

std::optional<RelayReading> readRelay(const std::vector<LoopRow>& rows) {
    std::vector<std::size_t> rises;
    for (std::size_t i = 1; i < rows.size(); ++i)
        if (rows[i].drive > rows[i - 1].drive) rises.push_back(i);
    if (rises.size() < 5) return std::nullopt;
    // The first half is the way in.
    const std::size_t from = rises.size() / 2;
    RelayReading reading;
    reading.swings = static_cast<int>(rises.size() - 1 - from);
    for (std::size_t s = from; s + 1 < rises.size(); ++s) {
        double low = rows[rises[s]].reading, high = low;
        for (std::size_t i = rises[s]; i < rises[s + 1]; ++i) low = std::min(low, rows[i].reading), high = std::max(high, rows[i].reading);
        reading.amplitude += (high - low) / 2.0 / reading.swings;
    }
    reading.period = (rows[rises.back()].time - rows[rises[from]].time) / reading.swings;
    return reading;
}

}  // namespace hinge::control
