#pragma once
#include "plan/difference.hpp"
#include "proof/bring_up.hpp"
#include "simulation/simulate.hpp"
#include "simulation/supply_day.hpp"
#include "store/json.hpp"
#include "working/form.hpp"

namespace hinge::cli {

using store::Json;

// The JSON of the verbs; docs/schemas/ fixes its shape.
[[nodiscard]] Json toJson(const Answer& answer);
[[nodiscard]] Json toJson(const plan::Plan& plan);
[[nodiscard]] Json toJson(const std::vector<match::Pairing>& candidates, const std::vector<match::Pairing>& drivers,
                          const std::string& channel);
[[nodiscard]] Json toJson(const std::vector<plan::Change>& changes);
[[nodiscard]] Json toJson(const simulation::Traces& traces, const simulation::SupplyDay* supply, const routine::Program& program);
[[nodiscard]] Json toJson(const std::vector<routine::InterlockProof>& proofs);

}  // namespace hinge::cli
