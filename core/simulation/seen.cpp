#include "simulation/seen.hpp"
#include <algorithm>
#include <cmath>
#include "plant/on_times.hpp"

namespace hinge::simulation {
namespace {

using plan::Phase;

// From an instant on, one output.
struct Told {
    double time = 0.0;
    std::size_t output = 0;
    Phase phase = Phase::Off;
    float share = 1.0F;
};

// On and off, its share over windows of some periods of its PWM.
void switched(const routine::Program& program, std::size_t o, const std::vector<plant::Edge>& edges, double length,
              std::vector<Told>& told) {
    const double own = std::max(1, program.parameters[static_cast<std::size_t>(program.outputs[o].duty_parameter)].value) / 1000.0;
    const double soft = program.parameters[static_cast<std::size_t>(program.outputs[o].ramp_parameter)].value / 1000.0;
    std::vector<std::pair<double, double>> pulses;
    for (const auto& edge : edges) {
        if (edge.output != static_cast<int>(o)) continue;
        if (edge.level != 0) pulses.emplace_back(edge.time, length);
        else if (!pulses.empty()) pulses.back().second = edge.time;
    }
    std::size_t at = 0;
    for (const auto& time : plant::onTimes(edges, static_cast<int>(o))) {
        const double end = time.to.value_or(length), whole = end - time.from;
        const double window = time.pulses > 1 ? std::max(0.01, 4.0 * whole / time.pulses) : whole;
        // What a load draws while it starts softly is a figure of its own, for the share that it then comes to.
        const double ramped = time.pulses > 1 ? time.from + soft : time.from;
        const std::size_t first = told.size();
        told.push_back({time.from, o, Phase::On});
        std::optional<float> before;
        for (double from = time.from; from < end - 1e-9; from += window) {
            if (from < ramped) continue;
            const double to = std::min(end, from + window);
            double on = 0.0;
            while (at < pulses.size() && pulses[at].second <= from) ++at;
            for (std::size_t k = at; k < pulses.size() && pulses[k].first < to; ++k)
                on += std::min(to, pulses[k].second) - std::max(from, pulses[k].first);
            // In fiftieths, as the simulation tells a fade.
            const auto share = static_cast<float>(std::lround(50.0 * on / (to - from) / own)) / 50.0F;
            if (!before) told[first].share = share;
            else if (share != *before) told.push_back({from, o, Phase::On, share});
            before = share;
        }
        if (time.to) told.push_back({*time.to, o, Phase::Off});
    }
}

// A servo that turns on, by what its pulses say.
void speeding(const routine::ProgramOutput& output, double own, std::size_t o, const std::vector<plant::Edge>& edges, double length,
              std::vector<Told>& told) {
    for (const auto& each : plant::speedsTold(edges, static_cast<int>(o), output.pulse_still / 2e6, length)) {
        const double share = std::abs(each.off) * 2e6 / output.top / own;
        told.push_back({each.time, o, each.off != 0.0 ? Phase::On : Phase::Off, static_cast<float>(std::lround(50.0 * share)) / 50.0F});
    }
}

// A stepper that goes on: on while steps come, at the rate at which they do, by windows of some of them.
void stepping(const routine::ProgramOutput& output, double own, std::size_t o, const std::vector<plant::Edge>& edges, double length,
              std::vector<Told>& told) {
    const double apart = 3.0 / (output.step_rate * own);
    for (const auto& time : plant::onTimes(edges, static_cast<int>(o), std::max(0.25, apart))) {
        const double whole = time.to.value_or(length) - time.from;
        const double share = whole > 0.0 && time.pulses > 1 ? (time.pulses - 1) / whole / output.step_rate / own : 1.0;
        told.push_back({time.from, o, Phase::On, static_cast<float>(std::lround(50.0 * share)) / 50.0F});
        if (time.to) told.push_back({*time.to, o, Phase::Off});
    }
}

// A servo moves while its pulses change, holds while they stay, and is let go when none comes.
void servo(std::size_t o, const std::vector<plant::Edge>& edges, double length, std::vector<Told>& told) {
    constexpr double same = 1.5e-6, none = 0.1;  // s
    double rose = -1.0, width = -1.0, last = -1.0;
    Phase now = Phase::Off;
    const auto say = [&](double time, Phase phase) {
        if (phase != now) told.push_back({time, o, phase});
        now = phase;
    };
    for (const auto& edge : edges) {
        if (edge.output != static_cast<int>(o)) continue;
        if (edge.level != 0) {
            if (last >= 0.0 && edge.time - last > none) say(last, Phase::Off), width = -1.0;
            rose = edge.time;
        } else if (rose >= 0.0) {
            const double wide = edge.time - rose;
            say(rose, width < 0.0 || std::abs(wide - width) > same ? Phase::Moving : Phase::Holding);
            width = wide, last = edge.time;
        }
    }
    if (last >= 0.0 && length - last > none) say(last, Phase::Off);
}

// A stepper moves while steps come, holds while its driver is enabled.
void stepper(std::size_t o, const std::vector<plant::Edge>& edges, const std::vector<plant::Edge>& enables, std::vector<Told>& told) {
    const bool has_line = std::any_of(enables.begin(), enables.end(), [&](const auto& e) { return e.output == static_cast<int>(o); });
    const auto holding = [&](double time) {
        if (!has_line) return Phase::Holding;
        bool on = false;
        for (const auto& each : enables)
            if (each.output == static_cast<int>(o) && each.time <= time) on = each.level != 0;
        return on ? Phase::Holding : Phase::Off;
    };
    for (const auto& each : enables)
        if (each.output == static_cast<int>(o)) told.push_back({each.time, o, each.level != 0 ? Phase::Holding : Phase::Off});
    for (const auto& time : plant::onTimes(edges, static_cast<int>(o), 0.25)) {
        told.push_back({time.from, o, Phase::Moving});
        if (time.to) told.push_back({*time.to, o, holding(*time.to)});
    }
}

}  // namespace

std::vector<plan::DriveChange> drivesSeen(const routine::Program& program, const std::vector<plant::Edge>& edges,
                                          const std::vector<plant::Edge>& enables, double length) {
    std::vector<Told> told;
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        switch (program.outputs[o].kind) {
            case routine::OutputKind::Switched: {
                const auto& output = program.outputs[o];
                const double own = std::max(1, program.parameters[static_cast<std::size_t>(output.duty_parameter)].value) / 1000.0;
                if (output.pulse_still > 0) speeding(output, own, o, edges, length, told);
                else if (output.step_rate > 0.0) stepping(output, own, o, edges, length, told);
                else switched(program, o, edges, length, told);
                break;
            }
            case routine::OutputKind::Servo: servo(o, edges, length, told); break;
            case routine::OutputKind::Stepper: stepper(o, edges, enables, told); break;
        }
    }
    std::stable_sort(told.begin(), told.end(), [](const Told& a, const Told& b) { return a.time < b.time; });
    plan::DriveChange now{0.0, std::vector<Phase>(program.outputs.size(), Phase::Off), std::vector<float>(program.outputs.size(), 1.0F)};
    std::vector<plan::DriveChange> changes{now};
    for (const auto& each : told) {
        now.time = each.time;
        now.phases[each.output] = each.phase;
        now.shares[each.output] = each.share;
        if (changes.back().time == each.time) changes.back() = now;
        else changes.push_back(now);
    }
    return changes;
}

SupplyDay supplySeen(const routine::Program& program, const plan::SupplyTree& tree, const std::vector<plant::Edge>& edges,
                     const std::vector<plant::Edge>& enables, double length) {
    Traces traces;
    traces.changes = drivesSeen(program, edges, enables, length);
    traces.length = length;
    return supplyOf(traces, tree, 2000);
}

}  // namespace hinge::simulation
