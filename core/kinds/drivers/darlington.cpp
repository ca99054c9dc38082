// Two bipolar transistors as one, between the load's minus and ground: more gain, a volt more kept.
#include "kinds/drivers/transistor.hpp"

namespace hinge::kinds {
namespace darlington {
extern const DriverKind kind;
// What is usual where the data sheet is silent: common practice, no published source.
const DriverKind kind = transistor::bipolar({.of = driver::DriverClass::Darlington,
                                             .label = "Darlington",
                                             .usual_base = 1.4,
                                             .usual_saturation = 1.0,
                                             .in_the_list = "Darlington"});
}  // namespace darlington
}  // namespace hinge::kinds
