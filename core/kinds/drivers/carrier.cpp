#include "kinds/drivers/carrier.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "driver/current_sense.hpp"
#include "kinds/actuator_kind.hpp"
#include "kinds/drivers/transistor.hpp"

namespace hinge::kinds::carrier {

bool judge(const Driven& d, Numbers& n) {
    if (!d.driver.on_resistance || !d.driver.current_max) {
        n.incomplete = true;
        return false;
    }
    n.heat = n.drive_current * n.drive_current * si(*d.driver.on_resistance) * transistor::hot * d.share;
    return true;
}

void protection(const Fitting& f) {
    f.list.push_back({"bulk capacitor", "100 µF, 2 times the rail's volts", "across " + f.rail.name + ", within 5 cm of the carrier",
                      "plugging in rings far above the rail"});
    if (const auto worked = driver::chopperReference(f.driver, of<Current>(f.n.drive_current)); worked && driverKind(f.driver).trimmer)
        f.list.push_back({"reference voltage", display(worked->result.reference_voltage), "at the carrier's trimmer, to ground",
                          fmt::format("limits the peak to {}", display(Kind::Current, f.n.drive_current))});
    f.list.push_back({"sleep and reset straps", "tied together or to the board's volts", "at the carrier", "it is asleep otherwise"});
    f.list.push_back({"enable pull-up", "10 kΩ", "between ENABLE and the board's volts",
                      "the motor is loose while the board starts: many carriers are on where that pin floats"});
}

void wires(const Wiring& w) {
    const auto& channel = w.channel;
    w.wire(w.pin, w.it + "carrier STEP");
    if (!channel.direction_pin.empty()) w.wire("board " + channel.direction_pin, w.it + "carrier DIR");
    if (!channel.enable_pin.empty()) {
        w.wire("board " + channel.enable_pin, w.it + "carrier ENABLE", "low is on");
        w.wire(w.logic, w.it + "carrier ENABLE", of<Resistance>(10e3), ": loose while the board starts");
    }
    w.wire(w.rail, w.it + "carrier motor supply", "capacitor within 5 cm");
    w.wire(w.logic, w.it + "carrier logic supply");
    w.wire(w.it + "carrier grounds", "ground");
    w.wire(w.it + "carrier not-sleep", w.it + "carrier not-reset",
           registersOf(w.driver) == nullptr ? "joined: it is asleep where they float"
                                            : "joined, where it has them: it is asleep where they float");
    if (si(channel.signal.microsteps) > 1.0 && registersOf(w.driver) == nullptr)
        w.wire(w.it + "carrier micro-step straps", w.logic,
               fmt::format("for {:.0f} micro-steps, by the table of its data sheet", si(channel.signal.microsteps)));
    w.wire(w.it + "carrier coil A", w.it + "winding A", "never unplug it while the power is on");
    w.wire(w.it + "carrier coil B", w.it + "winding B");
}

std::vector<LoneCheck> reference(const Alone& a) {
    if (a.numbers == nullptr) return {};
    const auto worked = driver::chopperReference(a.driver, of<Current>(a.numbers->drive_current));
    if (!worked) return {};
    LoneCheck check{"reference", "chopper's reference",
                    "Motor unplugged, power off. Then on, and measure from the carrier's trimmer to ground; turn it until it reads this. "
                    "Power off again before the motor is plugged in.",
                    "hand on the plug", "voltmeter; a screwdriver that is insulated"};
    check.expected = si(worked->result.reference_voltage);
    check.least = 0.9 * check.expected, check.most = 1.05 * check.expected;
    check.reason = "peak current by sense resistor by gain; too high cooks the motor, too low loses steps";
    check.caution = "Never plug a stepper in or out while the power is on: it kills the driver.";
    if (a.part != nullptr)
        if (const double rated = actuatorKind(*a.part).rated_peak(*a.part); known(rated))
            if (const auto most = driver::chopperReference(a.driver, of<Current>(rated)))
                check.never_over = si(most->result.reference_voltage), check.bears = "the motor's rated current";
    return {check};
}

}  // namespace hinge::kinds::carrier
