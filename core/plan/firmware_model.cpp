#include "plan/firmware_model.hpp"
#include "quantity/text.hpp"
#include <fmt/format.h>

namespace hinge::plan {
namespace {

std::string fingerprint(const std::string& text) {
    std::uint32_t hash = 2166136261u;  // FNV-1a
    for (const char c : text) hash = (hash ^ static_cast<std::uint8_t>(c)) * 16777619u;
    return fmt::format("{:08x}", hash);
}

}  // namespace

Result<firmware::Sketch> sketchOf(const project::Project& project, const Plan& plan) {
    if (!plan.program) return tl::unexpected(plan.program_error.value_or(Error{ErrorCode::Missing, "routine", "", "a routine that compiles"}));
    firmware::SketchModel model;
    model.gadget = project.brief.name;
    model.family = board::family(project.board.form);
    model.program = *plan.program;
    for (const auto& channel : project.channels) {
        const auto pin = board::pinNamed(model.family, channel.pin);
        if (!pin) return fail(ErrorCode::Missing, "channels/" + channel.id + "/pin", channel.pin, "a pin of this board");
        model.outputs.push_back({*pin, findChannel(plan, channel.id)->pump.pwm});
    }
    for (const auto& input : project.inputs) {
        const auto pin = board::pinNamed(model.family, input.pin);
        if (!pin) return fail(ErrorCode::Missing, "inputs/" + input.id + "/pin", input.pin, "a pin of this board");
        model.inputs.push_back(*pin);
    }
    auto sketch = firmware::emit(model);
    if (!sketch) return sketch;
    model.plan = fingerprint(sketch->text);
    return firmware::emit(model);
}

Result<std::vector<plant::PumpFigures>> plantsOf(const project::Project& project, const project::Parts& parts, const Plan& plan) {
    std::vector<plant::PumpFigures> list;
    for (const auto& channel : project.channels) {
        const auto* pump = project::findPump(parts, channel.actuator);
        const auto& numbers = findChannel(plan, channel.id)->pump;
        if (pump == nullptr || !numbers.chosen || !numbers.chosen->running || !numbers.context.supply)
            return fail(ErrorCode::Missing, "channels/" + channel.id, "", "a pump, a switch and a supply whose figures are known");
        plant::PumpFigures figures;
        const double nominal = si(pump->nominal_voltage);
        const double winding = nominal / si(*pump->stall_current);
        figures.supply = si(*numbers.context.supply);
        figures.resistance = winding + si(numbers.context.wire);
        figures.running = si(*pump->running_current);
        figures.nominal_back = nominal - figures.running * winding;
        if (pump->inductance) figures.inductance = si(*pump->inductance);
        if (numbers.pwm) figures.period = 1.0 / si(numbers.pwm->actual_frequency);
        figures.spin_up = pump->spin_up_time ? si(*pump->spin_up_time) : 0.05;
        for (double n = 0.0; n < 1.3; n += figures.speed_step)
            figures.flow.push_back(n > 0.0 ? match::crossing(channel.demand, match::curveAt(*pump, n)).value_or(0.0) : 0.0);
        list.push_back(std::move(figures));
    }
    return list;
}

std::vector<Wire> wiring(const project::Project& project, const project::Parts& parts, const Plan& plan) {
    std::vector<Wire> wires;
    for (const auto& rail : project.rails) {
        const auto* source = project::findSource(project, rail.from);
        const auto* feed = project::findRail(project, rail.from);
        const std::string from = source != nullptr ? source->name : feed != nullptr ? feed->name : "?";
        wires.push_back({from + " +", rail.name, fmt::format("{}, {}{}", displayPlain(rail.wire_area), displayPlain(rail.wire_length), rail.fuse ? ", through a fuse of " + display(*rail.fuse) : "")});
        if (rail.conversion != power::Conversion::Direct) wires.push_back({rail.name, fmt::format("{} to {}", labelOf(rail.conversion), rail.voltage ? display(*rail.voltage) : "?"), "input and output capacitor as its data sheet asks"});
    }
    if (const auto* rail = project::findRail(project, project.board.rail)) wires.push_back({rail->name, std::string{"board, "} + (project.board.form == board::BoardForm::Uno16 ? "5 V pin" : "VCC pin"), "not the raw input: that has a regulator of its own"});
    wires.push_back({"every source's minus", "board GND", "one common ground, star-wired at the supply"});
    for (const auto& channel : project.channels) {
        const auto* part = project::findSwitch(parts, channel.drive.part);
        const auto* rail = project::findRail(project, channel.rail);
        const std::string rail_name = rail != nullptr ? rail->name : "?";
        const auto& chosen = findChannel(plan, channel.id)->pump.chosen;
        if (part == nullptr) continue;
        switch (part->switch_class) {
            case driver::SwitchClass::Mosfet:
                wires.push_back({"board " + channel.pin, channel.name + " MOSFET gate", "through " + displayPlain(channel.drive.gate_resistor)});
                wires.push_back({channel.drive.pulldown_side == driver::PulldownSide::Pin ? "board " + channel.pin : channel.name + " MOSFET gate", "ground", "pull-down " + displayPlain(channel.drive.pulldown)});
                wires.push_back({channel.name + " MOSFET source", "ground", ""});
                wires.push_back({channel.name + " motor −", channel.name + " MOSFET drain", ""});
                break;
            case driver::SwitchClass::Darlington:
                wires.push_back({"board " + channel.pin, channel.name + " Darlington base", chosen && chosen->base_resistor ? "through " + displayPlain(*chosen->base_resistor) : ""});
                wires.push_back({channel.name + " Darlington emitter", "ground", ""});
                wires.push_back({channel.name + " motor −", channel.name + " Darlington collector", ""});
                break;
            case driver::SwitchClass::RelayBoard:
                wires.push_back({"board " + channel.pin, channel.name + " relay board IN", ""});
                wires.push_back({"board 5 V", channel.name + " relay board VCC", ""});
                wires.push_back({channel.name + " motor −", channel.name + " relay contact", "normally open; other side to ground"});
                break;
        }
        wires.push_back({rail_name, channel.name + " motor +", ""});
        if (channel.drive.flyback_diode) wires.push_back({channel.name + " motor −", rail_name, "flyback diode, stripe to " + rail_name});
    }
    for (const auto& input : project.inputs) wires.push_back({"board " + input.pin, input.name + " contact", "other side to ground; the board's own pull-up is on"});
    return wires;
}

std::vector<PartLine> partsList(const project::Project& project, const project::Parts& parts, const Plan&) {
    std::vector<PartLine> lines;
    lines.push_back({1, std::string{labelOf(project.board.form)}, std::nullopt});
    for (const auto& source : project.sources)
        lines.push_back({1, fmt::format("{} {}{}", labelOf(source.kind), source.voltage ? displayPlain(*source.voltage) : "? V", source.current ? " " + displayPlain(*source.current) : ""), std::nullopt});
    for (const auto& rail : project.rails) {
        if (rail.conversion != power::Conversion::Direct) lines.push_back({1, fmt::format("{} to {}", labelOf(rail.conversion), rail.voltage ? displayPlain(*rail.voltage) : "? V"), std::nullopt});
        if (rail.fuse) lines.push_back({1, "fuse " + display(*rail.fuse) + " slow, with holder", std::nullopt});
    }
    for (const auto& channel : project.channels) {
        if (const auto* pump = project::findPump(parts, channel.actuator)) lines.push_back({1, pump->name, pump->price});
        if (const auto* part = project::findSwitch(parts, channel.drive.part)) lines.push_back({1, part->name, part->price});
        if (channel.drive.flyback_diode) lines.push_back({1, "flyback diode, Schottky, above the rail's volts", std::nullopt});
    }
    for (const auto& input : project.inputs) lines.push_back({1, labelOf(input.kind), std::nullopt});
    return lines;
}

}  // namespace hinge::plan
