#pragma once
#include <string>
#include "board/family.hpp"
#include "firmware/target.hpp"

namespace hinge::firmware {

// Statements that set, read and open a pin: what means the same in every core of the sketch API for that chip.

/// A pin set by its own bit where one instruction does it (ports up to G of an AVR), so that no interrupt comes between.
/// @param name  what the sketch calls it
[[nodiscard]] std::string setPin(const board::Pin& pin, Target target, const std::string& name, bool high);
/// Whether it is at that level.
[[nodiscard]] std::string readPin(const board::Pin& pin, Target target, const std::string& name, bool high);
/// Makes it an output that is at that level from its first moment on.
[[nodiscard]] std::string openPin(Target target, const std::string& name, bool high);

/// Statements, by the C++ variable `high`: lets go of a line that is pulled up, or pulls it down; its own level was made low before.
[[nodiscard]] std::string pullPin(const board::Pin& pin, Target target, const std::string& name);

}  // namespace hinge::firmware
