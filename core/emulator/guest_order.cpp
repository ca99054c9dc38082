#include "emulator/guest_order.hpp"

namespace hinge::emulator {
namespace {

// Pins go over as their places in the board's table, -1 for none.
int placeOf(const board::Family& family, const std::optional<board::Pin>& pin) {
    if (pin)
        for (std::size_t i = 0; i < family.pins.size(); ++i)
            if (family.pins[i].name == pin->name) return static_cast<int>(i);
    return -1;
}
std::optional<board::Pin> pinAt(const board::Family& family, int place) {
    if (place < 0 || static_cast<std::size_t>(place) >= family.pins.size()) return std::nullopt;
    return family.pins[static_cast<std::size_t>(place)];
}

}  // namespace

FlatOrder flat(const GuestOrder& order) {
    const auto& family = board::family(order.form);
    FlatOrder flat{order.name,
                   order.bytes,
                   order.wiring.clock ? std::string{order.wiring.clock->id} : "",
                   order.form,
                   order.marked,
                   placeOf(family, order.wiring.crossing),
                   {},
                   {},
                   order.plants,
                   {},
                   {}};
    for (const auto& chip : order.wiring.registers)
        flat.registers.push_back({chip.map->id, chip.output, placeOf(family, chip.select), placeOf(family, chip.clock),
                                  placeOf(family, chip.out), placeOf(family, chip.in), chip.microsteps});
    for (const auto& chip : order.wiring.expanders) {
        FlatExpander made{chip.map->id,
                          placeOf(family, chip.clock),
                          placeOf(family, chip.data),
                          placeOf(family, chip.serial),
                          {},
                          {},
                          chip.board,
                          {},
                          {}};
        for (const auto& [output, own] : chip.outputs) made.outputs.push_back(output), made.own.push_back(own);
        for (const auto& [input, line] : chip.inputs) made.inputs.push_back(input), made.lines.push_back(line);
        flat.expanders.push_back(std::move(made));
    }
    for (std::size_t o = 0; o < order.wiring.outputs.size(); ++o) {
        FlatOutput output{placeOf(family, order.wiring.outputs[o])};
        if (o < order.wiring.directions.size()) output.direction = placeOf(family, order.wiring.directions[o]);
        if (o < order.wiring.lows.size()) output.low = placeOf(family, order.wiring.lows[o]);
        if (o < order.wiring.back_lows.size()) output.back_low = placeOf(family, order.wiring.back_lows[o]);
        if (o < order.wiring.inverted.size()) output.inverted = order.wiring.inverted[o];
        if (o < order.wiring.kinds.size()) {
            const auto& kind = order.wiring.kinds[o];
            output.kind = kind.kind, output.start = kind.start, output.hold = kind.hold;
            output.top = kind.top, output.pulse_still = kind.pulse_still, output.turns = kind.turns, output.step_rate = kind.step_rate;
            output.latch = kind.latch, output.half_waves = kind.half_waves, output.two_inputs = kind.two_inputs;
        }
        flat.outputs.push_back(output);
    }
    for (const auto& input : order.wiring.inputs)
        flat.inputs.push_back({placeOf(family, input.pin), input.active_high, input.empties, input.analogue});
    return flat;
}

Wiring wiringOf(const FlatOrder& order) {
    const auto& family = board::family(order.form);
    Wiring wiring;
    wiring.logic = family.logic;
    wiring.crossing = pinAt(family, order.crossing);
    for (const auto& output : order.outputs) {
        wiring.outputs.push_back(pinAt(family, output.pin).value_or(board::Pin{}));
        wiring.directions.push_back(pinAt(family, output.direction));
        wiring.lows.push_back(pinAt(family, output.low));
        wiring.back_lows.push_back(pinAt(family, output.back_low));
        routine::ProgramOutput kind;
        kind.kind = output.kind, kind.start = output.start, kind.hold = output.hold;
        kind.top = output.top, kind.pulse_still = output.pulse_still, kind.turns = output.turns, kind.step_rate = output.step_rate;
        kind.latch = output.latch, kind.half_waves = output.half_waves, kind.two_inputs = output.two_inputs;
        wiring.kinds.push_back(kind);
        wiring.inverted.push_back(output.inverted);
    }
    for (const auto& input : order.inputs) {
        const auto pin = pinAt(family, input.pin);
        wiring.inputs.push_back({pin, input.active_high, input.empties, input.analogue, pin ? pin->analog_channel : -1});
    }
    for (const auto& chip : order.expanders) {
        const auto* map = driver::findRegisterMap(chip.map);
        if (map == nullptr || chip.own.size() != chip.outputs.size()) continue;
        Wiring::Expander made{map, pinAt(family, chip.clock), pinAt(family, chip.data), pinAt(family, chip.serial), {}, chip.board, {}};
        for (std::size_t k = 0; k < chip.own.size(); ++k)
            if (chip.outputs[k] < order.outputs.size()) made.outputs.emplace_back(chip.outputs[k], chip.own[k]);
        for (std::size_t k = 0; k < chip.lines.size() && k < chip.inputs.size(); ++k)
            if (chip.inputs[k] < order.inputs.size()) made.inputs.emplace_back(chip.inputs[k], chip.lines[k]);
        wiring.expanders.push_back(std::move(made));
    }
    for (const auto& chip : order.registers) {
        const auto* map = driver::findRegisterMap(chip.map);
        const auto select = pinAt(family, chip.select);
        if (map != nullptr && select)
            wiring.registers.push_back(
                {chip.output, map, *select, pinAt(family, chip.clock), pinAt(family, chip.out), pinAt(family, chip.in), chip.microsteps});
    }
    if (!order.clock.empty())
        if (const auto* part = board::findBusPart(order.clock)) wiring.clock = *part;
    return wiring;
}

}  // namespace hinge::emulator
