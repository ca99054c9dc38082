#include "emulator/gadget.hpp"
#include <algorithm>
#include <utility>
#include "emulator/image.hpp"
#include "files/folder.hpp"
#include "plan/apart.hpp"
#include "plan/input_wiring.hpp"
#include "plan/pin_plan.hpp"
#include "plan/radio_line.hpp"
#include "routine/compile.hpp"

namespace hinge::emulator {

namespace {

// A board of more lines; the first that hangs on it brings it along.
Wiring::Expander& expanderIn(const project::Project& project, const plan::ExpanderPlan& lies, Wiring& wiring) {
    const auto& family = board::family(project.board.form);
    const auto* map = lies.map;
    const int board = lies.board;
    auto at = std::find_if(wiring.expanders.begin(), wiring.expanders.end(),
                           [&](const Wiring::Expander& each) { return each.map == map && each.board == board; });
    if (at == wiring.expanders.end()) {
        Wiring::Expander made{map, {}, {}, {}, {}, board, {}};
        if (map->bus == driver::RegisterBus::Serial) made.serial = board::pinNamed(family, project.board.expander_serial_pin);
        else
            made.clock = board::pinNamed(family, project.board.expander_clock_pin),
            made.data = board::pinNamed(family, project.board.expander_data_pin);
        at = wiring.expanders.insert(wiring.expanders.end(), std::move(made));
    }
    return *at;
}

}  // namespace

Result<Wiring> wiringOf(const project::Project& project, const plan::Plan& plan) {
    if (plan.apart) return wiringOf(plan.apart->project(), plan.apart->plan);
    const auto& family = board::family(project.board.form);
    Wiring wiring;
    wiring.logic = family.logic;
    for (const auto* channel : plan::drivenChannels(project, plan)) {
        const auto& planned = *plan::findChannel(plan, channel->id);
        auto pin = board::pinNamed(family, channel->pin);
        if (planned.expander) {
            pin = board::Pin{};  // it is no pin of the board
            expanderIn(project, *planned.expander, wiring).outputs.emplace_back(wiring.outputs.size(), planned.expander->output);
        }
        if (!pin) return fail(ErrorCode::Missing, "channels/" + channel->id + "/pin", channel->pin, "a pin of this board");
        wiring.outputs.push_back(*pin);
        wiring.inverted.push_back(planned.inverted);
        wiring.directions.push_back(board::pinNamed(family, channel->direction_pin));
        wiring.enables.push_back(board::pinNamed(family, channel->enable_pin));
        const bool apart = planned.switched_ends > 0;
        wiring.lows.push_back(apart ? board::pinNamed(family, channel->low_pin) : std::nullopt);
        wiring.back_lows.push_back(apart ? board::pinNamed(family, channel->back_low_pin) : std::nullopt);
        if (const auto select = board::pinNamed(family, channel->select_pin); select && planned.registers)
            wiring.registers.push_back({wiring.outputs.size() - 1, planned.registers->map, *select,
                                        board::pinNamed(family, project.board.register_clock_pin),
                                        board::pinNamed(family, project.board.register_out_pin),
                                        board::pinNamed(family, project.board.register_in_pin), si(channel->signal.microsteps)});
        // A bridge's inputs are looked at as they are: the output itself is what its motor gets.
        const bool inputs = planned.two_inputs;
        for (const auto& [name, pin_name] : {std::pair{apart ? "high1" : "in1", inputs ? channel->pin : std::string{}},
                                             {"low1", apart ? channel->low_pin : std::string{}},
                                             {apart    ? "high2"
                                              : inputs ? "in2"
                                                       : "direction",
                                              channel->direction_pin},
                                             {"low2", apart ? channel->back_low_pin : std::string{}},
                                             {"enable", channel->enable_pin}})
            if (const auto line = board::pinNamed(family, pin_name))
                wiring.lines.push_back({routine::symbol(channel->id) + "_" + name, *line});
    }
    if (project.board.clock != project::BusClock::None)
        if (const auto* part = board::findBusPart(nameOf(project.board.clock))) wiring.clock = *part;
    if (plan::hasOwnRadio(project.board))
        if (const auto in = board::pinNamed(family, project.board.radio_in_pin), out = board::pinNamed(family, project.board.radio_out_pin);
            in && out) {
            wiring.radio = Wiring::Radio{*in, *out, plan::radioPort(project.board), si(project.board.radio_rate)};
            wiring.lines.push_back({"radio_out", *out});
        }
    if (plan::fires(plan)) wiring.crossing = board::pinNamed(family, project.board.crossing_pin);
    if (plan.program) wiring.kinds = plan.program->outputs;
    for (const auto& input : project.inputs) {
        if (const auto lies = plan::expanderOf(input)) {
            expanderIn(project, *lies, wiring).inputs.emplace_back(wiring.inputs.size(), lies->output);
            wiring.inputs.push_back({std::nullopt, project::pinActiveHigh(input), input.kind == project::InputKind::FloatSwitch,
                                     project::isAnalogue(input.kind)});
            continue;
        }
        const auto pin = board::pinNamed(family, input.pin);
        if (!pin && !project::hasPin(input.kind)) {
            wiring.inputs.push_back({std::nullopt});
            continue;
        }
        if (!pin) return fail(ErrorCode::Missing, "inputs/" + input.id + "/pin", input.pin, "a pin of this board");
        wiring.inputs.push_back({*pin, project::pinActiveHigh(input), input.kind == project::InputKind::FloatSwitch,
                                 project::isAnalogue(input.kind), pin->analog_channel});
    }
    return wiring;
}

Result<std::unique_ptr<EmulatedBoard>> startGadget(const project::Project& project, const project::Parts& parts, const plan::Plan& plan,
                                                   const std::filesystem::path& cache, const std::atomic<bool>* cancel,
                                                   const std::vector<plan::IdleLine>& idle) {
    if (plan.apart) return startGadget(plan.apart->project(), parts, plan.apart->plan, cache, cancel, idle);
    const auto sketch = plan::sketchOf(project, plan, idle);
    if (!sketch) return tl::unexpected(sketch.error());
    const auto& family = board::family(project.board.form);
    const auto built = build(*sketch, family, cache, cancel);
    if (!built) return tl::unexpected(built.error());
    if (!built->ok) return fail(ErrorCode::Failed, sketch->name, "does not compile: " + built->log.substr(0, 300), "");
    auto wiring = wiringOf(project, plan);
    if (!wiring) return tl::unexpected(wiring.error());
    auto plants = plan::plantsOf(project, parts, plan);
    if (!plants) return tl::unexpected(plants.error());
    auto board = EmulatedBoard::start(built->elf, family, std::move(*wiring), std::move(*plants));
    // Its loop asks for the time in one place, and once before it begins; a word of a comment is the third.
    const auto times = [&](std::string_view what) {
        int count = 0;
        for (auto at = sketch->text.find(what); at != std::string::npos; at = sketch->text.find(what, at + 1)) ++count;
        return count;
    };
    if (board && times("micros()") == 3 && times("millis()") == 0)
        if (const auto elf = files::readWhole(built->elf, largest_image)) (*board)->chip().letIdleGoBy(*elf);
    return board;
}

std::vector<plant::Edge> enablesOf(const EmulatedBoard& board, const routine::Program& program) {
    std::vector<plant::Edge> edges;
    const auto& lines = board.lines();
    for (const auto& edge : board.lineEdges())
        for (std::size_t o = 0; o < program.outputs.size(); ++o)
            if (lines[edge.line].name == routine::symbol(program.outputs[o].id) + "_enable")
                edges.push_back({edge.time, static_cast<int>(o), -1, edge.level ? 0 : 1});
    return edges;
}

}  // namespace hinge::emulator
