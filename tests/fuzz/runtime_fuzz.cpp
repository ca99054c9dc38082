// The runtime that goes to every chip, under the sanitizers: any tables whose rows point to rows that are there, with numbers inside the
// limits that they are set within, under any inputs, words, numbers, hands, stops and clocks; and any bytes in the memory that outlives a
// power cut. Nothing may overflow, hang or leave what it is given.
#include <array>
#include <cstdint>
#include <cstdlib>
#include <vector>
#include "firmware/runtime/spark_store.h"
#include "routine/machine.hpp"
#include "simulation/interpreted_board.hpp"

using namespace hinge;
using namespace hinge::routine;

namespace {

class Bytes {
public:
    Bytes(const std::uint8_t* data, std::size_t size) : data_{data}, left_{size} {}
    std::uint32_t next() {
        if (left_ == 0) return 0;
        --left_;
        return *data_++;
    }
    int below(std::size_t most) { return most == 0 ? -1 : static_cast<int>(next() % most); }
    int orNone(std::size_t most) { return static_cast<int>(next() % (most + 1)) - 1; }
    std::int32_t number(std::int32_t least, std::int32_t most) {
        std::uint32_t value = 0;
        for (int k = 0; k < 4; ++k) value = value << 8 | next();
        return static_cast<std::int32_t>(least + static_cast<std::int64_t>(value) % (static_cast<std::int64_t>(most) - least + 1));
    }
    bool yes() { return next() % 2 != 0; }
    [[nodiscard]] std::size_t left() const { return left_; }

private:
    const std::uint8_t* data_;
    std::size_t left_;
};

// Numbers by what they are for, with the limits that compile() gives them.
enum : int { duty, ramp, off_delay, ticks, place, times, gain, band, period, smoothing, kinds };
constexpr std::array<std::array<std::int32_t, 2>, kinds> limits{{{0, 1000},
                                                                 {0, 5000},
                                                                 {0, 600'000},
                                                                 {0, longest_move},
                                                                 {0, largest_place},
                                                                 {0, 30'000},
                                                                 {-25'600, 25'600},
                                                                 {0, 200},
                                                                 {1, 1000},
                                                                 {1, 16}}};

// A program of any bytes, field by field in the order of its structs: one list.
Program programFrom(Bytes& bytes) {
    Program program;
    for (int k = 0; k < 2 * kinds; ++k) {
        const auto& [least, most] = limits[static_cast<std::size_t>(k % kinds)];
        program.parameters.push_back({"p", "", "", bytes.number(least, most), least, most, ""});
    }
    const auto one = [&](int kind) { return kind + (bytes.yes() ? kinds : 0); };
    const std::size_t inputs = 1 + bytes.next() % 5, outputs = 1 + bytes.next() % 4, cues = 1 + bytes.next() % 5;
    for (std::size_t i = 0; i < inputs; ++i) {
        ProgramInput input;
        input.source = static_cast<InputSource>(bytes.next() % 6);
        input.analogue = input.source == InputSource::Pin && bytes.yes();
        input.below = bytes.yes();
        input.debounce = bytes.number(1, 40);
        input.upper = bytes.number(0, 1023);
        input.lower = bytes.number(0, input.upper);
        input.timeout_parameter = one(ticks);
        input.limit_parameter = one(times);
        if (input.source == InputSource::Counter) input.counted = bytes.below(cues);
        input.weekdays = static_cast<std::uint8_t>(bytes.next() & 0x7f);
        input.from_date = 100 * bytes.number(1, 12) + bytes.number(1, 31);
        input.to_date = 100 * bytes.number(1, 12) + bytes.number(1, 31);
        if (input.analogue && bytes.yes()) input.sets = one(ticks), input.sets_most = bytes.number(1, longest_move);
        program.inputs.push_back(input);
    }
    for (std::size_t o = 0; o < outputs; ++o) {
        ProgramOutput output;
        output.kind = static_cast<OutputKind>(bytes.next() % 3);
        output.duty_parameter = one(duty);
        output.ramp_parameter = one(ramp);
        output.off_delay_parameter = one(off_delay);
        output.top = bytes.number(1, largest_place);
        output.start = output.kind == OutputKind::Switched ? 0 : bytes.number(0, largest_place);
        output.furthest = bytes.number(0, largest_place);
        output.rest = output.kind == OutputKind::Switched ? (bytes.yes() ? Rest::On : Rest::Off) : (bytes.yes() ? Rest::Start : Rest::Off);
        output.rest_parameter = one(ticks);
        if (bytes.yes()) output.rest_unless.push_back(bytes.below(inputs));
        output.remembered = bytes.yes();
        program.outputs.push_back(output);
    }
    for (std::size_t c = 0; c < cues; ++c) {
        ProgramCue cue;
        if (bytes.yes()) cue.inputs.push_back(bytes.below(inputs));
        if (bytes.yes()) cue.released.push_back(bytes.below(inputs));
        if (bytes.yes()) cue.held_input = bytes.below(inputs), cue.held_parameter = one(ticks);
        if (bytes.yes()) cue.every_parameter = one(ticks);
        if (bytes.yes()) cue.times_of_day.push_back(bytes.number(0, ticks_per_day - 1));
        cue.at_power_up = bytes.yes();
        if (bytes.yes()) cue.after = bytes.below(cues);
        for (std::uint32_t k = bytes.next() % 3; k > 0; --k) cue.guards.push_back({bytes.below(inputs), bytes.yes(), bytes.yes()});
        const auto steps = static_cast<int>(bytes.next() % 7);
        for (int k = 0; k < steps; ++k) {
            Instruction step;
            step.operation = static_cast<Operation>(bytes.next() % 12);
            const int o = bytes.below(outputs);
            const bool switched = program.outputs[static_cast<std::size_t>(o)].kind == OutputKind::Switched;
            const auto does = step.operation;
            // As compile() has it: a verb that the output does not know is refused there.
            if (does == Operation::Go && switched) step.operation = Operation::On;
            if (does == Operation::Home && program.outputs[static_cast<std::size_t>(o)].kind != OutputKind::Stepper)
                step.operation = Operation::Off;
            if (!switched && (does == Operation::Fade || does == Operation::Flicker || does == Operation::Run || does == Operation::Toggle))
                step.operation = Operation::Off;
            const bool of_output = step.operation != Operation::Wait && step.operation != Operation::Until &&
                                   step.operation != Operation::Again && step.operation != Operation::Clear;
            if (of_output) step.output = o;
            step.parameter = step.operation == Operation::Again ? one(times) : one(ticks);
            if (step.operation == Operation::Go) step.target = one(place);
            if (step.operation == Operation::Fade) step.target = one(duty);
            if ((step.operation == Operation::On || step.operation == Operation::Run) && switched)
                step.target = bytes.yes() ? one(duty) : -1;
            step.input = bytes.below(inputs);
            step.wanted = bytes.yes();
            step.gentle = bytes.yes();
            if (step.operation == Operation::Again) step.back = static_cast<int>(bytes.next() % static_cast<std::uint32_t>(k + 1));
            step.joined = k + 1 < steps && step.operation != Operation::Until && step.operation != Operation::Home &&
                          step.operation != Operation::Again && bytes.yes();
            cue.instructions.push_back(step);
        }
        program.cues.push_back(cue);
    }
    for (std::uint32_t k = bytes.next() % 3; k > 0; --k) {
        ProgramInterlock interlock;
        interlock.output = bytes.below(outputs);
        interlock.input = bytes.orNone(inputs);
        for (std::uint32_t t = bytes.next() % 3; t > 0; --t)
            interlock.terms.push_back(
                {bytes.below(outputs), static_cast<ProgramTerm::Kind>(bytes.next() % 4), bytes.number(0, largest_place)});
        program.interlocks.push_back(interlock);
    }
    for (std::uint32_t k = bytes.next() % 3; k > 0; --k) {
        const int o = bytes.below(outputs), i = bytes.below(inputs);
        if (program.outputs[static_cast<std::size_t>(o)].kind != OutputKind::Switched) continue;
        program.followers.push_back({o, i, bytes.yes(), isMeasured(program.inputs[static_cast<std::size_t>(i)]) && bytes.yes(),
                                     bytes.number(0, 1023), bytes.number(0, 1000), bytes.orNone(inputs)});
    }
    if (bytes.yes()) {
        ProgramLoop loop;
        loop.output = bytes.below(outputs);
        loop.input = bytes.below(inputs);
        loop.wanted = loop.band = one(band);
        loop.proportional = one(gain), loop.integral = one(gain), loop.derivative = one(gain), loop.forward = one(gain);
        loop.period = one(period), loop.smoothing = one(smoothing), loop.least = one(duty);
        loop.lean_rate = loop.lean_way = one(gain);
        const auto kind = program.outputs[static_cast<std::size_t>(loop.output)].kind;
        loop.most = kind == OutputKind::Stepper ? 16'000 : 1000;
        if (kind != OutputKind::Servo && isMeasured(program.inputs[static_cast<std::size_t>(loop.input)])) program.loops.push_back(loop);
    }
    program.link_parameter = bytes.yes() ? one(ticks) : -1;
    return program;
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size < 8) return 0;
    if (data[0] % 16 == 0) {
        // A memory with anything in it: a record is found only where its check says so, and one that was written is found.
        std::vector<std::uint8_t> memory(data, data + size);
        memory.resize(256);
        struct Memory {
            std::vector<std::uint8_t>& bytes;
            std::uint8_t read(std::uint16_t at) const { return bytes.at(at); }
            void update(std::uint16_t at, std::uint8_t byte) { bytes.at(at) = byte; }
        } in{memory};
        const std::uint8_t mark[spark::mark_bytes] = {data[1], data[2], data[3], data[4], data[5]};
        const auto at = static_cast<std::uint16_t>(data[6] % 100);
        const auto room = static_cast<std::uint16_t>(data[7] % 100);
        (void)spark::recordHolds(in, at, mark, room);
        spark::RecordWriter writer{0, 0};
        while (!writer.step(in, at, mark, room, [&](std::uint16_t k) { return data[k % size]; })) {
        }
        if (!spark::recordHolds(in, at, mark, room)) std::abort();
        return 0;
    }
    if (size > 8 && data[0] % 16 == 1) {
        // Lines over the link, of a gadget made from the first half of the bytes; every line that is one has its answer.
        Bytes made(data + 1, size / 2);
        hinge::simulation::InterpretedBoard board(programFrom(made), {}, "fuzz", "00000000");
        for (std::size_t k = size / 2; k < size; ++k) {
            board.write(std::string(1, static_cast<char>(data[k])));
            if (data[k] % 7 == 0) board.advance(0.003);
        }
        board.write("\nhello\n");
        const auto said = board.read();
        if (said.size() < 30 || said.substr(said.size() - 2) != "\r\n") std::abort();
        return 0;
    }
    Bytes bytes(data, size);
    const Machine machine(programFrom(bytes));
    const auto& program = machine.program();
    State state = powerUp(program);
    std::vector<std::uint8_t> pins(program.inputs.size(), 0);
    std::vector<std::int32_t> values(program.inputs.size(), 0), pulses(program.inputs.size(), 0);
    for (int t = 0; t < 400 && bytes.left() > 0; ++t) {
        Happening happening;
        const auto what = bytes.next();
        const auto i = static_cast<std::size_t>(bytes.below(program.inputs.size()));
        if ((what & 1) != 0) pins[i] ^= 1;
        if ((what & 2) != 0) values[i] = bytes.number(0, 1023), pulses[i] = bytes.number(0, 200);
        if ((what & 4) != 0) happening.start_cues.push_back(bytes.below(program.cues.size()));
        happening.stop = (what & 0x38) == 0x38;
        if ((what & 0x48) == 0x48)
            happening.hands.push_back({bytes.below(program.outputs.size()), bytes.number(-2, 70'000), bytes.number(1, 600'000)});
        if ((what & 0x50) == 0x50)
            setClock(state, bytes.number(0, ticks_per_day - 1)),
                setDate(state, bytes.number(2000, 2099), bytes.number(1, 12), bytes.number(1, 28));
        if ((what & 0x60) == 0x60 && program.inputs[i].source == InputSource::Number)
            happening.numbers.push_back({static_cast<int>(i), bytes.number(0, 1023)});
        if ((what & 0x80) != 0 && program.inputs[i].source == InputSource::Word) happening.words.push_back(static_cast<int>(i));
        if ((what & 0xC0) == 0xC0) state = powerBack(program, state);
        happening.link = (what & 0x90) == 0x90;
        happening.pin_active = pins;
        happening.values = values;
        happening.pulses = pulses;
        machine.tick(state, happening);
        for (std::size_t o = 0; o < program.outputs.size(); ++o) {
            const auto& output = program.outputs[o];
            // A switched one is never given more than all of it, nor less than nothing.
            if (output.kind == OutputKind::Switched && (state.output(o).level < 0 || state.output(o).level > output.top)) std::abort();
        }
    }
    return 0;
}
