#pragma once
#include "working/form.hpp"

namespace hinge::power {

struct LinearRegulator {
    Voltage v_in{};
    Voltage v_out{};
    Current current{};
    Voltage dropout = of<Voltage>(1.1);
    Current quiescent_current{};
    ThermalResistance theta_ja = of<ThermalResistance>(65.0);
    Temperature ambient = Temperature::celsius(25.0);
    Temperature junction_max = Temperature::celsius(125.0);
};
struct LinearRegulatorResult {
    std::optional<Power> dissipation;
    std::optional<Temperature> junction_temperature;
    std::optional<Current> largest_current;  ///< by heat
};
/// Below its drop-out it breaks (`regulator-dropout`) and the rest is null; above junction_max it
/// breaks (`regulator-hot`).
/// @source linear-regulator-heat
[[nodiscard]] Result<Worked<LinearRegulatorResult>> linearRegulator(const LinearRegulator& in);
[[nodiscard]] FormPtr linearRegulatorForm();

struct BuckConverter {
    Voltage v_in{};
    Voltage v_out{};
    Current current{};
    Fraction efficiency = of<Fraction>(0.88);
};
struct BuckConverterResult {
    std::optional<Current> input_current;
    std::optional<Power> loss;
};
/// @source derived: energy balance
[[nodiscard]] Result<Worked<BuckConverterResult>> buckConverter(const BuckConverter& in);
[[nodiscard]] FormPtr buckConverterForm();

}  // namespace hinge::power
