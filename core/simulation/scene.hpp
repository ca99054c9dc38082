#pragma once
// The scene that is played where nobody pressed anything, and what its pins do as a file.
#include "simulation/simulate.hpp"

namespace hinge::simulation {

/// Every cue once, a second apart, each started over the link.
[[nodiscard]] std::vector<Event> everyCueOnce(const routine::Program& program);
/// What every output does, as VCD: on or off, and its share of full power or of its way; the source's current too. Times in µs.
/// @source ieee-1364
[[nodiscard]] std::string sceneVcd(const Traces& traces, const routine::Program& program);

}  // namespace hinge::simulation
