// A large relay in a rail-mount case, for the mains.
#include "kinds/drivers/contact.hpp"

namespace hinge::kinds {
namespace contactor {
extern const DriverKind kind;
const DriverKind kind = contact::made({.of = driver::DriverClass::Contactor,
                                       .label = "contactor",
                                       .drives = only(Method::Alternating),
                                       .alone = NotForThis{"its contacts are for the mains: they are proved by who wires them"}});
}  // namespace contactor
}  // namespace hinge::kinds
