#pragma once
#include "quantity/dimensions.hpp"

namespace hinge {
inline namespace quantity {

/// What a number measures. The kind is decided before the unit: it says which unit names fit, so
/// that Hz is refused for a rotation speed although both are 1/s.
enum class Kind {
    Fraction,
    Ratio,
    Count,
    Length,
    Area,
    Volume,
    Mass,
    Duration,
    Angle,
    RotationSpeed,
    Frequency,
    Speed,
    Acceleration,
    Force,
    Torque,
    Inertia,
    Pressure,
    Energy,
    Power,
    Voltage,
    Current,
    Resistance,
    Capacitance,
    Inductance,
    Charge,
    Temperature,
    TemperatureDifference,
    VolumeFlow,
    ThermalResistance,
    ThermalConductance,
    SpecificHeat,
    TorquePerCurrent,
    HeadPerFlowSquared,
    PressurePerFlowSquared,
    StepAcceleration,
};
inline constexpr int kindCount = static_cast<int>(Kind::StepAcceleration) + 1;

template <class Q>
struct KindOf;
#define HINGE_KIND(name)                          \
    template <>                                   \
    struct KindOf<name> {                         \
        static constexpr Kind value = Kind::name; \
    }
HINGE_KIND(Fraction);
HINGE_KIND(Ratio);
HINGE_KIND(Count);
HINGE_KIND(Length);
HINGE_KIND(Area);
HINGE_KIND(Volume);
HINGE_KIND(Mass);
HINGE_KIND(Duration);
HINGE_KIND(Angle);
HINGE_KIND(RotationSpeed);
HINGE_KIND(Frequency);
HINGE_KIND(Speed);
HINGE_KIND(Acceleration);
HINGE_KIND(Force);
HINGE_KIND(Torque);
HINGE_KIND(Inertia);
HINGE_KIND(Pressure);
HINGE_KIND(Energy);
HINGE_KIND(Power);
HINGE_KIND(Voltage);
HINGE_KIND(Current);
HINGE_KIND(Resistance);
HINGE_KIND(Capacitance);
HINGE_KIND(Inductance);
HINGE_KIND(Charge);
HINGE_KIND(Temperature);
HINGE_KIND(TemperatureDifference);
HINGE_KIND(VolumeFlow);
HINGE_KIND(ThermalResistance);
HINGE_KIND(ThermalConductance);
HINGE_KIND(SpecificHeat);
HINGE_KIND(TorquePerCurrent);
HINGE_KIND(HeadPerFlowSquared);
HINGE_KIND(PressurePerFlowSquared);
HINGE_KIND(StepAcceleration);
#undef HINGE_KIND
template <class Q>
inline constexpr Kind kindOf = KindOf<Q>::value;

/// True for our quantity types (those with a Kind).
template <class T>
concept Measurable = requires {
    KindOf<T>::value;
};

}  // namespace quantity
}  // namespace hinge
