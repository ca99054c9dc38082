#pragma once
// What all solid switches of the mains share.
#include "kinds/driver_kind.hpp"

namespace hinge::kinds::mains_switch {

[[nodiscard]] double drop(const driver::DriverPart& part, double amps);
[[nodiscard]] bool judge(const Driven& d, Numbers& n);
void protection(const Fitting& f);
[[nodiscard]] std::optional<NotDriven> refuses(const Commanded& c);
void wires(const Wiring& w);

}  // namespace hinge::kinds::mains_switch
