#include "routine/program.hpp"
#include <algorithm>

// The emitted sketch (core/firmware) does the same, step for step; tests/emulator compares them.
namespace hinge::routine {
namespace {

// A move that is cut short stands where it is.
void halt(State& state, std::size_t output) { state.elapsed[output] = state.duration[output] = 0; }

void endCue(const Program& program, State& state, std::size_t cue) {
    state.place[cue] = -1;
    state.wait[cue] = 0;
    // A cue that is cut short lets go of all it held, without an off-delay.
    for (const auto& instruction : program.cues[cue].instructions)
        if (instruction.operation == Operation::On) {
            state.asked[static_cast<std::size_t>(instruction.output)] = 0;
            state.off_delay[static_cast<std::size_t>(instruction.output)] = 0;
        } else if (instruction.operation == Operation::Go) {
            halt(state, static_cast<std::size_t>(instruction.output));
        }
}

bool guarded(const ProgramCue& cue, const State& state, bool running) {
    return std::any_of(cue.guards.begin(), cue.guards.end(), [&](const ProgramGuard& guard) {
        return state.active[static_cast<std::size_t>(guard.input)] != 0 && (guard.throughout || !running);
    });
}

void runCue(const Program& program, State& state, std::size_t index) {
    const auto& cue = program.cues[index];
    if (state.wait[index] > 0 && --state.wait[index] > 0) return;
    while (state.place[index] >= 0) {
        const auto place = static_cast<std::size_t>(state.place[index]);
        if (place >= cue.instructions.size()) {
            state.place[index] = -1;
            return;
        }
        const auto& instruction = cue.instructions[place];
        ++state.place[index];
        switch (instruction.operation) {
            case Operation::On: state.asked[static_cast<std::size_t>(instruction.output)] = 1; break;
            case Operation::Off:
                if (state.asked[static_cast<std::size_t>(instruction.output)] != 0) {
                    state.asked[static_cast<std::size_t>(instruction.output)] = 0;
                    state.off_delay[static_cast<std::size_t>(instruction.output)] =
                        state.parameters[static_cast<std::size_t>(program.outputs[static_cast<std::size_t>(instruction.output)].off_delay_parameter)];
                }
                break;
            case Operation::Wait:
                state.wait[index] = state.parameters[static_cast<std::size_t>(instruction.parameter)];
                if (state.wait[index] > 0) return;
                break;
            case Operation::Go: {
                const auto o = static_cast<std::size_t>(instruction.output);
                state.from[o] = state.level[o];
                state.target[o] = state.parameters[static_cast<std::size_t>(instruction.target)];
                state.elapsed[o] = 0;
                state.duration[o] = std::max<std::int32_t>(1, state.parameters[static_cast<std::size_t>(instruction.parameter)]);
                state.awake[o] = 1;
                // The cue goes on in the tick after the one in which the place is reached.
                state.wait[index] = state.duration[o];
                return;
            }
        }
    }
}

}  // namespace

std::int32_t rampLevel(std::int32_t permille, std::int32_t top, std::int32_t on_for, std::int32_t ramp) {
    const std::int32_t full = (permille * top + 500) / 1000;
    if (on_for >= ramp || full == 0) return full;
    return std::max<std::int32_t>(1, full * on_for / ramp);
}

std::int32_t finePlaceAt(OutputKind kind, std::int32_t from, std::int32_t target, std::int32_t elapsed, std::int32_t duration) {
    if (elapsed >= duration) return target * fine_parts;
    const bool up = target >= from;
    const auto way = static_cast<std::uint32_t>(up ? target - from : from - target), whole = static_cast<std::uint32_t>(duration);
    if (kind == OutputKind::Servo) return (from + (up ? 1 : -1) * static_cast<std::int32_t>(way * static_cast<std::uint32_t>(elapsed) / whole)) * fine_parts;
    // Half of the time 2·way·(at/whole)² of the way from the start, then the same back from the end.
    const bool first = elapsed <= duration - elapsed;
    const auto at = static_cast<std::uint32_t>(first ? elapsed : duration - elapsed);
    const std::uint32_t product = way * at, twice = 2 * (product / whole * at + product % whole * at / whole);
    const auto covered = static_cast<std::int32_t>(twice / whole * fine_parts + twice % whole * fine_parts / whole);
    return first == up ? (first ? from : target) * fine_parts + covered : (first ? from : target) * fine_parts - covered;
}

bool isOn(const Program& program, const State& state, std::size_t o) {
    return program.outputs[o].kind == OutputKind::Switched ? state.level[o] > 0 : state.elapsed[o] < state.duration[o];
}

double shareOf(const ProgramOutput& output, std::int32_t level) {
    if (output.kind == OutputKind::Switched) return static_cast<double>(level) / output.top;
    return output.furthest != output.start ? static_cast<double>(level - output.start) / (output.furthest - output.start) : 0.0;
}

double driveOf(const Program& program, const State& state, std::size_t o) {
    const auto& output = program.outputs[o];
    if (output.kind == OutputKind::Switched) return static_cast<double>(state.level[o]) / output.top;
    return isOn(program, state, o) ? 1.0 : state.awake[o] != 0 ? output.hold / 1000.0 : 0.0;
}

State powerUp(const Program& program) {
    State state;
    for (const auto& parameter : program.parameters) state.parameters.push_back(parameter.value);
    state.active.assign(program.inputs.size(), 0);
    state.candidate.assign(program.inputs.size(), 0);
    state.steady.assign(program.inputs.size(), 0);
    state.heard.assign(program.inputs.size(), 0);
    state.place.assign(program.cues.size(), -1);
    state.wait.assign(program.cues.size(), 0);
    state.asked.assign(program.outputs.size(), 0);
    state.off_delay.assign(program.outputs.size(), 0);
    state.on_for.assign(program.outputs.size(), 0);
    for (const auto& output : program.outputs) state.level.push_back(output.kind == OutputKind::Switched ? 0 : output.start);
    state.from = state.target = state.level;
    state.elapsed.assign(program.outputs.size(), 0);
    state.duration.assign(program.outputs.size(), 0);
    state.awake.assign(program.outputs.size(), 0);
    // An input that guards or interlocks counts as active until the pin has said otherwise.
    for (const auto& cue : program.cues)
        for (const auto& guard : cue.guards) state.active[static_cast<std::size_t>(guard.input)] = state.candidate[static_cast<std::size_t>(guard.input)] = 1;
    for (const auto& interlock : program.interlocks) state.active[static_cast<std::size_t>(interlock.input)] = state.candidate[static_cast<std::size_t>(interlock.input)] = 1;
    return state;
}

void tick(const Program& program, State& state, const Happening& happening, bool enforce) {
    // 1. Inputs, debounced: a new level is believed once it has lasted `debounce` ticks.
    std::vector<std::uint8_t> edge(program.inputs.size(), 0);
    for (std::size_t i = 0; i < program.inputs.size(); ++i) {
        const std::uint8_t now = i < happening.pin_active.size() ? happening.pin_active[i] : 0;
        if (now != state.candidate[i]) {
            state.candidate[i] = now;
            state.steady[i] = 0;
        }
        const bool believed = happening.debounced || (state.steady[i] < program.inputs[i].debounce && ++state.steady[i] == program.inputs[i].debounce);
        if (!believed) continue;
        // What an input says first after power-up starts nothing: a button held, or stuck, while the
        // power comes back must not set anything in motion.
        const bool first = state.heard[i] == 0 && !happening.debounced;
        state.heard[i] = 1;
        if (state.active[i] != now) {
            state.active[i] = now;
            edge[i] = first ? 0 : now;
        }
    }
    // 2. The clock, then triggers in list order.
    if (state.clock_set) state.clock = (state.clock + 1) % ticks_per_day;
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        const auto& cue = program.cues[c];
        if (state.place[c] >= 0 && (happening.stop || guarded(cue, state, true))) endCue(program, state, c);
        if (state.place[c] >= 0 || happening.stop) continue;
        bool starts = std::find(happening.start_cues.begin(), happening.start_cues.end(), static_cast<int>(c)) != happening.start_cues.end();
        for (const int input : cue.inputs) starts = starts || edge[static_cast<std::size_t>(input)] != 0;
        if (state.clock_set) starts = starts || std::find(cue.times_of_day.begin(), cue.times_of_day.end(), state.clock) != cue.times_of_day.end();
        starts = starts || happening.clock_cue == static_cast<int>(c);
        if (starts && !guarded(cue, state, false)) state.place[c] = 0;
    }
    if (happening.stop)
        for (std::size_t o = 0; o < program.outputs.size(); ++o) state.asked[o] = 0, state.off_delay[o] = 0, state.awake[o] = 0, halt(state, o);
    // 3. Moves.
    for (std::size_t c = 0; c < program.cues.size(); ++c)
        if (state.place[c] >= 0) runCue(program, state, c);
    // 4. Outputs: off-delay, soft start, and last the interlocks.
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        const auto& output = program.outputs[o];
        if (output.kind != OutputKind::Switched) {
            if (enforce)
                for (const auto& interlock : program.interlocks)
                    if (static_cast<std::size_t>(interlock.output) == o && state.active[static_cast<std::size_t>(interlock.input)] != 0) halt(state, o);
            if (state.elapsed[o] < state.duration[o]) state.level[o] = finePlaceAt(output.kind, state.from[o], state.target[o], ++state.elapsed[o], state.duration[o]) / fine_parts;
            continue;
        }
        bool on = state.asked[o] != 0;
        if (!on && state.off_delay[o] > 0) {
            --state.off_delay[o];
            on = true;
        }
        if (enforce)
            for (const auto& interlock : program.interlocks)
                if (static_cast<std::size_t>(interlock.output) == o && state.active[static_cast<std::size_t>(interlock.input)] != 0) {
                    on = false;
                    state.asked[o] = 0;
                    state.off_delay[o] = 0;
                }
        state.on_for[o] = on ? std::min<std::int32_t>(state.on_for[o] + 1, 1'000'000'000) : 0;
        state.level[o] = on ? rampLevel(state.parameters[static_cast<std::size_t>(output.duty_parameter)], output.top, state.on_for[o], state.parameters[static_cast<std::size_t>(output.ramp_parameter)]) : 0;
    }
}

}  // namespace hinge::routine
