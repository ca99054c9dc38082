// A triac with its coupler and a zero-cross output: part of each half-wave.
#include "kinds/demand_kind.hpp"
#include "kinds/drivers/mains_switch.hpp"

namespace hinge::kinds {
namespace phase_control {
namespace {

void wires(const Wiring& w) {
    w.wire(w.it + "zero-cross output", w.crossing.empty() ? "board, a free pin with an interrupt" : "board " + w.crossing,
           "it tells where each half-wave is, and pulls its wire down between: the board's own pull-up is on");
    mains_switch::wires(w);
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

DriverKind made() {
    auto kind =
        mains_switch::solid({.of = driver::DriverClass::PhaseControl, .label = "phase control", .waves = Waves::Parts, .wires = &wires});
    kind.at_the_gate = &crossings;
    return kind;
}

}  // namespace
extern const DriverKind kind;
const DriverKind kind = made();
}  // namespace phase_control
}  // namespace hinge::kinds
