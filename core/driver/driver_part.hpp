#pragma once
#include <array>
#include <optional>
#include <string>
#include "actuator/part.hpp"

namespace hinge::driver {

/// What stands between a pin and what moves.
enum class DriverClass {
    Mosfet,
    Npn,
    Darlington,
    HighSide,
    HBridge,
    HalfBridge,
    Chopper,
    SerialChopper,
    Pin,
    ServoExpander,
    IoExpander,
    RelayBoard,
    Contactor,
    SsrZeroCrossing,
    SsrRandom,
    PhaseControl,
};

/// How a bridge is told: a line for the speed and one for the way; an input for each end of its motor; or one for each of its switches, so
/// that nothing but the pulses themselves keeps the two of one end from being closed at once.
enum class BridgeInputs { SpeedAndWay, TwoInputs, EachSwitch };

/// A driver as its data sheet gives it. Absent figures are unknown or do not apply to its class.
struct DriverPart : actuator::PartHead {
    DriverClass driver_class = DriverClass::Mosfet;
    std::optional<Voltage> voltage_min;  ///< of the load's supply
    std::optional<Voltage> voltage_max;
    std::optional<Current> current_max;  ///< continuous; a chopper's: peak of the sine
    std::optional<Voltage> logic_min;    ///< a pin that is high must reach
    // MOSFET, high side, bridges and choppers: on_resistance is the whole path
    std::optional<Voltage> threshold_max;
    std::optional<Resistance> on_resistance;
    std::optional<Voltage> on_resistance_gate_voltage;
    std::optional<Charge> gate_charge;
    // NPN and Darlington
    std::optional<Ratio> gain_min;
    std::optional<Voltage> base_voltage;
    std::optional<Voltage> saturation_voltage;  ///< also a bridge's or a solid-state relay's drop
    // relay board and contactor
    std::optional<Voltage> coil_voltage;
    std::optional<Resistance> coil_resistance;
    std::optional<Current> contact_current;
    // solid-state relay
    std::optional<Current> leakage;
    std::optional<Current> current_min;  ///< below it, it does not latch
    bool mains = false;                  ///< isolated, made for mains
    // chopper carrier
    std::optional<Resistance> sense_resistor;
    std::optional<Ratio> reference_gain;
    std::optional<Count> microsteps_max;
    std::optional<Resistance> current_output;  ///< V for each A at a bridge's output that shows its current; absent: it has none
    BridgeInputs inputs = BridgeInputs::SpeedAndWay;
    std::optional<Duration> dead_time;  ///< of a bridge with an input for each switch: least pause between the two of one end
    std::string registers;              ///< table of its registers in parts/registers.csv; empty: its straps and its trimmer set it
    std::optional<ThermalResistance> theta_ja;
    friend bool operator==(const DriverPart&, const DriverPart&) = default;
};

}  // namespace hinge::driver

template <>
struct hinge::Names<hinge::driver::BridgeInputs> {
    using I = hinge::driver::BridgeInputs;
    using N = hinge::Name<I>;
    static constexpr std::array all{N{I::SpeedAndWay, "speed-and-way", "PWM and direction"},
                                    N{I::TwoInputs, "two-inputs", "an input for each end"},
                                    N{I::EachSwitch, "each-switch", "an input for each switch"}};
};
template <>
struct hinge::Names<hinge::driver::DriverClass> {
    using D = hinge::driver::DriverClass;
    using N = hinge::Name<D>;
    static constexpr std::array all{N{D::Mosfet, "mosfet", "MOSFET"},
                                    N{D::Npn, "npn", "NPN transistor"},
                                    N{D::Darlington, "darlington", "Darlington"},
                                    N{D::HighSide, "high-side", "high-side P-channel"},
                                    N{D::HBridge, "h-bridge", "H-bridge"},
                                    N{D::HalfBridge, "half-bridge", "half-bridge"},
                                    N{D::Chopper, "chopper", "step/dir chopper"},
                                    N{D::SerialChopper, "serial-chopper", "step/dir chopper, serial"},
                                    N{D::Pin, "pin", "straight from a pin"},
                                    N{D::ServoExpander, "servo-expander", "servo expander"},
                                    N{D::IoExpander, "io-expander", "I/O expander"},
                                    N{D::RelayBoard, "relay-board", "relay board"},
                                    N{D::Contactor, "contactor", "contactor"},
                                    N{D::SsrZeroCrossing, "ssr-zero-crossing", "solid-state relay, zero-crossing"},
                                    N{D::SsrRandom, "ssr-random", "solid-state relay, random"},
                                    N{D::PhaseControl, "phase-control", "phase control"}};
};
