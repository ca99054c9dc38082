#pragma once
#include "working/form.hpp"

namespace hinge::demand {

/// The force to push a load along, up a slope, and to accelerate it.
struct LinearLoad {
    Mass mass{};
    Angle incline{};  ///< ±90°, up is positive
    Ratio friction_coefficient{};
    Acceleration acceleration{};  ///< signed
    Force extra_force{};          ///< signed
    Speed speed{};
};
struct LinearLoadResult {
    Force force{};
    Power power{};
};
/// F = m·g·(sin β + µ·cos β) + m·a + extra; P = F·v. @source newton-rotation
[[nodiscard]] Result<Worked<LinearLoadResult>> linearLoad(const LinearLoad& in);
[[nodiscard]] FormPtr linearLoadForm();

/// A screw that turns rotation into that force.
struct ScrewDrive {
    Force force{};
    Length lead{};  ///< travel per turn
    Fraction efficiency = of<Fraction>(0.3);
    std::optional<Length> mean_diameter;
    Ratio friction_coefficient = of<Ratio>(0.15);
    Speed speed{};
};
struct ScrewDriveResult {
    Torque torque{};
    RotationSpeed rotation_speed{};
    std::optional<bool> self_locking;  ///< square thread; null without a diameter
};
/// T = F·l/(2π·η), ω = 2π·v/l; self-locking when µ > l/(π·d). @source power-screw
[[nodiscard]] Result<Worked<ScrewDriveResult>> screwDrive(const ScrewDrive& in);
[[nodiscard]] FormPtr screwDriveForm();

/// A toothed belt on a pulley.
struct BeltDrive {
    Force force{};
    Count pulley_teeth{};
    Length belt_pitch{};
    Speed speed{};
};
struct BeltDriveResult {
    Length travel_per_turn{};
    Torque torque{};
    RotationSpeed rotation_speed{};
};
/// Travel = teeth·pitch; T = F·travel/2π. @source derived: work of one turn
[[nodiscard]] Result<Worked<BeltDriveResult>> beltDrive(const BeltDrive& in);
[[nodiscard]] FormPtr beltDriveForm();

/// A body on driven wheels.
struct WheelDrive {
    Mass mass{};
    Length wheel_diameter{};
    Angle slope{};  ///< ±90°
    Ratio rolling_coefficient = of<Ratio>(0.02);
    Acceleration acceleration{};  ///< signed
    Count driven_wheels = of<Count>(2.0);
    Speed speed{};
};
struct WheelDriveResult {
    Force force{};
    Torque torque_per_wheel{};
    RotationSpeed rotation_speed{};
    Power power{};
};
/// F = m·(g·(sin s + c·cos s) + a); T = F·D/2/wheels. @source newton-rotation
[[nodiscard]] Result<Worked<WheelDriveResult>> wheelDrive(const WheelDrive& in);
[[nodiscard]] FormPtr wheelDriveForm();

}  // namespace hinge::demand
