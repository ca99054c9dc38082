#pragma once
// Routines that are made, not invented by hand: for proofs and their speed. Shared by tests and benchmarks.
#include <string>
#include "routine/compile.hpp"

namespace hinge::test {

struct Generated {
    routine::Routine routine;
    std::vector<routine::ChannelNumbers> channels;
    std::vector<routine::InputNumbers> inputs;
    [[nodiscard]] Result<routine::Program> program() const { return routine::compile(routine, channels, inputs); }
};

/// Twelve channels and forty cues. `together` of the cues move the first channel, each with waits of its own, so that so many timers
/// may run at once; the others move the remaining channels in turn. Each of the first ten has an input with which it must never
/// be on, and a guard against it in every cue; the last two run on for a while. Neighbours are kept apart by a selector.
inline Generated generated(int together) {
    using namespace routine;
    Generated made;
    constexpr int channels = 12, cues = 40;
    for (int c = 0; c < channels; ++c) {
        const std::string n = std::to_string(c);
        made.channels.push_back({"out" + n, "Out " + n, std::nullopt, of<Duration>(1.0), of<Fraction>(1.0), Duration{},
                                 of<Duration>(c >= 10 ? 0.5 * c : 0.0), 255});
        made.inputs.push_back({"dry" + n, "dry " + n, false, of<Duration>(0.02)});
    }
    made.inputs.push_back({"by_hand", "by hand", false, of<Duration>(0.02)});
    for (int k = 0; k < cues; ++k) {
        const int c = k < together ? 0 : 1 + (k - together) % (channels - 1);
        const std::string out = "out" + std::to_string(c), n = std::to_string(k);
        Cue cue{"cue" + n, "Cue " + n, "", "", {{"dry", "dry" + std::to_string(c), true}}, {}};
        if (c > 0) cue.guards.push_back({"mode", "by_hand", true, c % 2 == 0});
        cue.every = of<Duration>(60.0 + k);
        cue.moves.push_back({"run", Action::Run, out, of<Duration>(1.0 + 0.37 * k)});
        if (k % 3 != 0) {
            cue.moves.push_back({"rest", Action::Wait, "", of<Duration>(0.5 + 0.11 * k)});
            cue.moves.push_back({"more", Action::Run, out, of<Duration>(0.7 + 0.13 * k)});
        }
        made.routine.cues.push_back(std::move(cue));
    }
    for (int c = 0; c < 10; ++c)
        made.routine.interlocks.push_back({"never_dry" + std::to_string(c), "out" + std::to_string(c), "dry" + std::to_string(c), {}});
    return made;
}

/// Three machines with their gates and one collector. Each machine's cue opens its gate, waits, starts the collector, and after
/// its work lets go of both; the gate's off-delay is longer than the collector's. Never: the collector on with every gate
/// shut, and the saw with the lid open. A heater follows a level, unless the lid is open. Times are short, so that every tick can be
/// counted.
inline Generated workshop(int scale = 1) {
    using namespace routine;
    Generated made;
    const auto ticks = [&](int n) { return of<Duration>(n * scale / 1000.0); };
    made.channels.push_back({"collector", "Collector", std::nullopt, of<Duration>(1.0), of<Fraction>(1.0), Duration{}, ticks(2), 255});
    made.channels.push_back({"gate", "Gate", std::nullopt, of<Duration>(1.0), of<Fraction>(1.0), Duration{}, ticks(4), 255});
    made.channels.push_back({"heater", "Heater", std::nullopt, of<Duration>(1.0), of<Fraction>(1.0), Duration{}, Duration{}, 255});
    made.channels.push_back({"saw", "Saw", std::nullopt, of<Duration>(1.0), of<Fraction>(1.0), Duration{}, Duration{}, 255});
    made.inputs.push_back({"work", "work", false, of<Duration>(0.001)});
    made.inputs.push_back({"lid", "lid open", false, of<Duration>(0.001)});
    made.inputs.push_back({"cold", "cold", false, of<Duration>(0.001)});
    Cue cue{"works", "works", "work", "", {{"lid", "lid", true}}, {}};
    cue.moves = {{"open", Action::On, "gate"},
                 {"wait", Action::Wait, "", ticks(2)},
                 {"suck", Action::On, "collector"},
                 {"cut", Action::On, "saw"},
                 {"working", Action::Wait, "", ticks(5)},
                 {"rest", Action::Off, "saw"},
                 {"end", Action::Off, "collector"},
                 {"shut", Action::Off, "gate"}};
    made.routine.cues.push_back(cue);
    made.routine.interlocks.push_back({"never_shut", "collector", "", {{"gate_off", "gate", TermState::Off, std::nullopt, std::nullopt}}});
    made.routine.interlocks.push_back({"never_open", "saw", "lid", {}});
    made.routine.interlocks.push_back({"never_hot", "heater", "lid", {}});
    made.routine.followers.push_back({"warms", "heater", "cold", false, false, of<Fraction>(0.02), Fraction{}, "lid"});
    return made;
}

}  // namespace hinge::test
