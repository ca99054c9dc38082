// A quiet chopper whose current, micro-steps and stall level are registers, set over its serial line.
#include <fmt/format.h>
#include "kinds/drivers/carrier.hpp"

namespace hinge::kinds {
namespace serial_chopper {
namespace {

std::optional<NotDriven> refuses(const Commanded& c) {
    if (registersOf(c.driver) != nullptr) return std::nullopt;
    return NotDriven{fmt::format("no table says what the registers of {} are: its current and micro-steps would be what it wakes up with. "
                                 "A row names one in its column 'registers'",
                                 c.driver.name),
                     {}};
}

void wires(const Wiring& w) {
    carrier::wires(w);
    const auto* map = registersOf(w.driver);
    if (map == nullptr) return;
    if (map->bus == driver::RegisterBus::SingleWire) {
        for (const auto& [end, pin] : w.registers)
            w.wire(pin, w.it + "carrier " + end, of<Resistance>(1e3), ": data go both ways on it, and neither side forces the other");
        w.wire(w.it + "carrier address straps", "ground", "node 0");
        return;
    }
    for (const auto& [end, pin] : w.registers) {
        const bool back = end == driver::register_ends.back();
        w.wire(back ? w.it + "carrier " + end : pin, back ? pin : w.it + "carrier " + end, back ? "the one line on which it answers" : "");
    }
    w.wire(w.it + "carrier interface strap", w.logic, "where it has one: for the bus with a clock, by its data sheet");
}

}  // namespace
extern const DriverKind kind{
    .of = driver::DriverClass::SerialChopper,
    .label = "step/dir chopper, serial",
    .drives = only(Method::Steps),
    .limits = true,
    .bears = Bears::AsRated,
    .roughness = 0.05,
    .ends = {"carrier"},
    .signal = SignalKind::Steps,
    .faults = {"sleeper", "serial"},
    .drop = NotForThis{"it holds the current, whatever it keeps of the volts"},
    .judge = &carrier::judge,
    .show = NotForThis{"its heat is one product, and its current is a register"},
    .protection = &carrier::protection,
    .refuses = &refuses,
    .wires = &wires,
    .states = NotForThis{"a step a pulse: no level of its lines is a state of the motor"},
    .deck = NotForThis{"it holds the current by itself"},
    .alone = NotForThis{"its current is a register: there is no trimmer to measure at"},
    .at_the_gate = NotForThis{"its gates are inside"},
};
}  // namespace serial_chopper
}  // namespace hinge::kinds
