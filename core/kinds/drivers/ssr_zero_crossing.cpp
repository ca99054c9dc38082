// A solid-state relay that turns on at the next zero crossing: whole half-waves only.
#include "kinds/drivers/mains_switch.hpp"

namespace hinge::kinds {
namespace ssr_zero_crossing {
extern const DriverKind kind;
const DriverKind kind = mains_switch::solid(
    {.of = driver::DriverClass::SsrZeroCrossing, .label = "solid-state relay, zero-crossing", .waves = Waves::WholeCycles});
}  // namespace ssr_zero_crossing
}  // namespace hinge::kinds
