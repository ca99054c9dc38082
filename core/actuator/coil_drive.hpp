#pragma once
#include "working/form.hpp"

namespace hinge::actuator {

/// A relay's or valve's coil on a supply, warm.
struct CoilDrive {
    Voltage coil_voltage{};
    Resistance coil_resistance{};  ///< at 20 °C
    Voltage supply{};
    Voltage driver_drop{};
    Temperature coil_temperature = Temperature::celsius(20.0);
    Fraction operate_fraction = of<Fraction>(0.75);
    Fraction hold_fraction = of<Fraction>(1.0);  ///< of the voltage
};
struct CoilDriveResult {
    Current current{};
    Power power{};
    Ratio operate_margin{};
    Power hold_power{};
    Resistance hot_resistance{};
};
/// Below its operate current it breaks (`coil-wont-pull`), within 10 % of it it is tight.
/// A driver that takes the whole supply leaves no current, and so breaks.
/// @source iec-60028 for copper's temperature coefficient
[[nodiscard]] Result<Worked<CoilDriveResult>> coilDrive(const CoilDrive& in);
[[nodiscard]] FormPtr coilDriveForm();

}  // namespace hinge::actuator
