#pragma once
#include "working/form.hpp"

namespace hinge::driver {

/// A low-side N-channel MOSFET switching a load from a controller's pin.
struct MosfetSwitch {
    Voltage drive_voltage{};  ///< at the gate
    Voltage threshold_max{};
    Resistance on_resistance{};            ///< at 25 °C
    Voltage on_resistance_gate_voltage{};  ///< lowest gate voltage at which that is guaranteed
    Current current{};
    Voltage supply{};
    Fraction duty = of<Fraction>(1.0);
    Frequency frequency{};
    Charge gate_charge{};
    Resistance gate_resistor = of<Resistance>(100.0);
    std::optional<Voltage> plateau;  ///< threshold_max unless given
    Ratio hot_factor = of<Ratio>(1.5);
    ThermalResistance theta_ja = of<ThermalResistance>(62.0);
    Temperature ambient = Temperature::celsius(25.0);
    Temperature junction_max = Temperature::celsius(150.0);
};
struct MosfetSwitchResult {
    Power conduction_loss{};
    std::optional<Duration> switching_time;
    std::optional<Power> switching_loss;
    Power dissipation{};
    Temperature junction_temperature{};
};
/// Breaks with `gate-not-enhanced` below the gate voltage of the guaranteed on-resistance, with
/// `driver-hot` above junction_max; tight within 25 K of it.
/// @source mosfet-loss
[[nodiscard]] Result<Worked<MosfetSwitchResult>> mosfetSwitch(const MosfetSwitch& in);
[[nodiscard]] FormPtr mosfetSwitchForm();

}  // namespace hinge::driver
