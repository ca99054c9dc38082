// A fan with two, three or four wires.
#include <algorithm>
#include <cmath>
#include "actuator/curve_crossing.hpp"
#include "actuator/fan_point.hpp"
#include "actuator/mains_fan.hpp"
#include "kinds/actuator_kind.hpp"
#include "quantity/constants.hpp"

namespace hinge::kinds {
namespace fan {
namespace {

using namespace project;

const actuator::Fan& get(const actuator::Part& part) {
    return std::get<actuator::Fan>(part);
}
constexpr double pulses_per_turn = 2.0;  // as fans give; common practice, no published source

bool ownElectronics(const actuator::Part& part) {
    return get(part).wires == actuator::FanWires::Four;
}

const char* name(const actuator::Part& part) {
    return labelOf(get(part).wires);
}

std::optional<Method> method(const Context& c, const actuator::Part& part) {
    if (!std::holds_alternative<BlowDemand>(c.demand) || get(part).mains != onMains(c.demand)) return std::nullopt;
    if (get(part).mains) return Method::Alternating;
    return ownElectronics(part) ? Method::FanPulse : Method::OneWay;
}

// One on the mains at the volts that it is let have; nullopt: its own speed is not known.
std::optional<actuator::MainsFan> onTheMains(const Context& c, const actuator::Fan& f, double volts) {
    const auto* blow = std::get_if<BlowDemand>(&c.demand);
    if (blow == nullptr || !f.rated_speed) return std::nullopt;
    const double share = c.signal.share_of == ShareOf::Volts ? si(c.signal.duty) : std::sqrt(si(c.signal.duty));
    return actuator::MainsFan{of<Fraction>(volts / si(f.nominal_voltage) * share), *f.rated_speed, blow->mains_frequency};
}

void judge(Running& r, const actuator::Part& part) {
    const auto& f = get(part);
    const auto& [c, driver, rail, wire, n] = r;
    r.supply(si(f.nominal_voltage), 1.15);
    if (!f.current) return r.missing();
    const double current = si(*f.current);
    const double volts = std::max(0.0, rail - current * wire - r.drop(current));
    const bool by_supply = f.wires != actuator::FanWires::Four;
    double at = std::clamp(volts / si(f.nominal_voltage), 0.0, 1.5) * (by_supply ? si(c.signal.duty) : 1.0);
    if (f.mains) {
        const auto asked_of = onTheMains(c, f, volts);
        const auto slowed = asked_of ? actuator::mainsFan(*asked_of) : fail(ErrorCode::Missing, "rated_speed", "", "");
        if (!slowed) return r.missing();
        at = si(slowed->result.speed_fraction);
    }
    n.volts = volts;
    n.speed = at;
    n.winding = current;
    n.running = f.mains ? current : current * at * at;  // slowed, an induction motor takes hardly less
    n.starting = f.starting_current ? si(*f.starting_current) : 2.0 * current;
    n.stalled = n.starting;
    n.smooth = 0.3;
    n.part_heat = volts * n.running;
    if (!c.ask.flow || !c.ask.pressure || f.curve.points.size() < 2) return r.missing();
    const double asked = si(*c.ask.flow), k = si(*c.ask.pressure) / (asked * asked);
    const auto met = at > 0.0 ? actuator::curveMeets(f.curve, at, 0.0, k) : std::nullopt;
    if (!met) return r.missing();
    n.flow = met->flow;
    n.height = met->start_height + met->slope * (met->flow - met->start_flow);
    n.ability = n.flow;
    n.share = asked / n.flow;
    if (n.flow < asked / slack) n.hit(Rule::TooLittleAir, Severity::Stop, n.flow, asked);
    else if (n.flow < 1.1 * asked) n.hit(Rule::TooLittleAir, Severity::Warn, n.flow, asked);
    const auto& blow = std::get<BlowDemand>(c.demand);
    if (blow.noise_limit) {
        if (!f.noise) r.missing();
        else if (si(*f.noise) > si(*blow.noise_limit) * slack) n.hit(Rule::NoiseOver, Severity::Warn, si(*f.noise), si(*blow.noise_limit));
    }
}

void show(const Showing& r, const actuator::Part& part) {
    const auto& f = get(part);
    const auto& [c, driver, rail, out] = r;
    if (const auto asked_of = onTheMains(c, f, out.numbers.volts); f.mains && asked_of)
        r.add("its speed at these volts", Stage::Match, actuator::mainsFan(*asked_of));
    if (!c.ask.flow || !c.ask.pressure || !known(out.numbers.speed)) return;
    actuator::FanPoint in;
    in.curve = f.curve;
    in.speed_fraction = of<Fraction>(out.numbers.speed);
    in.system_k = of<PressurePerFlowSquared>(si(*c.ask.pressure) / (si(*c.ask.flow) * si(*c.ask.flow)));
    r.add("where fan and duct meet", Stage::Match, actuator::fanPoint(in));
}

std::string missing(const actuator::Part& part) {
    const auto& f = get(part);
    if (f.mains && !f.rated_speed) return "The fan's speed on all of its volts is not known: it stands on its plate.";
    if (f.mains && !f.current) return "The fan's current is not known: it stands on its plate.";
    return !f.current ? "The fan's current is not known: read it with a meter in its plus wire."
                      : "Its curve ends before it meets what the air's way takes, or a figure is missing.";
}

void figures(Figures& say, const actuator::Part& part) {
    const auto& f = get(part);
    say("made for", f.nominal_voltage), say("current", f.current), say("start current", f.starting_current),
        say("start duty", f.start_duty);
    if (!f.curve.points.empty())
        say("flow in the open", of<VolumeFlow>(f.curve.points.back().x)), say("pressure when shut", of<Pressure>(f.curve.points.front().y));
}

std::vector<StrokePoint> air(const actuator::Part& part, const Numbers& n) {
    if (!known(n.speed)) return {};
    std::vector<StrokePoint> curve;
    for (const auto& point : get(part).curve.points) curve.push_back({point.x * n.speed, point.y * n.speed * n.speed});
    return curve;
}

std::vector<Column> columns() {
    return ColumnsOf<actuator::Fan>{}
        .column("wires", &actuator::Fan::wires, true)
        .column("nominal_voltage", &actuator::Fan::nominal_voltage, true)
        .column("curve", &actuator::Fan::curve, true)
        .column("current", &actuator::Fan::current)
        .column("starting_current", &actuator::Fan::starting_current)
        .column("start_duty", &actuator::Fan::start_duty)
        .column("mains", &actuator::Fan::mains)
        .column("rated_speed", &actuator::Fan::rated_speed)
        .list();
}

Impossible impossibleIn(const actuator::Part& part) {
    if (get(part).mains && get(part).wires != actuator::FanWires::Two) return std::pair{"wires", "2-wire, on the mains"};
    return std::nullopt;
}

std::optional<Mounted> machine(const Mounting& at) {
    const auto& fan = get(at.part);
    const auto& measured = at.channel.calibration;
    plant::FanFigures f;
    // What was measured is a share as the channel's are; on the mains it counts in rms volts.
    const auto of_volts = [&](double share) {
        return fan.mains && at.channel.signal.share_of == ShareOf::Power ? std::sqrt(share) : share;
    };
    f.start_share = measured.start_duty ? of_volts(si(*measured.start_duty)) : fan.start_duty ? si(*fan.start_duty) : 0.25;
    f.keep_share = measured.keep_duty ? of_volts(si(*measured.keep_duty)) : 0.7 * f.start_share;
    f.current = fan.current ? si(*fan.current) : 0.1;
    if (const auto asked_of = onTheMains(at.context, fan, si(fan.nominal_voltage)); fan.mains && asked_of)
        if (const auto worked = actuator::mainsFan(*asked_of)) {
            const double volts = at.chosen != nullptr ? at.chosen->numbers.volts : unknown;
            f.full_speed = si(*fan.rated_speed), f.slip = si(worked->result.slip);
            f.volts = known(volts) ? volts / si(fan.nominal_voltage) : 1.0;
        }
    Mounted made;
    made.machine = plant::FanPlant{f};
    made.sense.per_unit = pulses_per_turn / (2.0 * constants::pi);
    at.assume(f.slip > 0.0 ? "0.6 s to spin up; no data sheet figure is kept"
                           : "its full speed, 2865 rpm, and 0.6 s to spin up; no data sheet figure is kept");
    return made;
}
double runUp(const actuator::Part& /*part*/) {
    return 0.6;
}
double tach(const actuator::Part& part) {
    return get(part).wires == actuator::FanWires::Two ? unknown : pulses_per_turn;
}

// Every spread is common practice, no published source: a data sheet of a small part is kept to about so.
std::vector<Expected> sample(const actuator::Part& part) {
    const auto& f = get(part);
    std::vector<Expected> list;
    if (f.current && !f.mains)
        list.push_back(expect("current", "current at full speed", "ammeter in its plus", Kind::Current, si(*f.current), 0.5, 0.15,
                              "the rating plate's is a most"));

    return list;
}

SignalKind line(const actuator::Part& /*part*/) {
    return SignalKind::FanPwm;
}

}  // namespace
extern const ActuatorKind kind{
    .file = "fans",
    .label = "fans",
    .symbol = Symbol::Fan,
    .by_share = true,
    .settles = true,
    .line = &line,
    .on_a_pin = {{"open collector", "small NPN, 1 kΩ to its base from the pin, 10 kΩ from its base to the board's supply",
                  "its collector to the fan's PWM wire, its emitter to ground",
                  "the fan pulls that wire up itself; with the pin floating, at reset, it stays at its slowest"}},
    .faults = {"mover", "whines"},
    .name = &name,
    .columns = &columns,
    .blank = &blankOf<actuator::Fan>,
    .impossible = &impossibleIn,
    .method = &method,
    .contact = always<driver::ContactLoad::Motor>,
    .judge = &judge,
    .shaft = NotForThis{"it moves air, and its shaft turns nothing else"},
    .air = &air,
    .lifting = NotForThis{"it lifts no water"},
    .show = &show,
    .missing = &missing,
    .figures = &figures,
    .own_electronics = &ownElectronics,
    .refuses = NotForThis{"on, off and shares of its speed are what the sketch sends"},
    .needs = NotForThis{"its driver brings what goes with it"},
    .winding = NotForThis{"its electronics stand in front of its winding"},
    .rated_peak = NotForThis{"no phase of it is chopped to a current"},
    .sample = &sample,
    .machine = &machine,
    .load = NotForThis{"starting, running and jammed: its three currents say it"},
    .range = NotForThis{"it is not sent to places by an angle"},
    .stepping = NotForThis{"it does not move in steps"},
    .rated_power = NotForThis{"it takes what its load asks"},
    .run_up = &runUp,
    .stall_torque = NotForThis{"its blades are its only load"},
    .tach = &tach,
    .free_current = NotForThis{"its blades are its only load"},
    .bears_volts = NotForThis{"what its electronics bear is not on its data sheet"},
    .calibrations = {"duty-sweep"},
};
}  // namespace fan
}  // namespace hinge::kinds
