#pragma once
#include <array>
#include "working/form.hpp"

namespace hinge::driver {

/// On which side of the gate resistor the pull-down sits.
enum class PulldownSide { Pin, Gate };

/// Gate resistor and pull-down of a MOSFET driven straight from a pin.
struct GateNetwork {
    Voltage drive_voltage{};
    Resistance gate_resistor{};
    Resistance pulldown{};
    PulldownSide pulldown_side = PulldownSide::Pin;
    Current pin_current_max = of<Current>(0.020);
};
struct GateNetworkResult {
    Current peak_pin_current{};
    Voltage gate_voltage{};
    Resistance smallest_gate_resistor{};
};
/// On the gate side the pull-down divides the drive: below 0.9 of it is tight (`gate-divided`).
/// @source ohm
[[nodiscard]] Result<Worked<GateNetworkResult>> gateNetwork(const GateNetwork& in);
[[nodiscard]] FormPtr gateNetworkForm();

}  // namespace hinge::driver

template <>
struct hinge::Names<hinge::driver::PulldownSide> {
    static constexpr std::array all{hinge::Name<hinge::driver::PulldownSide>{hinge::driver::PulldownSide::Pin, "pin", "pin to ground"},
                                    hinge::Name<hinge::driver::PulldownSide>{hinge::driver::PulldownSide::Gate, "gate", "gate to ground"}};
};
