#pragma once
#include "working/form.hpp"

namespace hinge::driver {

/// An inductive load switched off into a diode or clamp across it.
struct Flyback {
    Current current{};
    Inductance inductance{};
    Resistance resistance{};  ///< of the load; 0 allowed
    Voltage supply{};
    Voltage clamp_voltage = of<Voltage>(0.7);
};
struct FlybackResult {
    Duration decay_time{};
    Voltage switch_voltage{};
    Energy energy{};
};
/// @source derived: L·di/dt + R·i + Vc = 0 from I down to 0
[[nodiscard]] Result<Worked<FlybackResult>> flyback(const Flyback& in);
[[nodiscard]] FormPtr flybackForm();

}  // namespace hinge::driver
