#pragma once
#include "working/form.hpp"

namespace hinge::demand {

/// A mass on an arm, turned through an angle in a time.
struct LeverLoad {
    Mass mass{};
    Length arm{};                    ///< pivot to centre of mass
    Angle angle{};                   ///< from horizontal, the worst of the stroke, ±90°
    std::optional<Inertia> inertia;  ///< total about the pivot; absent: mass·arm²
    Angle move_angle{};
    Duration move_time{};
    Torque friction{};
    Ratio factor = of<Ratio>(2.0);
};
struct LeverLoadResult {
    Torque gravity_torque{};
    Torque accel_torque{};
    RotationSpeed peak_speed{};
    Torque peak_torque{};
    Torque needed_torque{};
};
/// Gravity m·g·r·cos θ, acceleration J·4·θ/t² (triangular speed profile), friction; they add.
/// @error OutOfRange  mass 0 without an inertia
/// @source newton-rotation
[[nodiscard]] Result<Worked<LeverLoadResult>> leverLoad(const LeverLoad& in);
[[nodiscard]] FormPtr leverLoadForm();

}  // namespace hinge::demand
