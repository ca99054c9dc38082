// Nothing in between: the pin itself gives the signal, or the little current, that the part wants.
#include <fmt/format.h>
#include "kinds/actuator_kind.hpp"
#include "quantity/text.hpp"

namespace hinge::kinds {
namespace pin {
namespace {

void protection(const Fitting& f) {
    for (const auto& each : actuatorKind(f.part).on_a_pin) f.list.push_back(each);
}

void wires(const Wiring& w) {
    if (w.part != nullptr && actuatorKind(*w.part).line == nullptr) {
        w.wire(w.pin, w.it + "+", w.resistor, w.resistor ? "; the longer leg" : "the longer leg");
        w.wire(w.it + "−", "ground");
        return;
    }
    if (w.inverted) {
        // While the board starts its pin floats: the resistor to the supply then keeps the fan at its slowest.
        w.wire(w.pin, w.it + "transistor base", of<Resistance>(1e3));
        w.wire(w.logic, w.it + "transistor base", of<Resistance>(10e3), ": at its slowest while the board starts");
        w.wire(w.it + "transistor emitter", "ground");
        w.wire(w.it + "transistor collector", w.it + "PWM wire", "the fan pulls that wire up itself; the pin is low while it runs");
    } else {
        w.wire(w.pin, w.it + "signal wire", of<Resistance>(330.0));
    }
    w.wire(w.rail, w.it + "+", w.resistor);
    w.wire(w.it + "−", "ground");
}

// What has no signal line of its own and is no LED draws more than a pin bears.
std::optional<NotDriven> refuses(const Commanded& c) {
    if (actuatorKind(c.part).line != nullptr || isLed(c.part)) return std::nullopt;
    return NotDriven{fmt::format("a pin bears {}, and {} has no line for a signal: it wants a driver", display(c.context.pin_current),
                                 actuator::head(c.part).name),
                     {}};
}

// Before the PWM wire of a fan lies a transistor; else the pin itself is all there is.
void deck(const Decked& d) {
    if (!d.has(d.it + "transistor base")) return;
    d.lines.push_back(fmt::format(".model {}_q npn bf=100 is=1e-14", d.tag));
    d.lines.push_back(
        fmt::format("Q_{0} {1} {2} {3} {0}_q", d.tag, d.at("transistor collector"), d.at("transistor base"), d.at("transistor emitter")));
}

}  // namespace
extern const DriverKind kind{
    .of = driver::DriverClass::Pin,
    .label = "straight from a pin",
    .drives = only(Method::ServoPulse) | only(Method::FanPulse) | only(Method::Light),
    .from_pin = true,
    .warms = false,
    .bears = Bears::AsRated,
    .ends = {"transistor"},  // between the pin and a fan's PWM wire
    .symbol = Symbol::Transistor,
    .on_pin = "LED",
    .drop = NotForThis{"the pin's own volts are the board's"},
    .judge = NotForThis{"what a pin bears is asked with the part that hangs on it"},
    .show = NotForThis{"there is nothing that warms"},
    .protection = &protection,
    .refuses = &refuses,
    .wires = &wires,
    .states = NotForThis{"one line: what it means is the part's affair"},
    .deck = &deck,
    .alone = NotForThis{"there is nothing to prove alone"},
    .at_the_gate = NotForThis{"there is no gate"},
};
}  // namespace pin
}  // namespace hinge::kinds
