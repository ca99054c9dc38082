// A board of its own that makes the pulses of many servos, commanded over a bus or a serial line.
#include <fmt/format.h>
#include "kinds/driver_kind.hpp"

namespace hinge::kinds {
namespace servo_expander {
namespace {

void wires(const Wiring& w) {
    w.wire(w.pin, w.it + "servo plug");
}

std::optional<NotDriven> refuses(const Commanded& c) {
    if (registersOf(c.driver) != nullptr) return std::nullopt;
    return NotDriven{
        fmt::format("no table says how {} is spoken to: a row names one in its column 'registers'", c.driver.name),
        {{"Straight from a pin", {{"channels/" + c.channel.id + "/drive/part", "straight_from_pin"}}, "one pin for each servo"}}};
}

}  // namespace
extern const DriverKind kind{
    .of = driver::DriverClass::ServoExpander,
    .label = "servo expander",
    .drives = only(Method::ServoPulse),
    .warms = false,
    .own_outputs = true,
    .bears = Bears::AsRated,
    .ends = {},  // one box for all its servos: its ends begin with its own name
    .signal = SignalKind::ServoPulse,
    .faults = {"switch"},
    .drop = NotForThis{"the servo's current does not go through it"},
    .judge = NotForThis{"it carries signals only"},
    .show = NotForThis{"it carries signals only"},
    .protection = NotForThis{"its servos bring their own"},
    .refuses = &refuses,
    .wires = &wires,
    .states = NotForThis{"it is commanded by a protocol"},
    .deck = NotForThis{"it is commanded by a protocol"},
    .alone = NotForThis{"its outputs give pulses, with a servo or without"},
    .at_the_gate = NotForThis{"there is no gate"},
};
}  // namespace servo_expander
}  // namespace hinge::kinds
