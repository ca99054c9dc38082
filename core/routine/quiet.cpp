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

// The ticks over which a tach's pulses are counted where no loop counts them with its own; 0: it is none, or one does.
std::int32_t countedOver(const Program& program, const State& state, std::size_t i) {
    if (program.inputs[i].source != InputSource::Tach) return 0;
    for (const auto& loop : program.loops) {
        if (loop.input != static_cast<int>(i)) continue;
        const auto& output = state.output(static_cast<std::size_t>(loop.output));
        const bool runs =
            program.outputs[static_cast<std::size_t>(loop.output)].kind == OutputKind::Switched ? output.on != 0 : output.asked != 0;
        return runs ? 0 : std::max<std::int32_t>(1, state.number(loop.period));
    }
    return spark::tach_window;
}

// For how many ticks nothing comes, as one thing after another is looked at; 0 as soon as something is due in the next.
class Quiet {
public:
    Quiet(const Program& program, const State& state, std::span<const std::uint8_t> pins, bool enforce,
          std::span<const std::int32_t> values)
        : program_(program), state_(state), pins_(pins), values_(values), enforce_(enforce) {}
    std::int32_t ticks() {
        for (std::size_t i = 0; i < program_.inputs.size() && ticks_ > 0; ++i) input(i);
        if (ticks_ > 0) clocks();
        for (std::size_t c = 0; c < program_.cues.size() && ticks_ > 0; ++c) cue(c);
        for (std::size_t o = 0; o < program_.outputs.size() && ticks_ > 0; ++o) output(o);
        return ticks_;
    }

private:
    void within(std::int32_t ticks) { ticks_ = std::min(ticks_, std::max(0, ticks)); }
    void due() { ticks_ = 0; }
    void input(std::size_t i);
    void known(std::size_t i);
    std::uint8_t shownSoon(std::size_t i, std::uint8_t now);
    void clocks();
    void cue(std::size_t c);
    void output(std::size_t o);
    bool heldOff(std::size_t o);
    void loops(std::size_t o);
    bool followed(std::size_t o);
    void switched(std::size_t o, bool held_off);

    const Program& program_;
    const State& state_;
    std::span<const std::uint8_t> pins_;
    std::span<const std::int32_t> values_;
    bool enforce_;
    bool all_heard_ = true;
    std::int32_t ticks_ = ticks_per_day;
};

void Quiet::input(std::size_t i) {
    const auto& wired = program_.inputs[i];
    const auto& input = state_.input(i);
    if (wired.source != InputSource::Pin) return known(i);
    std::uint8_t now = i < pins_.size() ? pins_[i] : 0;
    if (wired.analogue) {
        const std::int32_t value = i < values_.size() ? values_[i] : 0;
        if (value != input.value) return due();
        now = levelOf(wired, value, input.candidate != 0) ? 1 : 0;
        if (belongs(wired)) now = shownSoon(i, now);
    }
    if (now != input.candidate) return due();
    if (input.heard == 0) all_heard_ = false;
    if (waitsToBelieve(program_, state_, i)) within(wired.debounce - input.steady - 1);
}

// What belongs to an output counts how long that has been on, or off. @return what is made of its level, as spark::shownOf
std::uint8_t Quiet::shownSoon(std::size_t i, std::uint8_t now) {
    const auto& wired = program_.inputs[i];
    const auto& input = state_.input(i);
    const std::int32_t run_up = std::max<std::int32_t>(1, state_.number(wired.limit_parameter));
    const auto& whose = state_.output(static_cast<std::size_t>(wired.counted));
    if (whose.on != 0 && input.running < run_up) within(run_up - input.running - 1);
    if (whose.on == 0 && input.running > 0) within(input.active != 0 ? input.running - 1 : 0);
    if (whose.on == 0) return input.active != 0 && input.running > 0 ? 1 : 0;
    return input.running >= run_up ? now : 0;
}

// What has no pin: a number, a word, a day, a count.
void Quiet::known(std::size_t i) {
    const auto& wired = program_.inputs[i];
    const auto& input = state_.input(i);
    if (wired.source == InputSource::Number) {
        const std::int32_t fresh = std::max<std::int32_t>(1, state_.number(wired.timeout_parameter)) - input.age;
        if (input.age >= 0 && fresh > 0) within(fresh - 1);
    } else if (input.heard == 0) {
        return due();
    }
    if (const auto over = countedOver(program_, state_, i); over > 0 && (input.value != 0 || input.count != 0))
        within(over - input.steady - 1);
    if (belongs(wired)) (void)shownSoon(i, 0);
    if (wired.source == InputSource::Days && state_->clock_set && state_->date_set) within(ticks_per_day - state_->clock - 1);
    if (wired.source != InputSource::Word && truthOf(program_, state_, i) != (input.active != 0)) due();
}

void Quiet::clocks() {
    if ((!state_->awoken && all_heard_) || state_->look != 0 || state_->changed != 0) return due();
    within(static_cast<std::int32_t>(state_->look_at - state_->ticks) - 1);
    if (program_.link_parameter < 0 || state_->link_age < 0) return;
    const std::int32_t left = state_.number(program_.link_parameter) - state_->link_age;
    if (left > 0) within(left - 1);
}

void Quiet::cue(std::size_t c) {
    const auto& cue = program_.cues[c];
    const auto& now = state_.cue(c);
    const auto isActive = [&](int input) { return state_.input(static_cast<std::size_t>(input)).active != 0; };
    if (now.ended != 0) return due();
    if (cue.held_input >= 0) {
        const auto count = state_.input(static_cast<std::size_t>(cue.held_input)).active_for;
        const std::int32_t wanted = std::max<std::int32_t>(1, state_.number(cue.held_parameter));
        if (count > 0 && count < wanted) within(wanted - count - 1);
    }
    if (now.place < 0) return;
    const auto place = static_cast<std::size_t>(now.place);
    if (now.wait > 0 && place < cue.instructions.size() && cue.instructions[place].input >= 0 &&
        isActive(cue.instructions[place].input) == cue.instructions[place].wanted)
        return due();
    for (const auto& guard : cue.guards)
        if (guard.throughout && isActive(guard.input) == guard.blocks_when) return due();
    within(now.wait - 1);
}

bool Quiet::heldOff(std::size_t o) {
    bool held_off = false;
    for (const auto& interlock : program_.interlocks) {
        if (!enforce_ || static_cast<std::size_t>(interlock.output) != o) continue;
        // Where a place decides, every tick of a move counts.
        for (const auto& term : interlock.terms)
            if (program_.outputs[static_cast<std::size_t>(term.output)].kind != OutputKind::Switched &&
                isOn(program_, state_, static_cast<std::size_t>(term.output)))
                due();
        held_off = held_off || holds(program_, state_, interlock);
    }
    return held_off;
}

// A loop that holds acts once a period; what rolls by one moves in every tick.
void Quiet::loops(std::size_t o) {
    const auto& now = state_.output(o);
    for (std::size_t l = 0; l < program_.loops.size(); ++l) {
        if (static_cast<std::size_t>(program_.loops[l].output) != o || (now.asked == 0 && now.on_for == 0)) continue;
        if (program_.outputs[o].kind != OutputKind::Switched || now.on_for == 0 || state_.holder(l).loop.last < 0) return due();
        within(std::max<std::int32_t>(1, state_.number(program_.loops[l].period)) - state_.holder(l).loop.phase - 1);
    }
}

void Quiet::output(std::size_t o) {
    const auto& now = state_.output(o);
    if (now.hand > 0) return due();
    const bool held_off = heldOff(o);
    loops(o);
    if (program_.outputs[o].kind == OutputKind::Switched) return switched(o, held_off);
    if (now.elapsed >= now.duration) {
        if (const int n = program_.outputs[o].let_go_parameter; n >= 0 && now.awake != 0) within(state_.number(n) - now.on_for);
        return;
    }
    if (held_off || (now.resting != 0 && !program_.outputs[o].rest_unless.empty())) return due();
    within(now.duration - now.elapsed);
}

bool Quiet::followed(std::size_t o) {
    bool followed = false;
    std::int32_t duty = -1;
    for (const auto& follower : program_.followers) {
        if (static_cast<std::size_t>(follower.output) != o || state_->stopped) continue;
        const auto& input = state_.input(static_cast<std::size_t>(follower.input));
        if (input.heard == 0 || (follower.guard >= 0 && state_.input(static_cast<std::size_t>(follower.guard)).active != 0)) continue;
        if (!follower.proportional) {
            followed = followed || (input.active != 0) == follower.wanted;
        } else if (const auto permille = followedDuty(follower, input.value); permille > 0) {
            followed = true;
            duty = std::max(duty, permille);
        }
    }
    if (followed != (state_.output(o).followed != 0) || duty != state_.output(o).duty) due();
    return followed;
}

void Quiet::switched(std::size_t o, bool held_off) {
    const auto& output = program_.outputs[o];
    const auto& now = state_.output(o);
    const bool follows = followed(o);
    if (now.flicker > 0) return due();
    if (now.run > 0) within(now.run - 1);
    // A fade is looked at at each permille, or what it drives would draw for all of it what it drew at its beginning.
    if (now.elapsed < now.duration) {
        within(now.duration - now.elapsed - 1);
        within(now.duration / std::max<std::int32_t>(1, std::abs(now.target - now.from)) - 1);
    }
    const bool asked = now.asked != 0 || follows || (output.rest == Rest::On && now.resting != 0);
    const bool on = asked || now.off_delay > 0;
    if ((follows && now.resting != 0) || held_off || on != (now.on_for > 0)) return due();
    if (!on) return;
    if (!asked) within(now.off_delay);
    const std::int32_t ramp = state_.number(output.ramp_parameter);
    if (now.on_for < ramp) within(ramp - now.on_for);
}

}  // namespace

std::int32_t quietTicks(const Program& program, const State& state, std::span<const std::uint8_t> pins, bool enforce,
                        std::span<const std::int32_t> values) {
    return Quiet(program, state, pins, enforce, values).ticks();
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
    for (std::size_t i = 0; i < program.inputs.size(); ++i)
        if (const auto& wired = program.inputs[i]; belongs(wired))
            spark::countRunning(state.output(static_cast<std::size_t>(wired.counted)), state.input(i),
                                std::max<std::int32_t>(1, state.number(wired.limit_parameter)), ticks);
    if (state->link_age >= 0) state->link_age = std::min(ticks_per_day, state->link_age + ticks);
    for (std::size_t i = 0; i < program.inputs.size(); ++i)
        if (const auto over = countedOver(program, state, i); over > 0)
            state.input(i).steady = static_cast<std::int16_t>((state.input(i).steady + ticks) % over);
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
    for (std::size_t l = 0; l < program.loops.size(); ++l) {
        auto& holder = state.holder(l);
        const auto& held = state.output(static_cast<std::size_t>(program.loops[l].output));
        if (held.on_for > 0) holder.loop.phase = static_cast<std::int16_t>(holder.loop.phase + ticks);
        if (held.on == 0 || held.hand > 0) holder.stood = state->ticks;
    }
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        const auto& output = program.outputs[o];
        auto& now = state.output(o);
        if (output.kind != OutputKind::Switched) {
            now.on = now.elapsed < now.duration && now.resting == 0 ? 1 : 0;
            const bool lets_go = output.let_go_parameter >= 0 && now.awake != 0;
            if (now.elapsed >= now.duration) {
                now.idle = spark::isIdle(now) ? 1 : 0;
                if (lets_go) spark::restFor(now, ticks, state.number(output.let_go_parameter));
                continue;
            }
            now.elapsed += ticks;
            if (lets_go) spark::restFor(now, 1, state.number(output.let_go_parameter));  // a leap ends with its move at the latest
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
