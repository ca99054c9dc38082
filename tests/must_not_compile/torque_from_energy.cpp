#include "quantity/dimensions.hpp"
using namespace hinge;
#ifdef VARIANT_BAD
Torque torque(Energy energy) {
    return energy;
}
#else
Torque torque(Torque value) {
    return value;
}
#endif
