#pragma once
#include "working/form.hpp"

namespace hinge::actuator {

/// A brushed DC motor from the four figures of its data sheet, at any voltage and load.
struct DcMotor {
    Voltage voltage{};          ///< across the motor now
    Voltage nominal_voltage{};  ///< at which the four figures hold
    RotationSpeed no_load_speed{};
    Current no_load_current{};          ///< 0 allowed
    Current stall_current{};            ///< above no_load_current
    Torque stall_torque{};              ///< of the bare motor
    Torque load_torque{};               ///< at the output shaft, bare (no margin)
    Ratio gear_ratio = of<Ratio>(1.0);  ///< above 1 slows
    Fraction gear_efficiency = of<Fraction>(1.0);
};
struct DcMotorResult {
    Current current{};
    RotationSpeed speed{};  ///< of the output shaft
    Power mechanical_power{};
    Power electrical_power{};
    Fraction efficiency{};
    Current stall_current{};  ///< at this voltage
    Torque stall_torque{};    ///< at the output shaft, at this voltage
    Resistance resistance{};
    TorquePerCurrent torque_constant{};
};
/// Linear motor: V = I·R + Ke·ω, T = Kt·(I − I0). Breaks with `too-weak` when it cannot turn.
/// @error OutOfRange  stall_current is not above no_load_current
/// @source dc-motor-linear
[[nodiscard]] Result<Worked<DcMotorResult>> dcMotor(const DcMotor& in);
[[nodiscard]] FormPtr dcMotorForm();

}  // namespace hinge::actuator
