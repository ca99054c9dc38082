#pragma once
#include "plan/plan.hpp"

namespace hinge::plan {

/// Compiles the routine with the plan's numbers and judges it; adds Routine's findings and the
/// hazards that follow from the choices.
void evaluateBehaviour(const project::Project& project, const Evidence& evidence, Plan& plan);

/// True when something is coupled that moves: hands off, and its supply off, while a program is written.
[[nodiscard]] bool moves(const project::Project& project);

/// What an output does in the five situations that a maker has to decide, in a few words each.
struct FiveStates {
    std::string channel, name;
    std::string power_up;  ///< and after a reset
    std::string on_stop;   ///< and on a fault of its cue
    std::string link_lost;
    std::string without_power;
    std::string power_back;
    bool may_remember = false;  ///< power_back can be chosen
};
[[nodiscard]] std::vector<FiveStates> fiveStates(const project::Project& project, const Plan& plan);

}  // namespace hinge::plan
