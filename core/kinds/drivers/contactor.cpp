// A large relay in a rail-mount case, for the mains.
#include "kinds/drivers/contact.hpp"

namespace hinge::kinds {
namespace contactor {
extern const DriverKind kind;
const DriverKind kind{
    .of = driver::DriverClass::Contactor,
    .label = "contactor",
    .drives = only(Method::Alternating),
    .contact = true,
    .warms = false,
    .bears = Bears::AsRated,
    .signal = SignalKind::Switched,
    .faults = {"switch", "contact"},
    .drop = NotForThis{"a good contact keeps next to nothing"},
    .judge = &contact::judge,
    .show = &contact::show,
    .protection = &contact::protection,
    .refuses = NotForThis{"it is on or off, as its pin is"},
    .wires = &contact::wires,
    .states = NotForThis{"one line: the contact is closed or open"},
    .alone = NotForThis{"its contacts are for the mains: they are proved by who wires them"},
    .at_the_gate = NotForThis{"there is no gate"},
};
}  // namespace contactor
}  // namespace hinge::kinds
