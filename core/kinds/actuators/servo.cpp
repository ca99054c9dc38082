// A hobby servo, sent to places or turning on.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "actuator/rc_servo.hpp"
#include "kinds/actuator_kind.hpp"
#include "quantity/constants.hpp"

namespace hinge::kinds {
namespace servo {
namespace {

using namespace project;

const actuator::Servo& get(const actuator::Part& part) {
    return std::get<actuator::Servo>(part);
}

const char* name(const actuator::Part& part) {
    return labelOf(get(part).servo_class);
}
// Its pulse says a speed, not a place.
bool turnsOn(const actuator::Part& part) {
    return get(part).servo_class == actuator::ServoClass::Continuous;
}

std::optional<Method> method(const Context& c, const actuator::Part& /*part*/) {
    return turnsShaft(c) ? std::optional(Method::ServoPulse) : std::nullopt;
}

void judge(Running& r, const actuator::Part& part) {
    const auto& s = get(part);
    const auto& [c, driver, rail, wire, n] = r;
    n.volts = rail;
    n.smooth = 0.5;
    if (rail < si(s.voltage_low) / slack) {
        n.hit(Rule::SupplyTooLow, Severity::Stop, rail, si(s.voltage_low));
        return r.missing();
    }
    if (rail > si(s.voltage_high) * slack) n.hit(Rule::SupplyOver, Severity::Stop, rail, si(s.voltage_high));
    if (!s.torque_low || !s.torque_high || !s.time_low || !s.time_high || si(s.voltage_high) <= si(s.voltage_low)) return r.missing();
    const double along = std::clamp((rail - si(s.voltage_low)) / (si(s.voltage_high) - si(s.voltage_low)), 0.0, 1.0);
    const double stall = si(*s.torque_low) + along * (si(*s.torque_high) - si(*s.torque_low)),
                 time60 = si(*s.time_low) + along * (si(*s.time_high) - si(*s.time_low));
    const double ratio = c.gear_ratio, efficiency = gearing(c);
    if (s.stall_current) {
        n.stalled = si(*s.stall_current) * rail / si(s.voltage_high);
        n.starting = n.stalled;
    } else {
        r.missing();
    }
    n.rest = s.idle_current ? si(*s.idle_current) : 0.0;
    if (!c.ask.torque || !c.ask.speed) return r.missing();
    const double load = si(*c.ask.torque), able = stall * ratio * efficiency;
    r.strength(load, able);
    const double fraction = std::min(1.0, load / able);
    n.running = n.rest + fraction * (known(n.stalled) ? n.stalled - n.rest : 0.0);
    n.winding = n.running;
    n.part_heat = rail * n.running * 0.7;
    const double full = constants::pi / 3.0 / time60 / ratio;  // rad/s without load
    if (s.servo_class == actuator::ServoClass::Continuous) {
        r.speed(si(*c.ask.speed), full * (1.0 - fraction));
        if (c.ask.positional) n.hit(Rule::NoPosition, Severity::Warn);
        if (c.ask.time) n.move_time = n.speed > 0.0 ? si(*c.ask.time) * si(*c.ask.speed) / n.speed : unknown;
    } else if (!c.ask.positional || !c.ask.angle) {
        n.hit(Rule::ServoRange, Severity::Stop, unknown, s.range ? si(*s.range) : unknown);
    } else {
        // A servo runs at its own speed: the whole move against the time asked.
        n.speed = full * (1.0 - fraction);
        n.move_time = n.speed > 0.0 ? si(*c.ask.angle) / n.speed : unknown;
        if (c.ask.time && n.speed > 0.0) {
            if (n.move_time > si(*c.ask.time) * slack) n.hit(Rule::TooSlow, Severity::Stop, n.speed, si(*c.ask.angle) / si(*c.ask.time));
            else if (n.move_time * 1.1 > si(*c.ask.time))
                n.hit(Rule::BarelyFast, Severity::Warn, n.speed, si(*c.ask.angle) / si(*c.ask.time));
        }
        if (!s.range) r.missing();
        else if (si(*c.ask.angle) * ratio > si(*s.range) * slack)
            n.hit(Rule::ServoRange, Severity::Stop, si(*c.ask.angle) * ratio, si(*s.range));
    }
    if (c.ask.holds && !c.ask.self_locking) n.hit(Rule::NoHold, Severity::Stop);
}

void show(const Showing& r, const actuator::Part& part) {
    const auto& s = get(part);
    const auto& [c, driver, rail, out] = r;
    if (!s.torque_low || !s.torque_high || !s.time_low || !s.time_high || !c.ask.torque) return;
    const double along = std::clamp((rail - si(s.voltage_low)) / (si(s.voltage_high) - si(s.voltage_low)), 0.0, 1.0);
    actuator::RcServo in;
    in.torque_low = *s.torque_low;
    in.voltage_low = s.voltage_low;
    in.torque_high = *s.torque_high;
    in.voltage_high = s.voltage_high;
    in.time_per_60deg = of<Duration>(si(*s.time_low) + along * (si(*s.time_high) - si(*s.time_low)));
    in.supply = of<Voltage>(rail);
    in.load_torque = of<Torque>(si(*c.ask.torque) / (c.gear_ratio * gearing(c)));
    in.move_angle = of<Angle>(c.ask.angle ? si(*c.ask.angle) * c.gear_ratio : 0.0);
    r.add("share of the servo's stall torque", Stage::Match, actuator::rcServo(in));
}

std::string missing(const actuator::Part& part) {
    const auto& s = get(part);
    return !s.stall_current ? "The stall current is not known. Hold the horn for one second on a current-limited supply and read the amps."
                            : "A figure of this servo or of the demand is missing.";
}

void figures(Figures& say, const actuator::Part& part) {
    const auto& s = get(part);
    say("from", s.voltage_low), say("to", s.voltage_high), say("torque at the most", s.torque_high), say("60° in", s.time_high),
        say("range", s.range), say("stall current", s.stall_current);
}

double runUp(const actuator::Part& /*part*/) {
    return 0.05;
}
std::vector<StrokePoint> shaft(const Context& c, const actuator::Part& part, const Numbers& n) {
    const auto& s = get(part);
    if (!s.torque_low || !s.torque_high || !s.time_low || !s.time_high) return {};
    const double along = std::clamp((n.volts - si(s.voltage_low)) / (si(s.voltage_high) - si(s.voltage_low)), 0.0, 1.0);
    const double stall = si(*s.torque_low) + along * (si(*s.torque_high) - si(*s.torque_low)),
                 time60 = si(*s.time_low) + along * (si(*s.time_high) - si(*s.time_low));
    return {{0.0, constants::pi / 3.0 / time60 / c.gear_ratio}, {stall * c.gear_ratio * gearing(c), 0.0}};
}

SignalKind line(const actuator::Part& part) {
    return turnsOn(part) ? SignalKind::SpeedPulse : SignalKind::ServoPulse;
}
std::optional<NotDriven> refuses(const Commanded& c) {
    if (!turnsOn(c.part) || !c.context.ask.positional) return std::nullopt;
    return NotDriven{fmt::format("{} has no place, only a speed; a place is asked for", get(c.part).name), {}};
}
void needs(const Fitting& f) {
    f.list.push_back(
        {"bulk capacitor", "470 µF, 10 V", "across " + f.rail.name + " at the servo", "each start draws near its stall current"});
}

std::vector<Column> columns() {
    return ColumnsOf<actuator::Servo>{}
        .column("class", &actuator::Servo::servo_class, true)
        .column("voltage_low", &actuator::Servo::voltage_low, true)
        .column("voltage_high", &actuator::Servo::voltage_high, true)
        .column("torque_low", &actuator::Servo::torque_low)
        .column("torque_high", &actuator::Servo::torque_high)
        .column("time_low", &actuator::Servo::time_low)
        .column("time_high", &actuator::Servo::time_high)
        .column("range", &actuator::Servo::range)
        .column("idle_current", &actuator::Servo::idle_current)
        .column("stall_current", &actuator::Servo::stall_current)
        .list();
}
Impossible impossibleIn(const actuator::Part& part) {
    const auto& s = get(part);
    if (si(s.voltage_high) <= si(s.voltage_low)) return std::pair{"voltage_high", "above voltage_low"};
    if (s.torque_low && s.torque_high && si(*s.torque_high) < si(*s.torque_low)) return std::pair{"torque_high", "not below torque_low"};
    return std::nullopt;
}

// One that turns on: a motor with its gears, as its torque and its time for 60° say.
std::optional<Mounted> turning(const Mounting& at) {
    const auto& s = get(at.part);
    const double volts = supplyOf(at.context, at.context.rails.front());
    if (!s.torque_high || !s.time_high || !s.stall_current || !(volts > 0.0)) return std::nullopt;
    const double ratio = at.context.gear_ratio, full = constants::pi / 3.0 / si(*s.time_high) / ratio,
                 stall = si(*s.torque_high) * ratio * gearing(at.context);
    plant::RotorFigures f;
    f.supply = volts;
    f.resistance = si(s.voltage_high) / si(*s.stall_current);
    f.torque = stall / si(*s.stall_current);
    f.back = si(s.voltage_high) / full;
    f.friction = frictionOf(at.channel, at.context.ask);
    f.stiction = 1.3 * f.friction;
    const auto load = inertiaOf(at.channel, at.context.ask);
    f.inertia = runUp(at.part) * f.torque * f.back / f.resistance + load.value_or(0.0);
    Mounted made;
    made.machine = plant::Rotor{f};
    at.assume(fmt::format("its speed goes with its pulse, and alone it takes {:.0f} ms to 63 % of it{}", 1e3 * runUp(at.part),
                          load ? "" : "; nothing is known of what it turns"));
    return made;
}

std::optional<Mounted> machine(const Mounting& at) {
    const auto& s = get(at.part);
    Mounted made;
    if (turnsOn(at.part)) return turning(at);
    if (!at.pulse_from || !at.pulse_per_angle || *at.pulse_per_angle == 0.0) return std::nullopt;
    plant::ServoFigures f;
    f.zero_place = si(*at.pulse_from) * 2e6;
    f.per_place = 1.0 / (*at.pulse_per_angle * 2e6);
    const auto time = s.time_high ? s.time_high : s.time_low;
    if (time) f.most_speed = constants::pi / 3.0 / si(*time) / at.context.gear_ratio;
    const double travel = s.range ? si(*s.range) / at.context.gear_ratio : constants::pi,
                 sweep = at.context.ask.angle ? si(*at.context.ask.angle) : 0.0;
    f.low_stop = -std::max(0.0, (travel - sweep) / 2.0) * 1.05;
    f.high_stop = sweep - f.low_stop;
    if (s.stall_current) f.strain_current = si(*s.stall_current);
    if (s.idle_current) f.rest_current = si(*s.idle_current);
    if (at.chosen && at.chosen->running) f.move_current = si(*at.chosen->running);
    made.machine = plant::ServoPlant{f};
    at.assume("end stops 5 % beyond its stated range, and 20 ms to close in");
    return made;
}
double range(const actuator::Part& part) {
    return get(part).range ? si(*get(part).range) : unknown;
}
std::optional<double> stallTorque(const actuator::Part& part) {
    const auto& s = get(part);
    return s.torque_high ? std::optional(si(*s.torque_high)) : std::nullopt;
}
double bearsVolts(const actuator::Part& part) {
    return si(get(part).voltage_high);
}

// Every spread is common practice, no published source: a data sheet of a small part is kept to about so.
std::vector<Expected> sample(const actuator::Part& part) {
    const auto& s = get(part);
    std::vector<Expected> list;
    if (s.idle_current)
        list.push_back(expect("current", "current, standing still without load", "ammeter in its plus, horn off", Kind::Current,
                              si(*s.idle_current), 0.8, 1.5, "the data sheet's; one that hunts draws more"));
    if (s.range)
        list.push_back(expect("range", "range, from end to end", "horn on, from where it strains to where it strains", Kind::Angle,
                              si(*s.range), 0.05, 0.25, "the data sheet's, 5 % below it"));

    return list;
}

}  // namespace
extern const ActuatorKind kind;
const ActuatorKind kind = dry({
    .file = "servos",
    .label = "hobby servos",
    .over_half = "servo-over-half",
    .inductive = false,
    .line = &line,
    .on_a_pin = {{"series resistor", "330 Ω", "between pin and signal wire", "a servo without its supply would be fed through the pin"}},
    .faults = {"mover", "coupled", "servo"},
    .name = &name,
    .columns = &columns,
    .blank = &blankOf<actuator::Servo>,
    .impossible = &impossibleIn,
    .method = &method,
    .contact = always<driver::ContactLoad::Motor>,
    .judge = &judge,
    .shaft = &shaft,
    .show = &show,
    .missing = &missing,
    .figures = &figures,
    .own_electronics = NotForThis{"it is commanded by its signal wire"},
    .refuses = &refuses,
    .needs = &needs,
    .winding = NotForThis{"its electronics stand in front of its winding"},
    .rated_peak = NotForThis{"no phase of it is chopped to a current"},
    .sample = &sample,
    .machine = &machine,
    .range = &range,
    .stepping = NotForThis{"it does not move in steps"},
    .rated_power = NotForThis{"it takes what its load asks"},
    .run_up = &runUp,
    .stall_torque = &stallTorque,
    .tach = NotForThis{"it keeps its place to itself"},
    .free_current = NotForThis{"without its horn it holds and turns all the same"},
    .bears_volts = &bearsVolts,
    .calibrations = {"servo-ends", "servo-still"},
});
}  // namespace servo
}  // namespace hinge::kinds
