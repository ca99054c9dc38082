#pragma once
// What a relay board and a contactor share: a coil that pulls, and a contact that makes.
#include "kinds/driver_kind.hpp"

namespace hinge::kinds::contact {

[[nodiscard]] bool judge(const Driven& d, Numbers& n);
void show(const Driven& d, const Showing& show);
void protection(const Fitting& f);
void wires(const Wiring& w);

}  // namespace hinge::kinds::contact
