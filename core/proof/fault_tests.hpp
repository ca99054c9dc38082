#pragma once
#include "proof/fault_finder.hpp"

namespace hinge::proof {

/// Every test there is; a channel gets those that fit it.
[[nodiscard]] const std::vector<FaultTest>& faultTests();

}  // namespace hinge::proof
