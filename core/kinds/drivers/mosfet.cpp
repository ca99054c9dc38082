// A logic-level MOSFET between the load's minus and ground.
#include <fmt/format.h>
#include "driver/gate_network.hpp"
#include "kinds/drivers/transistor.hpp"

namespace hinge::kinds {
namespace mosfet {
namespace {

using driver::PulldownSide;

// What pin, resistor and pull-down leave of the pin's volts at the gate.
double divided(PulldownSide side, Resistance pulldown, Resistance gate_resistor) {
    return side == PulldownSide::Gate ? si(pulldown) / (si(pulldown) + si(gate_resistor)) : 1.0;
}
double gateVolts(const Context& c) {
    return si(c.logic) * divided(c.pulldown_side, c.pulldown, c.gate_resistor);
}

bool judge(const Driven& d, Numbers& n) {
    if (d.driver.threshold_max && d.driver.on_resistance && d.driver.on_resistance_gate_voltage)
        n.pin_peak = si(d.c.logic) / si(d.c.gate_resistor);
    return transistor::judgeGate(d, gateVolts(d.c), n);
}
void show(const Driven& d, const Showing& s) {
    transistor::showGate(d, gateVolts(d.c), s);
}

void protection(const Fitting& f) {
    f.list.push_back(
        {"gate resistor", displayPlain(f.c.gate_resistor), "between pin and gate", "keeps the gate's charging current within the pin's"});
    f.list.push_back(
        {"pull-down", displayPlain(f.c.pulldown),
         f.c.pulldown_side == PulldownSide::Pin ? "from the pin's side of the gate resistor to ground" : "from the gate to ground",
         "holds it off while the board starts"});
    if (f.inductive) f.diode("the drain");
}

void wires(const Wiring& w) {
    const auto& drive = w.channel.drive;
    w.wire(w.pin, w.it + "MOSFET gate", drive.gate_resistor);
    w.pullDown(drive.pulldown_side == PulldownSide::Pin ? w.pin : w.it + "MOSFET gate", drive.pulldown);
    w.wire(w.it + "MOSFET source", "ground");
    w.wire(w.it + "−", w.it + "MOSFET drain");
    w.wire(w.rail, w.it + "+", w.resistor);
}

std::vector<LoneCheck> atTheGate(const Alone& a) {
    const auto& drive = a.channel.drive;
    LoneCheck off{"gate_off", "gate at rest", "Sketch running, motor unplugged. Measure gate to ground.", "hand on the plug", "voltmeter"};
    off.least = -0.05, off.most = 0.3, off.reason = "pulled down, well below the threshold";
    LoneCheck on{"gate_on", "gate while on", "Motor still unplugged. Start the cue and measure gate to ground.", "hand on the plug",
                 "voltmeter"};
    on.expected = a.logic * divided(drive.pulldown_side, drive.pulldown, drive.gate_resistor) * si(a.channel.signal.duty);
    on.least = 0.92 * on.expected, on.most = 1.05 * on.expected, on.reason = "the pin's volts through the gate network";
    return {off, on};
}

// Level 1: its resistance at the gate volts of its data sheet (ngspice manual, chapter 11).
void deck(const Decked& d) {
    const double threshold = d.driver.threshold_max ? si(*d.driver.threshold_max) : 2.0,
                 gate = d.driver.on_resistance_gate_voltage ? si(*d.driver.on_resistance_gate_voltage) : 4.5,
                 ohms = d.driver.on_resistance ? si(*d.driver.on_resistance) : 0.1;
    d.lines.push_back(
        fmt::format(".model {}_m nmos level=1 vto={:.6g} kp={:.6g}", d.tag, threshold, 1.0 / (ohms * std::max(0.2, gate - threshold))));
    d.lines.push_back(fmt::format("M_{0} {1} {2} {3} {3} {0}_m", d.tag, d.at("MOSFET drain"), d.at("MOSFET gate"), d.at("MOSFET source")));
}

}  // namespace
extern const DriverKind kind{
    .of = driver::DriverClass::Mosfet,
    .label = "MOSFET",
    .drives = transistor::one_way,
    .ends = {"MOSFET"},
    .symbol = Symbol::Mosfet,
    .faults = {"mosfet", "switch"},
    .facts = {"gate_resistor", "pulldown", "pulldown_side"},
    .drop = &transistor::channelDrop,
    .judge = &judge,
    .show = &show,
    .protection = &protection,
    .refuses = NotForThis{"it is on, off or chopped, as its pin is"},
    .wires = &wires,
    .states = NotForThis{"one line: high is on"},
    .deck = &deck,
    .alone = NotForThis{"without a load its drain floats: its gate is measured instead"},
    .at_the_gate = &atTheGate,
};
}  // namespace mosfet
}  // namespace hinge::kinds
