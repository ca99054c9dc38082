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
/// Its mean volts with its load unplugged. @param box  "half-bridge"  @param where  "between its output and ground"
[[nodiscard]] std::vector<LoneCheck> unloaded(const Alone& a, const std::string& box, const std::string& where);
/// The inputs of one end of which each switch has its own, both pulled down. @param end  1 or 2 of a whole bridge, 0 of half a one
void switchWires(const Wiring& w, const std::string& box, int end, const std::string& upper, const std::string& lower);
/// "HIGH 1": an input of an end's upper switch. @param end  as above
[[nodiscard]] std::string highInput(int end);
[[nodiscard]] std::string lowInput(int end);

}  // namespace hinge::kinds::bridge
