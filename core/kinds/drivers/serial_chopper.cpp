// A quiet chopper whose current, micro-steps and stall level are registers, set over its serial line.
#include <fmt/format.h>
#include "kinds/drivers/carrier.hpp"

namespace hinge::kinds {
namespace serial_chopper {
namespace {

std::optional<NotDriven> refuses(const Commanded& c) {
    return NotDriven{fmt::format("the sketch does not set the registers of {} over its serial line: its current and micro-steps would be "
                                 "what it wakes up with",
                                 c.driver.name),
                     {}};
}

}  // namespace
extern const DriverKind kind{
    .of = driver::DriverClass::SerialChopper,
    .label = "step/dir chopper, serial",
    .drives = only(Method::Steps),
    .limits = true,
    .bears = Bears::AsRated,
    .roughness = 0.05,
    .signal = SignalKind::Steps,
    .faults = {"sleeper", "serial"},
    .drop = NotForThis{"it holds the current, whatever it keeps of the volts"},
    .judge = &carrier::judge,
    .show = NotForThis{"its heat is one product, and its current is a register"},
    .protection = &carrier::protection,
    .refuses = &refuses,
    .wires = &carrier::wires,
    .states = NotForThis{"a step a pulse: no level of its lines is a state of the motor"},
    .deck = NotForThis{"it holds the current by itself"},
    .alone = NotForThis{"its current is a register: there is no trimmer to measure at"},
    .at_the_gate = NotForThis{"its gates are inside"},
};
}  // namespace serial_chopper
}  // namespace hinge::kinds
