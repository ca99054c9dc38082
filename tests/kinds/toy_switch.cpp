// A toy class of driver, as a stranger would add one: a module that keeps two tenths of a volt. Nothing else of the program knows it.
#include "kinds/driver_kind.hpp"

namespace hinge::kinds {
namespace toy_switch {
namespace {

double drop(const driver::DriverPart& /*part*/, double /*amps*/) {
    return 0.2;
}
bool judge(const Driven& d, Numbers& n) {
    n.heat = 0.2 * n.winding * d.share;
    return true;
}
void protection(const Fitting& f) {
    if (f.inductive) f.diode("the toy's output");
}
void wires(const Wiring& w) {
    w.wire(w.pin, w.it + "toy IN");
    w.wire(w.rail, w.it + "toy +");
    w.wire(w.it + "toy OUT", w.it + "+");
    w.wire(w.it + "−", "ground");
}
std::vector<LoneCheck> alone(const Alone& a) {
    if (!a.volts) return {};
    LoneCheck check{"toy", "toy, nothing on it", "Say run and measure at OUT.", "hand on the plug", "voltmeter"};
    check.expected = *a.volts, check.least = 0.9 * *a.volts, check.most = 1.1 * *a.volts, check.reason = "without current it keeps nothing";
    return {check};
}

}  // namespace
extern const DriverKind kind{
    .of = static_cast<driver::DriverClass>(Names<driver::DriverClass>::all.size()),
    .label = "toy switch",
    .drives = only(Method::OneWay),
    .faults = {"switch"},
    .drop = &drop,
    .judge = &judge,
    .show = NotForThis{"its heat is one product"},
    .protection = &protection,
    .refuses = NotForThis{"it is on or off, as its pin is"},
    .wires = &wires,
    .states = NotForThis{"one line: high is on"},
    .deck = NotForThis{"a toy"},
    .alone = &alone,
    .at_the_gate = NotForThis{"its gate is inside"},
};
}  // namespace toy_switch
}  // namespace hinge::kinds
