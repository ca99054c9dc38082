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
    state.rounds[cue] = 0;
    // A cue that is cut short lets go of all it held, without an off-delay.
    for (const auto& instruction : program.cues[cue].instructions)
        if (instruction.operation == Operation::On || instruction.operation == Operation::Toggle) {
            state.asked[static_cast<std::size_t>(instruction.output)] = 0;
            state.off_delay[static_cast<std::size_t>(instruction.output)] = 0;
        } else if (instruction.operation == Operation::Go || instruction.operation == Operation::Home) {
            halt(state, static_cast<std::size_t>(instruction.output));
        }
}

bool guarded(const ProgramCue& cue, const State& state, bool running) {
    return std::any_of(cue.guards.begin(), cue.guards.end(), [&](const ProgramGuard& guard) {
        return state.active[static_cast<std::size_t>(guard.input)] != 0 && (guard.throughout || !running);
    });
}

// The end that comes when a thing awaited does not: what the cue held is let go, and it is remembered.
void fault(const Program& program, State& state, std::size_t cue) {
    endCue(program, state, cue);
    state.faulted[cue] = 1;
}

bool reached(const State& state, const Instruction& instruction) { return (state.active[static_cast<std::size_t>(instruction.input)] != 0) == instruction.wanted; }

void runCue(const Program& program, State& state, std::size_t index) {
    const auto& cue = program.cues[index];
    if (state.wait[index] > 0) {
        const auto& here = cue.instructions[static_cast<std::size_t>(state.place[index])];
        if (here.operation == Operation::Until) {
            if (!reached(state, here)) {
                if (--state.wait[index] == 0) fault(program, state, index);
                return;
            }
            state.wait[index] = 0;
            ++state.place[index];
        } else if (here.operation == Operation::Home) {
            const auto o = static_cast<std::size_t>(here.output);
            if (!reached(state, here)) {
                if (--state.wait[index] == 0) fault(program, state, index);
                return;
            }
            // Where the sensor says so is the start, whatever was counted before.
            state.wait[index] = 0;
            halt(state, o);
            state.level[o] = program.outputs[o].start;
            ++state.place[index];
        } else if (--state.wait[index] > 0) {
            return;
        } else {
            ++state.place[index];
        }
    }
    while (state.place[index] >= 0) {
        const auto place = static_cast<std::size_t>(state.place[index]);
        if (place >= cue.instructions.size()) {
            state.place[index] = -1;
            state.rounds[index] = 0;
            state.ended[index] = 1;
            return;
        }
        const auto& instruction = cue.instructions[place];
        const auto o = static_cast<std::size_t>(std::max(0, instruction.output));
        const std::int32_t number = instruction.parameter >= 0 ? state.parameters[static_cast<std::size_t>(instruction.parameter)] : 0;
        const auto off = [&] {
            if (state.asked[o] == 0) return;
            state.asked[o] = 0;
            state.off_delay[o] = state.parameters[static_cast<std::size_t>(program.outputs[o].off_delay_parameter)];
        };
        // A wait stands at its instruction until it is over; all else goes on at once.
        switch (instruction.operation) {
            case Operation::On: state.asked[o] = 1; break;
            case Operation::Off: off(); break;
            case Operation::Toggle:
                if (state.asked[o] != 0) off();
                else state.asked[o] = 1;
                break;
            case Operation::Wait:
                state.wait[index] = number;
                if (number > 0) return;
                break;
            case Operation::Until:
                if (reached(state, instruction)) break;
                state.wait[index] = std::max<std::int32_t>(1, number);
                return;
            case Operation::Go:
                state.from[o] = state.level[o];
                state.target[o] = state.parameters[static_cast<std::size_t>(instruction.target)];
                state.elapsed[o] = 0;
                state.duration[o] = std::max<std::int32_t>(1, number);
                state.awake[o] = 1;
                // The cue goes on in the tick after the one in which the place is reached.
                state.wait[index] = state.duration[o];
                return;
            case Operation::Home:
                state.awake[o] = 1;
                if (reached(state, instruction)) {
                    halt(state, o);
                    state.level[o] = program.outputs[o].start;
                    break;
                }
                // Wherever it is: as far back as it could be.
                state.level[o] = program.outputs[o].furthest;
                state.from[o] = state.level[o];
                state.target[o] = program.outputs[o].start;
                state.elapsed[o] = 0;
                state.duration[o] = std::max<std::int32_t>(1, number);
                state.wait[index] = state.duration[o] + 1;
                return;
            case Operation::Again:
                ++state.rounds[index];
                if (number != 0 && state.rounds[index] >= number) break;
                if (number == 0) state.rounds[index] = 0;
                state.place[index] = 0;   // from the next tick on: a cue without a wait must not hold up the others
                return;
        }
        ++state.place[index];
    }
}

}  // namespace

std::int32_t followedDuty(const ProgramFollower& follower, std::int32_t reading) {
    if (reading <= follower.dead) return 0;
    return follower.start + (1000 - follower.start) * (reading - follower.dead) / std::max<std::int32_t>(1, 1023 - follower.dead);
}

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
    state.value.assign(program.inputs.size(), 0);
    state.active_for.assign(program.inputs.size(), 0);
    state.since.assign(program.cues.size(), 0);
    state.rounds.assign(program.cues.size(), 0);
    state.ended.assign(program.cues.size(), 0);
    state.faulted.assign(program.cues.size(), 0);
    state.followed.assign(program.outputs.size(), 0);
    state.duty.assign(program.outputs.size(), -1);
    // An input that guards or interlocks counts as active until the pin has said otherwise.
    for (const auto& cue : program.cues)
        for (const auto& guard : cue.guards) state.active[static_cast<std::size_t>(guard.input)] = state.candidate[static_cast<std::size_t>(guard.input)] = 1;
    for (const auto& follower : program.followers)
        if (follower.guard >= 0) state.active[static_cast<std::size_t>(follower.guard)] = state.candidate[static_cast<std::size_t>(follower.guard)] = 1;
    for (const auto& interlock : program.interlocks) state.active[static_cast<std::size_t>(interlock.input)] = state.candidate[static_cast<std::size_t>(interlock.input)] = 1;
    return state;
}

void tick(const Program& program, State& state, const Happening& happening, bool enforce) {
    // 1. Inputs, debounced: a new level is believed once it has lasted `debounce` ticks.
    std::vector<std::uint8_t> edge(program.inputs.size(), 0), let_go(program.inputs.size(), 0);
    bool all_heard = true;
    for (std::size_t i = 0; i < program.inputs.size(); ++i) {
        std::uint8_t now = i < happening.pin_active.size() ? happening.pin_active[i] : 0;
        if (program.inputs[i].analogue && !happening.debounced) {
            // Between the two levels it stays what it was.
            state.value[i] = i < happening.values.size() ? happening.values[i] : 0;
            now = state.value[i] >= program.inputs[i].upper ? 1 : state.value[i] <= program.inputs[i].lower ? 0 : state.candidate[i];
        }
        if (now != state.candidate[i]) {
            state.candidate[i] = now;
            state.steady[i] = 0;
        }
        const bool believed = happening.debounced || (state.steady[i] < program.inputs[i].debounce && ++state.steady[i] == program.inputs[i].debounce);
        if (believed) {
            // What an input says first after power-up starts nothing: a button held, or stuck, while the
            // power comes back must not set anything in motion.
            const bool first = state.heard[i] == 0 && !happening.debounced;
            state.heard[i] = 1;
            if (state.active[i] != now) {
                state.active[i] = now;
                edge[i] = first ? 0 : now;
                let_go[i] = first ? 0 : 1 - now;
                state.active_for[i] = 0;
            }
        }
        all_heard = all_heard && state.heard[i] != 0;
    }
    // How long an input has been active counts only from an edge that was seen, and only where a cue asks.
    for (std::size_t i = 0; i < program.inputs.size(); ++i) {
        if (std::none_of(program.cues.begin(), program.cues.end(), [&](const ProgramCue& cue) { return cue.held_input == static_cast<int>(i); })) continue;
        if (edge[i] != 0) state.active_for[i] = 1;
        else if (state.active[i] != 0 && state.active_for[i] > 0 && state.active_for[i] < ticks_per_day) ++state.active_for[i];
    }
    // 2. The clock, then triggers in list order.
    if (state.clock_set) state.clock = (state.clock + 1) % ticks_per_day;
    const bool wakes = !state.awoken && all_heard && !happening.debounced;
    if (wakes) state.awoken = true;
    const auto ended = state.ended;
    state.ended.assign(state.ended.size(), 0);
    std::vector<std::uint8_t> due(program.cues.size(), 0);
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        if (program.cues[c].every_parameter < 0 || happening.debounced) continue;
        if (++state.since[c] < std::max<std::int32_t>(1, state.parameters[static_cast<std::size_t>(program.cues[c].every_parameter)])) continue;
        state.since[c] = 0;
        due[c] = 1;
    }
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        const auto& cue = program.cues[c];
        if (state.place[c] >= 0 && (happening.stop || guarded(cue, state, true))) endCue(program, state, c);
        if (state.place[c] >= 0 || happening.stop) continue;
        bool starts = std::find(happening.start_cues.begin(), happening.start_cues.end(), static_cast<int>(c)) != happening.start_cues.end();
        for (const int input : cue.inputs) starts = starts || edge[static_cast<std::size_t>(input)] != 0;
        for (const int input : cue.released) starts = starts || let_go[static_cast<std::size_t>(input)] != 0;
        if (cue.held_input >= 0) starts = starts || (state.active_for[static_cast<std::size_t>(cue.held_input)] == std::max<std::int32_t>(1, state.parameters[static_cast<std::size_t>(cue.held_parameter)]));
        starts = starts || due[c] != 0 || (cue.at_power_up && wakes) || (cue.after >= 0 && ended[static_cast<std::size_t>(cue.after)] != 0);
        if (state.clock_set) starts = starts || std::find(cue.times_of_day.begin(), cue.times_of_day.end(), state.clock) != cue.times_of_day.end();
        starts = starts || happening.clock_cue == static_cast<int>(c);
        if (starts && !guarded(cue, state, false)) state.place[c] = 0, state.faulted[c] = 0, state.stopped = false;
    }
    if (happening.stop) state.stopped = true;
    if (happening.stop)
        for (std::size_t o = 0; o < program.outputs.size(); ++o) state.asked[o] = 0, state.off_delay[o] = 0, state.awake[o] = 0, halt(state, o);
    // 3. Moves, then followers.
    for (std::size_t c = 0; c < program.cues.size(); ++c)
        if (state.place[c] >= 0) runCue(program, state, c);
    if (!program.followers.empty()) {
        std::vector<std::uint8_t> followed(program.outputs.size(), 0);
        std::vector<std::int32_t> duty(program.outputs.size(), -1);
        for (const auto& follower : program.followers) {
            const auto o = static_cast<std::size_t>(follower.output), i = static_cast<std::size_t>(follower.input);
            // An input not yet believed moves nothing.
            if (state.heard[i] == 0 && !happening.debounced) continue;
            if (follower.guard >= 0 && state.active[static_cast<std::size_t>(follower.guard)] != 0) continue;
            if (!follower.proportional) {
                if ((state.active[i] != 0) == follower.wanted) followed[o] = 1;
                continue;
            }
            const auto permille = happening.debounced ? (state.active[i] != 0 ? 1000 : 0) : followedDuty(follower, state.value[i]);
            if (permille > 0) followed[o] = 1, duty[o] = std::max(duty[o], permille);
        }
        for (std::size_t o = 0; o < followed.size(); ++o) {
            if (state.stopped) followed[o] = 0;
            if (state.followed[o] != 0 && followed[o] == 0 && state.asked[o] == 0 && !state.stopped) state.off_delay[o] = state.parameters[static_cast<std::size_t>(program.outputs[o].off_delay_parameter)];
        }
        state.followed = std::move(followed);
        state.duty = std::move(duty);
    }
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
        bool on = state.asked[o] != 0 || state.followed[o] != 0;
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
        state.level[o] = on ? rampLevel(state.duty[o] >= 0 ? state.duty[o] : state.parameters[static_cast<std::size_t>(output.duty_parameter)], output.top, state.on_for[o], state.parameters[static_cast<std::size_t>(output.ramp_parameter)]) : 0;
    }
}

}  // namespace hinge::routine
