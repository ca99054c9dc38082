// A toy kind of actuator, as a stranger would add one: a holding magnet. Nothing else of the program knows it.
#include <algorithm>
#include "kinds/actuator_kind.hpp"

namespace hinge::kinds {
namespace toy_magnet {
namespace {

using actuator::Other;
using namespace project;

const Other& get(const actuator::Part& part) {
    return std::get<Other>(part);
}

std::vector<Column> columns() {
    return ColumnsOf<Other>{}
        .column("nominal_voltage", &Other::nominal_voltage, true)
        .column("resistance", &Other::resistance)
        .column("force", &Other::force)
        .list();
}
actuator::Part blank() {
    Other magnet;
    magnet.kind = "magnets";
    return magnet;
}
const char* name(const actuator::Part& /*part*/) {
    return "holding magnet";
}

std::optional<Method> method(const Context& c, const actuator::Part& /*part*/) {
    const auto* load = std::get_if<SwitchDemand>(&c.demand);
    if (load == nullptr || load->load != driver::ContactLoad::Inductive || onMains(c.demand)) return std::nullopt;
    return Method::OneWay;
}
driver::ContactLoad contact(const Context& /*c*/, const actuator::Part& /*part*/) {
    return driver::ContactLoad::Inductive;
}
void judge(Running& r, const actuator::Part& part) {
    const auto& magnet = get(part);
    if (!magnet.resistance) return r.missing();
    const double ohms = si(*magnet.resistance), amps = r.rail / (ohms + r.wire + r.path(r.rail / ohms));
    r.n.volts = amps * ohms;
    r.n.winding = r.n.running = r.n.starting = r.n.stalled = amps;
    r.n.part_heat = r.n.ability = amps * amps * ohms;
    r.supply(si(magnet.nominal_voltage), 1.1);
}
void show(const Showing& r, const actuator::Part& part) {
    Steps steps;
    addStep(steps, "I", "current of the magnet", "{V}/{R}", {{"V", r.out.numbers.volts}, {"R", si(*get(part).resistance)}},
            of<Current>(r.out.numbers.winding), "ohm");
    r.out.workings.push_back({"current of the magnet", Stage::Match, "", steps, Verdict::Holds});
}
std::string missing(const actuator::Part& /*part*/) {
    return "The magnet's resistance is not known: measure it with the power off.";
}
void figures(Figures& say, const actuator::Part& part) {
    say("made for", get(part).nominal_voltage), say("resistance", get(part).resistance), say("holds", get(part).force);
}
std::optional<double> winding(const actuator::Part& part) {
    return get(part).resistance ? si(*get(part).resistance) : 0.0;
}
std::vector<Expected> sample(const actuator::Part& part) {
    if (!get(part).resistance) return {};
    return {windingReading(si(*get(part).resistance), 0.1, 0.1)};
}
double runUp(const actuator::Part& /*part*/) {
    return 5e-3;
}

}  // namespace
extern const ActuatorKind kind;
const ActuatorKind kind = dry(still({
    .file = "magnets",
    .label = "holding magnets",
    .strength = Kind::Power,
    .moves = false,
    .varies = Varies::Never,
    .faults = {"wound"},
    .name = &name,
    .columns = &columns,
    .blank = &blank,
    .impossible = NotForThis{"each of its figures may be anything that its column takes"},
    .method = &method,
    .contact = &contact,
    .judge = &judge,
    .show = &show,
    .missing = &missing,
    .figures = &figures,
    .own_electronics = NotForThis{"copper only"},
    .refuses = NotForThis{"on and off are what the sketch sends"},
    .needs = NotForThis{"its driver brings what goes with it"},
    .winding = &winding,
    .rated_peak = NotForThis{"no phase of it is chopped to a current"},
    .sample = &sample,
    .machine = NotForThis{"nothing of it moves"},
    .rated_power = NotForThis{"its volts and ohms say it"},
    .run_up = &runUp,
    .bears_volts = NotForThis{"a while above its volts warms it and no more"},
}));
}  // namespace toy_magnet
}  // namespace hinge::kinds
