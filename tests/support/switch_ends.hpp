#pragma once
// A motor on a bridge, or half of one, that has an input for each of its switches.
#include <algorithm>
#include <tuple>
#include "support/two_inputs.hpp"

namespace hinge::test {

/// Of a whole bridge the first end is on timer 1, the other on timer 2, at a frequency that both give.
inline project::Project onSwitches(const char* driver,
                                   const std::vector<routine::Move>& moves = {moved("f", routine::Action::On, 0.0, false, 0.5)},
                                   const std::vector<project::FactEdit>& more = {}) {
    auto project = crank(moves, {{"channels/it/drive/part", driver},
                                 {"channels/it/pin", "D9"},
                                 {"channels/it/low_pin", "D10"},
                                 {"channels/it/direction_pin", ""},
                                 {"channels/it/signal/frequency", "3922 Hz"},
                                 {"channels/it/signal/soft_start", "0 s"}});
    if (std::string_view{driver}.starts_with("bridge"))
        project = edited(project, {{"channels/it/direction_pin", "D11"}, {"channels/it/back_low_pin", "D3"}});
    else project = edited(project, {{"channels/it/demand/both_ways", "no"}});
    return edited(project, more);
}

/// Times [s] at which a switch is told to close, or to open.
using SwitchEdges = std::vector<std::pair<double, bool>>;
/// The least time from one switch of an end opening to the other one closing [s]; below 0 where both were closed.
inline double leastDeadTime(const SwitchEdges& upper, const SwitchEdges& lower) {
    std::vector<std::tuple<double, int, bool>> all;
    for (const auto& [time, level] : upper) all.emplace_back(time, 0, level);
    for (const auto& [time, level] : lower) all.emplace_back(time, 1, level);
    std::sort(all.begin(), all.end());
    bool closed[2] = {false, false};
    double opened[2] = {-1.0, -1.0}, least = 1.0;
    for (const auto& [time, which, level] : all) {
        if (closed[which] == level) continue;
        closed[which] = level;
        if (!level) opened[which] = time;
        else if (closed[1 - which]) least = -1.0;
        else if (opened[1 - which] >= 0.0) least = std::min(least, time - opened[1 - which]);
    }
    return least;
}

/// Drives, brakes, drives, coasts, and the other way round; each 40 ms.
inline std::vector<routine::Move> allThatABridgeDoes() {
    using routine::Action;
    const auto wait = [](const char* id) { return moved(id, Action::Wait, 0.04); };
    return {moved("f", Action::On, 0.0, false, 0.5),  wait("w1"), moved("b1", Action::Brake), wait("w2"),
            moved("f2", Action::On, 0.0, false, 0.5), wait("w3"), moved("o", Action::Off),    wait("w4"),
            moved("r", Action::On, 0.0, true, 0.5),   wait("w5"), moved("b2", Action::Brake), wait("w6")};
}

}  // namespace hinge::test
