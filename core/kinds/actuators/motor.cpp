// A brushed motor, bare or with its own gearbox.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "actuator/dc_motor.hpp"
#include "kinds/actuator_kind.hpp"
#include "quantity/constants.hpp"

namespace hinge::kinds {
namespace motor {
namespace {

using namespace project;

const actuator::Motor& get(const actuator::Part& part) {
    return std::get<actuator::Motor>(part);
}

// The bare motor's figures in its equation V = R·I + k·ω.
struct Bare {
    double resistance, torque, back;  ///< Ω, N·m/A, V·s/rad
};
bool isKnown(const actuator::Motor& m) {
    return m.no_load_speed && m.no_load_current && m.stall_current && m.stall_torque && si(*m.stall_current) > si(*m.no_load_current);
}
Bare bareOf(const actuator::Motor& m) {
    const double resistance = si(m.nominal_voltage) / si(*m.stall_current), rest = si(*m.no_load_current);
    return {resistance, si(*m.stall_torque) / (si(*m.stall_current) - rest),
            (si(m.nominal_voltage) - rest * resistance) / si(*m.no_load_speed)};
}

const char* name(const actuator::Part& part) {
    const auto& m = get(part);
    return si(m.gear_ratio) > 1.0 ? (m.worm ? "worm gearmotor" : "gearmotor") : "DC motor";
}

std::optional<Method> method(const Context& c, const actuator::Part& /*part*/) {
    return turnsShaft(c) ? std::optional(c.ask.both_ways ? Method::BothWays : Method::OneWay) : std::nullopt;
}

void judge(Running& r, const actuator::Part& part) {
    const auto& m = get(part);
    const auto& [c, driver, rail, wire, n] = r;
    if (!isKnown(m)) return r.missing();
    const auto [resistance, kt, ke] = bareOf(m);
    const double rest = si(*m.no_load_current);
    const double ratio = si(m.gear_ratio) * c.gear_ratio, efficiency = si(m.gear_efficiency) * gearing(c);
    const double stall_now = r.held(resistance);
    n.stalled = stall_now;
    n.starting = si(c.signal.soft_start) > 0.0 && r.ramps() ? 0.6 * stall_now : stall_now;
    r.supply(si(m.nominal_voltage), 1.25);
    n.smooth = ratio > 20.0 ? 0.4 : 0.8;
    if (!c.ask.torque || !c.ask.speed) return r.missing();
    // A load beyond the stall torque holds the rotor: what flows then is the stall current.
    const double load = si(*c.ask.torque), current = std::min(stall_now, rest + load / (ratio * efficiency) / kt);
    const double volts =
        si(c.signal.duty) * std::max(0.0, current < stall_now ? rail - current * wire - r.drop(current) : stall_now * resistance);
    n.volts = volts;
    n.winding = current;
    n.running = current * si(c.signal.duty);
    n.part_heat = current * current * resistance;
    r.strength(load, kt * std::max(0.0, volts / resistance - rest) * ratio * efficiency);
    r.speed(si(*c.ask.speed), std::max(0.0, (volts - current * resistance) / ke / ratio));
    if (c.ask.time) n.move_time = n.speed > 0.0 ? si(*c.ask.time) * si(*c.ask.speed) / n.speed : unknown;
    if (c.ask.positional && !m.tach) n.hit(Rule::NoPosition, c.ends ? Severity::Note : Severity::Warn);
    if (c.ask.holds && !m.worm && !c.ask.self_locking) n.hit(Rule::NoHold, Severity::Stop);
}

void show(const Showing& r, const actuator::Part& part) {
    const auto& m = get(part);
    const auto& [c, driver, rail, out] = r;
    if (!m.no_load_speed || !m.no_load_current || !m.stall_current || !m.stall_torque || !c.ask.torque || !known(out.numbers.volts) ||
        out.numbers.volts <= 0.0)
        return;
    actuator::DcMotor in;
    in.voltage = of<Voltage>(out.numbers.volts);
    in.nominal_voltage = m.nominal_voltage;
    in.no_load_speed = *m.no_load_speed;
    in.no_load_current = *m.no_load_current;
    in.stall_current = *m.stall_current;
    in.stall_torque = *m.stall_torque;
    in.load_torque = *c.ask.torque;
    in.gear_ratio = of<Ratio>(si(m.gear_ratio) * c.gear_ratio);
    in.gear_efficiency = of<Fraction>(si(m.gear_efficiency) * gearing(c));
    r.add("speed and current of the motor", Stage::Match, actuator::dcMotor(in));
}

std::string missing(const actuator::Part& part) {
    const auto& m = get(part);
    if (!m.stall_current)
        return "The stall current is not known. Hold the shaft for one second on a current-limited supply and read the amps.";
    if (!m.stall_torque) return "The stall torque is not known. Hang a luggage scale on an arm on its shaft and read it as it stops.";
    if (!m.no_load_speed || !m.no_load_current)
        return "The figures without load are not known. Let it run free: count its turns, read the amps.";
    return "A figure of the demand or of the driver is missing.";
}

void figures(Figures& say, const actuator::Part& part) {
    const auto& m = get(part);
    say("made for", m.nominal_voltage),
        say("speed without load",
            m.no_load_speed ? std::optional(of<RotationSpeed>(si(*m.no_load_speed) / si(m.gear_ratio))) : std::nullopt),
        say("stall torque",
            m.stall_torque ? std::optional(of<Torque>(si(*m.stall_torque) * si(m.gear_ratio) * si(m.gear_efficiency))) : std::nullopt);
    say("stall current", m.stall_current), say("gear ratio", m.gear_ratio), say("tach pulses a turn", m.tach);
}

std::vector<StrokePoint> shaft(const Context& c, const actuator::Part& part, const Numbers& n) {
    const auto& m = get(part);
    if (!isKnown(m)) return {};
    const auto [resistance, kt, ke] = bareOf(m);
    const double rest = si(*m.no_load_current);
    const double ratio = si(m.gear_ratio) * c.gear_ratio, efficiency = si(m.gear_efficiency) * gearing(c);
    return {{0.0, std::max(0.0, (n.volts - rest * resistance) / ke / ratio)},
            {kt * std::max(0.0, n.volts / resistance - rest) * ratio * efficiency, 0.0}};
}

std::optional<double> winding(const actuator::Part& part) {
    const auto& m = get(part);
    return m.stall_current ? si(m.nominal_voltage) / si(*m.stall_current) : 0.0;
}

std::vector<Column> columns() {
    return ColumnsOf<actuator::Motor>{}
        .column("nominal_voltage", &actuator::Motor::nominal_voltage, true)
        .column("no_load_speed", &actuator::Motor::no_load_speed)
        .column("no_load_current", &actuator::Motor::no_load_current)
        .column("stall_current", &actuator::Motor::stall_current)
        .column("stall_torque", &actuator::Motor::stall_torque)
        .column("gear_ratio", &actuator::Motor::gear_ratio)
        .column("gear_efficiency", &actuator::Motor::gear_efficiency)
        .column("inductance", &actuator::Motor::inductance)
        .column("tach", &actuator::Motor::tach)
        .column("worm", &actuator::Motor::worm)
        .list();
}
Impossible impossibleIn(const actuator::Part& part) {
    const auto& m = get(part);
    if (si(m.gear_ratio) <= 0.0) return std::pair{"gear_ratio", "above 0"};
    if (si(m.gear_efficiency) <= 0.0) return std::pair{"gear_efficiency", "above 0"};
    if (m.stall_current && m.no_load_current && si(*m.stall_current) <= si(*m.no_load_current))
        return std::pair{"stall_current", "above no_load_current"};
    return std::nullopt;
}

std::optional<Mounted> machine(const Mounting& at) {
    const auto& m = get(at.part);
    Mounted made;
    if (!isKnown(m)) return std::nullopt;
    const double ratio = si(m.gear_ratio) * at.context.gear_ratio, efficiency = si(m.gear_efficiency) * gearing(at.context);
    const Bare bare = bareOf(m);
    plant::RotorFigures f;
    f.supply = supplyOf(at.context, at.context.rails.front());
    if (!(f.supply > 0.0)) return std::nullopt;
    f.resistance = bare.resistance + si(at.context.rails.front().wire) +
                   (at.driver != nullptr && at.driver->on_resistance ? si(*at.driver->on_resistance) : 0.0);
    f.back = bare.back * ratio;
    f.torque = bare.torque * ratio * efficiency;
    f.brakes = at.driver != nullptr && driverKind(*at.driver).brakes;
    f.friction = frictionOf(at.channel, at.context.ask) + f.torque * si(*m.no_load_current);
    f.stiction = 1.3 * f.friction;
    f.play = si(m.gear_ratio) > 1.0 ? 0.01 : 0.0;
    // The rotor itself: a small bare motor reaches 63 % of its speed in about 20 ms, common practice, no published source.
    constexpr double run_up = 0.02;
    const auto load = inertiaOf(at.channel, at.context.ask);
    f.inertia = run_up * f.torque * f.back / f.resistance + load.value_or(0.0);
    at.assume(fmt::format("its rotor alone takes 20 ms to 63 % of its speed, and it sticks with 1.3 times its friction{}",
                          load ? "" : "; nothing is known of what it turns"));
    made.machine = plant::Rotor{f};
    made.sense.per_unit = m.tach ? si(*m.tach) / (2.0 * constants::pi) : 1.0;
    if (at.input != nullptr && at.input->kind != InputKind::Tach) {
        made.sense.by_angle = true;
        made.sense.per_unit = 1023.0 / (2.0 * constants::pi);
        made.sense.zero = 100.0;
    }
    return made;
}
double runUp(const actuator::Part& /*part*/) {
    return 0.12;
}
std::optional<double> stallTorque(const actuator::Part& part) {
    const auto& m = get(part);
    if (!m.stall_torque) return std::nullopt;
    return si(*m.stall_torque) * si(m.gear_ratio) * si(m.gear_efficiency);
}
double tach(const actuator::Part& part) {
    return get(part).tach ? si(*get(part).tach) : unknown;
}
double freeCurrent(const actuator::Part& part) {
    return get(part).no_load_current ? si(*get(part).no_load_current) : unknown;
}

// Every spread is common practice, no published source: a data sheet of a small part is kept to about so.
std::vector<Expected> sample(const actuator::Part& part) {
    const auto& m = get(part);
    std::vector<Expected> list;
    if (m.no_load_current)
        list.push_back(expect("current", "current, running free", "nothing on its shaft, at its own volts, after half a minute",
                              Kind::Current, si(*m.no_load_current), 0.5, 0.3, "the data sheet's, three tenths above it"));
    if (m.no_load_speed)
        list.push_back(expect("speed", "speed, running free", "a mark on the shaft and a phone's slow motion", Kind::RotationSpeed,
                              si(*m.no_load_speed) / si(m.gear_ratio), 0.15, 0.15, "the data sheet's over its gearing, 15 % either way"));
    if (m.stall_current) list.push_back(windingReading(si(m.nominal_voltage) / si(*m.stall_current), 0.25, 0.6));

    return list;
}

}  // namespace
extern const ActuatorKind kind;
const ActuatorKind kind = dry({
    .file = "motors",
    .label = "motors and gearmotors",
    .settles = true,
    .varies = Varies::Always,
    .faults = {"wound", "mover", "coupled", "reversible", "whines", "brushed"},
    .name = &name,
    .columns = &columns,
    .blank = &blankOf<actuator::Motor>,
    .impossible = &impossibleIn,
    .method = &method,
    .contact = always<driver::ContactLoad::Motor>,
    .judge = &judge,
    .shaft = &shaft,
    .show = &show,
    .missing = &missing,
    .figures = &figures,
    .own_electronics = NotForThis{"a brush and copper: it can be chopped"},
    .refuses = NotForThis{"what a brushed motor is asked, its driver can or cannot"},
    .needs = NotForThis{"its driver brings what goes with it"},
    .winding = &winding,
    .rated_peak = NotForThis{"no phase of it is chopped to a current"},
    .sample = &sample,
    .machine = &machine,
    .range = NotForThis{"it is not sent to places by an angle"},
    .stepping = NotForThis{"it does not move in steps"},
    .rated_power = NotForThis{"it takes what its load asks"},
    .run_up = &runUp,
    .stall_torque = &stallTorque,
    .tach = &tach,
    .free_current = &freeCurrent,
    .bears_volts = NotForThis{"a while above its volts warms it and no more"},
    .calibrations = {"duty-sweep", "stall", "jams-slow"},
});
}  // namespace motor
}  // namespace hinge::kinds
