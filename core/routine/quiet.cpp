#include "routine/quiet.hpp"
#include <algorithm>

namespace hinge::routine {

std::int32_t quietTicks(const Program& program, const State& state, std::span<const std::uint8_t> pins, bool enforce,
                        std::span<const std::int32_t> values) {
    std::int32_t quiet = ticks_per_day;
    const auto within = [&](std::int32_t ticks) { quiet = std::min(quiet, std::max(0, ticks)); };
    bool all_heard = true;
    for (std::size_t i = 0; i < program.inputs.size(); ++i) {
        std::uint8_t now = i < pins.size() ? pins[i] : 0;
        if (program.inputs[i].source != InputSource::Pin) {
            const auto& input = program.inputs[i];
            if (input.source == InputSource::Number) {
                const std::int32_t fresh =
                    std::max<std::int32_t>(1, state.parameters[static_cast<std::size_t>(input.timeout_parameter)]) - state.age[i];
                if (state.age[i] >= 0 && fresh > 0) within(fresh - 1);
            } else if (state.heard[i] == 0) {
                return 0;
            }
            if (input.source == InputSource::Days && state.clock_set && state.date_set) within(ticks_per_day - state.clock - 1);
            if ((input.source != InputSource::Word && truthOf(program, state, i)) != (state.active[i] != 0)) return 0;
            continue;
        }
        if (program.inputs[i].analogue) {
            const std::int32_t value = i < values.size() ? values[i] : 0;
            if (value != state.value[i]) return 0;
            now = levelOf(program.inputs[i], value, state.candidate[i] != 0) ? 1 : 0;
        }
        if (now != state.candidate[i]) return 0;
        if (state.heard[i] == 0) all_heard = false;
        if (state.steady[i] < program.inputs[i].debounce) within(program.inputs[i].debounce - state.steady[i] - 1);
    }
    if (!state.awoken && all_heard) return 0;
    if (state.clock_jumped) return 0;
    if (program.link_parameter >= 0 && state.link_age >= 0) {
        const std::int32_t left = state.parameters[static_cast<std::size_t>(program.link_parameter)] - state.link_age;
        if (left > 0) within(left - 1);
    }
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        const auto& cue = program.cues[c];
        if (state.ended[c] != 0) return 0;
        if (cue.held_input >= 0) {
            const auto& count = state.active_for[static_cast<std::size_t>(cue.held_input)];
            const std::int32_t wanted = std::max<std::int32_t>(1, state.parameters[static_cast<std::size_t>(cue.held_parameter)]);
            if (count > 0 && count < wanted) within(wanted - count - 1);
        }
        if (cue.every_parameter >= 0)
            within(std::max<std::int32_t>(1, state.parameters[static_cast<std::size_t>(cue.every_parameter)]) - state.since[c] - 1);
        if (state.place[c] >= 0) {
            const auto place = static_cast<std::size_t>(state.place[c]);
            if (state.wait[c] > 0 && place < cue.instructions.size() && cue.instructions[place].input >= 0 &&
                (state.active[static_cast<std::size_t>(cue.instructions[place].input)] != 0) == cue.instructions[place].wanted)
                return 0;
            for (const auto& guard : cue.guards)
                if (guard.throughout && (state.active[static_cast<std::size_t>(guard.input)] != 0) == guard.blocks_when) return 0;
            within(state.wait[c] - 1);
        }
        if (!state.clock_set) continue;
        for (const auto time : cue.times_of_day) within((time - state.clock + ticks_per_day - 1) % ticks_per_day);
    }
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        const auto& output = program.outputs[o];
        if (o < state.hand.size() && state.hand[o] > 0) return 0;
        bool held_off = false;
        if (enforce)
            for (const auto& interlock : program.interlocks) {
                if (static_cast<std::size_t>(interlock.output) != o) continue;
                // Where a place decides, every tick of a move counts.
                for (const auto& term : interlock.terms)
                    if (program.outputs[static_cast<std::size_t>(term.output)].kind != OutputKind::Switched &&
                        isOn(program, state, static_cast<std::size_t>(term.output)))
                        return 0;
                held_off = held_off || holds(program, state, interlock);
            }
        // A loop that holds acts once a period; what rolls by one moves in every tick.
        for (std::size_t l = 0; l < program.loops.size(); ++l) {
            if (static_cast<std::size_t>(program.loops[l].output) != o || (state.asked[o] == 0 && state.on_for[o] == 0)) continue;
            if (output.kind != OutputKind::Switched || state.on_for[o] == 0 || state.loops[l].last < 0) return 0;
            within(std::max<std::int32_t>(1, state.parameters[static_cast<std::size_t>(program.loops[l].period)]) - state.loops[l].phase -
                   1);
        }
        if (output.kind != OutputKind::Switched) {
            if (state.elapsed[o] >= state.duration[o]) continue;
            if (held_off) return 0;
            if (state.resting[o] != 0 && !output.rest_unless.empty()) return 0;
            within(state.duration[o] - state.elapsed[o]);
            continue;
        }
        bool followed = false;
        std::int32_t duty = -1;
        for (const auto& follower : program.followers) {
            if (static_cast<std::size_t>(follower.output) != o || state.stopped) continue;
            const auto i = static_cast<std::size_t>(follower.input);
            if (state.heard[i] == 0 || (follower.guard >= 0 && state.active[static_cast<std::size_t>(follower.guard)] != 0)) continue;
            if (!follower.proportional) {
                followed = followed || (state.active[i] != 0) == follower.wanted;
            } else if (const auto permille = followedDuty(follower, state.value[i]); permille > 0) {
                followed = true;
                duty = std::max(duty, permille);
            }
        }
        if (followed != (state.followed[o] != 0) || duty != state.duty[o]) return 0;
        if (state.flicker[o] > 0) return 0;
        if (state.run[o] > 0) within(state.run[o] - 1);
        // A fade is looked at at each permille, or what it drives would draw for all of it what it drew at its beginning.
        if (state.elapsed[o] < state.duration[o]) {
            within(state.duration[o] - state.elapsed[o] - 1);
            within(state.duration[o] / std::max<std::int32_t>(1, std::abs(state.target[o] - state.from[o])) - 1);
        }
        const bool asked = state.asked[o] != 0 || followed || (output.rest == Rest::On && state.resting[o] != 0);
        if (followed && state.resting[o] != 0) return 0;
        const bool on = asked || state.off_delay[o] > 0;
        if (held_off) return 0;
        if (on != (state.on_for[o] > 0)) return 0;
        if (!on) continue;
        if (!asked) within(state.off_delay[o]);
        const std::int32_t ramp = state.parameters[static_cast<std::size_t>(output.ramp_parameter)];
        if (state.on_for[o] < ramp) within(ramp - state.on_for[o]);
    }
    return quiet;
}

void skip(const Program& program, State& state, std::int32_t ticks) {
    if (ticks <= 0) return;
    state.homed.assign(state.homed.size(), 0);
    for (auto& age : state.age)
        if (age >= 0) age = std::min(ticks_per_day, age + ticks);
    if (state.link_age >= 0) state.link_age = std::min(ticks_per_day, state.link_age + ticks);
    for (auto& hush : state.hush) hush = std::max(0, hush - ticks);
    for (std::size_t i = 0; i < program.inputs.size(); ++i)
        if (program.inputs[i].source == InputSource::Pin && state.steady[i] < program.inputs[i].debounce) state.steady[i] += ticks;
    if (state.clock_set) state.clock = static_cast<std::int32_t>((static_cast<std::int64_t>(state.clock) + ticks) % ticks_per_day);
    if (state.clock_set) state.clock_before = state.clock;
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        if (state.place[c] >= 0) state.wait[c] -= ticks;
        if (program.cues[c].every_parameter >= 0) state.since[c] += ticks;
        if (program.cues[c].held_input < 0) continue;
        // Two cues may count the same input; it is moved on once, by the first of them.
        bool first = true;
        for (std::size_t other = 0; other < c; ++other) first = first && program.cues[other].held_input != program.cues[c].held_input;
        auto& count = state.active_for[static_cast<std::size_t>(program.cues[c].held_input)];
        if (first && state.active[static_cast<std::size_t>(program.cues[c].held_input)] != 0 && count > 0)
            count = std::min(ticks_per_day, count + ticks);
    }
    for (std::size_t l = 0; l < program.loops.size(); ++l)
        if (state.on_for[static_cast<std::size_t>(program.loops[l].output)] > 0)
            state.loops[l].phase = static_cast<std::int16_t>(state.loops[l].phase + ticks);
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        const auto& output = program.outputs[o];
        if (output.kind != OutputKind::Switched) {
            if (state.elapsed[o] >= state.duration[o]) continue;
            state.elapsed[o] += ticks;
            const std::int32_t fine = finePlaceAt(state.profile[o], state.from[o], state.target[o], state.elapsed[o], state.duration[o]);
            state.level[o] = fine >> 8;
            state.fraction[o] = static_cast<std::uint8_t>(fine & 0xff);
            continue;
        }
        if (state.run[o] > 0) state.run[o] -= ticks;
        if (state.on_for[o] == 0) continue;
        if (state.elapsed[o] < state.duration[o]) {
            state.elapsed[o] += ticks;
            state.share[o] = fadedShare(state.from[o], state.target[o], state.elapsed[o], state.duration[o]);
        }
        if (state.asked[o] == 0 && state.followed[o] == 0 && !(output.rest == Rest::On && state.resting[o] != 0))
            state.off_delay[o] -= ticks;
        state.on_for[o] =
            static_cast<std::int32_t>(std::min<std::int64_t>(static_cast<std::int64_t>(state.on_for[o]) + ticks, 1'000'000'000));
        state.level[o] = rampLevel(state.duty[o] >= 0    ? state.duty[o]
                                   : state.share[o] >= 0 ? state.share[o]
                                                         : state.parameters[static_cast<std::size_t>(output.duty_parameter)],
                                   output.top, state.on_for[o], state.parameters[static_cast<std::size_t>(output.ramp_parameter)]);
    }
}

}  // namespace hinge::routine
