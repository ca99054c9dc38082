// A bipolar transistor between the load's minus and ground.
#include "kinds/drivers/transistor.hpp"

namespace hinge::kinds {
namespace npn {
namespace {

// Where the data sheet is silent. Common practice, no published source.
constexpr double usual_base = 0.8, usual_saturation = 0.3;  // V

double drop(const driver::DriverPart& part, double /*amps*/) {
    return part.saturation_voltage ? si(*part.saturation_voltage) : usual_saturation;
}
bool judge(const Driven& d, Numbers& n) {
    return transistor::judgeBase(d, usual_base, drop(d.driver, n.winding), n);
}
void show(const Driven& d, const Showing& s) {
    transistor::showBase(d, usual_base, usual_saturation, s);
}
void wires(const Wiring& w) {
    transistor::wireBase(w, "transistor");
}

}  // namespace
extern const DriverKind kind;
const DriverKind kind{
    .of = driver::DriverClass::Npn,
    .label = "NPN transistor",
    .drives = transistor::one_way,
    .faults = {"switch"},
    .facts = {"base_resistor"},
    .drop = &drop,
    .judge = &judge,
    .show = &show,
    .protection = &transistor::protectBase,
    .refuses = NotForThis{"it is on, off or chopped, as its pin is"},
    .wires = &wires,
    .states = NotForThis{"one line: high is on"},
    .alone = NotForThis{"without a load its collector floats"},
    .at_the_gate = NotForThis{"a base shows the same volts on any load"},
};
}  // namespace npn
}  // namespace hinge::kinds
