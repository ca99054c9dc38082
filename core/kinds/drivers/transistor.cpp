#include "kinds/drivers/transistor.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "driver/bjt_switch.hpp"
#include "driver/mosfet_switch.hpp"
#include "quantity/series.hpp"

namespace hinge::kinds::transistor {

bool judgeGate(const Driven& d, double gate, Numbers& n) {
    const auto& part = d.driver;
    const auto& signal = d.c.signal;
    if (!part.threshold_max || !part.on_resistance || !part.on_resistance_gate_voltage) {
        n.incomplete = true;
        return false;
    }
    const double plateau = si(*part.threshold_max), running = n.winding;
    double heat = running * running * si(*part.on_resistance) * hot * si(signal.duty);
    if (si(signal.duty) < 1.0 && part.gate_charge) {
        if (gate > plateau)
            heat += d.rail * running * si(*part.gate_charge) * si(d.c.gate_resistor) / (gate - plateau) * si(signal.frequency);
        else n.incomplete = true;
    }
    n.heat = heat * d.share;
    if (gate < si(*part.on_resistance_gate_voltage) / slack)
        n.hit(Rule::GateNotEnhanced, Severity::Stop, gate, si(*part.on_resistance_gate_voltage));
    return true;
}

void showGate(const Driven& d, double gate, const Showing& show) {
    const auto& part = d.driver;
    if (!part.threshold_max || !part.on_resistance || !part.on_resistance_gate_voltage) return;
    driver::MosfetSwitch in;
    in.drive_voltage = of<Voltage>(gate);
    in.threshold_max = *part.threshold_max;
    in.on_resistance = *part.on_resistance;
    in.on_resistance_gate_voltage = *part.on_resistance_gate_voltage;
    in.current = of<Current>(show.out.numbers.winding);
    in.supply = of<Voltage>(d.rail);
    in.duty = d.c.signal.duty;
    // Full duty never switches; below it the PWM does.
    in.frequency = si(d.c.signal.duty) < 1.0 ? d.c.signal.frequency : of<Frequency>(0.0);
    in.gate_charge = part.gate_charge.value_or(Charge{});
    in.gate_resistor = d.c.gate_resistor;
    if (part.theta_ja) in.theta_ja = *part.theta_ja;
    if (d.c.heat_sink) in.theta_ja = of<ThermalResistance>(std::min(si(in.theta_ja), si(*d.c.heat_sink) + into_sink));
    in.ambient = d.c.ambient;
    show.add("heat of the MOSFET", project::Stage::Match, driver::mosfetSwitch(in));
}

namespace {

double keeps(const driver::DriverPart& part, double /*amps*/) {
    return part.saturation_voltage ? si(*part.saturation_voltage) : driverKind(part).usual_saturation;
}

bool judgeBase(const Driven& d, Numbers& n) {
    const auto& part = d.driver;
    if (!part.gain_min) {
        n.incomplete = true;
        return false;
    }
    const double base_voltage = part.base_voltage ? si(*part.base_voltage) : driverKind(part).usual_base,
                 over = si(d.c.logic) - base_voltage, running = n.winding;
    if (over <= 0.0) {
        n.hit(Rule::LevelMismatch, Severity::Stop, si(d.c.logic), base_voltage);
        return false;
    }
    n.base_resistor =
        d.c.base_resistor ? si(*d.c.base_resistor) : preferred(over * si(*part.gain_min) / (2.0 * running), Series::E24, Round::Down);
    n.pin_peak = over / n.base_resistor;
    // With the least gain of the data sheet it must still be fully on; twice as much base current is the usual reserve.
    if (const double carries = n.pin_peak * si(*part.gain_min); carries < 2.0 * running / slack)
        n.hit(Rule::BaseStarved, carries < running / slack ? Severity::Stop : Severity::Warn, carries, running);
    if (n.pin_peak > si(d.c.pin_current) * slack) n.hit(Rule::PinOvercurrent, Severity::Stop, n.pin_peak, si(d.c.pin_current));
    n.heat = (keeps(part, running) * running + base_voltage * n.pin_peak) * si(d.c.signal.duty) * d.share;
    return true;
}

void showBase(const Driven& d, const Showing& show) {
    const auto& part = d.driver;
    if (!part.gain_min) return;
    driver::BjtSwitch in;
    in.current = of<Current>(show.out.numbers.winding);
    in.gain_min = *part.gain_min;
    in.drive_voltage = d.c.logic;
    in.base_voltage = part.base_voltage.value_or(of<Voltage>(driverKind(part).usual_base));
    in.saturation_voltage = part.saturation_voltage.value_or(of<Voltage>(driverKind(part).usual_saturation));
    in.supply = of<Voltage>(d.rail);
    in.pin_current_max = d.c.pin_current;
    show.add("base resistor and heat", project::Stage::Match, driver::bjtSwitch(in));
}

void protectBase(const Fitting& f) {
    if (known(f.n.base_resistor))
        f.list.push_back({"base resistor", displayPlain(Kind::Resistance, f.n.base_resistor), "between pin and base",
                          f.c.base_resistor ? "as it is fitted" : "next lower of E24 for twice the base current needed (IEC 60063)"});
    if (f.inductive) f.diode("the collector");
}

void wireBase(const Wiring& w) {
    const std::string name = driverKind(w.driver).in_the_list;
    w.wire(w.pin, w.it + name + " base", w.chosen != nullptr ? w.chosen->base_resistor : std::nullopt);
    w.wire(w.it + name + " emitter", "ground");
    w.wire(w.it + "−", w.it + name + " collector");
    w.wire(w.rail, w.it + "+", w.resistor);
}

// One transistor, or two where its base wants the volts of two; together they have its least gain.
void deckBase(const Decked& d) {
    const auto& kind = driverKind(d.driver);
    const bool two = kind.usual_base > 1.0;
    const double gain = d.driver.gain_min ? si(*d.driver.gain_min) : 60.0;
    const auto end = [&](const char* leg) { return d.node(d.it + kind.in_the_list + leg); };
    d.lines.push_back(fmt::format(".model {}_q npn bf={:.6g} is=1e-14", d.tag, two ? std::sqrt(gain) : gain));
    d.lines.push_back(
        fmt::format("Q1_{0} {1} {2} {3} {0}_q", d.tag, end(" collector"), end(" base"), two ? d.tag + "__mid" : end(" emitter")));
    if (two) d.lines.push_back(fmt::format("Q2_{0} {1} {0}__mid {2} {0}_q", d.tag, end(" collector"), end(" emitter")));
}

}  // namespace

DriverKind bipolar(DriverKind kind) {
    kind.ends = {kind.in_the_list};
    kind.symbol = Symbol::Transistor;
    kind.drives = one_way;
    kind.faults = {"switch"};
    kind.facts = {"base_resistor"};
    kind.drop = &keeps;
    kind.judge = &judgeBase;
    kind.show = &showBase;
    kind.protection = &protectBase;
    kind.refuses = NotForThis{"it is on, off or chopped, as its pin is"};
    kind.wires = &wireBase;
    kind.states = NotForThis{"one line: high is on"};
    kind.deck = &deckBase;
    kind.alone = NotForThis{"without a load its collector floats"};
    kind.at_the_gate = NotForThis{"a base shows the same volts on any load"};
    return kind;
}

}  // namespace hinge::kinds::transistor
