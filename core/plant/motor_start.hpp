#pragma once
// A brushed motor run up from rest on a supply with wire and capacitor.
#include <vector>
#include "quantity/result.hpp"

namespace hinge::plant {

/// Plain SI.
struct MotorStart {
    double supply = 12.0;      ///< V without load
    double resistance = 0.2;   ///< Ω from there to the motor, there and back
    double capacitance = 0.0;  ///< F beside the motor; 0: none
    double esr = 0.05;         ///< Ω of it
    double winding = 1.0;      ///< Ω, driver included
    double inductance = 1e-3;  ///< H
    double constant = 0.02;    ///< V·s/rad and N·m/A
    double inertia = 1e-5;     ///< kg·m², all that turns, seen at the rotor
    double load_torque = 0.0;  ///< N·m against the motion, held still below it
    double length = 1.0;       ///< s that are looked at
};
struct MotorInstant {
    double time = 0.0, volts = 0.0, motor_current = 0.0, supply_current = 0.0, speed = 0.0;  ///< rad/s
};
struct MotorStartResult {
    MotorInstant lowest;  ///< when the volts at the motor are least
    MotorInstant peak;    ///< when the motor's current is largest
    MotorInstant end;
    double run_up = -1.0;  ///< s to 95 % of its settled speed; below 0: not within the length
    std::vector<MotorInstant> samples;
};
/// Linear while it stands and while it turns: each stretch by its matrix exponential, exact at every sample.
/// @param samples  how many, evenly spaced
/// @error OutOfRange  a figure that is no number or has no meaning
/// @source derived: Kirchhoff's laws with v = Ri + Li' + kω, Jω' = ki − T
[[nodiscard]] Result<MotorStartResult> motorStart(const MotorStart& in, int samples = 1000);

}  // namespace hinge::plant
