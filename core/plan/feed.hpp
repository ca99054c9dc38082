#pragma once
#include <string>
#include "plan/plan.hpp"

namespace hinge::plan {

/// Volts of a rail without load: its converter's, or what feeds it. nullopt: not known, or a loop.
[[nodiscard]] std::optional<Voltage> railVoltage(const project::Project& project, std::string_view rail);
/// The wire of a rail, there and back. @source iec-60028
[[nodiscard]] Resistance railWire(const power::Rail& rail);
/// True when its load hangs on the mains, not on a rail.
[[nodiscard]] bool onMains(const project::Channel& channel);
/// True when following `from` leads back to the rail itself.
[[nodiscard]] bool feedsItself(const project::Project& project, std::string_view rail);

/// Fills rails, headline currents, and the findings and workings of Feed.
void evaluateFeed(const project::Project& project, Plan& plan);

}  // namespace hinge::plan
