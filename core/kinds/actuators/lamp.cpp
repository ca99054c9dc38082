// What shines, and the maker's own load that is only switched.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "driver/mains.hpp"
#include "kinds/actuator_kind.hpp"
#include "quantity/series.hpp"

namespace hinge::kinds {
namespace lamp {
namespace {

using namespace project;

const actuator::Lamp& get(const actuator::Part& part) {
    return std::get<actuator::Lamp>(part);
}
// As a contact sees it.
driver::ContactLoad loadOf(const actuator::Lamp& l) {
    switch (l.lamp_class) {
        case actuator::LampClass::Filament: return driver::ContactLoad::Lamp;
        case actuator::LampClass::LedLamp: return driver::ContactLoad::Capacitive;
        case actuator::LampClass::LedString:
        case actuator::LampClass::Led: break;
    }
    return driver::ContactLoad::Resistive;
}

const char* name(const actuator::Part& part) {
    return labelOf(get(part).lamp_class);
}

std::optional<Method> method(const Context& c, const actuator::Part& part) {
    const auto& l = get(part);
    const auto* load = std::get_if<SwitchDemand>(&c.demand);
    const bool mains = onMains(c.demand);
    if (load == nullptr || l.mains != mains) return std::nullopt;
    if (l.id != own_load_id && load->load != loadOf(l)) return std::nullopt;
    return mains ? Method::Alternating : l.lamp_class == actuator::LampClass::Led ? Method::Light : Method::OneWay;
}
driver::ContactLoad contact(const Context& c, const actuator::Part& part) {
    const auto& l = get(part);
    if (l.id == own_load_id)
        if (const auto* s = std::get_if<SwitchDemand>(&c.demand)) return s->load;
    return loadOf(l);
}

bool hasThreeColours(const actuator::Part& part) {
    return get(part).common != actuator::CommonPole::None;
}
// Of three colours the red one keeps less.
double litVolts(const Context& c, const actuator::Lamp& l) {
    return si(c.colour == Colour::Red ? l.red_voltage.value_or(l.nominal_voltage) : l.nominal_voltage);
}
// How many of it shine for what is asked: three, where the whole lamp is looked at.
double shining(const Context& c, const actuator::Lamp& l) {
    return l.common != actuator::CommonPole::None && c.colour == Colour::None ? 3.0 : 1.0;
}
// Three colours with one pole in common are driven at the other.
void judgeCommon(Running& r, const actuator::Lamp& l) {
    const auto& [c, driver, rail, wire, n] = r;
    if (l.common == actuator::CommonPole::None || driver == nullptr) return;
    const bool of_plus = driverKind(*driver).from_pin || driverKind(*driver).switches_plus,
               plus_in_common = l.common == actuator::CommonPole::Plus;
    if (of_plus == plus_in_common) n.hit(Rule::CommonPole, Severity::Stop, plus_in_common ? 1.0 : 0.0, 0.0);
}

// A bare LED: a resistor sets its current. On a pin, the pin bears less than many LEDs do.
void shine(Running& r, const actuator::Lamp& l) {
    const auto& [c, driver, rail, wire, n] = r;
    if (!l.current) return r.missing();
    const bool on_pin = r.onPin();
    const double most = on_pin ? std::min(si(*l.current), si(c.pin_current)) : si(*l.current), drop_of_led = litVolts(c, l),
                 over = rail - r.drop(most) - drop_of_led;
    n.volts = drop_of_led;
    n.smooth = 0.0;
    n.ability = drop_of_led * most * shining(c, l);
    if (c.ask.power) {
        n.share = si(*c.ask.power) / n.ability;
        if (n.share > slack) n.hit(Rule::TooWeak, Severity::Stop, si(*c.ask.power), n.ability);
    }
    if (over <= 0.0) {
        n.hit(Rule::SupplyTooLow, Severity::Stop, rail - r.drop(most), drop_of_led);
        return;
    }
    n.led_resistor = c.led_resistor ? si(*c.led_resistor) : preferred(over / most, Series::E12, Round::Up);
    const double current = over / (n.led_resistor + wire);
    n.winding = current;
    n.running = current;
    n.starting = current;
    n.stalled = current;
    n.part_heat = drop_of_led * current;
    if (on_pin) n.pin_peak = current;
    if (current > si(*l.current) * slack) n.hit(Rule::LedOvercurrent, Severity::Stop, current, si(*l.current));
    if (on_pin && current > si(c.pin_current) * slack) n.hit(Rule::PinOvercurrent, Severity::Stop, current, si(c.pin_current));
    // The LED's own volts differ by some tenths from piece to piece. Common practice, no published source.
    if (over < 0.5) n.hit(Rule::LedBarely, Severity::Warn, over, 0.5);
}

void judge(Running& r, const actuator::Part& part) {
    const auto& l = get(part);
    const auto& [c, driver, rail, wire, n] = r;
    judgeCommon(r, l);
    if (l.lamp_class == actuator::LampClass::Led) return shine(r, l);
    if (!l.power) return r.missing();
    const double nominal = si(l.nominal_voltage), current = si(*l.power) / nominal;
    n.volts = rail - current * wire - r.drop(current);
    n.winding = current;
    n.running = current;
    n.starting = current * driver::usualInrush(contact(c, part));
    n.stalled = current;
    n.part_heat = si(*l.power);
    n.ability = si(*l.power) * shining(c, l);
    n.smooth = 0.0;
    if (rail > 1.1 * nominal * slack) n.hit(Rule::SupplyOver, Severity::Stop, rail, nominal);
    else if (n.volts < 0.85 * nominal) n.hit(Rule::SupplyLow, Severity::Warn, n.volts, nominal);  // what its switch keeps is lost to it
    if (!c.ask.power) return r.missing();
    n.share = si(*c.ask.power) / n.ability;
    if (n.share > slack) n.hit(Rule::TooWeak, Severity::Stop, si(*c.ask.power), n.ability);
}

void show(const Showing& r, const actuator::Part& part) {
    const auto& l = get(part);
    const auto& [c, driver, rail, out] = r;
    if (l.lamp_class == actuator::LampClass::Led && l.current && known(out.numbers.led_resistor)) {
        const bool on_pin = driverKind(driver).from_pin;
        driver::LedResistor in;
        in.supply = on_pin ? c.logic : of<Voltage>(out.numbers.winding * out.numbers.led_resistor + litVolts(c, l));
        in.led_drop = of<Voltage>(litVolts(c, l));
        in.current = on_pin ? std::min(*l.current, c.pin_current) : *l.current;
        in.fitted = c.led_resistor;
        r.add("the LED's resistor", Stage::Match, driver::ledResistor(in));
    }
    if (!l.power) return;
    Steps steps;
    addStep(steps, "I", "current it takes", "{P}/{V}", {{"P", *l.power}, {"V", l.nominal_voltage}}, of<Current>(out.numbers.winding),
            "ohm");
    out.workings.push_back({"current of the load", Stage::Match, "", steps, Verdict::Holds});
}

std::string missing(const actuator::Part& part) {
    const auto& l = get(part);
    if (l.lamp_class == actuator::LampClass::Led) return "Its current is not known: 5 mA hurt no LED, its data sheet says the most.";
    return "Its power is not known: volts times amps, by a meter.";
}

void figures(Figures& say, const actuator::Part& part) {
    const auto& l = get(part);
    if (l.lamp_class == actuator::LampClass::Led) say("keeps while lit", l.nominal_voltage), say("current at most", l.current);
    else say("made for", l.nominal_voltage), say(l.common == actuator::CommonPole::None ? "power" : "power of each colour", l.power);
}

std::vector<Column> columns() {
    return ColumnsOf<actuator::Lamp>{}
        .column("class", &actuator::Lamp::lamp_class, true)
        .column("mains", &actuator::Lamp::mains)
        .column("nominal_voltage", &actuator::Lamp::nominal_voltage, true)
        .column("power", &actuator::Lamp::power)
        .column("current", &actuator::Lamp::current)
        .column("common", &actuator::Lamp::common)
        .column("red_voltage", &actuator::Lamp::red_voltage)
        .list();
}
Impossible impossibleIn(const actuator::Part& part) {
    const auto& l = get(part);
    if (l.mains && l.lamp_class == actuator::LampClass::Led) return std::pair{"mains", "no, for a bare LED"};
    return std::nullopt;
}

double ratedPower(const actuator::Part& part) {
    return get(part).power ? si(*get(part).power) : unknown;
}

// Every spread is common practice, no published source: a data sheet of a small part is kept to about so.
std::vector<Expected> sample(const actuator::Part& part) {
    const auto& l = get(part);
    std::vector<Expected> list;
    if (l.lamp_class == actuator::LampClass::Led) {
        if (!l.current || si(l.nominal_voltage) >= 5.0) return list;
        const double over = 5.0 - si(l.nominal_voltage), ohms = preferred(over / si(*l.current), Series::E12, Round::Up);
        list.push_back(expect("current", "current, lit",
                              fmt::format("longer leg to 5 V through {}, ammeter in the other", displayPlain(Kind::Resistance, ohms)),
                              Kind::Current, over / ohms, 0.15, 0.15, "what its volts leave to the resistor, 15 % either way"));
        return list;
    }
    if (l.power && !l.mains)
        list.push_back(expect("current", "current, lit", "ammeter in its plus", Kind::Current, si(*l.power) / si(l.nominal_voltage), 0.15,
                              0.15, "its watts by its volts, 15 % either way"));

    return list;
}

}  // namespace
extern const ActuatorKind kind;
const ActuatorKind kind = dry(still({
    .file = "lamps",
    .label = "lamps and LED strings",
    .symbol = Symbol::Lamp,
    .strength = Kind::Power,
    .inductive = false,
    .moves = false,
    .shines = true,
    .three_colours = &hasThreeColours,
    .name = &name,
    .columns = &columns,
    .blank = &blankOf<actuator::Lamp>,
    .impossible = &impossibleIn,
    .method = &method,
    .contact = &contact,
    .judge = &judge,
    .show = &show,
    .missing = &missing,
    .figures = &figures,
    .own_electronics = NotForThis{"it shines by what it is given"},
    .refuses = NotForThis{"on, off and shares of its light are what the sketch sends"},
    .needs = NotForThis{"its driver brings what goes with it"},
    .winding = NotForThis{"it has none"},
    .rated_peak = NotForThis{"no phase of it is chopped to a current"},
    .sample = &sample,
    .machine = NotForThis{"it shines at once"},
    .rated_power = &ratedPower,
    .run_up = &runsAtOnce,
    .bears_volts = NotForThis{"a while above its volts warms it and no more"},
}));
}  // namespace lamp
}  // namespace hinge::kinds
