#pragma once
// What a bare low-side or high-side transistor's files share: a gate's charge, a base's current.
#include "kinds/driver_kind.hpp"

namespace hinge::kinds::transistor {

/// On-resistance hot over cold, as the mosfet-switch working's default.
inline constexpr double hot = 1.5;
/// Everything that a part wants of a switch that only turns it on: one way, and a bare LED.
inline constexpr Methods one_way = only(Method::OneWay) | only(Method::Light);

/// V over a channel that is hot.
[[nodiscard]] inline double channelDrop(const driver::DriverPart& part, double amps) {
    return part.on_resistance ? amps * si(*part.on_resistance) * hot : 0.0;
}
/// @param gate  V that the gate gets
[[nodiscard]] bool judgeGate(const Driven& d, double gate, Numbers& n);
void showGate(const Driven& d, double gate, const Showing& show);
/// A bipolar one in the load's minus: what is left to say is its class, its words and what is usual for it.
[[nodiscard]] DriverKind bipolar(DriverKind kind);

}  // namespace hinge::kinds::transistor
