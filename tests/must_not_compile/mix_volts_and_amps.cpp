#include "quantity/dimensions.hpp"
using namespace hinge;
#ifdef VARIANT_BAD
auto sum(Voltage a, Current b) {
    return a + b;
}
#else
auto sum(Voltage a, Voltage b) {
    return a + b;
}
#endif
