// A pump with a brushed motor.
#include <algorithm>
#include <cmath>
#include "actuator/pump_point.hpp"
#include "demand/dose.hpp"
#include "kinds/actuator_kind.hpp"
#include "kinds/system_curve.hpp"

namespace hinge::kinds {
namespace pump {
namespace {

using namespace project;

const actuator::Pump& get(const actuator::Part& part) {
    return std::get<actuator::Pump>(part);
}

const char* name(const actuator::Part& part) {
    switch (get(part).pump_class) {
        case actuator::PumpClass::Centrifugal: return "centrifugal pump";
        case actuator::PumpClass::Diaphragm: return "diaphragm pump";
        case actuator::PumpClass::Peristaltic: return "peristaltic pump";
    }
    return "pump";
}

std::optional<Method> method(const Context& c, const actuator::Part& /*part*/) {
    return std::holds_alternative<PumpDemand>(c.demand) ? std::optional(Method::OneWay) : std::nullopt;
}

void judge(Running& r, const actuator::Part& part) {
    const auto& p = get(part);
    const auto& [c, driver, rail, wire, n] = r;
    if (rail > 1.1 * si(p.nominal_voltage) * slack) n.hit(Rule::SupplyOver, Severity::Stop, rail, si(p.nominal_voltage));
    if (!p.running_current || !p.stall_current || si(*p.stall_current) <= si(*p.running_current)) return r.missing();
    const auto& d = std::get<PumpDemand>(c.demand);
    // Wire and driver take volts in proportion to the current they carry: settle both together.
    actuator::PumpSpeed in{of<Voltage>(rail), c.signal.duty, p.nominal_voltage, *p.running_current,
                           *p.stall_current,  p.inductance,  c.signal.frequency};
    actuator::PumpSpeedNumbers speed{};
    double volts = rail;
    for (int i = 0; i < 40; ++i) {
        in.supply = of<Voltage>(volts);
        speed = actuator::pumpSpeedNumbers(in);
        const double next = std::max(0.01, rail - speed.motor * wire - r.drop(speed.motor));
        if (std::abs(next - volts) < 1e-12) break;
        volts = next;
    }
    n.volts = volts;
    if (volts < 0.75 * si(p.nominal_voltage)) n.hit(Rule::SupplyLow, Severity::Warn, volts, si(p.nominal_voltage));
    n.speed = speed.fraction;
    n.winding = speed.motor;
    n.running = speed.supply;
    n.smooth = p.pump_class == actuator::PumpClass::Centrifugal ? 0.2 : 0.7;
    n.part_heat = speed.motor * speed.motor * speed.resistance;
    n.stalled = r.held(speed.resistance);
    const double ramp = driver != nullptr && !r.ramps() ? 0.0 : si(c.signal.soft_start);
    const double most = std::max(n.stalled * si(c.signal.duty), n.running);
    const double tau = p.spin_up_time ? si(*p.spin_up_time) : unknown;
    n.starting = known(tau) && ramp > 0.0 ? n.running + (most - n.running) * tau / ramp * -std::expm1(-ramp / tau) : most;
    const HeadCurve curve = curveAt(p, n.speed);
    const auto flow = crossing(d, curve);
    if (!flow) return r.missing();
    if (*flow <= 0.0) {
        n.flow = 0.0;
        n.hit(Rule::PumpCannotLift, Severity::Stop, curve.points.front().y, d.lift ? si(*d.lift) : 0.0);
        return;
    }
    n.flow = *flow;
    n.height = headOnCurve(curve, *flow);
    n.ability = n.flow;
    if (c.ask.flow) n.share = si(*c.ask.flow) / n.flow;
    if (!d.volume) return;
    n.measured = c.calibration.cup_volume && c.calibration.cup_time && p.id == c.measured_part;
    n.run_time = si(*d.volume) / (n.measured ? si(*c.calibration.cup_volume) / si(*c.calibration.cup_time) : n.flow);
    if (!d.run_time_limit) return;
    if (n.run_time > si(*d.run_time_limit) * slack) n.hit(Rule::DoseOverTime, Severity::Stop, n.run_time, si(*d.run_time_limit));
    else if (n.run_time > 0.9 * si(*d.run_time_limit)) n.hit(Rule::DoseNearLimit, Severity::Warn, n.run_time, si(*d.run_time_limit));
}

void show(const Showing& r, const actuator::Part& part) {
    const auto& p = get(part);
    const auto& [c, driver, rail, out] = r;
    if (!p.running_current || !p.stall_current || !known(out.numbers.volts)) return;
    r.add("speed and current of the pump", Stage::Match,
          actuator::pumpSpeed({of<Voltage>(out.numbers.volts), c.signal.duty, p.nominal_voltage, *p.running_current, *p.stall_current,
                               p.inductance, c.signal.frequency}));
    actuator::SoftStart start;
    start.supply = of<Voltage>(rail);
    start.running_current = of<Current>(out.numbers.running);
    start.stall_current = of<Current>(std::max(out.numbers.stalled * si(c.signal.duty), out.numbers.running));
    start.spin_up_time = p.spin_up_time;
    start.ramp = driverKind(driver).contact ? Duration{} : c.signal.soft_start;
    r.add("current while starting", Stage::Pulse, actuator::softStart(start));
    const auto& d = std::get<PumpDemand>(c.demand);
    if (!known(out.numbers.flow) || out.numbers.flow <= 0.0) return;
    actuator::PumpPoint point;
    point.curve = curveAt(p, out.numbers.speed);
    const double rest = systemHead(d, 0.0).value_or(0.0);
    point.static_head = of<Length>(rest);
    point.system_k = of<HeadPerFlowSquared>(
        std::max(0.0, (systemHead(d, out.numbers.flow).value_or(rest) - rest) / (out.numbers.flow * out.numbers.flow)));
    r.add("where pump and tube meet", Stage::Match, actuator::pumpPoint(point));
    if (!d.volume) return;
    demand::Dose dose;
    dose.volume = *d.volume;
    dose.flow = of<VolumeFlow>(si(*d.volume) / out.numbers.run_time);
    dose.doses_per_day = d.doses_per_day;
    dose.run_time_limit = d.run_time_limit;
    r.add(out.numbers.measured ? "run time, by cup and clock" : "run time of a dose", Stage::Need, demand::dose(dose));
}

std::string missing(const actuator::Part& part) {
    const auto& p = get(part);
    if (!p.running_current) return "The running current is not on the data sheet. Read it with a meter in its plus wire.";
    if (!p.stall_current)
        return "The stall current is not on the data sheet. Hold the rotor for one second on a current-limited supply and read the "
               "amps.";
    return "Its curve ends before it meets what lift and tube ask, or a figure is missing.";
}

void figures(Figures& say, const actuator::Part& part) {
    const auto& p = get(part);
    say("made for", p.nominal_voltage), say("running current", p.running_current), say("stall current", p.stall_current),
        say("spin-up time", p.spin_up_time);
    if (!p.curve.points.empty())
        say("lifts", of<Length>(p.curve.points.front().y)), say("flow without lift", of<VolumeFlow>(p.curve.points.back().x));
}

std::optional<double> winding(const actuator::Part& part) {
    const auto& p = get(part);
    return p.stall_current ? si(p.nominal_voltage) / si(*p.stall_current) : 0.0;
}

std::vector<Column> columns() {
    return ColumnsOf<actuator::Pump>{}
        .column("class", &actuator::Pump::pump_class, true)
        .column("nominal_voltage", &actuator::Pump::nominal_voltage, true)
        .column("curve", &actuator::Pump::curve, true)
        .column("running_current", &actuator::Pump::running_current)
        .column("stall_current", &actuator::Pump::stall_current)
        .column("inductance", &actuator::Pump::inductance)
        .column("spin_up_time", &actuator::Pump::spin_up_time)
        .list();
}
Impossible impossibleIn(const actuator::Part& part) {
    const auto& p = get(part);
    if (p.stall_current && p.running_current && si(*p.stall_current) <= si(*p.running_current))
        return std::pair{"stall_current", "above running_current"};
    return std::nullopt;
}

std::optional<Mounted> machine(const Mounting& at) {
    if (at.input == nullptr || !isAnalogue(at.input->kind)) return std::nullopt;
    plant::TankFigures f;
    f.full_flow = at.chosen != nullptr && at.chosen->flow ? si(*at.chosen->flow) : 2e-5;
    f.outlet = f.full_flow * 0.6 / std::sqrt(0.1);
    f.area = 0.01;
    Mounted made;
    made.machine = plant::TankPlant{f};
    made.sense.per_unit = 4000.0;
    at.assume("a tank of 100 cm² that runs out through its bottom");
    return made;
}
double runUp(const actuator::Part& part) {
    const auto& p = get(part);
    return p.spin_up_time ? si(*p.spin_up_time) : 0.05;
}
HeadCurve lifting(const actuator::Part& part, double speed) {
    return curveAt(get(part), speed);
}
// With its tube and tank.
plant::PumpFigures load(const Loading& at) {
    const auto& p = get(at.part);
    plant::PumpFigures figures;
    const double nominal = si(p.nominal_voltage), winding = nominal / si(*p.stall_current);
    figures.supply = at.supply;
    figures.resistance = winding + si(at.context.rails.front().wire);
    figures.running = si(*p.running_current);
    figures.nominal_back = nominal - figures.running * winding;
    if (p.inductance) figures.inductance = si(*p.inductance);
    if (at.period) figures.period = *at.period;
    figures.spin_up = runUp(at.part);
    const auto* demand = std::get_if<PumpDemand>(&at.channel.demand);
    // What cup and clock found is what it pours, at each speed as the curve has it.
    for (double n = 0.0; demand != nullptr && at.pours && n < 1.3; n += figures.speed_step)
        figures.flow.push_back(n > 0.0 ? at.real.value_or(1.0) * crossing(*demand, curveAt(p, n)).value_or(0.0) : 0.0);
    return figures;
}

// Every spread is common practice, no published source: a data sheet of a small part is kept to about so.
std::vector<Expected> sample(const actuator::Part& part) {
    const auto& p = get(part);
    std::vector<Expected> list;
    if (p.running_current)
        list.push_back(expect("current", "current, pumping into a bucket", "under water, no tube on", Kind::Current, si(*p.running_current),
                              0.3, 0.3, "the data sheet's, three tenths either way"));
    if (p.stall_current) list.push_back(windingReading(si(p.nominal_voltage) / si(*p.stall_current), 0.25, 0.6));

    return list;
}

}  // namespace
extern const ActuatorKind kind{
    .file = "pumps",
    .label = "pumps",
    .symbol = Symbol::Pump,
    .by_share = true,
    .lifts = true,
    .faults = {"wound", "mover", "reversible", "whines"},
    .name = &name,
    .columns = &columns,
    .blank = &blankOf<actuator::Pump>,
    .impossible = &impossibleIn,
    .method = &method,
    .contact = always<driver::ContactLoad::Motor>,
    .judge = &judge,
    .shaft = NotForThis{"it moves water, and its shaft turns nothing else"},
    .air = NotForThis{"it moves no air"},
    .lifting = &lifting,
    .show = &show,
    .missing = &missing,
    .figures = &figures,
    .own_electronics = NotForThis{"a brushed motor: it can be chopped"},
    .refuses = NotForThis{"on, off and shares of its speed are what the sketch sends"},
    .needs = NotForThis{"its driver brings what goes with it"},
    .winding = &winding,
    .rated_peak = NotForThis{"no phase of it is chopped to a current"},
    .sample = &sample,
    .machine = &machine,
    .load = &load,
    .range = NotForThis{"it is not sent to places by an angle"},
    .stepping = NotForThis{"it does not move in steps"},
    .rated_power = NotForThis{"it takes what its load asks"},
    .run_up = &runUp,
    .stall_torque = NotForThis{"it moves water, and its shaft turns nothing else"},
    .tach = NotForThis{"it has none"},
    .free_current = NotForThis{"run dry it wears; it is never run free"},
    .bears_volts = NotForThis{"a while above its volts warms it and no more"},
    .calibrations = {"cup-and-clock"},
};
}  // namespace pump
}  // namespace hinge::kinds
