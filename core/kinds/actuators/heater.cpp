// What warms, and the thermo-electric plate, which also cools.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <limits>
#include "kinds/actuator_kind.hpp"

namespace hinge::kinds {
namespace heater {
namespace {

using namespace project;

const actuator::Heater& get(const actuator::Part& part) {
    return std::get<actuator::Heater>(part);
}

const char* name(const actuator::Part& part) {
    return labelOf(get(part).heater_class);
}

std::optional<Method> method(const Context& c, const actuator::Part& part) {
    const auto& h = get(part);
    const auto* heat = std::get_if<HeatDemand>(&c.demand);
    const bool mains = onMains(c.demand);
    if (heat == nullptr || h.mains != mains) return std::nullopt;
    if ((heat->way != HeatWay::Warm) != (h.heater_class == actuator::HeaterClass::ThermoElectric)) return std::nullopt;
    if (mains) return Method::Alternating;
    return heat->way == HeatWay::Both ? Method::BothWays : Method::OneWay;
}

// K/W of the heat-sink on a plate's hot side; nullopt: not known.
std::optional<double> sinkOf(const Context& c) {
    const auto* heat = std::get_if<HeatDemand>(&c.demand);
    return heat != nullptr && heat->hot_sink ? std::optional(si(*heat->hot_sink)) : std::nullopt;
}
// What a plate pumps [W] falls on a straight line with the difference that is asked [K]: from `most` at none to nothing at `widest`.
struct Line {
    double most, widest;
    [[nodiscard]] double at(double difference) const { return std::max(0.0, most * (1.0 - difference / widest)); }
};
// Between the data sheet's ends; a heat-sink warms by what is pumped and by what the plate takes, and so much more lies across the plate:
// Q = Qm·(1 − (d + (Q + P)·R)/dm), solved for Q, is a line again.
Line lineOf(const actuator::Heater& h, double taken, double sink) {
    const double most = si(*h.heat_pumped), widest = si(*h.largest_difference), left = widest - taken * sink;
    if (left <= 0.0) return {0.0, widest};
    return {most * left / widest / (1.0 + most * sink / widest), left};
}

void judge(Running& r, const actuator::Part& part) {
    const auto& h = get(part);
    const auto& [c, driver, rail, wire, n] = r;
    if (!h.power) return r.missing();
    const double nominal = si(h.nominal_voltage), resistance = nominal * nominal / si(*h.power),
                 current = rail / (resistance + wire + r.path(rail / resistance));
    n.volts = current * resistance;
    n.winding = current;
    n.running = current;
    n.part_heat = current * current * resistance;
    n.smooth = 0.0;
    n.starting = current * (h.cold_factor ? si(*h.cold_factor) : 1.0);
    n.stalled = n.starting;
    if (rail > 1.1 * nominal * slack) n.hit(Rule::SupplyOver, Severity::Stop, rail, nominal);
    if (!c.ask.power) return r.missing();
    double able = n.part_heat * si(c.signal.duty);
    if (h.heater_class == actuator::HeaterClass::ThermoElectric) {
        if (!h.heat_pumped || !h.largest_difference || !c.ask.difference) return r.missing();
        const double sink = sinkOf(c).value_or(0.0), taken = n.part_heat;
        able = lineOf(h, taken, sink).at(si(*c.ask.difference)) * std::min(1.0, n.volts / nominal);
        const double most = si(std::get<HeatDemand>(c.demand).hot_side_most), hot = si(c.ambient) + (able + taken) * sink;
        if (!sinkOf(c)) n.hit(Rule::HotSideUnknown, Severity::Note);
        else if (hot > most) n.hit(Rule::HotSide, Severity::Stop, hot, most);
    }
    n.ability = able;
    n.share = able > 0.0 ? si(*c.ask.power) / able : std::numeric_limits<double>::infinity();
    if (n.share > slack) n.hit(Rule::TooWeak, Severity::Stop, si(*c.ask.power), able);
    else if (n.share > 0.9) n.hit(Rule::OverHalf, Severity::Warn, n.share, 0.9);
}

void show(const Showing& r, const actuator::Part& part) {
    const auto& h = get(part);
    const auto& [c, driver, rail, out] = r;
    if (!h.power || !known(out.numbers.volts)) return;
    const double nominal = si(h.nominal_voltage), resistance = nominal * nominal / si(*h.power);
    Steps steps;
    addStep(steps, "R", "resistance, warm", "{Vn}²/{Pn}", {{"Vn", nominal}, {"Pn", *h.power}}, of<Resistance>(resistance), "ohm");
    addStep(steps, "I", "current on this supply", "{V}/{R}", {{"V", out.numbers.volts}, {"R", resistance}},
            of<Current>(out.numbers.winding), "ohm");
    addStep(steps, "P", "power taken", "{I}²·{R}", {{"I", out.numbers.winding}, {"R", resistance}}, of<Power>(out.numbers.part_heat),
            "ohm");
    if (h.heater_class == actuator::HeaterClass::ThermoElectric && h.heat_pumped && h.largest_difference && c.ask.difference) {
        if (const auto sink = sinkOf(c)) {
            addStep(steps, "Q", "heat pumped, its hot side warmer than the air by what goes into its heat-sink",
                    "{Qm}·(1 − ({d} + {P}·{R})/{dm})/(1 + {Qm}·{R}/{dm})·V/Vn",
                    {{"Qm", *h.heat_pumped},
                     {"d", *c.ask.difference},
                     {"P", of<Power>(out.numbers.part_heat)},
                     {"R", of<ThermalResistance>(*sink)},
                     {"dm", *h.largest_difference}},
                    of<Power>(out.numbers.ability), "thermo-electric-line");
            addStep(steps, "Th", "its hot side", "{Ta} + ({P} + {Q})·{R}",
                    {{"Ta", c.ambient},
                     {"P", of<Power>(out.numbers.part_heat)},
                     {"Q", of<Power>(out.numbers.ability)},
                     {"R", of<ThermalResistance>(*sink)}},
                    Temperature::from_value(si(c.ambient) + (out.numbers.ability + out.numbers.part_heat) * *sink), "thermo-electric-line");
        } else {
            addStep(steps, "Q", "heat pumped at that difference, straight line between the data sheet's ends", "{Qm}·(1 − {d}/{dm})·V/Vn",
                    {{"Qm", *h.heat_pumped}, {"d", *c.ask.difference}, {"dm", *h.largest_difference}}, of<Power>(out.numbers.ability),
                    "thermo-electric-line");
        }
    }
    out.workings.push_back({"heat that it gives", Stage::Match, "", steps, Verdict::Holds});
}

std::string missing(const actuator::Part& /*part*/) {
    return "Its power is not known: volts times amps, by a meter.";
}

void figures(Figures& say, const actuator::Part& part) {
    const auto& h = get(part);
    say("made for", h.nominal_voltage), say("power", h.power);
    if (h.heater_class == actuator::HeaterClass::ThermoElectric)
        say("heat pumped", h.heat_pumped), say("largest difference", h.largest_difference);
}

std::vector<Column> columns() {
    return ColumnsOf<actuator::Heater>{}
        .column("class", &actuator::Heater::heater_class, true)
        .column("mains", &actuator::Heater::mains)
        .column("nominal_voltage", &actuator::Heater::nominal_voltage, true)
        .column("power", &actuator::Heater::power)
        .column("heat_pumped", &actuator::Heater::heat_pumped)
        .column("largest_difference", &actuator::Heater::largest_difference)
        .column("cold_factor", &actuator::Heater::cold_factor)
        .list();
}
Impossible impossibleIn(const actuator::Part& part) {
    const auto& h = get(part);
    if (h.cold_factor && si(*h.cold_factor) < 1.0) return std::pair{"cold_factor", "1 or more"};
    return std::nullopt;
}

std::optional<Mounted> machine(const Mounting& at) {
    const auto& h = get(at.part);
    Mounted made;
    const auto* demand = std::get_if<HeatDemand>(&at.channel.demand);
    if (demand == nullptr || !demand->mass || !h.power) return std::nullopt;
    plant::BoxFigures f;
    f.capacity = si(*demand->mass) * si(demand->specific_heat);
    f.conductance = demand->loss_conductance ? si(*demand->loss_conductance) : 0.0;
    f.ambient = si(at.ambient);
    // As Match reckons it: with the heat-sink on its hot side.
    double pumped = h.heat_pumped ? si(*h.heat_pumped) : si(*h.power);
    if (demand->way != HeatWay::Warm && h.heat_pumped && h.largest_difference) {
        const auto line = lineOf(h, si(*h.power), demand->hot_sink ? si(*demand->hot_sink) : 0.0);
        pumped = line.most;
        f.largest_difference = line.widest;
    } else if (demand->way != HeatWay::Warm && h.largest_difference) {
        f.largest_difference = si(*h.largest_difference);
    }
    f.power = demand->way == HeatWay::Cool ? -pumped : si(*h.power);
    if (demand->way == HeatWay::Both) {
        // Warming, what it pumps and what it takes both come in; cooling, only what it pumps goes out.
        f.backwards = pumped;
        f.power = f.backwards + si(*h.power);
    }
    f.sensor_lag = 20.0;
    made.machine = plant::BoxPlant{f};
    made.sense.per_unit = 20.0;
    made.sense.zero = 400.0 - 20.0 * f.ambient;
    at.assume(fmt::format("a thermometer that is 20 s late{}", demand->loss_conductance ? "" : ", and no loss, since none is stated"));
    return made;
}
double ratedPower(const actuator::Part& part) {
    return get(part).power ? si(*get(part).power) : unknown;
}

// Every spread is common practice, no published source: a data sheet of a small part is kept to about so.
std::vector<Expected> sample(const actuator::Part& part) {
    const auto& h = get(part);
    std::vector<Expected> list;
    if (h.power && !h.mains)
        list.push_back(expect("current", "current, warm", "ammeter in its plus", Kind::Current, si(*h.power) / si(h.nominal_voltage), 0.1,
                              0.1, "its watts by its volts, a tenth either way"));

    return list;
}

}  // namespace
extern const ActuatorKind kind;
const ActuatorKind kind = dry(still({
    .file = "heaters",
    .label = "heaters and thermo-electric plates",
    .symbol = Symbol::Heater,
    .strength = Kind::Power,
    .inductive = false,
    .moves = false,
    .name = &name,
    .columns = &columns,
    .blank = &blankOf<actuator::Heater>,
    .impossible = &impossibleIn,
    .method = &method,
    .contact = always<driver::ContactLoad::Resistive>,
    .judge = &judge,
    .show = &show,
    .missing = &missing,
    .figures = &figures,
    .own_electronics = NotForThis{"a resistor: it can be chopped"},
    .refuses = NotForThis{"on, off and shares of its power are what the sketch sends"},
    .needs = NotForThis{"its driver brings what goes with it"},
    .winding = NotForThis{"it has none"},
    .rated_peak = NotForThis{"no phase of it is chopped to a current"},
    .sample = &sample,
    .machine = &machine,
    .rated_power = &ratedPower,
    .run_up = &runsAtOnce,
    .bears_volts = NotForThis{"a while above its volts warms it and no more"},
}));
}  // namespace heater
}  // namespace hinge::kinds
