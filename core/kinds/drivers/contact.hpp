#pragma once
// What a relay board and a contactor share: a coil that pulls, and a contact that makes.
#include "kinds/driver_kind.hpp"

namespace hinge::kinds::contact {

/// What is left to say is its class, its words, and what it drives and shows alone.
[[nodiscard]] DriverKind made(DriverKind kind);

}  // namespace hinge::kinds::contact
