// A triac with its coupler and a zero-cross output: part of each half-wave.
#include "kinds/drivers/mains_switch.hpp"

namespace hinge::kinds {
namespace phase_control {
namespace {

void wires(const Wiring& w) {
    if (!w.crossing_wired)
        w.wire(w.it + "zero-cross output", w.crossing.empty() ? "board, a free pin with an interrupt" : "board " + w.crossing,
               "it tells where each half-wave is, and pulls its wire down between: the board's own pull-up is on");
    mains_switch::wires(w);
}

}  // namespace
extern const DriverKind kind;
const DriverKind kind =
    mains_switch::solid({.of = driver::DriverClass::PhaseControl, .label = "phase control", .waves = Waves::Parts, .wires = &wires});
}  // namespace phase_control
}  // namespace hinge::kinds
