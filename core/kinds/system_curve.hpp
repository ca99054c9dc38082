#pragma once
// Water: what lift and tube ask of a pump at each flow, and where a pump's curve meets it.
#include "demand/pump_head.hpp"
#include "kinds/ask.hpp"

namespace hinge::kinds {

/// The inputs of pumpHead at a flow [m³/s]; nullopt when a figure is missing.
[[nodiscard]] std::optional<demand::PumpHead> headInputs(const project::PumpDemand& demand, double flow);
/// Head that lift and tube ask at a flow [m³/s] → [m]; nullopt when a figure is missing.
[[nodiscard]] std::optional<double> systemHead(const project::PumpDemand& demand, double flow);
/// Head on a curve at a flow [m³/s] → [m], linear between its points.
[[nodiscard]] double headOnCurve(const HeadCurve& curve, double flow);
/// The pump's own curve at a share of its speed: affinity for centrifugal pumps, flow only for the others.
[[nodiscard]] HeadCurve curveAt(const actuator::Pump& pump, double speed_fraction);
/// Where that curve meets lift and tube [m³/s]; nullopt when it does not within the curve.
[[nodiscard]] std::optional<double> crossing(const project::PumpDemand& demand, const HeadCurve& curve);
/// The lift [m] at which pump and tube would meet at that flow [m³/s]; nullopt off the curve.
[[nodiscard]] std::optional<double> liftAt(const project::PumpDemand& demand, const HeadCurve& curve, double flow);

/// How much flow [m³/s] and head [m] a chart of these curves should show.
struct ChartWindow {
    double flow = 0.0;
    double head = 0.0;
};
/// @param own  the chosen pump's curve; empty without one
[[nodiscard]] ChartWindow chartWindow(const project::PumpDemand& demand, const Ask& ask, const HeadCurve& own);

}  // namespace hinge::kinds
