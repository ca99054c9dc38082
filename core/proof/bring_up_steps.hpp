#pragma once
#include "proof/bring_up.hpp"

namespace hinge::proof {

/// The hold points in their order, without what the project has recorded of them.
[[nodiscard]] std::vector<Step> holdPoints(const project::Project& project, const project::Parts& parts, const plan::Plan& plan);

}  // namespace hinge::proof
