#include "routine/quiet.hpp"
#include <algorithm>

namespace hinge::routine {
namespace {

// Whether a pin's level counts the ticks that it must last.
bool waitsToBelieve(const Program& program, const State& state, std::size_t i) {
    const auto& input = state.input(i);
    return program.inputs[i].source == InputSource::Pin && (input.candidate != input.active || input.heard == 0) &&
           input.steady < program.inputs[i].debounce;
}

}  // namespace

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
                const std::int32_t fresh = std::max<std::int32_t>(1, state.number(input.timeout_parameter)) - state.input(i).age;
                if (state.input(i).age >= 0 && fresh > 0) within(fresh - 1);
            } else if (state.input(i).heard == 0) {
                return 0;
            }
            if (input.source == InputSource::Days && state->clock_set && state->date_set) within(ticks_per_day - state->clock - 1);
            if ((input.source != InputSource::Word && truthOf(program, state, i)) != (state.input(i).active != 0)) return 0;
            continue;
        }
        if (program.inputs[i].analogue) {
            const std::int32_t value = i < values.size() ? values[i] : 0;
            if (value != state.input(i).value) return 0;
            now = levelOf(program.inputs[i], value, state.input(i).candidate != 0) ? 1 : 0;
        }
        if (now != state.input(i).candidate) return 0;
        if (state.input(i).heard == 0) all_heard = false;
        if (waitsToBelieve(program, state, i)) within(program.inputs[i].debounce - state.input(i).steady - 1);
    }
    if (!state->awoken && all_heard) return 0;
    if (state->look != 0 || state->changed != 0) return 0;
    within(static_cast<std::int32_t>(state->look_at - state->ticks) - 1);
    if (program.link_parameter >= 0 && state->link_age >= 0) {
        const std::int32_t left = state.number(program.link_parameter) - state->link_age;
        if (left > 0) within(left - 1);
    }
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        const auto& cue = program.cues[c];
        if (state.cue(c).ended != 0) return 0;
        if (cue.held_input >= 0) {
            const auto& count = state.input(static_cast<std::size_t>(cue.held_input)).active_for;
            const std::int32_t wanted = std::max<std::int32_t>(1, state.number(cue.held_parameter));
            if (count > 0 && count < wanted) within(wanted - count - 1);
        }
        if (state.cue(c).place >= 0) {
            const auto place = static_cast<std::size_t>(state.cue(c).place);
            if (state.cue(c).wait > 0 && place < cue.instructions.size() && cue.instructions[place].input >= 0 &&
                (state.input(static_cast<std::size_t>(cue.instructions[place].input)).active != 0) == cue.instructions[place].wanted)
                return 0;
            for (const auto& guard : cue.guards)
                if (guard.throughout && (state.input(static_cast<std::size_t>(guard.input)).active != 0) == guard.blocks_when) return 0;
            within(state.cue(c).wait - 1);
        }
    }
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        const auto& output = program.outputs[o];
        if (state.output(o).hand > 0) return 0;
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
            if (static_cast<std::size_t>(program.loops[l].output) != o || (state.output(o).asked == 0 && state.output(o).on_for == 0))
                continue;
            if (output.kind != OutputKind::Switched || state.output(o).on_for == 0 || state.holder(l).loop.last < 0) return 0;
            within(std::max<std::int32_t>(1, state.number(program.loops[l].period)) - state.holder(l).loop.phase - 1);
        }
        if (output.kind != OutputKind::Switched) {
            if (state.output(o).elapsed >= state.output(o).duration) continue;
            if (held_off) return 0;
            if (state.output(o).resting != 0 && !output.rest_unless.empty()) return 0;
            within(state.output(o).duration - state.output(o).elapsed);
            continue;
        }
        bool followed = false;
        std::int32_t duty = -1;
        for (const auto& follower : program.followers) {
            if (static_cast<std::size_t>(follower.output) != o || state->stopped) continue;
            const auto i = static_cast<std::size_t>(follower.input);
            if (state.input(i).heard == 0 || (follower.guard >= 0 && state.input(static_cast<std::size_t>(follower.guard)).active != 0))
                continue;
            if (!follower.proportional) {
                followed = followed || (state.input(i).active != 0) == follower.wanted;
            } else if (const auto permille = followedDuty(follower, state.input(i).value); permille > 0) {
                followed = true;
                duty = std::max(duty, permille);
            }
        }
        if (followed != (state.output(o).followed != 0) || duty != state.output(o).duty) return 0;
        if (state.output(o).flicker > 0) return 0;
        if (state.output(o).run > 0) within(state.output(o).run - 1);
        // A fade is looked at at each permille, or what it drives would draw for all of it what it drew at its beginning.
        if (state.output(o).elapsed < state.output(o).duration) {
            within(state.output(o).duration - state.output(o).elapsed - 1);
            within(state.output(o).duration / std::max<std::int32_t>(1, std::abs(state.output(o).target - state.output(o).from)) - 1);
        }
        const bool asked = state.output(o).asked != 0 || followed || (output.rest == Rest::On && state.output(o).resting != 0);
        if (followed && state.output(o).resting != 0) return 0;
        const bool on = asked || state.output(o).off_delay > 0;
        if (held_off) return 0;
        if (on != (state.output(o).on_for > 0)) return 0;
        if (!on) continue;
        if (!asked) within(state.output(o).off_delay);
        const std::int32_t ramp = state.number(output.ramp_parameter);
        if (state.output(o).on_for < ramp) within(ramp - state.output(o).on_for);
    }
    return quiet;
}

void skip(const Program& program, State& state, std::int32_t ticks) {
    if (ticks <= 0) return;
    state->ticks += static_cast<std::uint32_t>(ticks);
    state->happened = 0;
    state->passed = 1;
    for (std::size_t o = 0; o < state.outputs(); ++o) state.output(o).homed = 0;
    for (std::size_t i = 0; i < state.inputs(); ++i) {
        auto& input = state.input(i);
        input.edge = input.let_go = 0;
        if (input.age >= 0) input.age = std::min(ticks_per_day, input.age + ticks);
    }
    if (state->link_age >= 0) state->link_age = std::min(ticks_per_day, state->link_age + ticks);
    for (std::size_t i = 0; i < program.inputs.size(); ++i)
        if (waitsToBelieve(program, state, i)) state.input(i).steady = static_cast<std::int16_t>(state.input(i).steady + ticks);
    if (state->clock_set) state->clock = static_cast<std::int32_t>((static_cast<std::int64_t>(state->clock) + ticks) % ticks_per_day);
    if (state->clock_set) state->clock_before = state->clock;
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        if (state.cue(c).place >= 0) state.cue(c).wait -= ticks;
        if (program.cues[c].held_input < 0) continue;
        // Two cues may count the same input; it is moved on once, by the first of them.
        bool first = true;
        for (std::size_t other = 0; other < c; ++other) first = first && program.cues[other].held_input != program.cues[c].held_input;
        auto& count = state.input(static_cast<std::size_t>(program.cues[c].held_input)).active_for;
        if (first && state.input(static_cast<std::size_t>(program.cues[c].held_input)).active != 0 && count > 0)
            count = std::min(ticks_per_day, count + ticks);
    }
    for (std::size_t l = 0; l < program.loops.size(); ++l)
        if (state.output(static_cast<std::size_t>(program.loops[l].output)).on_for > 0)
            state.holder(l).loop.phase = static_cast<std::int16_t>(state.holder(l).loop.phase + ticks);
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        const auto& output = program.outputs[o];
        auto& now = state.output(o);
        if (output.kind != OutputKind::Switched) {
            now.on = now.elapsed < now.duration && now.resting == 0 ? 1 : 0;
            if (now.elapsed >= now.duration) {
                now.idle = spark::isIdle(now) ? 1 : 0;
                continue;
            }
            now.elapsed += ticks;
            const std::int32_t fine = spark::finePlaceAt(now.profile, now.from, now.target, now.elapsed, now.duration, now.speed);
            now.level = fine >> 8;
            now.fraction = static_cast<std::uint8_t>(fine & 0xff);
            continue;
        }
        if (now.run > 0) now.run -= ticks;
        if (now.on_for == 0) continue;
        if (now.elapsed < now.duration) {
            now.elapsed += ticks;
            now.share = static_cast<std::int16_t>(fadedShare(now.from, now.target, now.elapsed, now.duration));
        }
        if (now.asked == 0 && now.followed == 0 && !(output.rest == Rest::On && now.resting != 0)) now.off_delay -= ticks;
        if (now.idle != 0) continue;
        const std::int32_t share = givenPermille(program, state, o), ramp = state.number(output.ramp_parameter);
        if (now.on_for < spark::longest_count && (now.on_for += ticks) >= ramp) now.on_for = spark::longest_count;
        const bool settled = now.on_for == spark::longest_count;
        now.level = rampLevel(share, output.top, now.on_for, ramp);
        now.given = static_cast<std::int16_t>(settled ? share : -1);
        now.idle = settled && spark::isIdle(now) ? 1 : 0;
    }
}

}  // namespace hinge::routine
