#include "quantity/dimensions.hpp"
using namespace hinge;
#ifdef VARIANT_BAD
Frequency frequency(RotationSpeed speed) {
    return speed;
}
#else
Frequency frequency(Frequency value) {
    return value;
}
#endif
