#pragma once
// What a change of the project does everywhere, before it is decided.
#include "plan/firmware_model.hpp"

namespace hinge::plan {

/// One thing that is not as before. `before` or `after` is empty where it comes or goes.
struct Change {
    Stage stage = Stage::Match;
    std::string channel;  ///< id; empty: the whole gadget
    std::string what;     ///< "current on the adapter, all starting"
    std::string before;
    std::string after;
    Verdict verdict_after = Verdict::Holds;
};

/// Everything that differs between two plans: figures of every cell, findings that come and go, the
/// part's own figures (what a swap changes without saying so), wires, money, and lines of the sketch.
[[nodiscard]] std::vector<Change> difference(const project::Project& before, const project::Project& after, const project::Parts& parts);
/// The same of plans that are there already, both made without evidence.
[[nodiscard]] std::vector<Change> difference(const project::Project& before, const Plan& old_plan, const project::Project& after,
                                             const Plan& new_plan, const project::Parts& parts);

}  // namespace hinge::plan
