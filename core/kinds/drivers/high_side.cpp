// A P-channel module between the supply and the load's plus: its own small transistor turns the gate by the rail itself.
#include <fmt/format.h>
#include "kinds/actuator_kind.hpp"
#include "kinds/drivers/transistor.hpp"

namespace hinge::kinds {
namespace high_side {
namespace {

bool judge(const Driven& d, Numbers& n) {
    return transistor::judgeGate(d, d.rail, n);
}
void show(const Driven& d, const Showing& s) {
    transistor::showGate(d, d.rail, s);
}

void protection(const Fitting& f) {
    if (f.inductive)
        f.list.push_back({"flyback diode", "as the motor's current", "stripe to the switched output, other end to ground",
                          "the winding's current needs a way on when the switch opens"});
}

void wires(const Wiring& w) {
    w.wire(w.pin, w.it + "high-side module IN");
    if (w.part != nullptr && actuatorKind(*w.part).own_electronics(*w.part))
        w.wire(w.it + "PWM wire", "nothing", "left open: it turns at full speed while its supply is on");
    w.wire(w.rail, w.it + "high-side module +");
    w.wire(w.it + "high-side module −", "ground");
    w.wire(w.it + "high-side module OUT", w.it + "+", w.resistor);
    w.wire(w.it + "−", "ground");
}

void deck(const Decked& d) {
    d.lines.push_back(fmt::format("Rin_{} {} 0 100k", d.tag, d.at("high-side module IN")));
    d.follows("h", d.at("high-side module +"), d.at("high-side module OUT"), d.at("high-side module IN"),
              d.driver.on_resistance ? si(*d.driver.on_resistance) : 0.05);
}

}  // namespace
extern const DriverKind kind{
    .of = driver::DriverClass::HighSide,
    .label = "high-side P-channel",
    .drives = transistor::one_way | only(Method::FanPulse),  // the whole supply of a fan that has a PWM wire
    .switches_plus = true,
    .chops_supply = true,
    .ends = {"high-side module"},
    .faults = {"switch"},
    .drop = &transistor::channelDrop,
    .judge = &judge,
    .show = &show,
    .protection = &protection,
    .refuses = NotForThis{"it is on, off or chopped, as its pin is"},
    .wires = &wires,
    .states = NotForThis{"one line: high is on"},
    .deck = &deck,
    .alone = NotForThis{"without a load its output floats"},
    .at_the_gate = NotForThis{"its gate is inside the module"},
};
}  // namespace high_side
}  // namespace hinge::kinds
