#pragma once
#include "firmware/sketch.hpp"
#include "plan/driven.hpp"
#include "plan/plan.hpp"
#include "plant/pump_plant.hpp"

namespace hinge::plan {

/// The sketch of a plan, with the plan's mark in it.
/// @param idle  lines of channels that were left out on purpose: they are held where these do nothing
/// @error Missing    the routine is not complete, or a channel or input has no pin
/// @error NotDriven  a channel that the sketch cannot command as it is planned
[[nodiscard]] Result<firmware::Sketch> sketchOf(const project::Project& project, const Plan& plan, const std::vector<IdleLine>& idle = {});

/// The channels that cues can drive, in the order of the project: the outputs of program, sketch and
/// plants are in this order.
[[nodiscard]] std::vector<const project::Channel*> drivenChannels(const project::Project& project, const Plan& plan);
/// The output of a channel in that order; −1: it has none.
[[nodiscard]] int outputOf(const project::Project& project, const Plan& plan, std::string_view channel);

/// The plant that stands in for each of them.
/// @error Missing  a channel's part or demand is not settled
/// The machine that stands in for one channel. @param pours  with the flow of a pump at each speed: only needed where water counts
[[nodiscard]] Result<plant::PumpFigures> plantOf(const project::Parts& parts, const Plan& plan, const project::Channel& channel,
                                                 bool pours = true);
[[nodiscard]] Result<std::vector<plant::PumpFigures>> plantsOf(const project::Project& project, const project::Parts& parts,
                                                               const Plan& plan);

/// One line of the parts list.
struct PartLine {
    int count = 1;
    std::string name;
    std::optional<Ratio> price;  ///< each
    std::string id = {};         ///< of a part of the catalogue; empty: a thing without figures
};
[[nodiscard]] std::vector<PartLine> partsList(const project::Project& project, const project::Parts& parts, const Plan& plan);

}  // namespace hinge::plan
