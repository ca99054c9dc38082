#pragma once
// What a part can do over its whole range, for drawing beside what is asked.
#include "match/judge.hpp"

namespace hinge::match {

/// Speed [rad/s] over torque [N·m] at the load's shaft, from no load to stall; empty where a figure is
/// missing or the part has no shaft. x is the torque, y the speed.
[[nodiscard]] std::vector<StrokePoint> abilityCurve(const Context& context, const actuator::Part& part, const driver::DriverPart& driver,
                                                    const RailOption& rail);
/// Pressure [Pa] over flow [m³/s] of a fan at the speed it reaches here; empty for anything else.
[[nodiscard]] std::vector<StrokePoint> fanCurveHere(const Context& context, const actuator::Part& part, const driver::DriverPart& driver,
                                                    const RailOption& rail);
/// Degrees above the air [K] after a time [s] of warming with a power [W], by the first-order law
/// m·c·dT/dt = P − G·T. @source calorimetry-first-order
[[nodiscard]] double warmedBy(const project::HeatDemand& demand, double power, double time);

}  // namespace hinge::match
