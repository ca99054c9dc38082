#include "proof/proved.hpp"

namespace hinge::proof {

Proved proved(const project::Project& project, const project::Parts& parts, plan::Plan plan) {
    Proved out;
    out.steps = bringUp(project, parts, plan);
    out.bags = inspect(project, parts);
    out.fit = fitSheet(project, parts, plan);
    out.account = account(project, parts, plan);
    out.plan = withAccount(withFit(withInspection(withProof(std::move(plan), out.steps), project, out.bags), out.fit), out.account);
    return out;
}

}  // namespace hinge::proof
