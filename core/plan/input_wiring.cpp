#include "plan/input_wiring.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "kinds/expander.hpp"
#include "plan/feed.hpp"
#include "quantity/series.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

using project::Wired;

using kinds::through;

constexpr auto potentiometer = of<Resistance>(10e3), thermistor = of<Resistance>(10e3), pull_up = of<Resistance>(10e3),
               middle = of<Resistance>(10e3), filter = of<Resistance>(1e3);
std::string feedOf(const project::Project& project, const project::Input& input) {
    const auto* rail = project::findRail(project, input.rail);
    return rail != nullptr ? rail->name : logicSupply(project);
}

}  // namespace

std::string logicSupply(const project::Project& project) {
    return board::family(project.board.form).logic > 4.0 ? "board 5 V" : "board 3.3 V";
}
std::optional<ExpanderPlan> expanderOf(const project::Input& input) {
    return project::hasPin(input.kind) ? expanderAt(input.expander, input.expander_board, input.pin) : std::nullopt;
}
std::string pinEnd(const project::Input& input) {
    const auto at = expanderOf(input);
    return (at ? kinds::expanderBox(*at->map, at->board) : "board") + " " + (at && at->output < 0 ? "line" : input.pin);
}
bool pulledUpOutside(const project::Project& project, const project::Input& input) {
    if (expanderOf(input)) return false;
    const auto pin = board::pinNamed(board::family(project.board.form), input.pin);
    return pin && pin->input_only && project::pullsUp(input);
}

InputCircuit circuitOf(const project::Project& project, const project::Input& input) {
    const double logic = board::family(project.board.form).logic;
    InputCircuit circuit;
    circuit.wired = project::wiredAs(input);
    circuit.fed = of<Voltage>(logic);
    if (const auto* rail = project::findRail(project, input.rail)) {
        circuit.fed = rail->voltage;
        const auto* source = project::findSource(project, rail->from);
        if (!circuit.fed && source != nullptr && rail->conversion == power::Conversion::Direct) circuit.fed = source->voltage;
        // A rail of cells is read at its highest.
        if (source != nullptr && rail->conversion == power::Conversion::Direct)
            if (const auto open = power::openVoltage(*source, power::ChargeLevel::Full)) circuit.fed = *open;
    }
    switch (circuit.wired) {
        case Wired::Usual:
        case Wired::Contact:
        case Wired::OpenCollector:
        case Wired::DriverLine:
        case Wired::CurrentOutput:
        case Wired::ZeroCross: circuit.most = of<Voltage>(logic); break;
        case Wired::Potentiometer: circuit.most = circuit.fed; break;
        case Wired::PoweredSensor: circuit.most = input.output_volts ? input.output_volts : circuit.fed; break;
        case Wired::Divider: {
            // 10 kΩ to ground is little enough for a converter's sample and hold; the upper one keeps a tenth in hand (next higher of E12).
            circuit.bottom = input.r_bottom.value_or(of<Resistance>(10e3));
            if (input.output_volts) circuit.fed = input.output_volts;  // a sensor's output, not the rail itself
            if (input.r_top) {
                circuit.top = *input.r_top;
            } else if (circuit.fed) {
                const double exact = si(circuit.bottom) * std::max(0.0, si(*circuit.fed) / (0.9 * logic) - 1.0);
                circuit.top = of<Resistance>(exact > 0.0 ? preferred(exact, Series::E12, Round::Up) : 1e3);
            }
            if (circuit.fed) circuit.most = of<Voltage>(si(*circuit.fed) * si(circuit.bottom) / (si(circuit.top) + si(circuit.bottom)));
            break;
        }
        case Wired::Thermistor:
            circuit.bottom = input.r_bottom.value_or(of<Resistance>(10e3));
            circuit.most = circuit.fed;
            break;
        case Wired::CurrentTransformer:
            circuit.bottom = input.r_bottom.value_or(of<Resistance>(33.0));
            circuit.most = of<Voltage>(logic);
            break;
    }
    return circuit;
}

bool inputHas(const project::Input& input, std::string_view field) {
    using K = project::InputKind;
    const bool pinned = project::hasPin(input.kind);
    const auto wired = project::wiredAs(input);
    const auto any = [wired](std::initializer_list<Wired> list) { return std::find(list.begin(), list.end(), wired) != list.end(); };
    if (field == "pin" || field == "wired") return pinned;
    if (field == "expander") return pinned && (input.kind != K::Tach || !input.expander.empty());
    if (field == "expander_board") return pinned && !input.expander.empty();
    if (field == "debounce") return pinned && input.kind != K::Tach;  // its pulses are counted as they come
    if (field == "active_high") return pinned || project::isReading(input.kind);
    if (field == "upper" || field == "lower") return project::isReading(input.kind);
    if (field == "rail") return pinned && any({Wired::PoweredSensor, Wired::Potentiometer, Wired::Divider, Wired::Thermistor});
    if (field == "output_volts") return pinned && any({Wired::PoweredSensor, Wired::Divider});
    if (field == "r_top") return pinned && any({Wired::Divider});
    if (field == "r_bottom") return pinned && any({Wired::Divider, Wired::Thermistor, Wired::CurrentTransformer});
    if (field == "word") return input.kind == K::Word;
    if (field == "timeout") return input.kind == K::Number;
    if (field == "counts" || field == "limit") return input.kind == K::Counter;
    if (field == "weekdays" || field == "from_date" || field == "to_date") return input.kind == K::Days;
    if (field == "sets") return input.kind == K::Knob;
    if (field == "belongs_to") return project::canBelong(input);
    if (field == "run_up") return project::canBelong(input) && !input.belongs_to.empty();
    return true;
}

std::vector<Wire> inputWires(const project::Project& project, const project::Input& input) {
    const auto circuit = circuitOf(project, input);
    const std::string pin = pinEnd(input), it = input.name + " ", logic = logicSupply(project), feed = feedOf(project, input);
    const auto bottom = displayPlain(circuit.bottom), top = displayPlain(circuit.top);
    const std::string pull = pulledUpOutside(project, input)
                                 ? displayPlain(pull_up) + " from this pin to the " + logic + ": it has no pull-up of its own"
                             : expanderOf(input) ? "its expander's own pull-up is on"
                                                 : "the board's own pull-up is on";
    switch (circuit.wired) {
        case Wired::Usual:
        case Wired::Contact: return {{pin, it + "contact", pull}, {it + "contact, other side", "ground", ""}};
        case Wired::OpenCollector:
            // The tach of what the board drives: its ground is that of its supply.
            if (const auto* whose = project::findChannel(project, input.belongs_to);
                whose != nullptr && input.kind == project::InputKind::Tach)
                return {{pin, whose->name + " tach wire", pull + "; over 1 m of wire, 4.7 kΩ to the " + logic + " beside the pin"}};
            return {{pin, it + "open collector", pull + "; over 1 m of wire, 4.7 kΩ to the " + logic + " beside the pin"},
                    {it + "ground", "ground", "the same ground as the board"}};
        case Wired::PoweredSensor:
            return {{feed, it + "+", ""},
                    {it + "−", "ground", ""},
                    {it + "output", pin,
                     circuit.most && si(*circuit.most) > board::family(project.board.form).logic + 1e-9
                         ? fmt::format("it brings {}: not straight to this pin", display(*circuit.most, 3))
                         : "it drives its wire itself; no pull-up"}};
        case Wired::Potentiometer:
            return {{feed, it + "upper end", ""},
                    {it + "lower end", "ground", ""},
                    {it + "wiper", pin, displayPlain(potentiometer) + ", linear"}};
        case Wired::Divider: {
            std::vector<Wire> wires{{it + "divider, middle", pin, fmt::format("{} above it, {} below it", top, bottom)},
                                    {it + "divider, lower end", "ground", ""}};
            if (!input.output_volts) {
                wires.insert(wires.begin(), {feed, it + "divider, upper end", ""});
                return wires;
            }
            wires.insert(wires.begin(), {{feed, it + "+", ""}, {it + "−", "ground", ""}, {it + "output", it + "divider, upper end", ""}});
            return wires;
        }
        case Wired::Thermistor:
            return {{feed, it + "thermistor", "the warmer, the higher its reading, with one that falls"},
                    {it + "thermistor, other end", pin, ""},
                    through(pin, "ground", circuit.bottom)};
        case Wired::CurrentTransformer:
            return {{it + "transformer", pin, ""},
                    {it + "transformer, other end", it + "middle", ""},
                    through(pin, it + "middle", circuit.bottom, ": its burden, fitted before a wire goes through the transformer"),
                    through(logic, it + "middle", middle),
                    through(it + "middle", "ground", middle, ", with 10 µF across it")};
        case Wired::DriverLine:
            return {{it + "driver's line", pin, "it drives its wire itself, at the volts of the driver's logic supply; no pull-up"}};
        case Wired::CurrentOutput: {
            // Mean of what it shows: 1 kΩ and 10 µF are 10 ms, many periods of its PWM.
            const auto* whose = project::findChannel(project, input.belongs_to);
            return {through(whose != nullptr ? whose->name + " " + kinds::current_output : it + "driver's current output", pin, filter,
                            ", with 10 µF from the pin to ground and a diode from it to each of ground and the " + logic)};
        }
        case Wired::ZeroCross:
            return {{pin, it + "coupler, collector", pull},
                    {it + "coupler, emitter", "ground", ""},
                    {"mains live, after fuse and switch", it + "coupler, through its two resistors",
                     "by or under a licensed electrician; follow your local code", true},
                    {"mains neutral", it + "coupler", "by or under a licensed electrician; follow your local code", true}};
    }
    return {};
}

bool tellsCrossings(const project::Project& project, const project::Parts& parts) {
    return std::any_of(project.channels.begin(), project.channels.end(), [&](const project::Channel& channel) {
        const auto* driver = project::findDriver(parts, channel.drive.part);
        return driver != nullptr && kinds::driverKind(*driver).waves == kinds::Waves::Parts;
    });
}

std::vector<Wire> crossingWires(const project::Project& project) {
    const auto& at = project.board.crossing_pin;
    project::Input mains;
    mains.name = "mains crossings,";
    mains.wired = project::Wired::ZeroCross;
    mains.pin = at.empty() ? ", a free pin with an interrupt" : at;
    return inputWires(project, mains);
}

bool radioDivider(const project::Project& project) {
    return board::family(project.board.form).logic > si(project.board.radio_supply) + 0.3;
}

std::vector<Wire> radioWires(const project::Project& project) {
    const auto pin = [](const std::string& name) { return "board " + (name.empty() ? std::string{", a free pin"} : name); };
    const auto& board = project.board;
    const bool low = si(board.radio_supply) < 4.0;
    std::vector<Wire> wires{{low ? "board 3.3 V" : "board 5 V", "Radio's supply", "with 100 µF beside it: it draws in bursts"},
                            {"Radio's ground", "ground", ""},
                            {"Radio's TX", pin(board.radio_in_pin), "it drives its wire itself"}};
    if (!radioDivider(project)) {
        wires.push_back({pin(board.radio_out_pin), "Radio's RX", ""});
        return wires;
    }
    // Two thirds of 5 V are 3.3 V.
    wires.push_back(through(pin(board.radio_out_pin), "Radio's RX", of<Resistance>(1e3)));
    wires.push_back(through("Radio's RX", "ground", of<Resistance>(2e3), ": it bears no more than its supply"));
    return wires;
}

std::vector<Wire> insideInput(const project::Project& project, const project::Input& input) {
    const auto circuit = circuitOf(project, input);
    const std::string it = input.name + " ";
    if (pulledUpOutside(project, input)) return {through(logicSupply(project), pinEnd(input), pull_up)};
    if (circuit.wired == Wired::Divider)
        return {through(it + "divider, upper end", it + "divider, middle", circuit.top),
                through(it + "divider, middle", it + "divider, lower end", circuit.bottom)};
    if (circuit.wired == Wired::Potentiometer)
        return {through(it + "upper end", it + "wiper", potentiometer / 2.0), through(it + "wiper", it + "lower end", potentiometer / 2.0)};
    if (circuit.wired == Wired::Thermistor) return {through(it + "thermistor", it + "thermistor, other end", thermistor)};
    return {};
}

std::vector<std::string> inputParts(const project::Project& project, const project::Input& input) {
    const auto circuit = circuitOf(project, input);
    switch (circuit.wired) {
        case Wired::Divider:
            return {fmt::format("resistor {} 1 %, for {}", displayPlain(circuit.top), input.name),
                    fmt::format("resistor {} 1 %, for {}", displayPlain(circuit.bottom), input.name)};
        case Wired::Potentiometer: return {"potentiometer " + displayPlain(potentiometer) + " linear, " + input.name};
        case Wired::Thermistor:
            return {"thermistor " + displayPlain(thermistor) + " at 25 °C, " + input.name,
                    fmt::format("resistor {} 1 %, for {}", displayPlain(circuit.bottom), input.name)};
        case Wired::CurrentTransformer:
            return {"current transformer, " + input.name, fmt::format("resistor {}, its burden", displayPlain(circuit.bottom)),
                    "two resistors 10 kΩ and a capacitor 10 µF, its middle"};
        case Wired::DriverLine: return {};
        case Wired::CurrentOutput:
            return {fmt::format("resistor {}, capacitor 10 µF and two small diodes, for {}", displayPlain(filter), input.name)};
        case Wired::ZeroCross: return {"zero-cross coupler with two resistors for the mains, " + input.name};
        default: return {labelOf(input.kind)};
    }
}

}  // namespace hinge::plan
