#pragma once
#include <span>
#include "working/form.hpp"

namespace hinge::power {

/// A pair of copper wires, there and back.
struct WireDrop {
    std::optional<Count> awg;  ///< gauge number, -3 (0000) to 56
    std::optional<Area> area;  ///< or the copper's cross-section
    Length length{};           ///< one way
    Current current{};
    Temperature temperature = Temperature::celsius(20.0);
    std::optional<Voltage> supply;
};
struct WireDropResult {
    Length diameter{};  ///< of solid round wire of that area
    Area area{};
    Resistance resistance{};  ///< there and back
    Voltage drop{};
    Power loss{};
};
/// Of a pair of copper wires, there and back. @source iec-60028
[[nodiscard]] Resistance wireResistance(Area area, Length one_way, Temperature temperature = Temperature::celsius(20.0));
/// With a supply: to 3 % holds, to 5 % tight, else breaks (`wire-drop`).
/// @error Missing  neither awg nor area
/// @source astm-b258, iec-60028
[[nodiscard]] Result<Worked<WireDropResult>> wireDrop(const WireDrop& in);
[[nodiscard]] FormPtr wireDropForm();
/// Cross-sections that are stocked, rising [m²]. @source common practice, no published source
[[nodiscard]] std::span<const double> wireSizes();
/// Amps that a copper wire with PVC insulation carries for good at 40 °C, laid in conduit or trunking (method B1); below 0.75 mm² by
/// area^0.625 from there. nullopt above 16 mm².
/// @source iec-60204-1 table 6; the exponent: common practice, no published source
[[nodiscard]] std::optional<Current> ampacity(Area copper);

}  // namespace hinge::power
