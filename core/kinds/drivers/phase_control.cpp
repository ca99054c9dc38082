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
const DriverKind kind{
    .of = driver::DriverClass::PhaseControl,
    .label = "phase control",
    .drives = only(Method::Alternating),
    .alternating = true,
    .bears = Bears::AsRated,
    .waves = Waves::Parts,
    .signal = SignalKind::Switched,
    .faults = {"switch"},
    .drop = &mains_switch::drop,
    .judge = &mains_switch::judge,
    .show = NotForThis{"its heat is one product: what it keeps by what it carries"},
    .protection = &mains_switch::protection,
    .refuses = &mains_switch::refuses,
    .wires = &wires,
    .states = NotForThis{"one line: it lets through or not"},
    .alone = NotForThis{"its output is mains: nothing is measured on it by hand"},
    .at_the_gate = NotForThis{"its gate is on the mains"},
};
}  // namespace phase_control
}  // namespace hinge::kinds
