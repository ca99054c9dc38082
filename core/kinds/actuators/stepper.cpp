// A two-phase stepper, bare or with its own gearbox.
#include <algorithm>
#include <cmath>
#include "actuator/stepper_torque.hpp"
#include "driver/current_sense.hpp"
#include "kinds/actuator_kind.hpp"
#include "kinds/driver_kind.hpp"
#include "quantity/constants.hpp"

namespace hinge::kinds {
namespace stepper {
namespace {

using namespace project;

const actuator::Stepper& get(const actuator::Part& part) {
    return std::get<actuator::Stepper>(part);
}

const char* name(const actuator::Part& part) {
    return si(get(part).gear_ratio) > 1.0 ? "geared stepper" : "stepper";
}

std::optional<Method> method(const Context& c, const actuator::Part& /*part*/) {
    return turnsShaft(c) ? std::optional(Method::Steps) : std::nullopt;
}

void judge(Running& r, const actuator::Part& part) {
    const auto& s = get(part);
    const auto& [c, driver, rail, wire, n] = r;
    if (!s.holding_torque || !s.rated_current || !s.phase_resistance || !s.phase_inductance) return r.missing();
    const double rated_peak = std::sqrt(2.0) * si(*s.rated_current);
    double peak = rated_peak;
    if (driver != nullptr && driver->current_max) peak = std::min(peak, si(*driver->current_max));
    const double resistance = si(*s.phase_resistance);
    const double ratio = si(s.gear_ratio) * c.gear_ratio, efficiency = si(s.gear_efficiency) * gearing(c);
    // The current is set to what the load needs with its margin and a fifth more, never under two
    // fifths of the rated one: more would only heat motor and carrier (common practice, no published source).
    if (c.ask.torque)
        peak = std::min(peak, std::max(0.4 * rated_peak, 1.2 * c.ask.margin * si(*c.ask.torque) / (ratio * efficiency) /
                                                             (si(*s.holding_torque) / rated_peak)));
    n.drive_current = peak;
    const double volts = driver != nullptr ? rail - wire * peak * 0.5 : rail;
    n.volts = volts;
    n.smooth = driver != nullptr ? driverKind(*driver).roughness : 0.15;
    // Copper of both phases: I²R of the peak, standing or turning.
    n.part_heat = peak * peak * resistance;
    const double full = peak * peak * resistance / std::max(0.1, volts),
                 held = driver != nullptr && registersOf(*driver) != nullptr ? si(c.signal.hold_share) : 1.0;
    n.rest = full * held * held;
    n.stalled = full;
    n.winding = peak;
    if (!c.ask.torque || !c.ask.speed) return r.missing();
    const double load = si(*c.ask.torque) / (ratio * efficiency), speed = si(*c.ask.speed) * ratio;
    const double kt = si(*s.holding_torque) / rated_peak, e = kt * speed, x = speed * si(s.steps_per_turn) / 4.0 * si(*s.phase_inductance);
    double torque = 0.0;
    if (e < volts) {
        const double z = resistance * resistance + x * x,
                     limited =
                         (-resistance * e + std::sqrt(std::max(0.0, resistance * resistance * e * e - z * (e * e - volts * volts)))) / z;
        torque = kt * std::min(peak, limited);
    }
    r.strength(load, torque);
    if (held < 1.0 && kt * peak * held < load) n.hit(Rule::HeldWeakly, Severity::Warn);
    n.ability *= ratio * efficiency;
    n.running = full + load * speed / std::max(0.1, volts);
    n.starting = n.running;
    n.speed = si(*c.ask.speed);
    if (c.ask.time) n.move_time = si(*c.ask.time);
    if (c.ask.holds && !c.ask.self_locking && !(s.detent_torque && si(*s.detent_torque) * ratio >= si(*c.ask.torque)))
        n.hit(Rule::NoHold, Severity::Stop);
}

void show(const Showing& r, const actuator::Part& part) {
    const auto& s = get(part);
    const auto& [c, driver, rail, out] = r;
    if (!s.holding_torque || !s.rated_current || !s.phase_resistance || !s.phase_inductance || !c.ask.torque || !c.ask.speed ||
        out.numbers.volts <= 0.0)
        return;
    const double ratio = si(s.gear_ratio) * c.gear_ratio, efficiency = si(s.gear_efficiency) * gearing(c);
    actuator::StepperTorque in;
    in.holding_torque = *s.holding_torque;
    in.rated_current = *s.rated_current;
    in.phase_resistance = *s.phase_resistance;
    in.phase_inductance = *s.phase_inductance;
    in.steps_per_turn = s.steps_per_turn;
    in.supply_voltage = of<Voltage>(out.numbers.volts);
    in.drive_current = of<Current>(out.numbers.drive_current);
    in.speed = of<RotationSpeed>(si(*c.ask.speed) * ratio);
    in.load_torque = of<Torque>(si(*c.ask.torque) / (ratio * efficiency));
    r.add("torque at that speed", Stage::Match, actuator::stepperTorque(in));
    if (auto reference = driver::chopperReference(driver, in.drive_current); reference && driverKind(driver).trimmer)
        r.add("reference of the chopper", Stage::Match, Result<Worked<driver::StepperCurrentResult>>{std::move(*reference)});
}

std::string missing(const actuator::Part& part) {
    const auto& s = get(part);
    return !s.phase_inductance ? "The winding's inductance is not on the data sheet: what it can do at speed is not known."
                               : "A figure of this stepper, of the demand or of the driver is missing.";
}

void figures(Figures& say, const actuator::Part& part) {
    const auto& s = get(part);
    say("holding torque", s.holding_torque), say("rated current", s.rated_current), say("steps a turn", s.steps_per_turn),
        say("gear ratio", s.gear_ratio), say("phase resistance", s.phase_resistance), say("phase inductance", s.phase_inductance);
}

std::vector<StrokePoint> shaft(const Context& c, const actuator::Part& part, const Numbers& n) {
    const auto& s = get(part);
    std::vector<StrokePoint> curve;
    if (!s.holding_torque || !s.rated_current || !s.phase_resistance || !s.phase_inductance || std::isnan(n.drive_current)) return {};
    const double ratio = si(s.gear_ratio) * c.gear_ratio, efficiency = si(s.gear_efficiency) * gearing(c);
    actuator::StepperTorque in{*s.holding_torque,
                               *s.rated_current,
                               *s.phase_resistance,
                               *s.phase_inductance,
                               s.steps_per_turn,
                               of<Voltage>(n.volts),
                               of<Current>(n.drive_current),
                               {},
                               {}};
    const double most = n.volts / (si(*s.holding_torque) / (std::sqrt(2.0) * si(*s.rated_current)));
    for (int i = 0; i <= 80; ++i) {
        in.speed = of<RotationSpeed>(most * i / 80.0 * (i / 80.0));  // closer together where it is slow
        const auto worked = actuator::stepperTorque(in);
        if (worked) curve.push_back({si(worked->result.torque) * ratio * efficiency, si(in.speed) / ratio});
    }
    return curve;
}

std::optional<double> winding(const actuator::Part& part) {
    const auto& s = get(part);
    return s.phase_resistance ? si(*s.phase_resistance) : 0.0;
}
double ratedPeak(const actuator::Part& part) {
    const auto& s = get(part);
    return s.rated_current ? std::sqrt(2.0) * si(*s.rated_current) : unknown;
}
std::vector<Column> columns() {
    return ColumnsOf<actuator::Stepper>{}
        .column("holding_torque", &actuator::Stepper::holding_torque)
        .column("rated_current", &actuator::Stepper::rated_current)
        .column("phase_resistance", &actuator::Stepper::phase_resistance)
        .column("phase_inductance", &actuator::Stepper::phase_inductance)
        .column("steps_per_turn", &actuator::Stepper::steps_per_turn)
        .column("gear_ratio", &actuator::Stepper::gear_ratio)
        .column("gear_efficiency", &actuator::Stepper::gear_efficiency)
        .column("detent_torque", &actuator::Stepper::detent_torque)
        .list();
}
Impossible impossibleIn(const actuator::Part& part) {
    const auto& s = get(part);
    if (s.rated_current && si(*s.rated_current) <= 0.0) return std::pair{"rated_current", "above 0"};
    if (si(s.steps_per_turn) < 4.0) return std::pair{"steps_per_turn", "4 or more"};
    if (si(s.gear_ratio) <= 0.0) return std::pair{"gear_ratio", "above 0"};
    if (si(s.gear_efficiency) <= 0.0) return std::pair{"gear_efficiency", "above 0"};
    return std::nullopt;
}

// What it rolls: one body on two wheels.
std::optional<Mounted> balancer(const Mounting& at) {
    const auto& s = get(at.part);
    const auto* wheels = std::get_if<MoveDemand>(&at.channel.demand);
    Mounted made;
    if (!wheels->diameter) return std::nullopt;
    plant::BalancerFigures f;
    f.height = at.loop->height ? si(*at.loop->height) : 0.1;
    if (!at.loop->height) at.assume("100 mm from the axle to the middle of its weight, since none is stated");
    f.distance_per_step =
        constants::pi * si(*wheels->diameter) / (si(s.steps_per_turn) * si(at.channel.signal.microsteps) * si(s.gear_ratio));
    made.machine = plant::Balancer{f};
    made.sense.per_unit = -511.5 / (constants::pi / 6.0);  // ±30° over the whole range, falling as it leans forwards
    made.sense.zero = 512.0;
    return made;
}
std::optional<Mounted> machine(const Mounting& at) {
    const auto* wheels = std::get_if<MoveDemand>(&at.channel.demand);
    if (at.loop != nullptr && wheels != nullptr && wheels->way == MoveWay::Wheels) return balancer(at);
    const auto& s = get(at.part);
    Mounted made;
    if (!s.holding_torque || !s.rated_current || !s.phase_resistance || !s.phase_inductance) return std::nullopt;
    plant::StepAxisFigures f;
    const double ratio = si(s.gear_ratio) * at.context.gear_ratio;
    f.places_per_turn = si(s.steps_per_turn) * si(at.channel.signal.microsteps);
    f.teeth = si(s.steps_per_turn) / 4.0;
    f.inertia = 5e-6 + inertiaOf(at.channel, at.context.ask).value_or(0.0) / (ratio * ratio);
    f.load = frictionOf(at.channel, at.context.ask) / (ratio * si(s.gear_efficiency) * gearing(at.context));
    f.damping = 0.1 * std::sqrt(si(*s.holding_torque) * f.inertia / f.teeth) * 2.0;
    f.torque.clear();
    f.speed_spacing = 4.0;
    actuator::StepperTorque in{*s.holding_torque,
                               *s.rated_current,
                               *s.phase_resistance,
                               *s.phase_inductance,
                               s.steps_per_turn,
                               of<Voltage>(supplyOf(at.context, at.context.rails.front())),
                               {},
                               {},
                               {}};
    if (!(si(in.supply_voltage) > 0.0)) return std::nullopt;
    const double drive = at.chosen ? at.chosen->numbers.drive_current : unknown;
    in.drive_current = of<Current>(drive > 0.0 ? drive : std::sqrt(2.0) * si(*s.rated_current));
    for (int k = 0; k < 100; ++k) {
        in.speed = of<RotationSpeed>(f.speed_spacing * k);
        const auto worked = actuator::stepperTorque(in);
        f.torque.push_back(worked ? si(worked->result.torque) : 0.0);
    }
    made.machine = plant::StepAxis{f};
    at.assume("a rotor of 50 g·cm², and a tenth of critical damping");
    return made;
}
std::optional<Stepping> stepping(const actuator::Part& part) {
    const auto& s = get(part);
    return Stepping{s.steps_per_turn, s.gear_ratio, s.holding_torque};
}
std::optional<double> stallTorque(const actuator::Part& part) {
    const auto& s = get(part);
    if (!s.holding_torque) return std::nullopt;
    return si(*s.holding_torque) * si(s.gear_ratio) * si(s.gear_efficiency);
}

// Every spread is common practice, no published source: a data sheet of a small part is kept to about so.
std::vector<Expected> sample(const actuator::Part& part) {
    const auto& s = get(part);
    std::vector<Expected> list;
    if (s.phase_resistance) list.push_back(windingReading(si(*s.phase_resistance), 0.1, 0.15));

    return list;
}

}  // namespace
extern const ActuatorKind kind;
const ActuatorKind kind = dry({
    .file = "steppers",
    .label = "steppers",
    .over_half = "stepper-over-half",
    .smoothest = 0.05,
    .faults = {"wound", "mover", "coupled", "stepper", "reversible"},
    .name = &name,
    .columns = &columns,
    .blank = &blankOf<actuator::Stepper>,
    .impossible = &impossibleIn,
    .method = &method,
    .contact = always<driver::ContactLoad::Motor>,
    .judge = &judge,
    .shaft = &shaft,
    .show = &show,
    .missing = &missing,
    .figures = &figures,
    .own_electronics = NotForThis{"its carrier chops it"},
    .refuses = NotForThis{"it goes to places and goes on turning"},
    .needs = NotForThis{"its driver brings what goes with it"},
    .winding = &winding,
    .rated_peak = &ratedPeak,
    .sample = &sample,
    .machine = &machine,
    .range = NotForThis{"its places are steps, and as many as wanted"},
    .stepping = &stepping,
    .rated_power = NotForThis{"it takes what its load asks"},
    .run_up = &runsAtOnce,
    .stall_torque = &stallTorque,
    .tach = NotForThis{"its steps are counted where they are sent"},
    .free_current = NotForThis{"its current is held, whatever hangs on its shaft"},
    .bears_volts = NotForThis{"its carrier holds its current on any rail"},
    .calibrations = {"there-and-back", "chopper-heat", "balance-angle"},
});
}  // namespace stepper
}  // namespace hinge::kinds
