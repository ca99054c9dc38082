#pragma once
// Whole small gadgets to begin with: they run as they are, and every figure of them is the maker's to change.
#include <span>
#include <string_view>
#include "project/project.hpp"

namespace hinge::project {

struct Starter {
    const char* id;     ///< "pump"
    const char* title;  ///< "A pump that gives a dose"
    const char* what;   ///< of what it is made, in a few words
};
[[nodiscard]] std::span<const Starter> starters();
/// With supply, part, driver, pins, a button and a cue. Unknown id: an empty gadget.
[[nodiscard]] Project started(std::string_view id);

}  // namespace hinge::project
