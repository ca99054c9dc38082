#pragma once
// The parts that move, blow, pump or warm, as their data sheets give them. An absent figure is
// unknown; what rests on it says so.
#include <variant>
#include "actuator/pump.hpp"

namespace hinge::actuator {

/// A brushed motor, bare or with its own gearbox. The four figures are those of the bare motor.
struct Motor : PartHead {
    Voltage nominal_voltage{};
    std::optional<RotationSpeed> no_load_speed;
    std::optional<Current> no_load_current;
    std::optional<Current> stall_current;
    std::optional<Torque> stall_torque;
    Ratio gear_ratio = of<Ratio>(1.0);
    Fraction gear_efficiency = of<Fraction>(1.0);
    std::optional<Inductance> inductance;
    std::optional<Ratio> tach;  ///< pulses a turn of the output; absent: none
    bool worm = false;          ///< its gearbox holds with the power off
    friend bool operator==(const Motor&, const Motor&) = default;
};

/// A two-phase stepper, bare or with its own gearbox.
struct Stepper : PartHead {
    std::optional<Torque> holding_torque;
    std::optional<Current> rated_current;  ///< a phase, rms, both on
    std::optional<Resistance> phase_resistance;
    std::optional<Inductance> phase_inductance;
    Count steps_per_turn = of<Count>(200.0);
    Ratio gear_ratio = of<Ratio>(1.0);
    Fraction gear_efficiency = of<Fraction>(1.0);
    std::optional<Torque> detent_torque;  ///< holds with the power off
    friend bool operator==(const Stepper&, const Stepper&) = default;
};

enum class ServoClass { Positional, Continuous };
/// A hobby servo by the figures at two voltages.
struct Servo : PartHead {
    ServoClass servo_class = ServoClass::Positional;
    Voltage voltage_low{};
    Voltage voltage_high{};
    std::optional<Torque> torque_low;
    std::optional<Torque> torque_high;
    std::optional<Duration> time_low;  ///< for 60°, without load
    std::optional<Duration> time_high;
    std::optional<Angle> range;  ///< from end to end; none for a continuous one
    std::optional<Current> idle_current;
    std::optional<Current> stall_current;  ///< at voltage_high
    friend bool operator==(const Servo&, const Servo&) = default;
};

enum class FanWires { Two, Three, Four };
struct Fan : PartHead {
    FanWires wires = FanWires::Two;
    Voltage nominal_voltage{};
    PressureCurve curve;             ///< at full speed
    std::optional<Current> current;  ///< at full speed
    std::optional<Current> starting_current;
    std::optional<Fraction> start_duty;        ///< below it the fan does not start; on the mains, of its rms volts
    bool mains = false;                        ///< an induction motor, made for the mains
    std::optional<RotationSpeed> rated_speed;  ///< of one on the mains, at all of its volts
    friend bool operator==(const Fan&, const Fan&) = default;
};

enum class CoilClass { Solenoid, LatchingSolenoid, Valve, LatchingValve };
/// A coil that pulls something: a solenoid, or a valve for water.
struct Coil : PartHead {
    CoilClass coil_class = CoilClass::Solenoid;
    Voltage coil_voltage{};
    std::optional<Resistance> coil_resistance;  ///< at 20 °C
    std::optional<Inductance> inductance;
    std::optional<Force> force;  ///< at its full stroke, at the coil's voltage
    std::optional<Length> stroke;
    std::optional<Fraction> duty_max;    ///< share of the time it may be on
    std::optional<Duration> pulse_time;  ///< of a latching one
    Fraction operate_fraction = of<Fraction>(0.75);
    friend bool operator==(const Coil&, const Coil&) = default;
};

enum class HeaterClass { Heater, PtcHeater, ThermoElectric };
struct Heater : PartHead {
    HeaterClass heater_class = HeaterClass::Heater;
    bool mains = false;
    Voltage nominal_voltage{};
    std::optional<Power> power;                               ///< taken at that voltage
    std::optional<Power> heat_pumped;                         ///< thermo-electric: at no difference
    std::optional<TemperatureDifference> largest_difference;  ///< thermo-electric: at no heat
    std::optional<Ratio> cold_factor;                         ///< current when cold, in multiples of running
    friend bool operator==(const Heater&, const Heater&) = default;
};

enum class LampClass { LedString, LedLamp, Filament, Led };
/// What the three colours of a lamp have in common; of one that shines in one colour: nothing.
enum class CommonPole { None, Plus, Minus };
/// Something that shines. A bare LED keeps `nominal_voltage` while `current` flows, and wants a resistor.
struct Lamp : PartHead {
    LampClass lamp_class = LampClass::LedString;
    bool mains = false;
    Voltage nominal_voltage{};
    std::optional<Power> power;
    std::optional<Current> current;        ///< a bare LED's, the most it bears for long
    CommonPole common = CommonPole::None;  ///< else its volts, power and current are those of each of three colours
    std::optional<Voltage> red_voltage;    ///< of a bare LED of three colours, whose red keeps less
    friend bool operator==(const Lamp&, const Lamp&) = default;
};

/// A part of a kind without a struct of its own, by the figures that most have: a kind more is one file of core/kinds/actuators.
struct Other : PartHead {
    std::string kind;  ///< its catalogue file, "magnets"
    Voltage nominal_voltage{};
    std::optional<Current> current;           ///< while it works
    std::optional<Current> starting_current;  ///< absent: the same
    std::optional<Resistance> resistance;     ///< at 20 °C
    std::optional<Power> power;
    std::optional<Force> force;
    friend bool operator==(const Other&, const Other&) = default;
};

using Part = std::variant<Motor, Stepper, Servo, Fan, Pump, Coil, Heater, Lamp, Other>;
[[nodiscard]] inline const PartHead& head(const Part& part) {
    return std::visit([](const auto& any) -> const PartHead& { return any; }, part);
}
[[nodiscard]] inline PartHead& head(Part& part) {
    return std::visit([](auto& any) -> PartHead& { return any; }, part);
}
}  // namespace hinge::actuator

#define HINGE_NAMES(type, ...)                        \
    template <>                                       \
    struct hinge::Names<hinge::actuator::type> {      \
        using T = hinge::actuator::type;              \
        using N = hinge::Name<hinge::actuator::type>; \
        static constexpr std::array all{__VA_ARGS__}; \
    }
HINGE_NAMES(ServoClass, N{T::Positional, "positional", "servo"}, N{T::Continuous, "continuous", "continuous servo"});
HINGE_NAMES(FanWires, N{T::Two, "2-wire", "2-wire fan"}, N{T::Three, "3-wire", "3-wire fan"}, N{T::Four, "4-wire", "4-wire fan"});
HINGE_NAMES(CoilClass, N{T::Solenoid, "solenoid", "solenoid"}, N{T::LatchingSolenoid, "latching-solenoid", "latching solenoid"},
            N{T::Valve, "valve", "solenoid valve"}, N{T::LatchingValve, "latching-valve", "latching valve"});
HINGE_NAMES(HeaterClass, N{T::Heater, "heater", "heater"}, N{T::PtcHeater, "ptc-heater", "PTC heater"},
            N{T::ThermoElectric, "thermo-electric", "thermo-electric plate"});
HINGE_NAMES(LampClass, N{T::LedString, "led-string", "LED string"}, N{T::LedLamp, "led-lamp", "LED lamp"},
            N{T::Filament, "filament", "filament lamp"}, N{T::Led, "led", "LED"});
HINGE_NAMES(CommonPole, N{T::None, "none", "one colour"}, N{T::Plus, "plus", "three colours, plus in common"},
            N{T::Minus, "minus", "three colours, minus in common"});
#undef HINGE_NAMES
