#pragma once
#include <string>
#include <vector>
#include "plan/plan.hpp"

namespace hinge::cli {

/// `find-fault`: the likeliest causes after what was seen, and the test that tells most. @param seen  "symptom=hums", "by_hand=free"
int findFault(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const std::string& channel,
              const std::vector<std::string>& seen, bool json);

}  // namespace hinge::cli
