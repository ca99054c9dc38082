// A board of its own that makes the pulses of many servos, commanded over a bus or a serial line.
#include <fmt/format.h>
#include "kinds/driver_kind.hpp"

namespace hinge::kinds {
namespace servo_expander {
namespace {

void wires(const Wiring& w) {
    w.wire("board bus", w.it + "expander", "data and clock, or serial");
    w.wire(w.rail, w.it + "expander's servo supply");
    w.wire(w.it + "expander output", w.it + "servo plug");
}

std::optional<NotDriven> refuses(const Commanded& c) {
    return NotDriven{
        fmt::format("the sketch does not speak to {}: it sends servo pulses from the board's own pins", c.driver.name),
        {{"Straight from a pin", {{"channels/" + c.channel.id + "/drive/part", "straight_from_pin"}}, "one pin for each servo"}}};
}

}  // namespace
extern const DriverKind kind{
    .of = driver::DriverClass::ServoExpander,
    .label = "servo expander",
    .drives = only(Method::ServoPulse),
    .warms = false,
    .bears = Bears::AsRated,
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
