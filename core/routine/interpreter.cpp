#include <algorithm>
#include "routine/program.hpp"
#include "timing/calendar.hpp"

// The emitted sketch (core/firmware) does the same, step for step, and its arithmetic is the very same (core/firmware/runtime);
// tests/emulator compares them.
namespace hinge::routine {
namespace {

// A move that is cut short stands where it is.
void halt(State& state, std::size_t output) {
    state.elapsed[output] = state.duration[output] = 0;
}

// What guards its cues guards its way to safety too: a hand in the door is no less there because the link is lost.
bool forbidsRest(const ProgramOutput& output, const State& state) {
    return std::any_of(output.rest_unless.begin(), output.rest_unless.end(),
                       [&](int input) { return state.active[static_cast<std::size_t>(input)] != 0; });
}

void startMove(const Program& program, State& state, std::size_t o, std::int32_t target, std::int32_t ticks, bool gentle,
               bool home = false) {
    state.from[o] = state.level[o];
    state.target[o] = target;
    state.elapsed[o] = 0;
    state.duration[o] = std::max<std::int32_t>(1, ticks);
    state.profile[o] = profileOf(program.outputs[o].kind, state.duration[o], gentle, home);
    state.awake[o] = 1;
}

// Off, after its off-delay.
void release(const Program& program, State& state, std::size_t o) {
    state.run[o] = 0;
    if (state.asked[o] == 0) return;
    state.asked[o] = 0;
    halt(state, o);
    if (program.outputs[o].kind != OutputKind::Switched) return;
    state.off_delay[o] = state.parameters[static_cast<std::size_t>(program.outputs[o].off_delay_parameter)];
}

// Where the sensor says so is the start, whatever was counted before.
void setDown(const Program& program, State& state, std::size_t o) {
    halt(state, o);
    state.level[o] = program.outputs[o].start;
    state.fraction[o] = 0;
    state.placed[o] = state.homed[o] = 1;
}

// To its safe state: off, or on, or back to its start.
void rest(const Program& program, State& state, std::size_t o) {
    const auto& output = program.outputs[o];
    state.asked[o] = 0;
    state.off_delay[o] = 0;
    state.flicker[o] = state.run[o] = 0;
    halt(state, o);
    state.resting[o] = 1;
    if (output.rest != Rest::Start || state.awake[o] == 0 || state.placed[o] == 0 || forbidsRest(output, state)) return;
    startMove(program, state, o, output.start, state.parameters[static_cast<std::size_t>(output.rest_parameter)], true);
}

bool holdsOutput(Operation operation) {
    return operation == Operation::On || operation == Operation::Toggle || operation == Operation::Fade ||
           operation == Operation::Flicker || operation == Operation::Go || operation == Operation::Home || operation == Operation::Run;
}

void endCue(const Program& program, State& state, std::size_t cue) {
    state.place[cue] = -1;
    state.wait[cue] = 0;
    state.rounds[cue] = 0;
    // A cue that is cut short lets go of all it holds or would have held, without an off-delay; but not of what another one that runs has
    // taken over since.
    for (const auto& instruction : program.cues[cue].instructions) {
        if (!holdsOutput(instruction.operation)) continue;
        const auto o = static_cast<std::size_t>(instruction.output);
        const int owner = state.owner[o];
        if (owner >= 0 && owner != static_cast<int>(cue) && state.place[static_cast<std::size_t>(owner)] >= 0) continue;
        rest(program, state, o);
    }
}

void startCue(const Program& program, State& state, std::size_t cue) {
    state.place[cue] = 0;
    state.faulted[cue] = 0;
    state.stopped = false;
    for (const auto& instruction : program.cues[cue].instructions) {
        if (instruction.output < 0) continue;
        const auto o = static_cast<std::size_t>(instruction.output);
        state.resting[o] = 0;
        if (state.owner[o] == static_cast<int>(cue)) state.owner[o] = -1;  // what it did the last time is done
    }
}

bool guarded(const ProgramCue& cue, const State& state, bool running) {
    return std::any_of(cue.guards.begin(), cue.guards.end(), [&](const ProgramGuard& guard) {
        return (state.active[static_cast<std::size_t>(guard.input)] != 0) == guard.blocks_when && (guard.throughout || !running);
    });
}

// The end that comes when a thing awaited does not: what the cue held is let go, and it is remembered.
void fault(const Program& program, State& state, std::size_t cue) {
    endCue(program, state, cue);
    state.faulted[cue] = 1;
}

bool reached(const State& state, const Instruction& instruction) {
    return (state.active[static_cast<std::size_t>(instruction.input)] != 0) == instruction.wanted;
}

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
            state.wait[index] = 0;
            setDown(program, state, o);
            ++state.place[index];
        } else if (--state.wait[index] > 0) {
            return;
        } else {
            ++state.place[index];
        }
    }
    bool went_round = false;
    while (state.place[index] >= 0) {
        const auto place = static_cast<std::size_t>(state.place[index]);
        if (place >= cue.instructions.size()) {
            state.place[index] = -1;
            state.rounds[index] = 0;
            state.ended[index] = 1;
            for (std::size_t i = 0; i < program.inputs.size(); ++i)
                if (program.inputs[i].counted == static_cast<int>(index) && state.count[i] < 30'000) ++state.count[i];
            return;
        }
        const auto& instruction = cue.instructions[place];
        const auto o = static_cast<std::size_t>(std::max(0, instruction.output));
        const std::int32_t number = instruction.parameter >= 0 ? state.parameters[static_cast<std::size_t>(instruction.parameter)] : 0;
        // A cue waits at the last of the instructions that start together, for the longest of them.
        const auto lasts = [&](std::int32_t ticks) { state.wait[index] = std::max(state.wait[index], ticks); };
        if (instruction.output >= 0) state.owner[o] = static_cast<std::int16_t>(index);
        if (instruction.operation != Operation::Run && instruction.output >= 0) state.run[o] = 0;
        switch (instruction.operation) {
            case Operation::On:
                state.asked[o] = 1;
                state.awake[o] = 1;
                state.flicker[o] = 0;
                halt(state, o);
                state.share[o] = instruction.target >= 0 ? state.parameters[static_cast<std::size_t>(instruction.target)] : -1;
                break;
            case Operation::Run:
                state.asked[o] = 1;
                state.awake[o] = 1;
                state.flicker[o] = 0;
                halt(state, o);
                state.share[o] = instruction.target >= 0 ? state.parameters[static_cast<std::size_t>(instruction.target)] : -1;
                state.run[o] = std::max<std::int32_t>(0, number) + 1;
                lasts(number);
                break;
            case Operation::Off: release(program, state, o); break;
            case Operation::Toggle:
                if (state.asked[o] != 0) release(program, state, o);
                else state.asked[o] = 1, state.share[o] = -1;
                break;
            case Operation::Fade: {
                const std::int32_t own = state.parameters[static_cast<std::size_t>(program.outputs[o].duty_parameter)];
                state.from[o] = state.asked[o] == 0 ? 0 : state.share[o] >= 0 ? state.share[o] : own;
                state.target[o] = state.parameters[static_cast<std::size_t>(instruction.target)];
                state.elapsed[o] = 0;
                state.duration[o] = std::max<std::int32_t>(1, number);
                state.asked[o] = 1;
                state.share[o] = state.from[o];
                state.flicker[o] = 0;
                lasts(state.duration[o]);
                break;
            }
            case Operation::Flicker:
                state.asked[o] = 1;
                state.share[o] = -1;
                halt(state, o);
                state.flicker[o] = std::max<std::int32_t>(1, number);
                lasts(state.flicker[o]);
                break;
            case Operation::Clear: state.count[static_cast<std::size_t>(instruction.input)] = 0; break;
            case Operation::Wait: lasts(number); break;
            case Operation::Until:
                if (reached(state, instruction)) break;
                state.wait[index] = std::max<std::int32_t>(1, number);
                return;
            case Operation::Go:
                // What must be looked for first is not moved from a place that nobody knows.
                if (state.placed[o] == 0) return fault(program, state, index);
                startMove(program, state, o, state.parameters[static_cast<std::size_t>(instruction.target)], number, instruction.gentle);
                // The cue goes on in the tick after the one in which the place is reached.
                lasts(state.duration[o]);
                break;
            case Operation::Home:
                state.awake[o] = 1;
                if (reached(state, instruction)) {
                    setDown(program, state, o);
                    break;
                }
                // Wherever it is: as far back as it could be, and further.
                state.placed[o] = 0;
                state.level[o] = homingFrom(program.outputs[o]);
                state.fraction[o] = 0;
                startMove(program, state, o, program.outputs[o].start, number, false, true);
                state.wait[index] = state.duration[o] + 1;
                return;
            case Operation::Again:
                ++state.rounds[index];
                if (number != 0 && state.rounds[index] >= number) {
                    state.rounds[index] = 0;
                    break;
                }
                if (number == 0) state.rounds[index] = 0;
                state.place[index] = instruction.back;
                if (went_round) return;  // twice in one tick: a round without a wait must not hold up the others
                went_round = true;
                continue;
        }
        if (!instruction.joined && state.wait[index] > 0) return;
        ++state.place[index];
    }
}

}  // namespace

bool levelOf(const ProgramInput& input, std::int32_t reading, bool was) {
    return spark::levelOf(reading, input.upper, input.lower, input.below, was);
}

std::int32_t followedDuty(const ProgramFollower& follower, std::int32_t reading) {
    return spark::followedShare(reading, follower.dead, follower.start);
}

std::int32_t fadedShare(std::int32_t from, std::int32_t target, std::int32_t elapsed, std::int32_t duration) {
    return spark::fadedShare(from, target, elapsed, duration);
}

std::int32_t rampLevel(std::int32_t permille, std::int32_t top, std::int32_t on_for, std::int32_t ramp) {
    return spark::rampLevel(permille, top, on_for, ramp);
}

Profile profileOf(OutputKind kind, std::int32_t duration, bool gentle, bool home) {
    return spark::profileOf(kind == OutputKind::Servo && !gentle, duration, home);
}

double peakSpeed(Profile profile, std::int32_t duration) {
    return profile == Profile::Straight ? 1.0 / duration : profile == Profile::Gentle ? 2.0 / duration : 1.0 / (duration - even_ramp);
}

std::int32_t finePlaceAt(Profile profile, std::int32_t from, std::int32_t target, std::int32_t elapsed, std::int32_t duration) {
    return spark::finePlaceAt(profile, from, target, elapsed, duration, spark::speedOf(profile, from, target, duration));
}

bool isHomed(const Program& program, std::size_t output) {
    return std::any_of(program.cues.begin(), program.cues.end(), [&](const ProgramCue& cue) {
        return std::any_of(cue.instructions.begin(), cue.instructions.end(), [&](const Instruction& each) {
            return each.operation == Operation::Home && each.output == static_cast<int>(output);
        });
    });
}

std::int32_t homingFrom(const ProgramOutput& output) {
    return spark::homingFrom(output.start, output.furthest);
}

std::vector<int> wordsOfCue(const Program& program, std::size_t cue) {
    std::vector<int> words;
    // And what starts after such a cue, down the chain.
    for (std::size_t at = cue, steps = 0; steps <= program.cues.size(); ++steps) {
        const auto& each = program.cues[at];
        for (const auto* list : {&each.inputs, &each.released})
            for (const int input : *list)
                if (program.inputs[static_cast<std::size_t>(input)].source == InputSource::Word &&
                    std::find(words.begin(), words.end(), input) == words.end())
                    words.push_back(input);
        if (each.after < 0) break;
        at = static_cast<std::size_t>(each.after);
    }
    return words;
}

std::vector<int> wordsOfOutput(const Program& program, std::size_t output) {
    std::vector<int> words;
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        const auto& instructions = program.cues[c].instructions;
        if (std::none_of(instructions.begin(), instructions.end(),
                         [&](const Instruction& each) { return each.output == static_cast<int>(output) && holdsOutput(each.operation); }))
            continue;
        for (const int word : wordsOfCue(program, c))
            if (std::find(words.begin(), words.end(), word) == words.end()) words.push_back(word);
    }
    return words;
}

std::vector<int> wordsOfParameter(const Program& program, std::size_t parameter) {
    const int p = static_cast<int>(parameter);
    std::vector<int> words;
    const auto add = [&](const std::vector<int>& more) {
        for (const int word : more)
            if (std::find(words.begin(), words.end(), word) == words.end()) words.push_back(word);
    };
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        const auto& cue = program.cues[c];
        if (cue.held_parameter == p || cue.every_parameter == p) add(wordsOfCue(program, c));
        for (const auto& each : cue.instructions)
            if (each.parameter == p || each.target == p) add(wordsOfCue(program, c));
    }
    for (const auto& loop : program.loops)
        for (const int own : {loop.wanted, loop.proportional, loop.integral, loop.derivative, loop.period, loop.smoothing, loop.forward,
                              loop.band, loop.least, loop.lean_rate, loop.lean_way})
            if (own == p) add(wordsOfOutput(program, static_cast<std::size_t>(loop.output)));
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        const auto& output = program.outputs[o];
        const bool switched = output.kind == OutputKind::Switched;
        if ((switched && (output.duty_parameter == p || output.ramp_parameter == p || output.off_delay_parameter == p)) ||
            output.rest_parameter == p)
            add(wordsOfOutput(program, o));
    }
    return words;
}

bool isOn(const Program& program, const State& state, std::size_t o) {
    return program.outputs[o].kind == OutputKind::Switched ? state.level[o] > 0
                                                           : state.elapsed[o] < state.duration[o] || state.asked[o] != 0;
}

double shareOf(const ProgramOutput& output, std::int32_t level) {
    if (output.kind == OutputKind::Switched) return static_cast<double>(level) / output.top;
    return output.furthest != output.start ? static_cast<double>(level - output.start) / (output.furthest - output.start) : 0.0;
}

std::int32_t givenPermille(const Program& program, const State& state, std::size_t o) {
    return state.hand[o] > 0 && state.forced[o] != 0 ? state.share[o]
           : state.duty[o] >= 0                      ? state.duty[o]
           : state.share[o] >= 0                     ? state.share[o]
                                                     : state.parameters[static_cast<std::size_t>(program.outputs[o].duty_parameter)];
}

double driveOf(const Program& program, const State& state, std::size_t o) {
    const auto& output = program.outputs[o];
    if (output.kind == OutputKind::Switched) return static_cast<double>(state.level[o]) / output.top;
    return isOn(program, state, o) ? 1.0 : state.awake[o] != 0 ? output.hold / 1000.0 : 0.0;
}

bool isLooped(const Program& program, std::size_t input) {
    return std::any_of(program.loops.begin(), program.loops.end(),
                       [&](const ProgramLoop& loop) { return loop.input == static_cast<int>(input); });
}

bool isCautious(const Program& program, std::size_t input) {
    const int i = static_cast<int>(input);
    return std::any_of(program.cues.begin(), program.cues.end(),
                       [&](const ProgramCue& cue) {
                           return std::any_of(cue.guards.begin(), cue.guards.end(),
                                              [&](const ProgramGuard& guard) { return guard.input == i && guard.blocks_when; });
                       }) ||
           std::any_of(program.followers.begin(), program.followers.end(),
                       [&](const ProgramFollower& follower) { return follower.guard == i; }) ||
           std::any_of(program.interlocks.begin(), program.interlocks.end(),
                       [&](const ProgramInterlock& interlock) { return interlock.input == i; });
}

bool truthOf(const Program& program, const State& state, std::size_t i) {
    const auto& input = program.inputs[i];
    const auto between = [&] { return levelOf(input, state.value[i], state.active[i] != 0); };
    switch (input.source) {
        case InputSource::Pin:
        case InputSource::Word: return false;
        case InputSource::Number: {
            const bool fresh =
                state.age[i] >= 0 &&
                state.age[i] < std::max<std::int32_t>(1, state.parameters[static_cast<std::size_t>(input.timeout_parameter)]);
            return fresh ? between() : isCautious(program, i);
        }
        case InputSource::Counter: return state.count[i] >= state.parameters[static_cast<std::size_t>(input.limit_parameter)];
        case InputSource::Days:
            return state.clock_set && state.date_set && (input.weekdays >> state.weekday & 1) != 0 &&
                   timing::inSeason(input.from_date, input.to_date, state.month, state.day);
        case InputSource::Tach: return between();
    }
    return false;
}

bool holds(const Program& program, const State& state, const ProgramInterlock& interlock) {
    const auto o = static_cast<std::size_t>(interlock.output);
    // What gives way by going to its start is not blamed for going there.
    if (!isOn(program, state, o) || (program.outputs[o].kind != OutputKind::Switched && state.resting[o] != 0)) return false;
    if (interlock.input >= 0 && state.active[static_cast<std::size_t>(interlock.input)] == 0) return false;
    return std::all_of(interlock.terms.begin(), interlock.terms.end(), [&](const ProgramTerm& term) {
        const auto t = static_cast<std::size_t>(term.output);
        const auto& output = program.outputs[t];
        const std::int32_t past = (state.level[t] - term.place) * (output.furthest >= output.start ? 1 : -1);
        // What has to look for its start may be anywhere until it was found.
        switch (term.kind) {
            case ProgramTerm::Kind::On: return isOn(program, state, t);
            case ProgramTerm::Kind::Off: return !isOn(program, state, t);
            case ProgramTerm::Kind::Beyond: return past > 0 || state.placed[t] == 0;
            case ProgramTerm::Kind::Short: return past < 0 || state.placed[t] == 0;
        }
        return false;
    });
}

void setClock(State& state, std::int32_t ticks_after_midnight) {
    state.clock = ticks_after_midnight;
    state.clock_set = true;
    state.clock_jumped = true;
}

void setDate(State& state, int year, int month, int day) {
    state.year = year;
    state.month = month;
    state.day = day;
    state.weekday = timing::weekdayOf({year, month, day});
    state.date_set = true;
}

State powerUp(const Program& program) {
    const std::size_t outputs = program.outputs.size(), inputs = program.inputs.size(), cues = program.cues.size();
    State state;
    for (const auto& parameter : program.parameters) state.parameters.push_back(parameter.value);
    for (auto* list : {&state.active, &state.candidate, &state.heard}) list->assign(inputs, 0);
    for (auto* list : {&state.steady, &state.value, &state.active_for, &state.count}) list->assign(inputs, 0);
    state.age.assign(inputs, -1);
    state.place.assign(cues, -1);
    for (auto* list : {&state.wait, &state.since, &state.rounds}) list->assign(cues, 0);
    for (auto* list : {&state.ended, &state.faulted}) list->assign(cues, 0);
    for (auto* list : {&state.asked, &state.awake, &state.followed, &state.fraction, &state.remembered, &state.homed})
        list->assign(outputs, 0);
    state.profile.assign(outputs, Profile::Straight);
    for (std::size_t o = 0; o < outputs; ++o) state.placed.push_back(isHomed(program, o) ? 0 : 1);
    for (auto* list : {&state.off_delay, &state.on_for, &state.elapsed, &state.duration, &state.flicker, &state.run})
        list->assign(outputs, 0);
    for (auto* list : {&state.duty, &state.share}) list->assign(outputs, -1);
    state.resting.assign(outputs, 1);
    state.owner.assign(outputs, -1);
    for (const auto& output : program.outputs) state.level.push_back(output.kind == OutputKind::Switched ? 0 : output.start);
    state.from = state.target = state.level;
    std::size_t times = 0;
    for (const auto& cue : program.cues) times += cue.times_of_day.size();
    state.hush.assign(times, 0);
    state.loops.assign(program.loops.size(), spark::Loop{0, 0, -1, 0});
    state.hand.assign(outputs, 0);
    state.forced.assign(outputs, 0);
    // An input that guards or interlocks counts as active until the pin has said otherwise.
    for (std::size_t i = 0; i < inputs; ++i) state.active[i] = state.candidate[i] = isCautious(program, i) ? 1 : 0;
    return state;
}

State powerBack(const Program& program, const State& before) {
    State state = powerUp(program);
    if (program.clock_kept) {
        state.clock = before.clock;
        state.clock_set = state.clock_jumped = before.clock_set;
        state.date_set = before.date_set;
        state.year = before.year;
        state.month = before.month;
        state.day = before.day;
        state.weekday = before.weekday;
    }
    for (std::size_t o = 0; o < program.outputs.size(); ++o)
        state.remembered[o] = program.outputs[o].remembered && before.asked[o] != 0 ? 1 : 0;
    return state;
}

namespace {

// One tick of an output's loop while the output is on. Under the desk's hand it only goes on counting.
// @param rolling  what balances: mean drive and mean way of all that hold the same reading
struct Rolling {
    std::int32_t share = 0, away = 0;
};
void control(const Program& program, State& state, std::size_t index, bool on, const Rolling& rolling) {
    const auto& loop = program.loops[index];
    auto& memory = state.loops[index];
    const auto o = static_cast<std::size_t>(loop.output), i = static_cast<std::size_t>(loop.input);
    const bool tach = program.inputs[i].source == InputSource::Tach, by_hand = state.hand[o] > 0 && state.forced[o] != 0,
               rolls = program.outputs[o].kind == OutputKind::Stepper;
    const auto number = [&](int parameter, std::int32_t otherwise = 0) {
        return parameter < 0 ? otherwise : state.parameters[static_cast<std::size_t>(parameter)];
    };
    const std::int32_t numbers[spark::LoopNumber::count] = {
        number(loop.wanted),     number(loop.proportional), number(loop.integral),
        number(loop.derivative), number(loop.period),       number(loop.smoothing, 16),
        number(loop.forward),    number(loop.band),         number(rolls ? loop.lean_rate : loop.least),
        number(loop.lean_way)};
    if (!on || by_hand) spark::forget(memory);
    if (!on) {
        memory.phase = 0;
        state.share[o] = 0;
        if (tach) state.count[i] = state.value[i] = 0;
        return;
    }
    if (memory.last < 0 && !by_hand) state.share[o] = 0;
    if (!spark::periodEnds(memory, numbers)) return;
    if (tach) {
        state.value[i] = std::min<std::int32_t>(1023, state.count[i]);
        state.count[i] = 0;
    }
    if (by_hand) return;
    state.share[o] = spark::loopDrive(memory, numbers, rolls, loop.most, state.value[i], rolling.share, rolling.away);
}

// Wheels of one body lean back against its rolling, not each against its own: else what sets them apart by a little grows, and they turn it
// on the spot, which no reading of its tilt shows.
Rolling rollingOf(const Program& program, const State& state, const ProgramLoop& loop) {
    Rolling sum;
    std::int32_t count = 0;
    for (const auto& other : program.loops) {
        const auto o = static_cast<std::size_t>(other.output);
        if (other.input != loop.input || program.outputs[o].kind != OutputKind::Stepper) continue;
        sum.share += state.share[o];
        sum.away += state.level[o] - program.outputs[o].start;
        ++count;
    }
    return count == 0 ? sum : Rolling{sum.share / count, sum.away / count};
}

// What the desk's hand wants of an output.
void takeHand(const Program& program, State& state, const Happening::ByHand& hand) {
    const auto o = static_cast<std::size_t>(hand.output);
    const auto& output = program.outputs[o];
    const bool looped =
        std::any_of(program.loops.begin(), program.loops.end(), [&](const ProgramLoop& loop) { return loop.output == hand.output; });
    if (output.kind != OutputKind::Switched && !looped) {
        if (hand.value == hand_off) halt(state, o);
        if (hand.value < 0) return;
        const std::int32_t least = output.kind == OutputKind::Servo ? servo_least : 0,
                           most = output.kind == OutputKind::Servo ? servo_most : largest_place;
        startMove(program, state, o, std::clamp(hand.value, least, most), hand.ticks, true);
        state.resting[o] = 0;
        return;
    }
    if (output.kind != OutputKind::Switched && hand.value >= 0) return;         // what balances is not driven by hand
    if (hand.value == hand_own && state.hand[o] > 0 && state.forced[o] == 0) {  // said again
        state.hand[o] = hand_ticks;
        return;
    }
    state.resting[o] = 0;
    state.flicker[o] = state.run[o] = 0;
    halt(state, o);
    state.forced[o] = hand.value >= 0 ? 1 : 0;
    state.hand[o] = hand.value == hand_off ? 0 : hand_ticks;
    state.asked[o] = hand.value != hand_off && hand.value != 0 ? 1 : 0;
    state.share[o] = hand.value >= 0 ? std::min<std::int32_t>(1000, hand.value) : -1;
}

}  // namespace

void tick(const Program& program, State& state, const Happening& happening, bool enforce) {
    // 1. Inputs, debounced: a new level is believed once it has lasted `debounce` ticks. A tach's pulses, a word, a number, a
    // counter and the days need no such patience.
    std::vector<std::uint8_t> edge(program.inputs.size(), 0), let_go(program.inputs.size(), 0);
    state.homed.assign(state.homed.size(), 0);
    bool all_heard = true;
    for (const auto& sent : happening.numbers)
        state.value[static_cast<std::size_t>(sent.input)] = sent.reading, state.age[static_cast<std::size_t>(sent.input)] = -2;
    for (std::size_t i = 0; i < program.inputs.size(); ++i) {
        const auto& input = program.inputs[i];
        std::uint8_t now = i < happening.pin_active.size() ? happening.pin_active[i] : 0;
        bool believed = false;
        if (happening.debounced) {
            const bool silent = i < 32 && (happening.unheard >> i & 1u) != 0;
            // A number may fall silent again at any tick.
            if (input.source == InputSource::Number) state.heard[i] = silent ? 0 : 1, believed = true;
            else believed = state.heard[i] != 0 || !silent;
        } else if (input.source == InputSource::Pin) {
            if (input.analogue) {
                // Between the two levels it stays what it was.
                state.value[i] = i < happening.values.size() ? happening.values[i] : 0;
                now = levelOf(input, state.value[i], state.candidate[i] != 0) ? 1 : 0;
            }
            if (now != state.candidate[i]) {
                state.candidate[i] = now;
                state.steady[i] = 0;
            }
            believed = state.steady[i] < input.debounce && ++state.steady[i] == input.debounce;
        } else {
            if (state.age[i] == -2) state.age[i] = 0;
            else if (state.age[i] >= 0 && state.age[i] < ticks_per_day) ++state.age[i];
            if (input.source == InputSource::Tach && i < happening.pulses.size()) state.count[i] += happening.pulses[i];
            // One that a loop reads is counted by it.
            if (input.source == InputSource::Tach && !isLooped(program, i) && ++state.steady[i] >= tach_window) {
                state.value[i] = std::min<std::int32_t>(1023, state.count[i]);
                state.count[i] = state.steady[i] = 0;
            }
            if (input.source == InputSource::Word)
                now = std::find(happening.words.begin(), happening.words.end(), static_cast<int>(i)) != happening.words.end() ? 1 : 0,
                state.heard[i] = 1;
            else now = truthOf(program, state, i) ? 1 : 0;
            believed = true;
        }
        if (believed) {
            // What an input says first after power-up starts nothing: a button held, or stuck, while the
            // power comes back must not set anything in motion.
            const bool number = input.source == InputSource::Number && happening.debounced;
            const bool first = state.heard[i] == 0 && !number;
            if (!number) state.heard[i] = 1;
            if (state.active[i] != now) {
                state.active[i] = now;
                edge[i] = first ? 0 : now;
                let_go[i] = first ? 0 : 1 - now;
                state.active_for[i] = 0;
            }
        }
        // A number that has fallen silent is as if never read.
        if (input.source == InputSource::Number && happening.debounced) {
        } else if (input.source == InputSource::Number)
            state.heard[i] = state.age[i] >= 0 && state.age[i] < std::max<std::int32_t>(
                                                                     1, state.parameters[static_cast<std::size_t>(input.timeout_parameter)])
                                 ? 1
                                 : 0;
        else all_heard = all_heard && state.heard[i] != 0;
        if (input.sets >= 0 && state.heard[i] != 0 && !happening.debounced) {
            const auto& set = program.parameters[static_cast<std::size_t>(input.sets)];
            state.parameters[static_cast<std::size_t>(input.sets)] = spark::knobValue(set.least, input.sets_most, state.value[i]);
        }
    }
    // How long an input has been active counts only from an edge that was seen, and only where a cue asks.
    for (std::size_t i = 0; i < program.inputs.size(); ++i) {
        if (std::none_of(program.cues.begin(), program.cues.end(),
                         [&](const ProgramCue& cue) { return cue.held_input == static_cast<int>(i); }))
            continue;
        if (edge[i] != 0) state.active_for[i] = 1;
        else if (state.active[i] != 0 && state.active_for[i] > 0 && state.active_for[i] < ticks_per_day) ++state.active_for[i];
    }
    // 2. The clock and the link, then triggers in list order.
    if (state.clock_set) {
        state.clock = (state.clock + 1) % ticks_per_day;
        if (state.clock == 0 && state.date_set) {
            const auto next = timing::dayAfter({state.year, state.month, state.day});
            setDate(state, next.year, next.month, next.day);
        }
    }
    const std::int32_t passed = state.clock_set ? spark::passedSince(state.clock, state.clock_before) : 1;
    state.clock_before = state.clock_set ? state.clock : -1;
    bool stop = happening.stop;
    if (happening.link) state.link_age = 0;
    else if (state.link_age >= 0 && state.link_age < ticks_per_day) ++state.link_age;
    if (program.link_parameter >= 0 && state.link_age > 0 &&
        state.link_age == state.parameters[static_cast<std::size_t>(program.link_parameter)])
        stop = true;
    const bool wakes = !state.awoken && all_heard;
    if (wakes) {
        state.awoken = true;
        for (std::size_t o = 0; o < program.outputs.size(); ++o)
            if (state.remembered[o] != 0) state.asked[o] = 1, state.remembered[o] = state.resting[o] = 0;
    }
    const auto ended = state.ended;
    state.ended.assign(state.ended.size(), 0);
    std::vector<std::uint8_t> due(program.cues.size(), 0);
    std::size_t hush = 0;
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        const auto& cue = program.cues[c];
        for (const auto time : cue.times_of_day) {
            auto& rest_of_it = state.hush[hush++];
            if (rest_of_it > 0) --rest_of_it;
            if (!state.clock_set || rest_of_it > 0 || !spark::comesNow(state.clock, time, passed, state.clock_jumped, cue.late)) continue;
            due[c] = 1;
            rest_of_it = once_apart;
        }
        if (cue.every_parameter < 0 || happening.debounced) continue;
        if (++state.since[c] < std::max<std::int32_t>(1, state.parameters[static_cast<std::size_t>(cue.every_parameter)])) continue;
        state.since[c] = 0;
        due[c] = 1;
    }
    state.clock_jumped = false;
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        const auto& cue = program.cues[c];
        if (state.place[c] >= 0 && (stop || guarded(cue, state, true))) endCue(program, state, c);
        if (state.place[c] >= 0 || stop) continue;
        bool starts =
            std::find(happening.start_cues.begin(), happening.start_cues.end(), static_cast<int>(c)) != happening.start_cues.end();
        for (const int input : cue.inputs) starts = starts || edge[static_cast<std::size_t>(input)] != 0;
        for (const int input : cue.released) starts = starts || let_go[static_cast<std::size_t>(input)] != 0;
        if (cue.held_input >= 0)
            starts = starts || (state.active_for[static_cast<std::size_t>(cue.held_input)] ==
                                std::max<std::int32_t>(1, state.parameters[static_cast<std::size_t>(cue.held_parameter)]));
        starts = starts || due[c] != 0 || (cue.at_power_up && wakes) || (cue.after >= 0 && ended[static_cast<std::size_t>(cue.after)] != 0);
        starts = starts || happening.clock_cue == static_cast<int>(c);
        if (starts && !guarded(cue, state, false)) startCue(program, state, c);
    }
    if (stop) {
        state.stopped = true;
        for (std::size_t o = 0; o < program.outputs.size(); ++o) {
            rest(program, state, o);
            if (program.outputs[o].rest != Rest::Start) state.awake[o] = 0;
        }
    }
    // The desk's hand: it lets go by itself when it is not told again.
    for (std::size_t o = 0; o < state.hand.size(); ++o) {
        if (stop) state.hand[o] = 0;
        if (state.hand[o] > 0 && --state.hand[o] == 0) state.asked[o] = 0, state.share[o] = -1;
    }
    if (!stop)
        for (const auto& hand : happening.hands) takeHand(program, state, hand);
    // 3. Moves, then followers.
    for (std::size_t c = 0; c < program.cues.size(); ++c)
        if (state.place[c] >= 0) runCue(program, state, c);
    if (!program.followers.empty()) {
        std::vector<std::uint8_t> followed(program.outputs.size(), 0);
        std::vector<std::int32_t> duty(program.outputs.size(), -1);
        for (const auto& follower : program.followers) {
            const auto o = static_cast<std::size_t>(follower.output), i = static_cast<std::size_t>(follower.input);
            // An input not yet believed moves nothing.
            if (state.heard[i] == 0) continue;
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
            if (followed[o] != 0) state.resting[o] = 0;
            if (state.followed[o] != 0 && followed[o] == 0 && state.asked[o] == 0 && !state.stopped)
                state.off_delay[o] = state.parameters[static_cast<std::size_t>(program.outputs[o].off_delay_parameter)];
        }
        state.followed = std::move(followed);
        state.duty = std::move(duty);
    }
    // 4. Outputs: what is wanted, with fades, flicker and off-delays; then the interlocks; then the levels.
    std::vector<std::uint8_t> on(program.outputs.size(), 0);
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        const auto& output = program.outputs[o];
        if (output.kind != OutputKind::Switched) {
            if (state.resting[o] != 0 && forbidsRest(output, state)) halt(state, o);
            on[o] = state.elapsed[o] < state.duration[o] && state.resting[o] == 0 ? 1 : 0;
            continue;
        }
        if (state.elapsed[o] < state.duration[o]) {
            ++state.elapsed[o];
            state.share[o] = fadedShare(state.from[o], state.target[o], state.elapsed[o], state.duration[o]);
            if (state.elapsed[o] == state.duration[o] && state.target[o] == 0) state.asked[o] = 0;
        }
        if (state.flicker[o] > 0) {
            if (state.flicker[o] % spark::flame_ticks == 0 || state.share[o] < 0) {
                state.noise = spark::nextNoise(static_cast<std::uint16_t>(state.noise));
                state.share[o] = spark::flameShare(static_cast<std::uint16_t>(state.noise));
            }
            if (--state.flicker[o] == 0) state.asked[o] = 0;
        }
        if (state.run[o] > 0 && --state.run[o] == 0) release(program, state, o);
        on[o] = state.hand[o] > 0 && state.forced[o] != 0 ? (state.share[o] > 0 ? 1 : 0)
                : state.asked[o] != 0 || state.followed[o] != 0 || (output.rest == Rest::On && state.resting[o] != 0) ? 1
                                                                                                                      : 0;
        if (on[o] == 0 && state.off_delay[o] > 0) {
            --state.off_delay[o];
            on[o] = 1;
        }
    }
    if (enforce)
        for (const auto& interlock : program.interlocks) {
            const auto o = static_cast<std::size_t>(interlock.output);
            if (on[o] == 0 || (interlock.input >= 0 && state.active[static_cast<std::size_t>(interlock.input)] == 0)) continue;
            const bool so = std::all_of(interlock.terms.begin(), interlock.terms.end(), [&](const ProgramTerm& term) {
                const auto t = static_cast<std::size_t>(term.output);
                const std::int32_t past =
                    (state.level[t] - term.place) * (program.outputs[t].furthest >= program.outputs[t].start ? 1 : -1);
                return term.kind == ProgramTerm::Kind::On       ? on[t] != 0
                       : term.kind == ProgramTerm::Kind::Off    ? on[t] == 0
                       : state.placed[t] == 0                   ? true
                       : term.kind == ProgramTerm::Kind::Beyond ? past > 0
                                                                : past < 0;
            });
            if (!so) continue;
            rest(program, state, o);
            on[o] = program.outputs[o].rest == Rest::On ? 1 : 0;
        }
    if (!happening.debounced && !program.loops.empty()) {
        // All of them before the first is driven anew: the order of the loops is nobody's advantage.
        std::vector<Rolling> rolling;
        for (const auto& loop : program.loops) rolling.push_back(rollingOf(program, state, loop));
        for (std::size_t l = 0; l < program.loops.size(); ++l) {
            const auto o = static_cast<std::size_t>(program.loops[l].output);
            control(program, state, l, program.outputs[o].kind == OutputKind::Switched ? on[o] != 0 : state.asked[o] != 0, rolling[l]);
        }
    }
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        const auto& output = program.outputs[o];
        if (output.kind != OutputKind::Switched) {
            if (state.elapsed[o] < state.duration[o]) {
                ++state.elapsed[o];
                const std::int32_t fine =
                    finePlaceAt(state.profile[o], state.from[o], state.target[o], state.elapsed[o], state.duration[o]);
                state.level[o] = fine >> 8;
                state.fraction[o] = static_cast<std::uint8_t>(fine & 0xff);
            } else if (state.asked[o] != 0) {
                // At the rate of its loop, as far as it likes: what balances may roll for days.
                spark::roll(state.share[o], state.level[o], state.fraction[o]);
            }
            continue;
        }
        if (on[o] == 0) state.share[o] = -1;
        state.on_for[o] = on[o] != 0 ? std::min<std::int32_t>(state.on_for[o] + 1, 1'000'000'000) : 0;
        const std::int32_t permille = givenPermille(program, state, o);
        state.level[o] =
            on[o] != 0 ? rampLevel(permille, output.top, state.on_for[o], state.parameters[static_cast<std::size_t>(output.ramp_parameter)])
                       : 0;
    }
}

}  // namespace hinge::routine

template class std::vector<hinge::routine::ProgramGuard>;
template class std::vector<hinge::routine::Instruction>;
template class std::vector<hinge::routine::ProgramTerm>;
template class std::vector<hinge::routine::Parameter>;
template class std::vector<hinge::routine::ProgramInput>;
template class std::vector<hinge::routine::ProgramOutput>;
template class std::vector<hinge::routine::ProgramCue>;
template class std::vector<hinge::routine::ProgramInterlock>;
template class std::vector<hinge::routine::ProgramFollower>;
template class std::vector<hinge::routine::ProgramLoop>;
