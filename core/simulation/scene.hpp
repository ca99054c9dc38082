#pragma once
// The scene that is played where nobody pressed anything, and what its pins do as a file.
#include "simulation/supply_day.hpp"

namespace hinge::simulation {

/// Every cue once, as a person would have it: each contact is pressed once, a second apart, and all its cues answer; what no contact starts
/// is started over the link, what follows another comes by itself. What looks for its start finds it, and the next begins after that.
[[nodiscard]] std::vector<Event> everyCueOnce(const routine::Program& program);
/// What every output does, as VCD: on or off, and its share of full power or of its way; what is drawn from the source
/// too, where it is known. Times in µs.
/// @param supply  nullptr: not known
/// @source ieee-1364
[[nodiscard]] std::string sceneVcd(const Traces& traces, const SupplyDay* supply, const routine::Program& program);

}  // namespace hinge::simulation
