// A whole bridge: both ends of the load, so that its current can go either way.
#include <fmt/format.h>
#include "kinds/drivers/bridge.hpp"

namespace hinge::kinds {
namespace h_bridge {
namespace {

void wires(const Wiring& w) {
    w.wire(w.pin, w.it + "bridge PWM");
    w.wire(w.logic, w.it + "bridge enable, not-sleep", "where it has one: low puts it to sleep");
    w.pullDown(w.pin, of<Resistance>(10e3));
    if (!w.channel.direction_pin.empty()) w.wire("board " + w.channel.direction_pin, w.it + "bridge DIR", "low: forwards; high: backwards");
    else w.wire("ground", w.it + "bridge DIR", "a strap: one way; the other level turns it round");
    w.wire(w.rail, w.it + "bridge +");
    w.wire(w.it + "bridge −", "ground");
    w.wire(w.it + "bridge OUT 1", w.it + "wire 1", w.resistor);
    w.wire(w.it + "bridge OUT 2", w.it + "wire 2");
}

driver::BridgeTable states(bool direction) {
    if (!direction)
        return {{"speed"},
                {{{"PWM"}, "drives", "in the one way that the direction strap gives", false},
                 {{"low"}, "stops", "brakes or coasts: see the part's own table", false},
                 {{"floats"}, "stops", "at reset, by a pull-down", false}}};
    return {{"speed", "direction"},
            {{{"PWM", "low"}, "drives", "this line alone carries the PWM", false},
             {{"PWM", "high"}, "reverses", "from rest only: at speed, twice the stall current", false},
             {{"low", "any"}, "stops", "brakes or coasts: see the part's own table", false},
             {{"floats", "floats"}, "stops", "at reset, by a pull-down on the speed line", false}}};
}

std::vector<LoneCheck> alone(const Alone& a) {
    if (!a.volts || a.signal != SignalKind::Pwm) return {};
    LoneCheck check{"bridge", "bridge, nothing on it",
                    "Motor unplugged. Load its test sketch, say run, and measure between the bridge's two outputs.", "hand on the plug",
                    "voltmeter on DC; it shows the mean of the pulses and draws next to nothing"};
    check.expected = *a.volts * si(a.channel.signal.duty);
    check.least = 0.9 * check.expected, check.most = 1.05 * check.expected;
    check.reason = "the rail's volts by the share that it is on; without current nothing is dropped";
    check.abort = "The bridge gets warm with nothing on it: it is shorted, or both halves conduct. Pull the plug.";
    return {check};
}

// Four switches: PWM closes one above and one below, DIR says which two.
void deck(const Decked& d) {
    const std::string pwm = d.at("bridge PWM"), way = d.at("bridge DIR"), f = d.tag + "__fw", b = d.tag + "__bw";
    d.lines.push_back(fmt::format("Bf_{0} {1} 0 V=V({2})*(1-V({3})/{4:.6g})", d.tag, f, pwm, way, d.logic));
    d.lines.push_back(fmt::format("Bb_{0} {1} 0 V=V({2})*V({3})/{4:.6g}", d.tag, b, pwm, way, d.logic));
    const double ohms = bridge::path(d.driver) / 2.0;
    d.follows("f1", d.at("bridge +"), d.at("bridge OUT 1"), f, ohms);
    d.follows("f2", d.at("bridge OUT 2"), d.at("bridge −"), f, ohms);
    d.follows("b1", d.at("bridge +"), d.at("bridge OUT 2"), b, ohms);
    d.follows("b2", d.at("bridge OUT 1"), d.at("bridge −"), b, ohms);
    // The winding's current goes on through the diodes of the switches.
    for (const int k : {1, 2}) {
        const std::string out = d.node(fmt::format("{}bridge OUT {}", d.it, k));
        d.lines.push_back(fmt::format("Dp{0}_{1} {2} {3} d", k, d.tag, out, d.at("bridge +")));
        d.lines.push_back(fmt::format("Dm{0}_{1} {2} {3} d", k, d.tag, d.at("bridge −"), out));
    }
}

}  // namespace
extern const DriverKind kind{
    .of = driver::DriverClass::HBridge,
    .label = "H-bridge",
    .drives = transistor::one_way | only(Method::BothWays),
    .brakes = true,
    .faults = {"switch", "sleeper"},
    .drop = &bridge::drop,
    .judge = &bridge::judge,
    .show = &bridge::show,
    .protection = &bridge::protection,
    .refuses = NotForThis{"its speed and its way are what the sketch sends"},
    .wires = &wires,
    .states = &states,
    .deck = &deck,
    .alone = &alone,
    .at_the_gate = NotForThis{"its gates are inside"},
};
}  // namespace h_bridge
}  // namespace hinge::kinds
