#pragma once
#include <vector>
#include "working/form.hpp"

namespace hinge::plan {

/// Every working by its contract name, in the order of the stages.
[[nodiscard]] const std::vector<FormPtr>& allWorkings();
[[nodiscard]] FormPtr findWorking(std::string_view name);

}  // namespace hinge::plan
