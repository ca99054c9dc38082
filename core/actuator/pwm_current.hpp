#pragma once
#include <array>
#include "working/form.hpp"

namespace hinge::actuator {

/// What the current of a winding does while its switch is off: it goes round through a freewheel diode; an H-bridge lets go and it
/// flows back into the supply through two diodes; or the bridge shorts the winding and it may turn round.
enum class Pause { Diode, Coast, Brake };

/// A winding behind a PWM switch, in its steady state.
struct PwmCurrent {
    Voltage supply{};         ///< across winding and switch while it is on
    Voltage back_emf{};       ///< of the turning motor; 0 held still
    Resistance resistance{};  ///< winding, wire and switch
    Inductance inductance{};
    Frequency frequency{};
    Fraction duty{};
    Voltage diode_drop = of<Voltage>(0.7);
    Pause pause = Pause::Diode;
};
struct PwmCurrentResult {
    Current motor_current{};   ///< mean in the winding: what makes torque
    Current supply_current{};  ///< mean from the supply; what a coasting bridge gives back taken off
    Current peak_current{};
    Current ripple{};        ///< peak to valley
    bool continuous = true;  ///< false: the current dies away in every pause
};
/// The two exponentials of a period, joined: while on towards (V − E)/R, while off towards −(E + Vd)/R (diode) or
/// −(V + E + 2·Vd)/R (coast) and no further than zero, or towards −E/R (brake), all with τ = L/R.
/// @source derived: L·di/dt + R·i = V − E on, = −(E + Vd) off; i(0) = i(T), or 0 where it dies away
[[nodiscard]] Result<Worked<PwmCurrentResult>> pwmCurrent(const PwmCurrent& in);
[[nodiscard]] FormPtr pwmCurrentForm();

/// The same in plain SI, for solver loops.
struct PwmMeans {
    double motor = 0.0, supply = 0.0, peak = 0.0, valley = 0.0;
    bool continuous = true;
};
[[nodiscard]] PwmMeans pwmMeans(double supply, double back_emf, double resistance, double inductance, double period, double duty,
                                double diode_drop, Pause pause = Pause::Diode);

}  // namespace hinge::actuator

template <>
struct hinge::Names<hinge::actuator::Pause> {
    using P = hinge::actuator::Pause;
    static constexpr std::array all{hinge::Name<P>{P::Diode, "diode", "through a freewheel diode"},
                                    hinge::Name<P>{P::Coast, "coast", "an H-bridge that coasts, back into the supply"},
                                    hinge::Name<P>{P::Brake, "brake", "an H-bridge that brakes"}};
};
