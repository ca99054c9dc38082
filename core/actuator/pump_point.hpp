#pragma once
#include "working/form.hpp"

namespace hinge::actuator {

/// Where a pump's curve meets what the lift and the tube ask.
struct PumpPoint {
    HeadCurve curve;                              ///< head [m] over flow [m³/s] at full speed
    Fraction speed_fraction = of<Fraction>(1.0);  ///< up to 1.5
    Length static_head{};                         ///< may be negative
    HeadPerFlowSquared system_k{};                ///< 0 allowed
};
struct PumpPointResult {
    std::optional<VolumeFlow> flow;
    std::optional<Length> head;
};
/// Affinity laws scale the curve (Q ∝ n, H ∝ n²); linear between its points.
/// n²·H(0) at or below the static head breaks with `pump-cannot-lift`; a crossing beyond the
/// curve's end is unknown.
/// @source affinity-laws
[[nodiscard]] Result<Worked<PumpPointResult>> pumpPoint(const PumpPoint& in);
[[nodiscard]] FormPtr pumpPointForm();

}  // namespace hinge::actuator
