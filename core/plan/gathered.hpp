#pragma once
#include "plan/plan.hpp"

namespace hinge::plan {

/// Findings of one rule, as bad, at one stage: the first speaks for all of them.
struct Gathered {
    std::vector<const PlanFinding*> all;  ///< at least one, of different channels
    [[nodiscard]] const PlanFinding& first() const { return *all.front(); }
};
/// What is to be told, the worst first, and what is alike gathered: stops, what is tight, notes; among equals what was found first.
[[nodiscard]] std::vector<Gathered> gathered(const std::vector<const PlanFinding*>& findings);
/// The names of the channels behind the first, for a sentence: "Curtain, Moon arm and Mist".
[[nodiscard]] std::string othersOf(const Gathered& gathered, const Plan& plan);

}  // namespace hinge::plan
