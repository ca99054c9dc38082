// A triac with its coupler and a zero-cross output: part of each half-wave.
#include "kinds/drivers/mains_switch.hpp"

namespace hinge::kinds {
namespace phase_control {
namespace {

void wires(const Wiring& w) {
    w.wire(w.it + "zero-cross output", "board, a free pin with an interrupt", "it tells where each half-wave begins");
    mains_switch::wires(w);
}

}  // namespace
extern const DriverKind kind;
const DriverKind kind =
    mains_switch::solid({.of = driver::DriverClass::PhaseControl, .label = "phase control", .waves = Waves::Parts, .wires = &wires});
}  // namespace phase_control
}  // namespace hinge::kinds
