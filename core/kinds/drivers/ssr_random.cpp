// A solid-state relay that turns on at once, wherever the wave stands.
#include "kinds/drivers/mains_switch.hpp"

namespace hinge::kinds {
namespace ssr_random {
extern const DriverKind kind;
const DriverKind kind{
    .of = driver::DriverClass::SsrRandom,
    .label = "solid-state relay, random",
    .drives = only(Method::Alternating),
    .alternating = true,
    .bears = Bears::AsRated,
    .waves = Waves::Any,
    .signal = SignalKind::Switched,
    .faults = {"switch"},
    .drop = &mains_switch::drop,
    .judge = &mains_switch::judge,
    .show = NotForThis{"its heat is one product: what it keeps by what it carries"},
    .protection = &mains_switch::protection,
    .refuses = &mains_switch::refuses,
    .wires = &mains_switch::wires,
    .states = NotForThis{"one line: it lets through or not"},
    .alone = NotForThis{"its output is mains: nothing is measured on it by hand"},
    .at_the_gate = NotForThis{"its gate is on the mains"},
};
}  // namespace ssr_random
}  // namespace hinge::kinds
