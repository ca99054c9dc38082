#pragma once
#include <array>
#include "quantity/names.hpp"
#include "working/form.hpp"

namespace hinge::actuator {

enum class PumpClass { Centrifugal, Diaphragm, Peristaltic };

/// What the maker knows of a part beyond its data sheet.
enum class Standing { Untested, Tested, Suspect };

/// What every part has.
struct PartHead {
    std::string id;
    std::string name;
    std::optional<Mass> mass;
    std::optional<Ratio> noise;  ///< dB(A) at 1 m
    std::optional<Ratio> price;
    Standing standing = Standing::Untested;  ///< whether a sample was measured, and how it did
    bool drawer = false;                     ///< lies in the maker's drawer: costs nothing
    friend bool operator==(const PartHead&, const PartHead&) = default;
};

/// A pump as its data sheet gives it. Absent figures are unknown.
struct Pump : PartHead {
    PumpClass pump_class = PumpClass::Centrifugal;
    Voltage nominal_voltage{};
    HeadCurve curve;                         ///< at the nominal voltage
    std::optional<Current> running_current;  ///< at the nominal voltage, about the middle of the curve
    std::optional<Current> stall_current;    ///< rotor held, at the nominal voltage
    std::optional<Inductance> inductance;    ///< of the winding
    std::optional<Duration> spin_up_time;    ///< to 63 % of its speed
    friend bool operator==(const Pump&, const Pump&) = default;
};

/// Speed and current of a pump's motor at a share of its supply.
struct PumpSpeed {
    Voltage supply{};  ///< across motor and PWM switch, while the switch is on
    Fraction duty = of<Fraction>(1.0);
    Voltage nominal_voltage{};
    Current running_current{};
    Current stall_current{};
    std::optional<Inductance> inductance;  ///< unknown: taken as large, so that the current never dies away
    Frequency frequency{};                 ///< of the PWM; 0: not pulsed
};
struct PumpSpeedResult {
    Ratio speed_fraction{};    ///< of the speed at the nominal voltage
    Current motor_current{};   ///< mean in the winding
    Current supply_current{};  ///< mean from the supply: duty·motor_current where the inductance is large
    Current stall_current{};   ///< at this supply and full duty
    Resistance resistance{};
};
/// Linear motor whose torque, and so current, follows the square of the speed (affinity laws):
/// duty·V = I·R + Ke·n with I = Irun·n² and Ke = Vn − Irun·R; with an inductance, the mean current of
/// the pulses (pwmCurrent) takes the place of (duty·V − Ke·n)/R.
/// @error OutOfRange  stall_current is not above running_current
/// @source dc-motor-linear, affinity-laws
[[nodiscard]] Result<Worked<PumpSpeedResult>> pumpSpeed(const PumpSpeed& in);
[[nodiscard]] FormPtr pumpSpeedForm();
/// The same in plain SI, for judging many; stall_current must be above running_current.
struct PumpSpeedNumbers {
    double fraction = 0.0, motor = 0.0, supply = 0.0, resistance = 0.0;
    double back = 0.0;  ///< back-EMF at full speed [V]
    bool pulsed = false;
};
[[nodiscard]] PumpSpeedNumbers pumpSpeedNumbers(const PumpSpeed& in);

/// Peak current of a motor that is started through a PWM ramp.
struct SoftStart {
    Voltage supply{};
    Current running_current{};             ///< once up to speed
    Current stall_current{};               ///< at this supply
    std::optional<Duration> spin_up_time;  ///< to 63 % of its speed; unknown: the stall current
    Duration ramp{};                       ///< 0: straight on
};
struct SoftStartResult {
    Current peak_current{};
    Fraction of_stall{};
};
/// Share of full speed at which a pump's load and its pulsed motor agree; plain SI.
/// @param back  back-EMF at full speed [V]
[[nodiscard]] double pulsedSpeed(double supply, double duty, double resistance, double inductance, double period, double running,
                                 double back);
/// First-order spin-up under a linear ramp: Ip = Ir + (Is − Ir)·τ/Tr·(1 − e^(−Tr/τ)).
/// @source derived: n' = (u − n)/τ, I = (V·u − E·n)/R, largest at the ramp's end
[[nodiscard]] Result<Worked<SoftStartResult>> softStart(const SoftStart& in);
[[nodiscard]] FormPtr softStartForm();

}  // namespace hinge::actuator

template <>
struct hinge::Names<hinge::actuator::PumpClass> {
    using P = hinge::actuator::PumpClass;
    static constexpr std::array all{hinge::Name<P>{P::Centrifugal, "centrifugal", "centrifugal"},
                                    hinge::Name<P>{P::Diaphragm, "diaphragm", "diaphragm"},
                                    hinge::Name<P>{P::Peristaltic, "peristaltic", "peristaltic"}};
};

template <>
struct hinge::Names<hinge::actuator::Standing> {
    using S = hinge::actuator::Standing;
    static constexpr std::array all{hinge::Name<S>{S::Untested, "untested", "not tested"},
                                    hinge::Name<S>{S::Tested, "tested", "a sample is tested"},
                                    hinge::Name<S>{S::Suspect, "suspect", "a sample is suspect"}};
};
