// A board of more lines that are on or off, over a two-wire bus. It drives nothing by itself: a channel's driver, or an input, hangs on one
// of its lines.
#include <fmt/format.h>
#include "kinds/driver_kind.hpp"

namespace hinge::kinds {
namespace io_expander {
namespace {

std::optional<NotDriven> refuses(const Commanded& c) {
    return NotDriven{
        fmt::format("{} is a board of more lines and no driver: choose what stands between its line and {}", c.driver.name, c.channel.name),
        {}};
}

}  // namespace
extern const DriverKind kind{
    .of = driver::DriverClass::IoExpander,
    .label = "I/O expander",
    .warms = false,
    .own_outputs = true,
    .bears = Bears::AsRated,
    .faults = {"switch"},
    .drop = NotForThis{"no load hangs on it"},
    .judge = NotForThis{"it carries signals only"},
    .show = NotForThis{"it carries signals only"},
    .protection = NotForThis{"it carries signals only"},
    .refuses = &refuses,
    .wires = NotForThis{"what hangs on its lines brings its own"},
    .states = NotForThis{"it is commanded by a protocol"},
    .deck = NotForThis{"it is commanded by a protocol"},
    .alone = NotForThis{"no load hangs on it"},
    .at_the_gate = NotForThis{"there is no gate"},
};
}  // namespace io_expander
}  // namespace hinge::kinds
