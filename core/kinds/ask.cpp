#include "kinds/ask.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "kinds/demand_kind.hpp"
#include "project/facts.hpp"
#include "quantity/text.hpp"

namespace hinge::kinds {
namespace {

using namespace project;

Ask plainAsk(const Demand& demand) {
    Ask result;
    demandKind(demand).ask(result, demand);
    return result;
}

}  // namespace

std::optional<double> decisive(const Ask& ask) {
    if (ask.torque) return si(*ask.torque);
    if (ask.force) return si(*ask.force);
    if (ask.head) return si(*ask.head);
    if (ask.flow) return si(*ask.flow);
    if (ask.power) return si(*ask.power);
    return std::nullopt;
}

Kind decisiveKind(const Demand& demand) {
    return demandKind(demand).decides(demand);
}

Ask ask(const Demand& demand, const std::vector<Spread>& spreads) {
    Ask result = plainAsk(demand);
    const auto figure = decisive(result);
    if (spreads.empty() || !figure || *figure == 0.0) return result;
    double squares = 0.0;
    Steps steps;
    for (const auto& spread : spreads) {
        double most = 0.0;
        for (const double sign : {-1.0, 1.0}) {
            const auto changed = scaled(demand, spread.id, 1.0 + sign * si(spread.of_value));
            const auto there = changed ? decisive(plainAsk(*changed)) : std::nullopt;
            if (there) most = std::max(most, std::abs(*there / *figure - 1.0));
        }
        squares += most * most;
        addStep(steps, "u", "from '" + spread.id + "', ± " + significant(100.0 * si(spread.of_value), 2) + " %",
                "the demand with that fact moved, over the demand", {}, of<Fraction>(most), "root-sum-square");
    }
    result.spread = std::sqrt(squares);
    addStep(steps, "U", "spread of the demand", "√(Σ u²)", {}, of<Fraction>(*result.spread), "root-sum-square");
    result.workings.push_back({"how well it is known", Stage::Need, "", std::move(steps), Verdict::Holds});
    return result;
}

}  // namespace hinge::kinds
