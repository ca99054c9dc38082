// A whole bridge: both ends of the load, so that its current can go either way.
#include <fmt/format.h>
#include "kinds/drivers/bridge.hpp"

namespace hinge::kinds {
namespace h_bridge {
namespace {

void enableWire(const Wiring& w) {
    w.wire(w.logic, w.it + "bridge enable, not-sleep", "where it has one: low puts it to sleep");
}

// An input that floats leaves its end to ground, so that at reset the motor coasts.
void inputWires(const Wiring& w) {
    w.wire(w.pin, w.it + "bridge IN 1", "high alone: forwards");
    enableWire(w);
    w.pullDown(w.pin, of<Resistance>(10e3));
    if (w.channel.direction_pin.empty()) return;  // that it has none yet is said in Pins
    w.wire("board " + w.channel.direction_pin, w.it + "bridge IN 2", "high alone: backwards; both high: it brakes; both low: it coasts");
    w.pullDown("board " + w.channel.direction_pin, of<Resistance>(10e3));
}

void lineWires(const Wiring& w) {
    w.wire(w.pin, w.it + "bridge PWM");
    enableWire(w);
    w.pullDown(w.pin, of<Resistance>(10e3));
    if (!w.channel.direction_pin.empty()) w.wire("board " + w.channel.direction_pin, w.it + "bridge DIR", "low: forwards; high: backwards");
    else w.wire("ground", w.it + "bridge DIR", "a strap: one way; the other level turns it round");
}

void wires(const Wiring& w) {
    if (switchedEnds(w.driver) > 0) {
        bridge::switchWires(w, "bridge", 1, w.channel.pin, w.channel.low_pin);
        bridge::switchWires(w, "bridge", 2, w.channel.direction_pin, w.channel.back_low_pin);
        enableWire(w);
    } else if (hasTwoInputs(w.driver)) inputWires(w);
    else lineWires(w);
    w.wire(w.rail, w.it + "bridge +");
    w.wire(w.it + "bridge −", "ground");
    w.wire(w.it + "bridge OUT 1", w.it + "wire 1", w.resistor);
    w.wire(w.it + "bridge OUT 2", w.it + "wire 2");
}

driver::BridgeTable states(const driver::DriverPart& driver, bool direction) {
    if (switchedEnds(driver) > 0)
        return {{"HIGH 1", "LOW 1", "HIGH 2", "LOW 2"},
                {{{"PWM", "rest", "low", "high"}, "drives", "LOW 1 takes over in the pauses", false},
                 {{"low", "high", "PWM", "rest"}, "reverses", "from rest only", false},
                 {{"low", "high", "low", "high"}, "brakes", "shorted by both lower switches", false},
                 {{"low", "low", "low", "low"}, "coasts", "all four switches are open", false},
                 {{"high", "high", "any", "any"}, "shorts", "the supply, through one end", true},
                 {{"floats", "floats", "floats", "floats"}, "coasts", "at reset, by a pull-down on each", false}}};
    if (hasTwoInputs(driver))
        return {{"IN 1", "IN 2"},
                {{{"high", "PWM"}, "drives", "while IN 2 is low; while both are high it brakes", false},
                 {{"PWM", "high"}, "reverses", "from rest only: at speed, twice the stall current", false},
                 {{"high", "high"}, "brakes", "the motor is shorted", false},
                 {{"low", "low"}, "coasts", "all four switches are open", false},
                 {{"floats", "floats"}, "coasts", "at reset, by a pull-down on each", false}}};
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
    return bridge::unloaded(a, "bridge", "between the bridge's two outputs");
}

// Where its switches take their current: behind a meter, where an input reads that.
std::string fedAt(const Decked& d) {
    return d.has(d.it + current_output) ? d.tag + "__fed" : d.at("bridge +");
}

// An input that is high alone closes the upper switch of its end; one that is high, the lower one of the other end.
void inputDeck(const Decked& d) {
    const std::string in1 = d.at("bridge IN 1"), in2 = d.at("bridge IN 2"), f = d.tag + "__fw", b = d.tag + "__bw";
    d.lines.push_back(fmt::format("Bf_{0} {1} 0 V=V({2})*(1-V({3})/{4:.6g})", d.tag, f, in1, in2, d.logic));
    d.lines.push_back(fmt::format("Bb_{0} {1} 0 V=V({2})*(1-V({3})/{4:.6g})", d.tag, b, in2, in1, d.logic));
    const double ohms = bridge::path(d.driver) / 2.0;
    d.follows("u1", fedAt(d), d.at("bridge OUT 1"), f, ohms);
    d.follows("l2", d.at("bridge OUT 2"), d.at("bridge −"), in1, ohms);
    d.follows("u2", fedAt(d), d.at("bridge OUT 2"), b, ohms);
    d.follows("l1", d.at("bridge OUT 1"), d.at("bridge −"), in2, ohms);
}

// Four switches: PWM closes one above and one below, DIR says which two.
void lineDeck(const Decked& d) {
    const std::string pwm = d.at("bridge PWM"), way = d.at("bridge DIR"), f = d.tag + "__fw", b = d.tag + "__bw";
    d.lines.push_back(fmt::format("Bf_{0} {1} 0 V=V({2})*(1-V({3})/{4:.6g})", d.tag, f, pwm, way, d.logic));
    d.lines.push_back(fmt::format("Bb_{0} {1} 0 V=V({2})*V({3})/{4:.6g}", d.tag, b, pwm, way, d.logic));
    const double ohms = bridge::path(d.driver) / 2.0;
    d.follows("f1", fedAt(d), d.at("bridge OUT 1"), f, ohms);
    d.follows("f2", d.at("bridge OUT 2"), d.at("bridge −"), f, ohms);
    d.follows("b1", fedAt(d), d.at("bridge OUT 2"), b, ohms);
    d.follows("b2", d.at("bridge OUT 1"), d.at("bridge −"), b, ohms);
}

// Each input closes its own switch.
void switchDeck(const Decked& d) {
    const double ohms = bridge::path(d.driver) / 2.0;
    for (const int end : {1, 2}) {
        const auto out = d.node(fmt::format("{}bridge OUT {}", d.it, end));
        d.follows(fmt::format("u{}", end), fedAt(d), out, d.node(d.it + "bridge " + bridge::highInput(end)), ohms);
        d.follows(fmt::format("l{}", end), out, d.at("bridge −"), d.node(d.it + "bridge " + bridge::lowInput(end)), ohms);
    }
}

void deck(const Decked& d) {
    if (switchedEnds(d.driver) > 0) switchDeck(d);
    else if (hasTwoInputs(d.driver)) inputDeck(d);
    else lineDeck(d);
    if (d.has(d.it + current_output) && d.driver.current_output) {
        d.lines.push_back(fmt::format("Vi_{0} {1} {2} 0", d.tag, d.at("bridge +"), fedAt(d)));
        d.lines.push_back(
            fmt::format("Bi_{0} {1} 0 V={2:.6g}*max(0,I(Vi_{0}))", d.tag, d.at(current_output), si(*d.driver.current_output)));
    }
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
    .two_ends = true,
    .ends = {"bridge"},
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
