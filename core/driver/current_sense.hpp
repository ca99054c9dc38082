#pragma once
#include "working/form.hpp"

namespace hinge::driver {

/// A resistor that shows a current to an analogue input.
struct CurrentSense {
    Resistance resistance{};
    std::optional<Voltage> voltage;  ///< one of these
    std::optional<Current> current;
    std::optional<Voltage> worst_voltage;  ///< at stall
    std::optional<Power> rating;           ///< of the resistor
    Voltage adc_reference = of<Voltage>(5.0);
    Count adc_bits = of<Count>(10.0);
};
struct CurrentSenseResult {
    Voltage voltage{};
    Current current{};
    Power power{};                     ///< in normal running
    std::optional<Power> worst_power;  ///< at the worst voltage: in a fault
    Count counts{};
};
/// @source ohm, atmega328p-datasheet
[[nodiscard]] Result<Worked<CurrentSenseResult>> currentSense(const CurrentSense& in);
[[nodiscard]] FormPtr currentSenseForm();

/// What a chopper carrier has to be set to.
struct StepperCurrent {
    Current current{};  ///< peak
    Resistance sense_resistor{};
    Ratio reference_gain = of<Ratio>(8.0);
    std::optional<Temperature> measured_temperature;
    std::optional<Current> measured_current;  ///< peak, at that temperature
    Temperature ambient = Temperature::celsius(25.0);
};
struct StepperCurrentResult {
    Voltage reference_voltage{};
    Current rms_current{};
    std::optional<Temperature> predicted_temperature;
};
/// Vref = I·gain·Rs; the rise over the air goes with the square of the current.
/// @source chopper-reference
[[nodiscard]] Result<Worked<StepperCurrentResult>> stepperCurrent(const StepperCurrent& in);
[[nodiscard]] FormPtr stepperCurrentForm();

struct DriverPart;
/// The working that sets a chopper's peak current, with the carrier's own resistor and gain: the one home of its reference voltage.
/// @return nullopt where the resistor or the current is not known
[[nodiscard]] std::optional<Worked<StepperCurrentResult>> chopperReference(const DriverPart& carrier, const Current& peak);

/// Heat in an H-bridge while it drives.
struct HBridgeLoss {
    Current current{};
    std::optional<Voltage> drop;              ///< whole path, one of these
    std::optional<Resistance> on_resistance;  ///< high plus low side
    Voltage supply{};
    Fraction duty = of<Fraction>(1.0);
};
struct HBridgeLossResult {
    Power dissipation{};
    Voltage load_voltage{};  ///< while on
};
/// @source ohm
[[nodiscard]] Result<Worked<HBridgeLossResult>> hBridgeLoss(const HBridgeLoss& in);
[[nodiscard]] FormPtr hBridgeLossForm();

}  // namespace hinge::driver
