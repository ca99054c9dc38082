#pragma once
#include "plant/motor_start.hpp"

namespace hinge::test {

/// A motor at the end of a long wire, with a capacitor beside it.
inline const plant::MotorStart longWire{.supply = 12.0,
                                        .resistance = 0.9,
                                        .capacitance = 2200e-6,
                                        .esr = 0.05,
                                        .winding = 1.6,
                                        .inductance = 0.6e-3,
                                        .constant = 0.015,
                                        .inertia = 6e-6,
                                        .load_torque = 0.0,
                                        .length = 0.3};

}  // namespace hinge::test
