#pragma once
// What draws from a rail all the time, whatever the routine does: the board, and what else the maker hangs on it.
#include "project/project.hpp"

namespace hinge::plan {

/// "display", "radio": as the rail's fact lists them; none, where it lists nothing.
[[nodiscard]] std::vector<std::string> standingNames(const power::Rail& rail);
/// Whether something hangs on it whose current nobody has said.
[[nodiscard]] bool standsUnknown(const power::Rail& rail);
/// Of the board, where it feeds from that rail, and of what else hangs there [A]; what is not known counts as nothing.
[[nodiscard]] double standingCurrent(const project::Project& project, const power::Rail& rail);

}  // namespace hinge::plan
