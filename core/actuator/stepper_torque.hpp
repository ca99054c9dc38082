#pragma once
#include "working/form.hpp"

namespace hinge::actuator {

/// A two-phase stepper behind a chopper, limited by its supply's voltage.
struct StepperTorque {
    Torque holding_torque{};
    Current rated_current{};  ///< per phase, rms of both on
    Resistance phase_resistance{};
    Inductance phase_inductance{};
    Count steps_per_turn = of<Count>(200.0);
    Voltage supply_voltage{};
    Current drive_current{};  ///< peak of the sine
    RotationSpeed speed{};
    Torque load_torque{};
};
struct StepperTorqueResult {
    Current current{};  ///< peak that flows at this speed
    Torque torque{};
    RotationSpeed corner_speed{};  ///< up to which the drive current is reached
    std::optional<Ratio> load_fraction;
};
/// Kt = Th/(√2·Ir); V² = (R·I + Kt·ω)² + (ωe·L·I)² with ωe = ω·steps/4. To half of the torque at
/// this speed holds, to 0.8 tight, beyond breaks.
/// @source stepper-voltage-limit
[[nodiscard]] Result<Worked<StepperTorqueResult>> stepperTorque(const StepperTorque& in);
[[nodiscard]] FormPtr stepperTorqueForm();

}  // namespace hinge::actuator
