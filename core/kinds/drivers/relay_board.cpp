// A relay on a small board with its own transistor, diode and light.
#include "kinds/drivers/contact.hpp"

namespace hinge::kinds {
namespace relay_board {
namespace {

std::vector<LoneCheck> alone(const Alone& a) {
    if (a.mains) return {};
    LoneCheck check{"contact",
                    "contact, nothing on it",
                    "Load unplugged at both screws. Load its test sketch, say run: it clicks. Measure across the contact while it is on.",
                    "hand on the plug",
                    "ohmmeter; take off what its own leads show",
                    Kind::Resistance};
    check.expected = 0.1, check.most = 1.0;
    check.reason = "a good contact has a tenth of an ohm; more is burned or loose. Common practice, no published source";
    return {check};
}

}  // namespace
extern const DriverKind kind;
const DriverKind kind = contact::made({.of = driver::DriverClass::RelayBoard,
                                       .label = "relay board",
                                       .drives = only(Method::OneWay) | only(Method::Light) | only(Method::Alternating),
                                       .alone = &alone});
}  // namespace relay_board
}  // namespace hinge::kinds
