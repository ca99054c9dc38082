#pragma once
// Edits as a maker makes them, by dice: any fact that a project has, to another value that it accepts.
#include <fmt/format.h>
#include <cmath>
#include <random>
#include "driver/register_map.hpp"
#include "plan/plan.hpp"
#include "project/facts.hpp"
#include "quantity/text.hpp"

namespace hinge::test {

/// A value that this fact might be given instead; empty: forgotten.
inline std::string otherValue(const project::Project& project, const project::Parts& parts, const project::Fact& fact, std::mt19937& dice) {
    const auto any = [&](const auto& list) -> decltype(auto) { return list[dice() % list.size()]; };
    const auto leaf = fact.path.substr(fact.path.rfind('/') + 1);
    if (fact.type == project::FactType::Flag) return fact.exact == "yes" ? "no" : "yes";
    if (!fact.choices.empty()) return any(fact.choices).first;
    if (fact.type == project::FactType::Quantity) {
        if (dice() % 12 == 0) return "";
        const auto now = fact.known ? parseQuantity(fact.kind, fact.exact) : Result<double>(1.0);
        const double factor = std::exp2((static_cast<double>(dice() % 1001) - 500.0) / 250.0);  // a quarter to four times
        return exactText(fact.kind, (now ? *now : 1.0) * factor);
    }
    if (leaf == "actuator" && !parts.actuators.empty()) return actuator::head(any(parts.actuators)).id;
    if (leaf == "part" && !parts.drivers.empty()) return any(parts.drivers).id;
    if (leaf == "rail" && !project.rails.empty()) return any(project.rails).id;
    if (leaf == "expander") return dice() % 3 == 0 ? std::string{} : any(driver::registerMaps()).id;
    if (leaf == "pin" && dice() % 6 == 0) return fmt::format("X{}", dice() % 18);
    if (leaf == "pin" || leaf.ends_with("_pin")) {
        const auto& pins = board::family(project.board.form).pins;
        return dice() % 8 == 0 ? std::string{} : std::string{any(pins).name};
    }
    return fact.exact;
}
/// The project after so many of them; what is refused is passed over.
inline project::Project editedByDice(project::Project project, const project::Parts& parts, std::mt19937& dice, int edits) {
    for (int tried = 0; edits > 0 && tried < 10 * edits + 20; ++tried) {
        const auto facts = project::facts(project);
        const auto& fact = facts[dice() % facts.size()];
        auto changed = project::with(project, project::FactEdit{fact.path, otherValue(project, parts, fact, dice)});
        if (!changed || *changed == project) continue;
        project = std::move(*changed);
        --edits;
    }
    return project;
}

}  // namespace hinge::test
