#pragma once
// The two sides of a sketch on another board: what the interpreter has at each tick, what stands at its pins.
#include <functional>
#include <random>
#include <set>
#include "firmware/runtime/spark_drive_cycles.h"
#include "firmware/runtime/spark_drive_latch.h"
#include "firmware/runtime/spark_drive_rate.h"
#include "link/protocol.hpp"
#include "plan/firmware_model.hpp"
#include "simulation/interpreted_board.hpp"
#include "support/matrix.hpp"
#include "support/other_board.hpp"

namespace hinge::test {

/// One press of a contact, in milliseconds.
struct Pressed {
    int at;
    std::string input;
    int lasts;
};
using Board = std::function<Heard(const firmware::Sketch&, const Outside&, double seconds)>;
/// What was compared.
struct Agreed {
    int switched = 0;  ///< edges of outputs that are only on and off
    int pwm = 0;       ///< stretches of one share
    int steps = 0;
    int servo_pulses = 0;
    int turns = 0;  ///< edges of a line that says which way
    Heard heard;
};

/// A line said over the link: at most eight letters with its end, so that it is there at once.
struct Said {
    int at;  // ms
    std::string line;
};

namespace agreeing {

// Share of the time from one moment to another at which a pin was high.
inline double share(const std::vector<Heard::Edge>& edges, double from, double to) {
    double high = 0.0, since = from;
    int level = 0;
    for (const auto& edge : edges) {
        if (edge.time >= to) break;
        if (edge.time > from) {
            if (level == 1) high += edge.time - since;
            since = edge.time;
        }
        level = edge.level;
    }
    if (level == 1) high += to - since;
    return high / (to - from);
}
inline int levelAt(const std::vector<Heard::Edge>& edges, double time) {
    int level = 0;
    for (const auto& edge : edges) {
        if (edge.time > time) break;
        level = edge.level;
    }
    return level;
}

/// What the desk has, tick by tick: [output][t] after tick t, at t milliseconds.
struct Desk {
    std::vector<std::vector<std::int32_t>> levels;
    std::vector<std::vector<bool>> awake, back, resting, braked;
    int ticks = 0;
};
/// An output as the two sides have it.
struct Side {
    const project::Project& project;
    const plan::ChannelPlan& planned;
    const project::Channel& channel;
    const routine::ProgramOutput& output;
    const std::vector<Heard::Edge>& edges;
    const std::vector<std::int32_t>& levels;
    const std::vector<bool>&awake, &back;
    int ticks;
    double seconds, late, jitter;
    [[nodiscard]] std::int32_t level(int t) const { return levels[static_cast<std::size_t>(t)]; }
    [[nodiscard]] bool placed() const {
        return output.kind != routine::OutputKind::Switched || output.pulse_still > 0 || output.step_rate > 0.0;
    }
};

/// The interpreter under the same presses and lines; each change in the middle between two ticks, so that both see it at the same.
inline Desk playDesk(const project::Project& project, const routine::Program& program, const std::vector<Pressed>& presses, double seconds,
                     const std::vector<Said>& said, Outside& outside) {
    const auto& family = board::family(project.board.form);
    simulation::InterpretedBoard desk(program, {}, project.brief.name, "12345678");
    std::multimap<int, std::pair<int, bool>> changes;
    for (std::size_t i = 0; i < project.inputs.size(); ++i) {
        const auto& input = project.inputs[i];
        const auto pin = board::pinNamed(family, input.pin);
        if (!pin || project::isAnalogue(input.kind)) continue;
        outside.pin(0.0, pin->number, !project::pinActiveHigh(input));
        for (const auto& press : presses) {
            if (press.input != input.id) continue;
            for (const bool active : {true, false}) {
                const int at = active ? press.at : press.at + press.lasts;
                changes.emplace(at, std::pair{static_cast<int>(i), active});
                outside.pin((at + 0.5) / 1e3, pin->number, active == project::pinActiveHigh(input));
            }
        }
    }
    std::multimap<int, std::string> lines;
    for (const auto& each : said) lines.emplace(each.at, each.line), outside.say((each.at + 0.3) / 1e3, each.line);
    const std::size_t count = program.outputs.size();
    Desk seen{std::vector<std::vector<std::int32_t>>(count), std::vector<std::vector<bool>>(count), std::vector<std::vector<bool>>(count),
              std::vector<std::vector<bool>>(count),         std::vector<std::vector<bool>>(count), static_cast<int>(seconds * 1e3) - 1};
    for (std::size_t o = 0; o < count; ++o)
        seen.awake[o].push_back(false), seen.back[o].push_back(false), seen.resting[o].push_back(true), seen.braked[o].push_back(false);
    for (int t = 1; t <= seen.ticks; ++t) {
        for (auto [at, end] = changes.equal_range(t - 1); at != end; ++at) desk.setInput(at->second.first, at->second.second);
        for (auto [at, end] = lines.equal_range(t - 1); at != end; ++at) desk.write(at->second);
        desk.advance(1e-3);
        for (std::size_t o = 0; o < count; ++o) {
            const auto& now = desk.state().output(o);
            if (t == 1) seen.levels[o].push_back(now.level);
            seen.back[o].push_back(now.back != 0);
            seen.resting[o].push_back(now.resting != 0);
            seen.braked[o].push_back(now.braked != 0);
            seen.levels[o].push_back(now.level);
            seen.awake[o].push_back(now.awake != 0);
        }
    }
    return seen;
}

/// What a drive after the tick makes of the levels: whole cycles, pulses that latch, steps at a rate, pulses that say a speed.
inline void drive(const plan::Plan& plan, std::size_t o, Desk& desk) {
    const auto& program = *plan.program;
    const auto& output = program.outputs[o];
    const auto* planned = plan::findChannel(plan, output.id);
    auto& levels = desk.levels[o];
    if (planned->signal == plan::SignalKind::WholeCycles) {
        const int block = 1000 * planned->mains->together / static_cast<int>(si(planned->mains->frequency));
        spark::WholeCycles cycles{};
        for (auto& level : levels) level = cycles.lets(level, static_cast<std::uint8_t>(block)) ? output.top : 0;
    }
    if (output.latch > 0) {  // its level as the pulse that is under way, and the way that its bridge is set
        spark::LatchPulse latch{};
        bool set = false;
        for (std::size_t t = 1; t < levels.size(); ++t) {
            const auto way = latch.next(levels[t] > 0, output.latch, output.latch_turn);
            if (way != 0) set = way < 0;
            levels[t] = way != 0 ? output.top : 0;
            desk.back[o][t] = set;
        }
    }
    if (output.step_rate > 0.0) {  // as the place to which it has come
        spark::StepRate turning{};
        std::int64_t fine = 0;
        for (std::size_t t = 1; t < levels.size(); ++t) {
            fine += turning.next(desk.back[o][t] ? -levels[t] : levels[t],
                                 desk.resting[o][t] ? 0 : program.parameters[static_cast<std::size_t>(output.ramp_parameter)].value,
                                 routine::rateUnit(output));
            levels[t] = static_cast<std::int32_t>(std::floor(static_cast<double>(fine) / 256.0));
        }
        levels[0] = 0;
    }
    for (std::size_t t = 0; t < levels.size() && output.pulse_still > 0; ++t) {
        levels[t] = output.pulse_still + (desk.back[o][t] ? -levels[t] : levels[t]);
        desk.awake[o][t] = true;
    }
}

/// When a bridge with two inputs drives: one of them alone is high. Two writes are some instructions apart: what lies between is left out.
inline std::vector<Heard::Edge> drivenBy(const std::vector<Heard::Edge>& first, const std::vector<Heard::Edge>& second) {
    std::vector<Heard::Edge> all = first, driven{{0.0, 0}};
    all.insert(all.end(), second.begin(), second.end());
    std::stable_sort(all.begin(), all.end(), [](const Heard::Edge& a, const Heard::Edge& b) { return a.time < b.time; });
    for (const auto& edge : all) {
        const int now = levelAt(first, edge.time) != levelAt(second, edge.time) ? 1 : 0;
        if (now == driven.back().level) continue;
        if (driven.size() > 1 && edge.time - driven.back().time < 6e-6) driven.pop_back();
        else driven.push_back({edge.time, now});
    }
    return driven;
}
/// It never drives the other way than the desk's, not for an instant; off it coasts, or brakes where the desk says so.
/// @return changes of the way
inline int compareInputs(const Side& side, const std::vector<bool>& braked, const std::vector<Heard::Edge>& second) {
    int turns = 0;
    std::vector<Heard::Edge> all = side.edges;
    all.insert(all.end(), second.begin(), second.end());
    std::stable_sort(all.begin(), all.end(), [](const Heard::Edge& a, const Heard::Edge& b) { return a.time < b.time; });
    const int ahead = 1 + static_cast<int>(side.late * 1e3);
    int before = -1;
    for (const auto& edge : all) {
        const int t = static_cast<int>(edge.time * 1e3);
        if (t < 1 || t + ahead >= side.ticks || levelAt(side.edges, edge.time) == levelAt(second, edge.time)) continue;
        const int way = levelAt(second, edge.time);
        if (side.back[static_cast<std::size_t>(t - ahead + 1)] == side.back[static_cast<std::size_t>(t)])
            EXPECT_EQ(way, side.back[static_cast<std::size_t>(t)] ? 1 : 0) << "at " << edge.time << " s";
        if (before >= 0 && before != way) ++turns;
        before = way;
    }
    const double period = side.planned.pwm ? 1.0 / si(side.planned.pwm->actual_frequency) : 0.0;
    const int settled = ahead + static_cast<int>(2e3 * period);
    for (int t = 1 + settled; t < side.ticks; ++t) {
        bool same = side.level(t) == 0;
        for (int k = 0; k <= settled; ++k)
            same = same && side.level(t - k) == 0 && braked[static_cast<std::size_t>(t - k)] == braked[static_cast<std::size_t>(t)];
        if (!same) continue;
        const int expected = braked[static_cast<std::size_t>(t)] ? 1 : 0;
        EXPECT_EQ(levelAt(side.edges, t * 1e-3 + 0.9e-3), expected) << "at " << t << " ms";
        EXPECT_EQ(levelAt(second, t * 1e-3 + 0.9e-3), expected) << "at " << t << " ms";
    }
    return turns;
}

/// Which way, tick by tick; and never an edge of it but at rest, the whole pause long before it.
inline int compareWay(const Side& side, const std::vector<Heard::Edge>& way) {
    int turns = 0;
    const int ahead = 1 + static_cast<int>(side.late * 1e3);
    for (int t = 1; t + ahead < side.ticks; ++t)
        if (side.back[static_cast<std::size_t>(t)] == side.back[static_cast<std::size_t>(t + ahead)])
            EXPECT_EQ(levelAt(way, t * 1e-3 + side.late), side.back[static_cast<std::size_t>(t)] ? 1 : 0) << "at " << t << " ms";
    for (const auto& edge : way) {
        if (edge.time < 1e-3) continue;
        // A timer may end the pulse that it has begun.
        const bool latches = side.output.latch > 0;
        const double pause = latches ? 1e-3 : si(side.channel.signal.turn_pause),
                     tail = side.planned.pwm ? 2.0 / si(side.planned.pwm->actual_frequency) : 0.0;
        if (pause > side.late + tail)
            EXPECT_EQ(share(side.edges, edge.time - pause + side.late + tail, edge.time), 0.0) << "turned at " << edge.time << " s";
        // What is done in one tick has one time on the desk.
        EXPECT_EQ(levelAt(side.edges, edge.time - (latches ? 1e-6 : 0.0)), 0) << "turned at " << edge.time << " s";
        ++turns;
    }
    return turns;
}

/// Stretches of one level: its share. @return those with pulses
inline int compareShares(const Side& side) {
    int pulsed = 0;
    const double period = side.planned.pwm ? 1.0 / si(side.planned.pwm->actual_frequency) : 0.0;
    for (int from = 1; from <= side.ticks;) {
        int to = from;
        const auto level = side.level(from);
        while (to + 1 <= side.ticks && side.level(to + 1) == level) ++to;
        const double begins = from * 1e-3 + side.late + 2.0 * period, ends = (to + 1) * 1e-3;
        if (ends - begins > 3.0 * period && ends - begins > 0.3e-3) {
            const double whole = period > 0.0 ? std::floor((ends - begins) / period) * period : ends - begins;
            const double high = share(side.edges, begins, begins + whole), expected = static_cast<double>(level) / side.output.top;
            EXPECT_NEAR(side.planned.inverted ? 1.0 - high : high, expected,
                        (level == 0 || level >= side.output.top) ? 1e-9 : 1.0 / side.output.top + 8e-9 / whole)
                << "from " << begins << " s on";
            if (level > 0 && level < side.output.top) ++pulsed;
        }
        from = to + 1;
    }
    return pulsed;
}

/// Where it is only on or off: the very edges. @return how many
inline int compareEdges(const Side& side) {
    const bool latches = side.output.latch > 0;
    std::vector<std::pair<double, bool>> expected, got;
    for (int t = latches ? 1 : 2; t <= side.ticks; ++t)
        if ((side.level(t) > 0) != (side.level(t - 1) > 0)) expected.emplace_back(t * 1e-3, side.level(t) > 0);
    for (const auto& edge : side.edges)
        if (edge.time > (latches ? 0.5e-3 : 1e-3)) got.emplace_back(edge.time, (edge.level == 1) != side.planned.inverted);
    EXPECT_EQ(got.size(), expected.size());
    const auto both = std::min(got.size(), expected.size());
    for (std::size_t k = 0; k < both; ++k) {
        EXPECT_NEAR(got[k].first, expected[k].first + side.late / 2, side.late / 2 + 1e-9);
        EXPECT_EQ(got[k].second, expected[k].second);
    }
    return static_cast<int>(both);
}

/// @return pulses
inline int compareServo(const Side& side) {
    int pulses = 0;
    // A pulse begins with what was asked for before its frame began.
    for (std::size_t k = 0; k + 1 < side.edges.size(); ++k) {
        if (side.edges[k].level != 1) continue;
        const double at = side.edges[k].time, width = (side.edges[k + 1].time - at) * 2e6;  // half µs
        const int t = static_cast<int>(at * 1e3);
        if (t >= side.ticks || side.edges[k + 1].time > side.seconds - 1e-3) break;
        const auto [least, most] = std::minmax_element(side.levels.begin() + std::max(0, t - 21), side.levels.begin() + t + 1);
        EXPECT_GE(width, *least - side.jitter) << "at " << at << " s";
        EXPECT_LE(width, *most + side.jitter) << "at " << at << " s";
        ++pulses;
    }
    // None while it sleeps, one every 20 ms while it is awake.
    for (int t = 1; t <= side.ticks; ++t) {
        int to = t;
        const bool awake = side.awake[static_cast<std::size_t>(t)];
        while (to + 1 <= side.ticks && side.awake[static_cast<std::size_t>(to + 1)] == awake) ++to;
        const auto seen = std::count_if(side.edges.begin(), side.edges.end(), [&](const Heard::Edge& edge) {
            return edge.level == 1 && edge.time >= t * 1e-3 + 21e-3 && edge.time < to * 1e-3;
        });
        if (!awake) EXPECT_EQ(seen, 0) << "it sleeps from " << t << " ms on";
        else if (to - t > 21) EXPECT_NEAR(static_cast<double>(seen), (to - t - 21) / 20.0, 1.0);
        t = to;
    }
    return pulses;
}

/// @return steps
inline int compareSteps(const Side& side, const std::vector<Heard::Edge>& turning) {
    int steps = 0;
    std::int32_t place = side.levels.front();
    std::size_t k = 0;
    for (int t = 1; t <= side.ticks; ++t) {
        for (; k < side.edges.size() && side.edges[k].time < t * 1e-3; ++k)
            if (side.edges[k].level == 1) place += levelAt(turning, side.edges[k].time) == 1 ? 1 : -1, ++steps;
        // The steps of a millisecond come in the next but one.
        const auto [least, most] = std::minmax_element(side.levels.begin() + std::max(0, t - 3), side.levels.begin() + t + 1);
        EXPECT_GE(place, *least - 1) << "at " << t << " ms";
        EXPECT_LE(place, *most + 1) << "at " << t << " ms";
        if (place < *least - 1 || place > *most + 1) break;
    }
    return steps;
}

}  // namespace agreeing

}  // namespace hinge::test
