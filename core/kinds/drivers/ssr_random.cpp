// A solid-state relay that turns on at once, wherever the wave stands.
#include "kinds/drivers/mains_switch.hpp"

namespace hinge::kinds {
namespace ssr_random {
extern const DriverKind kind;
const DriverKind kind =
    mains_switch::solid({.of = driver::DriverClass::SsrRandom, .label = "solid-state relay, random", .waves = Waves::Any});
}  // namespace ssr_random
}  // namespace hinge::kinds
