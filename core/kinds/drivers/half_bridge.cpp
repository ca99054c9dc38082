// Half a bridge: the load's plus to the supply or to ground, with a gap between both that it leaves itself.
#include <fmt/format.h>
#include "kinds/drivers/bridge.hpp"

namespace hinge::kinds {
namespace half_bridge {
namespace {

void wires(const Wiring& w) {
    if (switchedEnds(w.driver) > 0) {
        bridge::switchWires(w, "half-bridge", 0, w.channel.pin, w.channel.low_pin);
    } else {
        w.wire(w.pin, w.it + "half-bridge IN", "high joins its output to the supply, low to ground; it leaves the gap between both itself");
        w.wire(w.logic, w.it + "half-bridge enable", of<Resistance>(10e3), "; low lets its output float");
        w.pullDown(w.pin, of<Resistance>(10e3));
    }
    w.wire(w.rail, w.it + "half-bridge +");
    w.wire(w.it + "half-bridge −", "ground");
    w.wire(w.it + "half-bridge output", w.it + "+", w.resistor);
    w.wire(w.it + "−", "ground");
}

driver::BridgeTable states(const driver::DriverPart& driver, bool /*direction*/) {
    if (switchedEnds(driver) > 0)
        return {{"HIGH", "LOW"},
                {{{"PWM", "rest"}, "drives", "LOW takes over in the pauses", false},
                 {{"low", "high"}, "brakes", "the motor is shorted through the lower switch", false},
                 {{"low", "low"}, "coasts", "both are open; the diodes carry what still flows", false},
                 {{"high", "high"}, "shorts", "both switches are closed: the supply is shorted", true},
                 {{"floats", "floats"}, "coasts", "at reset, by a pull-down on each", false}}};
    return {{"IN", "enable"},
            {{{"PWM", "high"}, "drives", "the upper switch carries the current, the lower one what flows on in the pauses", false},
             {{"low", "high"}, "brakes", "the motor is shorted through the lower switch", false},
             {{"any", "low"}, "coasts", "both are off; the diodes carry what still flows", false},
             {{"floats", "high"}, "brakes", "at reset, by a pull-down on IN", false}}};
}

// One that keeps the gap itself follows its input with nothing on it as on its load; one whose switches have an input each is looked at.
std::vector<LoneCheck> alone(const Alone& a) {
    if (switchedEnds(a.driver) == 0) return {};
    return bridge::unloaded(a, "half-bridge", "between its output and ground");
}

// Two switches, never both: the lower one follows what the upper one doesn't.
void deck(const Decked& d) {
    if (switchedEnds(d.driver) > 0) {
        d.follows("u", d.at("half-bridge +"), d.at("half-bridge output"), d.at("half-bridge HIGH"), bridge::path(d.driver));
        d.follows("l", d.at("half-bridge output"), d.at("half-bridge −"), d.at("half-bridge LOW"), bridge::path(d.driver));
        d.lines.push_back(fmt::format("Dp_{} {} {} d", d.tag, d.at("half-bridge output"), d.at("half-bridge +")));
        d.lines.push_back(fmt::format("Dm_{} {} {} d", d.tag, d.at("half-bridge −"), d.at("half-bridge output")));
        return;
    }
    const std::string in = d.at("half-bridge IN"), low = d.tag + "__low";
    d.lines.push_back(fmt::format("B_{0} {1} 0 V={2:.6g}-V({3})", d.tag, low, d.logic, in));
    d.follows("u", d.at("half-bridge +"), d.at("half-bridge output"), in, bridge::path(d.driver));
    d.follows("l", d.at("half-bridge output"), d.at("half-bridge −"), low, bridge::path(d.driver));
}

}  // namespace
extern const DriverKind kind{
    .of = driver::DriverClass::HalfBridge,
    .label = "half-bridge",
    .drives = transistor::one_way,
    .brakes = true,
    .ends = {"half-bridge"},
    .faults = {"switch"},
    .drop = &bridge::drop,
    .judge = &bridge::judge,
    .show = &bridge::show,
    .protection = &bridge::protection,
    .refuses = NotForThis{"it is on, off or chopped, as its pin is"},
    .wires = &wires,
    .states = &states,
    .deck = &deck,
    .alone = &alone,
    .at_the_gate = NotForThis{"its gates are inside"},
};
}  // namespace half_bridge
}  // namespace hinge::kinds
