// A coil that pulls something: a solenoid, or a valve for water.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "actuator/coil_drive.hpp"
#include "kinds/actuator_kind.hpp"
#include "quantity/constants.hpp"

namespace hinge::kinds {
namespace coil {
namespace {

using namespace project;

const actuator::Coil& get(const actuator::Part& part) {
    return std::get<actuator::Coil>(part);
}
bool latching(const actuator::Coil& k) {
    return k.coil_class == actuator::CoilClass::LatchingSolenoid || k.coil_class == actuator::CoilClass::LatchingValve;
}

const char* name(const actuator::Part& part) {
    return labelOf(get(part).coil_class);
}

std::optional<Method> method(const Context& c, const actuator::Part& part) {
    const auto& k = get(part);
    const auto* press = std::get_if<PressDemand>(&c.demand);
    const auto* load = std::get_if<SwitchDemand>(&c.demand);
    const bool plunger = press != nullptr && press->way == PressWay::Plunger;
    const bool valve = load != nullptr && load->load == driver::ContactLoad::Inductive && !onMains(c.demand);
    const bool pulls = k.coil_class == actuator::CoilClass::Solenoid || k.coil_class == actuator::CoilClass::LatchingSolenoid;
    if (pulls ? !plunger : !valve) return std::nullopt;
    return latching(k) ? Method::BothWays : Method::OneWay;
}

void judge(Running& r, const actuator::Part& part) {
    const auto& k = get(part);
    const auto& [c, driver, rail, wire, n] = r;
    if (!k.coil_resistance) return r.missing();
    const double resistance = si(*k.coil_resistance), current = std::max(0.0, rail) / (resistance + wire + r.path(rail / resistance));
    n.volts = current * resistance;
    n.winding = current;
    n.running = current;
    n.starting = current;
    n.stalled = current;
    n.part_heat = current * current * resistance;
    n.smooth = 1.0;
    // Warm copper: 60 K above the room for a coil that stays on.
    const double warm = latching(k) ? 1.0 : 1.0 + constants::copper_coefficient * 60.0,
                 operate = si(k.operate_fraction) * si(k.coil_voltage) / resistance;
    const double margin = current / warm / operate;
    if (margin < 1.0 / slack) n.hit(Rule::CoilWontPull, Severity::Stop, n.volts / warm, si(k.operate_fraction) * si(k.coil_voltage));
    else if (margin < 1.1) n.hit(Rule::CoilWontPull, Severity::Warn, n.volts / warm, si(k.operate_fraction) * si(k.coil_voltage));
    if (rail > 1.15 * si(k.coil_voltage)) n.hit(Rule::SupplyOver, Severity::Stop, rail, si(k.coil_voltage));
    if (k.duty_max && c.work.on_for && c.work.every && si(*c.work.on_for) > si(*k.duty_max) * si(*c.work.every) * slack)
        n.hit(Rule::CoilDuty, Severity::Stop, si(*c.work.on_for) / si(*c.work.every), si(*k.duty_max));
    if (c.ask.holds && !latching(k)) n.hit(Rule::NoHold, Severity::Stop);
    if (!c.ask.force) return;
    if (!k.force || !k.stroke) return r.missing();
    // Pull goes with the square of the current.
    const double able = si(*k.force) * (n.volts / warm / si(k.coil_voltage)) * (n.volts / warm / si(k.coil_voltage));
    r.strength(si(*c.ask.force), able);
    if (c.ask.stroke && si(*c.ask.stroke) > si(*k.stroke) * slack)
        n.hit(Rule::StrokeOver, Severity::Stop, si(*c.ask.stroke), si(*k.stroke));
}

void show(const Showing& r, const actuator::Part& part) {
    const auto& k = get(part);
    const auto& [c, driver, rail, out] = r;
    if (!k.coil_resistance) return;
    actuator::CoilDrive in;
    in.coil_voltage = k.coil_voltage;
    in.coil_resistance = *k.coil_resistance;
    in.supply = of<Voltage>(rail);
    in.operate_fraction = k.operate_fraction;
    in.driver_drop = of<Voltage>(std::max(0.0, rail - out.numbers.volts));
    in.coil_temperature = Temperature::celsius(latching(k) ? 20.0 : 80.0);
    r.add("pull of the coil, warm", Stage::Match, actuator::coilDrive(in));
}

std::string missing(const actuator::Part& part) {
    const auto& k = get(part);
    return !k.coil_resistance ? "The coil's resistance is not known: measure it with the power off."
                              : "Its force at that stroke is not known: press it against a kitchen scale.";
}

void figures(Figures& say, const actuator::Part& part) {
    const auto& k = get(part);
    say("coil", k.coil_voltage), say("coil resistance", k.coil_resistance), say("force", k.force), say("stroke", k.stroke),
        say("may be on for", k.duty_max), say("pulse", k.pulse_time);
}

std::optional<double> winding(const actuator::Part& part) {
    const auto& k = get(part);
    return k.coil_resistance ? si(*k.coil_resistance) : 0.0;
}

std::vector<Column> columns() {
    return ColumnsOf<actuator::Coil>{}
        .column("class", &actuator::Coil::coil_class, true)
        .column("coil_voltage", &actuator::Coil::coil_voltage, true)
        .column("coil_resistance", &actuator::Coil::coil_resistance)
        .column("inductance", &actuator::Coil::inductance)
        .column("force", &actuator::Coil::force)
        .column("stroke", &actuator::Coil::stroke)
        .column("duty_max", &actuator::Coil::duty_max)
        .column("pulse_time", &actuator::Coil::pulse_time)
        .column("operate_fraction", &actuator::Coil::operate_fraction)
        .list();
}
Impossible impossibleIn(const actuator::Part& part) {
    const auto& c = get(part);
    if (si(c.operate_fraction) <= 0.0) return std::pair{"operate_fraction", "above 0"};
    return std::nullopt;
}

// A latching one that says no pulse has one of nothing, which the sketch refuses.
std::optional<Duration> latch(const actuator::Part& part) {
    const auto& k = get(part);
    return latching(k) ? std::optional(k.pulse_time.value_or(Duration{})) : std::nullopt;
}
std::optional<NotDriven> refuses(const Commanded& c) {
    const auto& k = get(c.part);
    if (!latching(k)) return std::nullopt;
    if (!k.pulse_time) return NotDriven{fmt::format("how long {} must be pulsed is not known; its data sheet says it", k.name), {}};
    if (c.channel.safe == SafeState::On)
        return NotDriven{"a latching coil that is safe while it is on would be pulsed open at every reset", {}};
    if (c.channel.remembers)
        return NotDriven{
            "it stays by itself as it was before a power cut, and the sketch pulses it to where it is safe: it does not come back on",
            {{"Not as before", {{"channels/" + c.channel.id + "/remembers", "no"}}, "it waits for a start after a power cut"}}};
    return std::nullopt;
}

// Every spread is common practice, no published source: a data sheet of a small part is kept to about so.
std::vector<Expected> sample(const actuator::Part& part) {
    const auto& k = get(part);
    std::vector<Expected> list;
    if (k.coil_resistance) list.push_back(windingReading(si(*k.coil_resistance), 0.1, 0.1));

    return list;
}

}  // namespace
extern const ActuatorKind kind;
const ActuatorKind kind = dry(still({
    .file = "coils",
    .label = "solenoids and valves",
    .symbol = Symbol::Coil,
    .strength = Kind::Force,
    .varies = Varies::Never,
    .latch = &latch,
    .faults = {"wound"},
    .name = &name,
    .columns = &columns,
    .blank = &blankOf<actuator::Coil>,
    .impossible = &impossibleIn,
    .method = &method,
    .contact = always<driver::ContactLoad::Inductive>,
    .judge = &judge,
    .show = &show,
    .missing = &missing,
    .figures = &figures,
    .own_electronics = NotForThis{"copper only"},
    .refuses = &refuses,
    .needs = NotForThis{"its driver brings what goes with it"},
    .winding = &winding,
    .rated_peak = NotForThis{"no phase of it is chopped to a current"},
    .sample = &sample,
    .machine = NotForThis{"what it pulls is not followed over time"},
    .rated_power = NotForThis{"it takes what its load asks"},
    .run_up = &runsAtOnce,
    .bears_volts = NotForThis{"a while above its volts warms it and no more"},
}));
}  // namespace coil
}  // namespace hinge::kinds
