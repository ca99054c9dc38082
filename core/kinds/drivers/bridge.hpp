#pragma once
// What a whole and a half bridge share.
#include "kinds/drivers/transistor.hpp"

namespace hinge::kinds::bridge {

/// V that its switches keep together.
[[nodiscard]] double drop(const driver::DriverPart& part, double amps);
/// Ω of all that a current goes through: two switches of a whole bridge, one of half a one.
[[nodiscard]] double path(const driver::DriverPart& part);
[[nodiscard]] bool judge(const Driven& d, Numbers& n);
void show(const Driven& d, const Showing& show);
void protection(const Fitting& f);

}  // namespace hinge::kinds::bridge
