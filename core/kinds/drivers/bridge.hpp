#pragma once
// What a whole and a half bridge share.
#include "kinds/drivers/transistor.hpp"

namespace hinge::kinds::bridge {

/// V that its switches keep together.
[[nodiscard]] double drop(const driver::DriverPart& part, double amps);
/// Ω of one of the two switches that a current goes through.
[[nodiscard]] double half(const driver::DriverPart& part);
[[nodiscard]] bool judge(const Driven& d, Numbers& n);
void show(const Driven& d, const Showing& show);
void protection(const Fitting& f);

}  // namespace hinge::kinds::bridge
