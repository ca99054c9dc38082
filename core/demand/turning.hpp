#pragma once
#include "working/form.hpp"

namespace hinge::demand {

/// A tyre that is turned about its kingpin while it stands.
struct SteerInPlace {
    Force wheel_load{};
    Ratio friction_coefficient = of<Ratio>(0.8);
    Length contact_width{};
    Length kingpin_offset{};
    Ratio factor = of<Ratio>(2.0);
};
struct SteerInPlaceResult {
    Torque torque{};
    Torque needed_torque{};
};
/// T = µ·W·√(b²/8 + e²). @source steering-torque
[[nodiscard]] Result<Worked<SteerInPlaceResult>> steerInPlace(const SteerInPlace& in);
[[nodiscard]] FormPtr steerInPlaceForm();

/// Turns of a crank, counted by hand, as steps of a motor.
struct CrankTurns {
    Ratio turns{};
    std::optional<Duration> turn_time;  ///< for all the turns
    Count steps_per_turn = of<Count>(200.0);
    Count microsteps = of<Count>(1.0);
};
struct CrankTurnsResult {
    Count steps{};
    std::optional<RotationSpeed> rotation_speed;
};
/// @source definition
[[nodiscard]] Result<Worked<CrankTurnsResult>> crankTurns(const CrankTurns& in);
[[nodiscard]] FormPtr crankTurnsForm();

/// A body that swings on a string or an arm.
struct Swing {
    Length length{};    ///< pivot to centre of mass
    Angle amplitude{};  ///< to one side, at most 90°
};
struct SwingResult {
    Duration period{};
};
/// Period 2π√(L/g)·(1 + θ²/16). @source pendulum
[[nodiscard]] Result<Worked<SwingResult>> swing(const Swing& in);
[[nodiscard]] FormPtr swingForm();

}  // namespace hinge::demand
