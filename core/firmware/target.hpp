#pragma once
#include <string>
#include <vector>
#include "board/family.hpp"
#include "routine/program.hpp"

namespace hinge::firmware {

using board::Target;
/// What was done with a sketch for that target: compiled, run, or only emitted.
[[nodiscard]] const char* standingOf(Target target);

/// What reaches a gadget only over the link, on a board whose sketch has none.
struct Unheard {
    std::string id, name, why;  ///< id: of the input or cue; empty: of the link itself
};
[[nodiscard]] std::vector<Unheard> unheard(const board::Family& family, const routine::Program& program);

}  // namespace hinge::firmware
