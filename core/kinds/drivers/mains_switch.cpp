#include "kinds/drivers/mains_switch.hpp"
#include <fmt/format.h>
#include "kinds/demand_kind.hpp"

namespace hinge::kinds::mains_switch {
namespace {

double drop(const driver::DriverPart& part, double /*amps*/) {
    return part.saturation_voltage ? si(*part.saturation_voltage) : 1.2;  // common practice, no published source
}

bool judge(const Driven& d, Numbers& n) {
    n.heat = n.winding * drop(d.driver, n.winding) * d.share;
    if (d.driver.current_min && n.winding < si(*d.driver.current_min))
        n.hit(Rule::SsrLeakage, Severity::Warn, n.winding, si(*d.driver.current_min));
    return true;
}

void protection(const Fitting& f) {
    f.list.push_back({"snubber", "100 Ω in series with 100 nF, X2 class", "across the switch", "an inductive load's kick may fire it"});
    f.list.push_back({"fuse", "as the load's current, fast", "in the live wire", "the switch must not be the fuse"});
}

std::optional<NotDriven> refuses(const Commanded& c) {
    if (!onMains(c.channel.demand) || !c.dimmed) return std::nullopt;
    const bool heats = std::holds_alternative<project::HeatDemand>(c.channel.demand);
    const auto waves = driverKind(c.driver).waves;
    if (firesParts(waves) || (heats && waves == Waves::WholeCycles)) return std::nullopt;
    const std::string path = "channels/" + c.channel.id + "/";
    NotDriven reason{fmt::format("the sketch only switches {} on and off: parts of half-waves want a phase control board or a random-fire "
                                 "relay, and whole cycles it counts only for a heater on a zero-crossing relay",
                                 c.driver.name),
                     {{"Fully on or off", {{path + "signal/duty", "1"}}, "costs nothing"}}};
    if (std::holds_alternative<project::SwitchDemand>(c.channel.demand))
        reason.remedies.front().edits.push_back({path + "demand/dimmed", "no"});
    return reason;
}

// EN 50160 (from memory): 1 % for nearly all of a year, where the grid is a large one.
std::vector<LoneCheck> crossings(const Alone& a) {
    const auto mains = demandKind(a.channel.demand).mains(a.channel.demand);
    if (!mains || a.signal != SignalKind::PartWaves) return {};
    LoneCheck check{
        "crossings",
        "the mains' crossings, its load unplugged",
        "Ask the sketch for its state over the link: it says ': mains', the hertz, and how many crossings it has lost. Take the hertz.",
        "a switch or plug that cuts the mains; everything on it closed, and nothing of it touched",
        "the link; it adds nothing to the circuit",
        Kind::Frequency};
    check.expected = si(mains->frequency);
    check.least = 0.99 * check.expected, check.most = 1.01 * check.expected;
    check.reason = "a large grid keeps within 1 %; 'no mains crossings' is a wire, or a board without a zero-cross output";
    check.caution = "Mains is on while you read: done or checked by a licensed electrician, by your local code.";
    check.abort = "Cut the mains at once where anything hums, smells or warms: its load is unplugged.";
    return {check};
}

}  // namespace

void wires(const Wiring& w) {
    w.wire(w.pin, w.it + "solid-state relay IN +");
    w.wire(w.it + "solid-state relay IN −", "ground");
    w.onTheMains(w.it + "solid-state relay", w.it + "solid-state relay, load side");
}

DriverKind solid(DriverKind kind) {
    kind.drives = only(Method::Alternating);
    kind.alternating = true;
    kind.bears = Bears::AsRated;
    kind.ends = {"solid-state relay", "zero-cross output"};
    kind.signal = SignalKind::Switched;
    kind.faults = {"switch"};
    kind.drop = &drop;
    kind.judge = &judge;
    kind.show = NotForThis{"its heat is one product: what it keeps by what it carries"};
    kind.protection = &protection;
    kind.refuses = &refuses;
    if (!kind.wires) kind.wires = &wires;
    kind.states = NotForThis{"one line: it lets through or not"};
    kind.deck = NotForThis{"it switches the mains"};
    kind.alone = NotForThis{"its output is mains: nothing is measured on it by hand"};
    if (firesParts(kind.waves)) kind.at_the_gate = &crossings;
    else kind.at_the_gate = NotForThis{"its gate is on the mains"};
    return kind;
}

}  // namespace hinge::kinds::mains_switch
