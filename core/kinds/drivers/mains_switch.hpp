#pragma once
// What all solid switches of the mains share.
#include "kinds/driver_kind.hpp"

namespace hinge::kinds::mains_switch {

void wires(const Wiring& w);
/// What is left to say is its class, its words, and what it lets through of each wave.
[[nodiscard]] DriverKind solid(DriverKind kind);

}  // namespace hinge::kinds::mains_switch
