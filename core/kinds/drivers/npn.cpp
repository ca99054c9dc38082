// A bipolar transistor between the load's minus and ground.
#include "kinds/drivers/transistor.hpp"

namespace hinge::kinds {
namespace npn {
extern const DriverKind kind;
// What is usual where the data sheet is silent: common practice, no published source.
const DriverKind kind = transistor::bipolar(
    {.of = driver::DriverClass::Npn, .label = "NPN transistor", .usual_base = 0.8, .usual_saturation = 0.3, .in_the_list = "transistor"});
}  // namespace npn
}  // namespace hinge::kinds
