#pragma once
#include "driver/shown_current.hpp"
#include "plan/plan.hpp"

namespace hinge::plan {

/// V for each A at the output of a channel's driver that shows its current; nullopt: it has none, or is not chosen.
[[nodiscard]] std::optional<Resistance> shownScale(const project::Project& project, const project::Parts& parts, std::string_view channel);
/// The current at which a level that reads a driver's output speaks; nullopt: the driver shows none.
[[nodiscard]] std::optional<Current> shownLimit(const project::Project& project, const project::Parts& parts, const project::Input& input);
/// Every level that reads a driver's current: that the driver shows it, and that its level lies where it says something.
void judgeCurrents(const project::Project& project, const project::Parts& parts, Plan& plan);

}  // namespace hinge::plan
