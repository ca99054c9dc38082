#include "kinds/driver_kind.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace hinge::kinds {

void Fitting::diode(const std::string& end) const {
    const double amps = known(n.winding) ? n.winding : 1.0;
    list.push_back({"flyback diode",
                    fmt::format("{} or more, {} or more", display(Kind::Current, amps <= 1.0 ? 1.0 : std::ceil(amps)),
                                display(Kind::Voltage, rail.volts ? 2.0 * si(*rail.volts) : 40.0)),
                    fmt::format("stripe to the + of {}, other end to {}", rail.name, end),
                    "the winding's current needs a way on when the switch opens"});
}

void Wiring::wire(std::string from, std::string to, std::string note) const {
    wires.push_back({std::move(from), std::move(to), std::move(note)});
}

void Wiring::wire(std::string from, std::string to, std::optional<Resistance> lies, const std::string& after) const {
    if (lies) wires.push_back(through(std::move(from), std::move(to), *lies, after));
    else wire(std::move(from), std::move(to), after);
}

void Wiring::pullDown(std::string from, Resistance ohms) const {
    wires.push_back({std::move(from), "ground", "pull-down " + displayPlain(ohms), false, ohms});
}

void Wiring::onTheMains(const std::string& into, const std::string& out) const {
    const std::string care = "by or under a licensed electrician; follow your local code";
    wires.push_back({"mains live, after fuse and switch", into, care, true});
    wires.push_back({out, it + "live", care, true});
    wires.push_back({"mains neutral", it + "neutral", care, true});
    wires.push_back({"mains protective earth", it + "earth, and every metal part that can be touched",
                     care + "; a doubly insulated load has none", true});
}

bool DriverKind::has(std::string_view fact) const {
    return std::find(facts.begin(), facts.end(), fact) != facts.end();
}

double bornBy(const driver::DriverPart& driver, const Context& context) {
    const auto& kind = driverKind(driver);
    const auto& most = kind.contact ? driver.contact_current : driver.current_max;
    return kind.from_pin ? si(context.pin_current) : most ? si(*most) : unknown;
}

void Decked::follows(const std::string& name, const std::string& a, const std::string& b, const std::string& control, double ohms) const {
    lines.push_back(fmt::format(".model {}_{}_s sw vt={:.6g} vh=0.1 ron={:.6g} roff=1e8", name, tag, logic / 2.0, ohms));
    lines.push_back(fmt::format("S{0}_{1} {2} {3} {4} 0 {0}_{1}_s", name, tag, a, b, control));
}

}  // namespace hinge::kinds
