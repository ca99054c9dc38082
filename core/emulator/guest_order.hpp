#pragma once
// What a guest is told of its board, as plain values that go over: pins by their places in the board's table, chips by their tables' names.
#include "emulator/guest.hpp"

namespace hinge::emulator {

struct FlatInput {
    int pin = -1;
    bool active_high = false, empties = false, analogue = false;
};
struct FlatOutput {
    int pin = -1, direction = -1;
    routine::OutputKind kind = routine::OutputKind::Switched;
    std::int32_t start = 0, hold = 0, top = 0, pulse_still = 0;
    double step_rate = 0.0, half_waves = 0.0;
    std::int32_t latch = 0;
    bool inverted = false, turns = false, two_inputs = false;
    int low = -1, back_low = -1;
};
struct FlatRegisters {
    std::string map;
    std::uint64_t output = 0;
    int select = -1, clock = -1, out = -1, in = -1;
    double microsteps = 1.0;
};
struct FlatExpander {
    std::string map;
    int clock = -1, data = -1, serial = -1;
    std::vector<std::uint64_t> outputs;
    std::vector<int> own;
    int board = 1;
    std::vector<std::uint64_t> inputs;
    std::vector<int> lines;
};
struct FlatOrder {
    std::string name, bytes, clock;
    board::BoardForm form = board::BoardForm::Uno16;
    bool marked = false;
    int crossing = -1;
    std::vector<FlatOutput> outputs;
    std::vector<FlatInput> inputs;
    std::vector<plant::PumpFigures> plants;
    std::vector<FlatRegisters> registers;
    std::vector<FlatExpander> expanders;
};
template <class Archive>
void exchange(Archive& a, plant::PumpFigures& f) {
    for (double* each : {&f.supply, &f.resistance, &f.running, &f.nominal_back, &f.spin_up, &f.inductance, &f.period, &f.tank,
                         &f.empty_below, &f.speed_step})
        a(*each);
    a.list(f.flow, [](Archive& list, auto& flow) { list(const_cast<double&>(flow)); });
}

template <class Archive>
void exchange(Archive& a, FlatOrder& order) {
    a(order.name);
    a(order.bytes);
    a(order.clock);
    a(order.form);
    a(order.marked), a(order.crossing);
    a.list(order.outputs, [](Archive& list, auto& each) {
        auto& output = const_cast<FlatOutput&>(each);
        list(output.pin), list(output.direction), list(output.kind), list(output.start), list(output.hold), list(output.inverted);
        list(output.top), list(output.pulse_still), list(output.turns), list(output.step_rate), list(output.latch), list(output.half_waves),
            list(output.two_inputs), list(output.low), list(output.back_low);
    });
    a.list(order.inputs, [](Archive& list, auto& each) {
        auto& input = const_cast<FlatInput&>(each);
        list(input.pin), list(input.active_high), list(input.empties), list(input.analogue);
    });
    a.list(order.registers, [](Archive& list, auto& each) {
        auto& chip = const_cast<FlatRegisters&>(each);
        list(chip.map), list(chip.output), list(chip.select), list(chip.clock), list(chip.out), list(chip.in), list(chip.microsteps);
    });
    a.list(order.expanders, [](Archive& list, auto& each) {
        auto& chip = const_cast<FlatExpander&>(each);
        list(chip.map), list(chip.clock), list(chip.data), list(chip.serial), list(chip.board);
        list.list(chip.outputs, [](Archive& to, auto& output) { to(const_cast<std::uint64_t&>(output)); });
        list.list(chip.own, [](Archive& to, auto& output) { to(const_cast<int&>(output)); });
        list.list(chip.inputs, [](Archive& to, auto& input) { to(const_cast<std::uint64_t&>(input)); });
        list.list(chip.lines, [](Archive& to, auto& line) { to(const_cast<int&>(line)); });
    });
    a.list(order.plants, [](Archive& list, auto& each) { exchange(list, const_cast<plant::PumpFigures&>(each)); });
}
[[nodiscard]] FlatOrder flat(const GuestOrder& order);
[[nodiscard]] Wiring wiringOf(const FlatOrder& order);

}  // namespace hinge::emulator
