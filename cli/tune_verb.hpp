#pragma once
#include <string>
#include "plan/plan.hpp"

namespace hinge::cli {

/// `tune`: a loop on its model: response, margins, words; with a cost, gains found by search.
int tune(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const std::string& loop,
         const std::string& search, const std::string& csv, bool json);

}  // namespace hinge::cli
