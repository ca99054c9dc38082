#pragma once
#include "plant/stand_in.hpp"
#include "simulation/supply_day.hpp"

namespace hinge::simulation {

/// What the outputs of a gadget did, read from the edges at its pins: on, with its share of PWM; moving while steps or changing pulses
/// come; holding while a driver is enabled or a servo's pulses stay the same.
/// @param edges    of the outputs, in time; a level is the load's, whatever the pin's
/// @param enables  of drivers with a line of their own: `output`, and level 1 while it is enabled
/// @param length   s
[[nodiscard]] std::vector<plan::DriveChange> drivesSeen(const routine::Program& program, const std::vector<plant::Edge>& edges,
                                                        const std::vector<plant::Edge>& enables, double length);
/// The rails under what was seen at the pins.
[[nodiscard]] SupplyDay supplySeen(const routine::Program& program, const plan::SupplyTree& tree, const std::vector<plant::Edge>& edges,
                                   const std::vector<plant::Edge>& enables, double length);

}  // namespace hinge::simulation
