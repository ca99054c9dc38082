#pragma once
// The dimensions of the trade, on Boost.Units. Angle is a dimension of its own, so a torque is
// not an energy and a rotation speed is not a frequency. All values are SI.
#include <boost/units/quantity.hpp>
#include <boost/units/systems/si/acceleration.hpp>
#include <boost/units/systems/si/angular_velocity.hpp>
#include <boost/units/systems/si/area.hpp>
#include <boost/units/systems/si/capacitance.hpp>
#include <boost/units/systems/si/current.hpp>
#include <boost/units/systems/si/electric_charge.hpp>
#include <boost/units/systems/si/electric_potential.hpp>
#include <boost/units/systems/si/energy.hpp>
#include <boost/units/systems/si/force.hpp>
#include <boost/units/systems/si/frequency.hpp>
#include <boost/units/systems/si/inductance.hpp>
#include <boost/units/systems/si/length.hpp>
#include <boost/units/systems/si/mass.hpp>
#include <boost/units/systems/si/moment_of_inertia.hpp>
#include <boost/units/systems/si/plane_angle.hpp>
#include <boost/units/systems/si/power.hpp>
#include <boost/units/systems/si/pressure.hpp>
#include <boost/units/systems/si/resistance.hpp>
#include <boost/units/systems/si/temperature.hpp>
#include <boost/units/systems/si/time.hpp>
#include <boost/units/systems/si/torque.hpp>
#include <boost/units/systems/si/velocity.hpp>
#include <boost/units/systems/si/volume.hpp>
#include <compare>
#include <cstdint>

namespace hinge {
inline namespace quantity {

namespace si_units = boost::units::si;
template <class Unit>
using Quantity = boost::units::quantity<Unit, double>;
template <class A, class B>
using Per = typename boost::units::divide_typeof_helper<A, B>::type;

using Length = Quantity<si_units::length>;                                                         // m
using Area = Quantity<si_units::area>;                                                             // m²
using Volume = Quantity<si_units::volume>;                                                         // m³
using Mass = Quantity<si_units::mass>;                                                             // kg
using Duration = Quantity<si_units::time>;                                                         // s
using Angle = Quantity<si_units::plane_angle>;                                                     // rad
using RotationSpeed = Quantity<si_units::angular_velocity>;                                        // rad/s
using Frequency = Quantity<si_units::frequency>;                                                   // Hz
using Speed = Quantity<si_units::velocity>;                                                        // m/s
using Acceleration = Quantity<si_units::acceleration>;                                             // m/s²
using Force = Quantity<si_units::force>;                                                           // N
using Torque = Quantity<si_units::torque>;                                                         // N·m
using Inertia = Quantity<si_units::moment_of_inertia>;                                             // kg·m²
using Pressure = Quantity<si_units::pressure>;                                                     // Pa
using Energy = Quantity<si_units::energy>;                                                         // J
using Power = Quantity<si_units::power>;                                                           // W
using Voltage = Quantity<si_units::electric_potential>;                                            // V
using Current = Quantity<si_units::current>;                                                       // A
using Resistance = Quantity<si_units::resistance>;                                                 // Ω
using Capacitance = Quantity<si_units::capacitance>;                                               // F
using Inductance = Quantity<si_units::inductance>;                                                 // H
using Charge = Quantity<si_units::electric_charge>;                                                // C
using TemperatureDifference = Quantity<si_units::temperature>;                                     // K
using VolumeFlow = Quantity<Per<si_units::volume, si_units::time>>;                                // m³/s
using ThermalResistance = Quantity<Per<si_units::temperature, si_units::power>>;                   // K/W
using ThermalConductance = Quantity<Per<si_units::power, si_units::temperature>>;                  // W/K
using SpecificHeat = Quantity<Per<Per<si_units::energy, si_units::mass>, si_units::temperature>>;  // J/(kg·K)
using TorquePerCurrent = Quantity<Per<si_units::torque, si_units::current>>;                       // N·m/A
using HeadPerFlowSquared = Quantity<Per<Per<Per<si_units::length, si_units::volume>, si_units::volume>,
                                        Per<Per<si_units::dimensionless, si_units::time>, si_units::time>>>;  // m/(m³/s)²
using PressurePerFlowSquared = Quantity<Per<Per<Per<si_units::pressure, si_units::volume>, si_units::volume>,
                                            Per<Per<si_units::dimensionless, si_units::time>, si_units::time>>>;  // Pa/(m³/s)²

/// A temperature on the absolute scale [K]; differences are TemperatureDifference.
class Temperature {
public:
    using value_type = double;
    constexpr Temperature() = default;
    static constexpr Temperature from_value(double kelvin) { return Temperature{kelvin}; }
    static constexpr Temperature celsius(double degrees) { return Temperature{degrees + 273.15}; }
    constexpr double value() const { return kelvin_; }
    friend constexpr auto operator<=>(Temperature, Temperature) = default;

private:
    explicit constexpr Temperature(double kelvin) : kelvin_{kelvin} {}
    double kelvin_ = 293.15;
};

/// A plain number without a unit; the tag keeps shares, ratios and counts apart.
template <class Tag>
class Number {
public:
    using value_type = double;
    constexpr Number() = default;
    static constexpr Number from_value(double value) { return Number{value}; }
    constexpr double value() const { return value_; }
    friend constexpr auto operator<=>(Number, Number) = default;

private:
    explicit constexpr Number(double value) : value_{value} {}
    double value_ = 0.0;
};
using Fraction = Number<struct FractionTag>;                  ///< a share, usually 0 to 1; takes %
using Ratio = Number<struct RatioTag>;                        ///< a plain number
using Count = Number<struct CountTag>;                        ///< a whole number
using StepAcceleration = Number<struct StepAccelerationTag>;  ///< steps/s²

/// The SI value of a quantity; the only way out.
template <class Q>
[[nodiscard]] constexpr double si(const Q& quantity) {
    return quantity.value();
}
/// A quantity from its SI value: `of<Torque>(0.42)` is 0.42 N·m.
template <class Q>
[[nodiscard]] constexpr Q of(double value) {
    return Q::from_value(value);
}

}  // namespace quantity
}  // namespace hinge
