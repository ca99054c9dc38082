#include "plan/firmware_model.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include "firmware/target.hpp"
#include "kinds/expander.hpp"
#include "kinds/system_curve.hpp"
#include "plan/apart.hpp"
#include "plan/expander_pins.hpp"
#include "plan/feed.hpp"
#include "plan/input_wiring.hpp"
#include "plan/pin_plan.hpp"
#include "plan/radio_line.hpp"
#include "plan/standing.hpp"
#include "power/fuse.hpp"
#include "quantity/fnv.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

std::string fingerprint(const std::string& text) {
    return fmt::format("{:08x}", fnv32(text));
}

firmware::OnExpander onExpander(const ExpanderPlan& at) {
    return {at.map, at.board, kinds::expanderAddress(*at.map, at.board), kinds::expanderName(*at.map, at.board), at.rate};
}

// How a channel's output goes to its pins.
Result<firmware::SketchOutput> outputFor(const project::Channel& channel, const ChannelPlan& planned, const routine::ProgramOutput& output,
                                         const board::Family& family) {
    auto pin = board::pinNamed(family, channel.pin);
    if (planned.expander) pin.reset();
    if (planned.expander && planned.expander->output >= 0) pin = board::Pin{.name = channel.pin, .number = planned.expander->output};
    if (!pin)
        return fail(ErrorCode::Missing, "channels/" + channel.id + "/pin", channel.pin,
                    planned.expander ? "an output of its expander, such as X0" : "a pin of this board");
    firmware::SketchOutput out{*pin, planned.pwm, std::nullopt, std::nullopt, planned.inverted};
    if (planned.signal == SignalKind::WholeCycles && planned.mains)
        out.block = static_cast<int>(std::lround(1000.0 * planned.mains->together / si(planned.mains->frequency)));
    if (isBeaten(planned) && family.target == firmware::Target::Avr && family.clock != 16e6)
        return fail(ErrorCode::Missing, "board/form", std::string{family.name}, "the 16 MHz board: servos and steps beat on its timer 2");
    if (kinds::isSteps(planned.signal)) {
        out.direction = board::pinNamed(family, channel.direction_pin);
        out.enable = board::pinNamed(family, channel.enable_pin);
        if (!out.direction)
            return fail(ErrorCode::Missing, "channels/" + channel.id + "/direction_pin", channel.direction_pin, "a pin of this board");
    }
    if (planned.expander) {
        out.expander = onExpander(*planned.expander);
    }
    if (planned.registers) {
        out.registers = planned.registers->map;
        out.register_writes = planned.registers->writes;
        out.select = board::pinNamed(family, channel.select_pin);
    }
    if (planned.switched_ends > 0) {
        if (!planned.dead_time || !planned.pwm)
            return fail(ErrorCode::Missing, "channels/" + channel.id + "/pin", channel.pin, "a pin whose timer keeps a dead time");
        out.dead_ticks = static_cast<int>(std::lround(si(planned.dead_time->ticks)));
        const auto end = [&](const std::string& name, const char* field) -> Result<board::Pin> {
            const auto found = board::pinNamed(family, name);
            if (!found) return fail(ErrorCode::Missing, "channels/" + channel.id + "/" + field, name, "a pin of this board");
            return *found;
        };
        // Anything but two outputs of one timer would close both switches at once.
        const auto lower = [&](const board::Pin& upper, const std::string& name, const char* field) -> Result<board::Pin> {
            const auto others = board::pairsOf(family, upper);
            if (std::none_of(others.begin(), others.end(), [&](const board::Pin& other) { return other.name == name; }))
                return fail(ErrorCode::Missing, "channels/" + channel.id + "/" + field, name,
                            fmt::format("another output of the timer behind {}", upper.name));
            return end(name, field);
        };
        const auto low = lower(*pin, channel.low_pin, "low_pin");
        if (!low) return tl::unexpected(low.error());
        out.low = *low;
        if (planned.switched_ends > 1) {
            const auto high = end(channel.direction_pin, "direction_pin");
            if (!high) return tl::unexpected(high.error());
            const auto back_low = lower(*high, channel.back_low_pin, "back_low_pin");
            if (!back_low) return tl::unexpected(back_low.error());
            if (!planned.second_pwm || !planned.second_dead_time)
                return fail(ErrorCode::Missing, "channels/" + channel.id + "/direction_pin", channel.direction_pin,
                            "a pin whose timer keeps a dead time");
            out.second_dead_ticks = static_cast<int>(std::lround(si(planned.second_dead_time->ticks)));
            out.direction = *high, out.back_low = *back_low, out.second_pwm = planned.second_pwm;
        }
        return out;
    }
    if ((output.turns || planned.latch || planned.two_inputs) && !isPulsed(planned)) {
        out.second_pwm = planned.second_pwm;
        out.direction = board::pinNamed(family, channel.direction_pin);
        if (!out.direction)
            return fail(ErrorCode::Missing, "channels/" + channel.id + "/direction_pin", channel.direction_pin, "a pin of this board");
    }
    return out;
}

// What shares a timer that keeps a dead time would set it another way of counting.
std::optional<Error> sharedDeadTime(const firmware::SketchModel& model) {
    std::map<int, std::vector<std::string>> users;  // of each timer: one entry an end, or an output with pulses
    std::set<int> keeps;
    for (std::size_t o = 0; o < model.outputs.size(); ++o) {
        const auto& out = model.outputs[o];
        const auto use = [&](const board::Pin& pin) { users[pin.pwm_timer].push_back(model.program.outputs[o].id); };
        if (out.pwm && !out.expander) use(out.pin);
        if (out.second_pwm && out.direction) use(*out.direction);
        if (out.low) keeps.insert(out.pin.pwm_timer);
        if (out.back_low) keeps.insert(out.direction->pwm_timer);
    }
    for (const int timer : keeps)
        if (const auto& all = users[timer]; all.size() > 1)
            return fail(ErrorCode::Missing, "channels/" + all.back() + "/pin", "",
                        fmt::format("another timer than {}, which keeps a dead time", timer))
                .value();
    return std::nullopt;
}

}  // namespace

Result<firmware::Sketch> sketchOf(const project::Project& project, const Plan& plan, const std::vector<IdleLine>& idle) {
    if (plan.apart) return sketchOf(plan.apart->project(), plan.apart->plan, idle);
    for (const auto& channel : plan.channels)
        if (!channel.not_driven.empty())
            return fail(ErrorCode::NotDriven, "channels/" + channel.id, channel.not_driven, "choose another, or leave the channel out");
    if (!plan.program)
        return tl::unexpected(plan.program_error.value_or(Error{ErrorCode::Missing, "routine", "", "a routine that compiles"}));
    firmware::SketchModel model;
    model.gadget = project.brief.name;
    model.family = board::family(project.board.form);
    model.program = *plan.program;
    for (const auto* channel : drivenChannels(project, plan)) {
        auto out = outputFor(*channel, *findChannel(plan, channel->id), model.program.outputs[model.outputs.size()], model.family);
        if (!out) return tl::unexpected(out.error());
        model.outputs.push_back(std::move(*out));
    }
    if (auto clash = sharedDeadTime(model)) return tl::unexpected(std::move(*clash));
    // Lines that no cue drives stand in their safe state from the first instruction on.
    const auto hold = [&](const IdleLine& line) {
        if (const auto pin = board::pinNamed(model.family, line.pin)) model.held.push_back({*pin, line.high, line.why});
    };
    for (const auto& channel : project.channels) {
        const auto& planned = *findChannel(plan, channel.id);
        if ((isPlaced(planned) || kinds::isSteps(planned.signal)) && isDriven(planned)) continue;  // its lines are the sketch's own
        const bool turns = routine::turnsRound(project.routine, channel.id) || planned.latch || planned.two_inputs;
        for (const auto& line : idleLines(channel, planned))
            if (!isDriven(planned) || (line.pin != channel.pin && !(turns && line.pin == channel.direction_pin) &&
                                       !(planned.switched_ends > 0 && (line.pin == channel.low_pin || line.pin == channel.back_low_pin))))
                hold(line);
    }
    for (const auto& line : idle) hold(line);
    model.watchdog = project.board.watchdog;
    model.register_bus = {board::pinNamed(model.family, project.board.register_clock_pin),
                          board::pinNamed(model.family, project.board.register_out_pin),
                          board::pinNamed(model.family, project.board.register_in_pin)};
    model.expander_bus = {board::pinNamed(model.family, project.board.expander_clock_pin),
                          board::pinNamed(model.family, project.board.expander_data_pin),
                          board::pinNamed(model.family, project.board.expander_serial_pin)};
    if (hasOwnRadio(project.board)) {
        const auto in = board::pinNamed(model.family, project.board.radio_in_pin),
                   out = board::pinNamed(model.family, project.board.radio_out_pin);
        if (!in || !out)
            return fail(ErrorCode::Missing, in ? "board/radio_out_pin" : "board/radio_in_pin", "",
                        "a pin of this board for the radio's line");
        model.radio = firmware::SketchModel::Radio{*in,
                                                   *out,
                                                   static_cast<int>(std::lround(si(project.board.radio_rate))),
                                                   project.board.radio_starts,
                                                   project.board.radio_drives,
                                                   project.board.radio_sets};
    }
    model.crossing = board::pinNamed(model.family, project.board.crossing_pin);
    if (project.board.clock != project::BusClock::None)
        if (const auto* part = board::findBusPart(nameOf(project.board.clock))) model.clock = *part;
    for (const auto& input : project.inputs) {
        model.pulled_up.push_back(project::pullsUp(input));
        auto pin = board::pinNamed(model.family, input.pin);
        const auto expander = expanderOf(input);
        if (expander || !input.expander.empty()) pin.reset();
        if (expander && !readsIt(*expander->map, input))
            return fail(ErrorCode::NotDriven, "inputs/" + input.id + "/expander", input.expander,
                        "a board of more lines that reads what it is");
        if (expander && expander->output >= 0) pin = board::Pin{.name = input.pin, .number = expander->output};
        model.input_expanders.push_back(expander ? std::optional(onExpander(*expander)) : std::nullopt);
        if (!pin && !project::hasPin(input.kind)) {
            model.inputs.push_back(std::nullopt);
            continue;
        }
        if (!pin) return fail(ErrorCode::Missing, "inputs/" + input.id + "/pin", input.pin, "a pin of this board");
        model.inputs.push_back(*pin);
    }
    auto sketch = firmware::emit(model);
    if (!sketch) return sketch;
    model.plan = fingerprint(sketch->text);
    return firmware::emit(model);
}

std::vector<const project::Channel*> drivenChannels(const project::Project& project, const Plan& plan) {
    if (plan.apart) return drivenChannels(plan.apart->project(), plan.apart->plan);
    std::vector<const project::Channel*> list;
    for (const auto& channel : project.channels)
        if (const auto* planned = findChannel(plan, channel.id); planned != nullptr && isDriven(*planned)) list.push_back(&channel);
    return list;
}

int outputOf(const project::Project& project, const Plan& plan, std::string_view channel) {
    if (plan.apart) return outputOf(plan.apart->project(), plan.apart->plan, channel);
    const auto driven = drivenChannels(project, plan);
    for (std::size_t o = 0; o < driven.size(); ++o)
        if (driven[o]->id == channel) return static_cast<int>(o);
    return -1;
}

namespace {

// Anything else that is switched, by its three currents: what it starts with, runs at, and how soon.
plant::PumpFigures loadFigures(const project::Channel& channel, const actuator::Part& part, const ChannelPlan& planned, double supply) {
    plant::PumpFigures figures;
    const auto& chosen = *planned.chosen;
    // A stepper's or servo's current follows its drive at once; what turns freely starts with its stall current.
    const double running = onMains(channel) ? 0.0 : std::max(1e-6, si(*chosen.running)),
                 starting = onMains(channel)    ? 0.0
                            : isPlaced(planned) ? running
                                                : std::max(running, chosen.stalled ? si(*chosen.stalled) : running);
    figures.supply = supply;
    figures.resistance = starting > 0.0 ? supply / starting : 1e9;
    figures.running = running;
    figures.nominal_back = std::max(0.0, supply - running * figures.resistance);
    figures.spin_up = kinds::actuatorKind(part).run_up(part);
    return figures;
}

}  // namespace

Result<plant::PumpFigures> plantOf(const project::Parts& parts, const Plan& plan, const project::Channel& channel, bool pours) {
    const auto& planned = *findChannel(plan, channel.id);
    const auto* part = match::partOf(planned.context, parts, channel.actuator);
    const double supply = match::supplyOf(planned.context, planned.context->rails.front());
    if (part == nullptr || !planned.chosen || !planned.chosen->running || std::isnan(supply))
        return fail(ErrorCode::Missing, "channels/" + channel.id, "", "a part, a driver and a supply whose figures are known");
    const auto& load = kinds::actuatorKind(*part).load;
    if (!load) return loadFigures(channel, *part, planned, supply);
    kinds::Loading at{channel, *part, planned.context, supply, std::nullopt, std::nullopt, pours};
    if (planned.pwm) at.period = 1.0 / si(planned.pwm->actual_frequency);
    if (planned.measured_flow && planned.chosen->flow && si(*planned.chosen->flow) > 0.0)
        at.real = si(*planned.measured_flow) / si(*planned.chosen->flow);
    return load(at);
}

Result<std::vector<plant::PumpFigures>> plantsOf(const project::Project& project, const project::Parts& parts, const Plan& plan) {
    if (plan.apart) return plantsOf(plan.apart->project(), parts, plan.apart->plan);
    std::vector<plant::PumpFigures> list;
    for (const auto* channel : drivenChannels(project, plan)) {
        auto plant = plantOf(parts, plan, *channel);
        if (!plant) return tl::unexpected(plant.error());
        list.push_back(std::move(*plant));
    }
    return list;
}

namespace {

// "wall adapter 12 V 4 A", "battery, 3 in series, 2.5 A·h a cell"; what is not known is left out.
std::string sourceLine(const power::Source& source) {
    std::string line{labelOf(source.kind)};
    if (source.kind == power::SourceKind::Battery) {
        line += fmt::format(", {} {:g} in series", labelOf(source.chemistry), si(source.series));
        if (si(source.parallel) > 1.0) line += fmt::format(", {:g} side by side", si(source.parallel));
        if (source.capacity) line += ", " + displayPlain(*source.capacity) + " a cell";
        return line;
    }
    if (source.kind == power::SourceKind::Transformer)
        return line + (source.ac_voltage ? " " + displayPlain(*source.ac_voltage) + " AC" : "");
    if (const auto volts = power::openVoltage(source)) line += " " + displayPlain(*volts);
    if (const auto amps = power::promisedCurrent(source)) line += " " + displayPlain(*amps);
    return line;
}

}  // namespace

std::vector<PartLine> partsList(const project::Project& project, const project::Parts& parts, const Plan& plan) {
    if (plan.apart) return partsList(plan.apart->project(), parts, plan.apart->plan);
    std::vector<PartLine> lines;
    lines.push_back({1, std::string{labelOf(project.board.form)}, std::nullopt});
    for (const auto& source : project.sources) lines.push_back({1, sourceLine(source), std::nullopt});
    for (const auto& rail : project.rails) {
        for (const auto& name : standingNames(rail)) lines.push_back({1, name, std::nullopt});
        if (rail.conversion != power::Conversion::Direct)
            lines.push_back(
                {1, std::string{labelOf(rail.conversion)} + (rail.voltage ? " to " + displayPlain(*rail.voltage) : ""), std::nullopt});
        if (rail.fuse)
            lines.push_back(
                {1, "fuse " + display(*rail.fuse) + (power::fuseLimits(*rail.fuse).blade ? " blade, with holder" : " slow, with holder"),
                 std::nullopt});
    }
    for (const auto& channel : project.channels) {
        const auto& planned = *findChannel(plan, channel.id);
        const auto price = [](const actuator::PartHead& head) { return head.drawer ? std::optional(of<Ratio>(0.0)) : head.price; };
        // A lamp of three colours is bought once.
        const bool once = channel.colour == project::Colour::None || channel.colour == project::Colour::Red;
        if (const auto* part = project::findActuator(parts, channel.actuator); part != nullptr && once)
            lines.push_back({1, actuator::head(*part).name, price(actuator::head(*part)), actuator::head(*part).id});
        if (const auto* driver = project::findDriver(parts, channel.drive.part);
            driver != nullptr && !kinds::driverKind(*driver).from_pin && !kinds::driverKind(*driver).own_outputs)
            lines.push_back({1, driver->name, price(*driver), driver->id});
        for (const auto& extra : planned.protection) {
            if (extra.what == "flyback diode" && !channel.drive.flyback_diode) continue;
            if (extra.what == "reference voltage" || extra.what == "sleep and reset straps") continue;
            lines.push_back({1, extra.what + ", " + extra.value, std::nullopt});
        }
    }
    std::set<std::string> expanders;
    const auto add = [&](const ExpanderPlan& at) {
        const auto box = kinds::expanderBox(*at.map, at.board);
        if (!expanders.insert(box).second) return;
        const auto* board = kinds::boardWith(parts.drivers, *at.map);
        if (board == nullptr) lines.push_back({1, box, std::nullopt});
        else lines.push_back({1, board->name, board->drawer ? std::optional(of<Ratio>(0.0)) : board->price, board->id});
    };
    for (const auto& channel : project.channels)
        if (const auto& at = findChannel(plan, channel.id)->expander) add(*at);
    for (const auto& input : project.inputs)
        if (const auto at = expanderOf(input)) add(*at);
    if (hasOwnRadio(project.board)) {
        lines.push_back({1, "serial radio module, " + display(project.board.radio_supply), std::nullopt});
        if (radioDivider(project)) lines.push_back({1, "resistors 1 kΩ and 2 kΩ, before the radio's RX", std::nullopt});
    }
    if (fires(plan) && !tellsCrossings(project, parts))
        lines.push_back({1, "zero-cross coupler with two resistors for the mains", std::nullopt});
    if (project.board.clock != project::BusClock::None) lines.push_back({1, std::string{labelOf(project.board.clock)}, std::nullopt});
    for (const auto& input : project.inputs)
        if (project::hasPin(input.kind))
            for (const auto& line : inputParts(project, input)) lines.push_back({1, line, std::nullopt});
    return lines;
}

}  // namespace hinge::plan
