#pragma once
// A plan with all that Prove and Log add to it: what the window shows and the terminal prints.
#include "proof/account.hpp"
#include "proof/bring_up.hpp"
#include "proof/fit_sheet.hpp"
#include "proof/inspection.hpp"

namespace hinge::proof {

struct Proved {
    plan::Plan plan;  ///< with the cells and findings of what follows
    std::vector<Step> steps;
    std::vector<Bag> bags;
    FitSheet fit;
    Account account;
};
/// @param plan  of evaluate()
[[nodiscard]] Proved proved(const project::Project& project, const project::Parts& parts, plan::Plan plan);

}  // namespace hinge::proof
