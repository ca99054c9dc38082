#pragma once
// What every carrier of a step/direction chopper shares.
#include "kinds/driver_kind.hpp"

namespace hinge::kinds::carrier {

[[nodiscard]] bool judge(const Driven& d, Numbers& n);
void protection(const Fitting& f);
void wires(const Wiring& w);
/// The reference at its trimmer; empty where the carrier has none.
[[nodiscard]] std::vector<LoneCheck> reference(const Alone& a);

}  // namespace hinge::kinds::carrier
