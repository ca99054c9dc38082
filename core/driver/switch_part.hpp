#pragma once
#include "quantity/names.hpp"
#include "working/worked.hpp"
#include <array>

namespace hinge::driver {

enum class SwitchClass { Mosfet, Darlington, RelayBoard };

/// A low-side switch as its data sheet gives it. Absent figures are unknown or do not apply.
struct SwitchPart {
    std::string id;
    std::string name;
    SwitchClass switch_class = SwitchClass::Mosfet;
    std::optional<Voltage> voltage_max;
    std::optional<Current> current_max;
    // MOSFET
    std::optional<Voltage> threshold_max;
    std::optional<Resistance> on_resistance;
    std::optional<Voltage> on_resistance_gate_voltage;
    std::optional<Charge> gate_charge;
    // Darlington
    std::optional<Ratio> gain_min;
    std::optional<Voltage> base_voltage;
    std::optional<Voltage> saturation_voltage;
    // relay board
    std::optional<Voltage> coil_voltage;
    std::optional<Resistance> coil_resistance;
    std::optional<Current> contact_current;
    std::optional<ThermalResistance> theta_ja;
    std::optional<Ratio> price;
    bool tested = false;
    friend bool operator==(const SwitchPart&, const SwitchPart&) = default;
};

}  // namespace hinge::driver

template <>
struct hinge::Names<hinge::driver::SwitchClass> {
    using S = hinge::driver::SwitchClass;
    static constexpr std::array all{hinge::Name<S>{S::Mosfet, "mosfet", "MOSFET"}, hinge::Name<S>{S::Darlington, "darlington", "Darlington"},
                                    hinge::Name<S>{S::RelayBoard, "relay-board", "relay board"}};
};
