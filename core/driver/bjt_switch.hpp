#pragma once
#include "quantity/series.hpp"
#include "working/form.hpp"

namespace hinge::driver {

/// A saturated NPN or Darlington switch and its base resistor.
struct BjtSwitch {
    Current current{};
    Ratio gain_min{};
    Ratio overdrive = of<Ratio>(2.0);
    Voltage drive_voltage{};
    Voltage base_voltage = of<Voltage>(0.8);
    Voltage saturation_voltage = of<Voltage>(0.3);
    Voltage supply{};
    Current pin_current_max = of<Current>(0.020);
    Series series = Series::E24;
    std::optional<Resistance> fitted;  ///< base resistor that is there; absent: the one proposed
};
struct BjtSwitchResult {
    Current base_current{};  ///< required
    Resistance base_resistor_exact{};
    Resistance base_resistor{};  ///< next lower of the series
    Current pin_current{};       ///< with that resistor
    Power dissipation{};
    Voltage load_voltage{};
};
/// @error OutOfRange  drive_voltage is not above base_voltage
/// @source bjt-saturation, iec-60063
[[nodiscard]] Result<Worked<BjtSwitchResult>> bjtSwitch(const BjtSwitch& in);
[[nodiscard]] FormPtr bjtSwitchForm();

}  // namespace hinge::driver
