#pragma once
#include "working/form.hpp"
#include <vector>

namespace hinge::plan {

/// Every working by its contract name, in the order of the stages.
[[nodiscard]] const std::vector<FormPtr>& allWorkings();
[[nodiscard]] FormPtr findWorking(std::string_view name);

}  // namespace hinge::plan
