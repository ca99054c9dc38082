#include "quantity/dimensions.hpp"
using namespace hinge;
#ifdef VARIANT_BAD
Voltage voltage() {
    return 5.0;
}
#else
Voltage voltage() {
    return of<Voltage>(5.0);
}
#endif
