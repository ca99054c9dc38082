// A carrier that holds a stepper's current by chopping it, commanded by step and direction lines.
#include "kinds/drivers/carrier.hpp"

namespace hinge::kinds {
namespace chopper {
extern const DriverKind kind{
    .of = driver::DriverClass::Chopper,
    .label = "step/dir chopper",
    .drives = only(Method::Steps),
    .limits = true,
    .trimmer = true,
    .bears = Bears::AsRated,
    .ends = {"carrier"},
    .signal = SignalKind::Steps,
    .faults = {"sleeper"},
    .drop = NotForThis{"it holds the current, whatever it keeps of the volts"},
    .judge = &carrier::judge,
    .show = NotForThis{"its heat is one product, and its reference is shown with its motor"},
    .protection = &carrier::protection,
    .refuses = NotForThis{"step and direction are what the sketch sends"},
    .wires = &carrier::wires,
    .states = NotForThis{"a step a pulse: no level of its lines is a state of the motor"},
    .deck = NotForThis{"it holds the current by itself"},
    .alone = &carrier::reference,
    .at_the_gate = NotForThis{"its gates are inside"},
};
}  // namespace chopper
}  // namespace hinge::kinds
