#pragma once
#include "working/form.hpp"

namespace hinge::power {

/// A transformer's voltage, rectified both ways and smoothed.
struct Rectifier {
    Voltage ac_voltage{};  ///< rms
    Frequency frequency{};
    Voltage diode_drop = of<Voltage>(0.7);
    Count diodes_in_path = of<Count>(2.0);
    Ratio no_load_factor = of<Ratio>(1.0);  ///< of an unloaded transformer
    Current current{};
    Capacitance capacitance{};
};
struct RectifierResult {
    Voltage peak_voltage{};
    Voltage ripple{};
    Voltage valley{};  ///< what is left just before the next half wave takes over
    std::optional<Voltage> smallest_capacitor_rating;
};
/// Volts after the diodes at the top of a half wave; not above zero where they keep it all.
[[nodiscard]] Voltage rectifiedPeak(Voltage ac, Ratio no_load_factor, Count diodes = of<Count>(2.0), Voltage drop = of<Voltage>(0.7));
/// Full wave: Vp = √2·V·factor − n·drop; ripple = I/(2·f·C), on the safe side; valley: the line I·t/C from where the sine falls
/// faster, to where the next half wave meets it; rating: next of 6.3 10 16 25 35 50 63
/// 100 V that is at least 1.2·Vp.
/// @error OutOfRange  no peak is left after the diodes
/// @source rectifier-ripple
[[nodiscard]] Result<Worked<RectifierResult>> rectifier(const Rectifier& in);
[[nodiscard]] FormPtr rectifierForm();

/// Two ways to survive a reversed supply, compared.
struct ReverseProtection {
    Current current{};
    Voltage diode_drop = of<Voltage>(0.5);
    Resistance on_resistance{};  ///< of a P-channel MOSFET
    Voltage supply{};
};
struct ReverseProtectionResult {
    Power diode_loss{};
    Power mosfet_loss{};
    Voltage diode_voltage_left{};
    Voltage mosfet_voltage_left{};
};
/// @source ohm
[[nodiscard]] Result<Worked<ReverseProtectionResult>> reverseProtection(const ReverseProtection& in);
[[nodiscard]] FormPtr reverseProtectionForm();

/// A divider in front of an analogue input.
struct VoltageDivider {
    Voltage v_max{};
    Voltage adc_reference{};
    Resistance r_top{};
    Resistance r_bottom{};
    Count adc_bits = of<Count>(10.0);
};
struct VoltageDividerResult {
    Ratio ratio{};
    Voltage pin_voltage{};
    Count counts{};
    Resistance source_impedance{};
    Current standing_current{};
};
/// @source ohm, atmega328p-datasheet
[[nodiscard]] Result<Worked<VoltageDividerResult>> voltageDivider(const VoltageDivider& in);
[[nodiscard]] FormPtr voltageDividerForm();

}  // namespace hinge::power
