#pragma once
#include "working/form.hpp"

namespace hinge::actuator {

/// A fan's curve against what the box, filter or duct asks.
struct FanPoint {
    PressureCurve curve;                          ///< at full speed
    Fraction speed_fraction = of<Fraction>(1.0);  ///< up to 1.5
    PressurePerFlowSquared system_k{};
};
struct FanPointResult {
    std::optional<VolumeFlow> flow;  ///< null when the curves do not cross
    std::optional<Pressure> pressure;
    std::optional<Power> air_power;
};
/// Affinity: Q ∝ n, P ∝ n²; the curve is linear between its points. @source affinity-laws
[[nodiscard]] Result<Worked<FanPointResult>> fanPoint(const FanPoint& in);
[[nodiscard]] FormPtr fanPointForm();

}  // namespace hinge::actuator
