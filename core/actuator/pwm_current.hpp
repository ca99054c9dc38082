#pragma once
#include "working/form.hpp"

namespace hinge::actuator {

/// A winding behind a PWM switch and a freewheel diode, in its steady state.
struct PwmCurrent {
    Voltage supply{};         ///< across winding and switch while it is on
    Voltage back_emf{};       ///< of the turning motor; 0 held still
    Resistance resistance{};  ///< winding, wire and switch
    Inductance inductance{};
    Frequency frequency{};
    Fraction duty{};
    Voltage diode_drop = of<Voltage>(0.7);
};
struct PwmCurrentResult {
    Current motor_current{};   ///< mean in the winding: what makes torque
    Current supply_current{};  ///< mean from the supply: only while the switch is on
    Current peak_current{};
    Current ripple{};        ///< peak to valley
    bool continuous = true;  ///< false: the current dies away in every pause
};
/// The two exponentials of a period, joined: while on towards (V − E)/R, while off towards
/// −(E + Vd)/R and no further than zero, both with τ = L/R.
/// @source derived: L·di/dt + R·i = V − E on, = −(E + Vd) off; i(0) = i(T), or 0 where it dies away
[[nodiscard]] Result<Worked<PwmCurrentResult>> pwmCurrent(const PwmCurrent& in);
[[nodiscard]] FormPtr pwmCurrentForm();

/// The same in plain SI, for solver loops.
struct PwmMeans {
    double motor = 0.0, supply = 0.0, peak = 0.0, valley = 0.0;
    bool continuous = true;
};
[[nodiscard]] PwmMeans pwmMeans(double supply, double back_emf, double resistance, double inductance, double period, double duty,
                                double diode_drop);

}  // namespace hinge::actuator
