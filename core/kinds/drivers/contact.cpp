#include "kinds/drivers/contact.hpp"
#include <fmt/format.h>
#include "actuator/coil_drive.hpp"
#include "driver/contact_rating.hpp"
#include "kinds/actuator_kind.hpp"

namespace hinge::kinds::contact {
namespace {

// Whether it would be chopped: a contact cannot follow.
bool wantsParts(const Context& c) {
    if (const auto* switched = std::get_if<project::SwitchDemand>(&c.demand)) return switched->dimmed;
    const bool thermal = std::holds_alternative<project::HeatDemand>(c.demand);
    return !thermal && (si(c.signal.duty) < 1.0 || si(c.signal.soft_start) > 0.0);
}

bool judge(const Driven& d, Numbers& n) {
    if (!d.driver.contact_current) {
        n.incomplete = true;
        return false;
    }
    const auto load = contactLoad(d.c, d.part);
    const double usable = si(*d.driver.contact_current) * (load == driver::ContactLoad::Inductive ? 0.4 : 1.0),
                 inrush = n.winding * driver::usualInrush(load);
    if (inrush > usable * slack) n.hit(Rule::ContactInrush, Severity::Stop, inrush, usable);
    else if (inrush > 0.8 * usable * slack) n.hit(Rule::ContactInrush, Severity::Warn, inrush, usable);
    if (d.driver.coil_voltage && d.driver.coil_resistance) {
        const double supply = d.c.logic_supply ? si(*d.c.logic_supply) : unknown, pulls = 0.75 * si(*d.driver.coil_voltage);
        if (!known(supply)) {
            n.incomplete = true;
        } else {
            n.heat = supply * supply / si(*d.driver.coil_resistance);
            if (supply < pulls / slack) n.hit(Rule::CoilWontPull, Severity::Stop, supply, pulls);
            else if (supply < 1.1 * pulls) n.hit(Rule::CoilWontPull, Severity::Warn, supply, pulls);
            // A third over its volts a coil burns for good (common practice, no published source).
            if (supply > 1.3 * si(*d.driver.coil_voltage) * slack)
                n.hit(Rule::SwitchVoltage, Severity::Stop, supply, si(*d.driver.coil_voltage));
        }
    }
    if (wantsParts(d.c)) n.hit(Rule::RelayNoPwm, Severity::Stop);
    return true;
}

void show(const Driven& d, const Showing& show) {
    driver::ContactRating in;
    in.load = contactLoad(d.c, d.part);
    in.current = of<Current>(show.out.numbers.winding);
    if (d.driver.contact_current) in.contact_current = *d.driver.contact_current;
    if (d.driver.contact_current) show.add("contact at switch-on", project::Stage::Match, driver::contactRating(in));
    if (d.driver.coil_voltage && d.driver.coil_resistance && d.c.logic_supply) {
        actuator::CoilDrive coil;
        coil.coil_voltage = *d.driver.coil_voltage;
        coil.coil_resistance = *d.driver.coil_resistance;
        coil.supply = *d.c.logic_supply;
        show.add("the relay's coil", project::Stage::Match, actuator::coilDrive(coil));
    }
}

void protection(const Fitting& f) {
    if (f.inductive && f.rail.volts && !known(f.n.volts)) return;
    if (f.inductive) f.diode("the contact's load side");
}

void wires(const Wiring& w) {
    w.wire(w.pin, w.it + "relay board IN");
    w.wire("board 5 V", w.it + "relay board VCC");
    w.wire(w.it + "relay board GND", "ground");
    if (w.mains) {
        w.onTheMains(w.it + "relay contact", w.it + "relay contact, normally open");
        return;
    }
    w.wire(w.it + "−", w.it + "relay contact", "normally open");
    w.wire(w.it + "relay contact, other side", "ground");
    w.wire(w.rail, w.it + "+", w.resistor);
}

void deck(const Decked& d) {
    if (!d.has(d.it + "relay contact")) return;
    const std::string in = d.at("relay board IN");
    d.lines.push_back(fmt::format("Rin_{} {} 0 10k", d.tag, in));
    d.follows("k", d.at("relay contact"), d.at("relay contact, other side"), in, 0.1);
    if (d.driver.coil_resistance) d.follows("c", d.at("relay board VCC"), d.at("relay board GND"), in, si(*d.driver.coil_resistance));
}

}  // namespace

DriverKind made(DriverKind kind) {
    kind.contact = true;
    kind.warms = false;
    kind.bears = Bears::AsRated;
    kind.ends = {"relay board", "relay contact"};
    kind.signal = SignalKind::Switched;
    kind.faults = {"switch", "contact"};
    kind.drop = NotForThis{"a good contact keeps next to nothing"};
    kind.judge = &judge;
    kind.show = &show;
    kind.protection = &protection;
    kind.refuses = NotForThis{"it is on or off, as its pin is"};
    kind.wires = &wires;
    kind.states = NotForThis{"one line: the contact is closed or open"};
    kind.deck = &deck;
    kind.at_the_gate = NotForThis{"there is no gate"};
    return kind;
}

}  // namespace hinge::kinds::contact
