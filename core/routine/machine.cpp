#include "routine/machine.hpp"
#include <algorithm>
#include <cmath>
#include <cstring>

// What a tick means stands in firmware/runtime/spark_tick.h, which the board runs too.
namespace hinge::routine {
namespace {

template <class T>
std::uint8_t byteOf(T index) {
    return index < 0 ? spark::nobody : static_cast<std::uint8_t>(index);
}
std::int16_t shortOf(int index) {
    return static_cast<std::int16_t>(index);
}

spark::Input rowOf(const Program& program, std::size_t i) {
    using I = spark::Input;
    const auto& input = program.inputs[i];
    I row{};
    row.source = input.source;
    const auto is = [&](bool so, I::Is what) { row.is = static_cast<std::uint8_t>(row.is | (so ? what : 0)); };
    is(input.analogue, I::analogue);
    is(input.below, I::below);
    is(std::any_of(program.cues.begin(), program.cues.end(), [&](const ProgramCue& cue) { return cue.held_input == static_cast<int>(i); }),
       I::held);
    is(isLooped(program, i), I::looped);
    is(isCautious(program, i), I::cautious);
    row.weekdays = input.weekdays;
    row.counted = byteOf(input.counted);
    row.patience = static_cast<std::int16_t>(input.debounce);
    row.upper = static_cast<std::int16_t>(input.upper);
    row.lower = static_cast<std::int16_t>(input.lower);
    row.number = shortOf(input.source == InputSource::Number ? input.timeout_parameter : input.limit_parameter);
    row.from = static_cast<std::int16_t>(input.from_date);
    row.to = static_cast<std::int16_t>(input.to_date);
    row.sets = shortOf(input.sets);
    row.least = input.sets >= 0 ? program.parameters[static_cast<std::size_t>(input.sets)].least : 0;
    row.most = input.sets_most;
    return row;
}

spark::Output rowOf(const Program& program, std::size_t o, std::vector<std::uint8_t>& unlesses) {
    const auto& output = program.outputs[o];
    spark::Output row{};
    row.kind = output.kind;
    row.rest = output.rest;
    const bool rolls =
        output.kind != OutputKind::Switched && std::any_of(program.loops.begin(), program.loops.end(),
                                                           [&](const ProgramLoop& loop) { return loop.output == static_cast<int>(o); });
    row.is = static_cast<std::uint8_t>((isHomed(program, o) ? spark::Output::homed : 0) | (rolls ? spark::Output::rolls : 0) |
                                       (output.remembered ? spark::Output::remembered : 0) |
                                       (output.turns && !isTurnedByLoop(program, o) ? spark::Output::turns : 0) |
                                       (output.brakes ? spark::Output::brakes : 0));
    row.unlesses = static_cast<std::uint8_t>(output.rest_unless.size());
    row.duty = shortOf(output.duty_parameter);
    row.ramp = shortOf(output.kind == OutputKind::Switched ? output.ramp_parameter : output.let_go_parameter);
    row.off_delay = shortOf(output.off_delay_parameter);
    row.rest_number = shortOf(output.rest_parameter);
    row.top = output.top;
    row.start = output.start;
    row.furthest = output.furthest;
    row.unless = unlesses.data() + unlesses.size();
    for (const int input : output.rest_unless) unlesses.push_back(byteOf(input));
    return row;
}

spark::Step rowOf(const Instruction& instruction) {
    using S = spark::Step;
    const bool again = instruction.operation == Operation::Again;
    return {
        instruction.operation,
        byteOf(instruction.output),
        byteOf(instruction.input),
        static_cast<std::uint8_t>((instruction.wanted ? S::wanted : 0) | (instruction.gentle ? S::gentle : 0) |
                                  (instruction.joined ? S::joined : 0) | (instruction.backwards ? S::back : 0) |
                                  (instruction.brakes ? S::brakes : 0) | (instruction.by ? S::by : 0) | (instruction.anew ? S::anew : 0)),
        shortOf(instruction.parameter),
        shortOf(again ? instruction.back : instruction.target)};
}

std::vector<spark::Start> startsOf(const ProgramCue& cue, std::uint8_t& times) {
    using spark::By;
    std::vector<spark::Start> starts;
    for (const int input : cue.inputs) starts.push_back({By::Press, byteOf(input), spark::no_number, 0, 0});
    for (const int input : cue.released) starts.push_back({By::Release, byteOf(input), spark::no_number, 0, 0});
    if (cue.held_input >= 0) starts.push_back({By::Held, byteOf(cue.held_input), shortOf(cue.held_parameter), 0, 0});
    if (cue.every_parameter >= 0) starts.push_back({By::Every, spark::nobody, shortOf(cue.every_parameter), 0, 0});
    for (const auto time : cue.times_of_day) starts.push_back({By::Time, times++, spark::no_number, time, cue.late});
    if (cue.at_power_up) starts.push_back({By::Power, spark::nobody, spark::no_number, 0, 0});
    if (cue.after >= 0) starts.push_back({By::After, byteOf(cue.after), spark::no_number, 0, 0});
    return starts;
}

// The runtime's gadget on the desk, and what happens.
struct Desk : Reach {
    const Happening& happening;
    bool enforcing;

    [[nodiscard]] std::uint8_t pin(std::uint8_t i) const { return i < happening.pin_active.size() ? happening.pin_active[i] : 0; }
    [[nodiscard]] std::int16_t reading(std::uint8_t i) const {
        return i < happening.values.size() ? static_cast<std::int16_t>(happening.values[i]) : 0;
    }
    [[nodiscard]] std::int32_t pulses(std::uint8_t i) const { return i < happening.pulses.size() ? happening.pulses[i] : 0; }
    [[nodiscard]] std::int16_t leastSilence() const { return tables.silence; }
    [[nodiscard]] bool counts() const { return !happening.debounced; }
    [[nodiscard]] bool enforces() const { return enforcing; }
    void moved(std::uint8_t) const {}
};

// For the proof: every level is believed at once, but of inputs that have not been read since power-up; a number may fall silent again at
// any tick.
void believeAll(const Desk& desk) {
    auto& whole = desk.whole();
    whole.all_heard = 1;
    for (std::uint8_t i = 0; i < desk.inputs(); ++i) {
        auto& input = desk.input(i);
        input.edge = input.let_go = 0;
        const bool silent = i < 32 && (desk.happening.unheard >> i & 1u) != 0;
        const auto source = desk.inputRow(i)->source;
        if (source == InputSource::Number) {
            spark::believe(desk, i, desk.pin(i), false);
            input.heard = silent ? 0 : 1;
        } else {
            if (input.heard != 0 || !silent) spark::believe(desk, i, desk.pin(i), input.heard == 0);
            if (input.heard == 0) whole.all_heard = 0;
        }
        spark::countHeld(desk, desk.inputRow(i), input);
    }
}

}  // namespace

Tables::Tables(const Program& program) {
    for (std::size_t i = 0; i < program.inputs.size(); ++i) inputs.push_back(rowOf(program, i));
    // Reserved: rows point to rows.
    std::size_t in_all = 0;
    for (const auto& output : program.outputs) in_all += output.rest_unless.size();
    unlesses.reserve(in_all);
    for (std::size_t o = 0; o < program.outputs.size(); ++o) outputs.push_back(rowOf(program, o, unlesses));
    std::uint8_t times = 0;
    std::vector<std::vector<spark::Start>> of_cue;
    std::size_t starts_in_all = 0, guards_in_all = 0, steps_in_all = 0, terms_in_all = 0;
    for (const auto& cue : program.cues) {
        of_cue.push_back(startsOf(cue, times));
        starts_in_all += of_cue.back().size();
        guards_in_all += cue.guards.size();
        steps_in_all += cue.instructions.size();
    }
    starts.reserve(starts_in_all);
    guards.reserve(guards_in_all);
    steps.reserve(steps_in_all);
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        const auto& cue = program.cues[c];
        const bool counts = std::any_of(program.inputs.begin(), program.inputs.end(), [&](const ProgramInput& input) {
            return input.source == InputSource::Counter && input.counted == static_cast<int>(c);
        });
        cues.push_back({starts.data() + starts.size(), guards.data() + guards.size(), steps.data() + steps.size(),
                        static_cast<std::uint8_t>(of_cue[c].size()), static_cast<std::uint8_t>(cue.guards.size()),
                        static_cast<std::uint8_t>(counts), spark::kindsIn(of_cue[c].data(), static_cast<std::int16_t>(of_cue[c].size())),
                        static_cast<std::int16_t>(cue.instructions.size())});
        starts.insert(starts.end(), of_cue[c].begin(), of_cue[c].end());
        for (const auto& guard : cue.guards)
            guards.push_back(
                {byteOf(guard.input), static_cast<std::uint8_t>(guard.throughout), static_cast<std::uint8_t>(guard.blocks_when)});
        for (const auto& instruction : cue.instructions) steps.push_back(rowOf(instruction));
    }
    for (const auto& interlock : program.interlocks) terms_in_all += interlock.terms.size();
    terms.reserve(terms_in_all);
    for (const auto& interlock : program.interlocks) {
        interlocks.push_back({byteOf(interlock.output), byteOf(interlock.input), static_cast<std::uint8_t>(interlock.terms.size()),
                              terms.data() + terms.size()});
        for (const auto& term : interlock.terms) terms.push_back({byteOf(term.output), term.kind, term.place});
    }
    for (const auto& follower : program.followers)
        followers.push_back({byteOf(follower.output), byteOf(follower.input), byteOf(follower.guard),
                             static_cast<std::uint8_t>(follower.wanted), static_cast<std::uint8_t>(follower.proportional),
                             static_cast<std::int16_t>(follower.dead), static_cast<std::int16_t>(follower.start)});
    std::stable_sort(followers.begin(), followers.end(), [](const auto& a, const auto& b) { return a.output < b.output; });
    for (const auto& loop : program.loops) {
        const bool rolls = program.outputs[static_cast<std::size_t>(loop.output)].kind == OutputKind::Stepper;
        holders.push_back({byteOf(loop.output),
                           byteOf(loop.input),
                           loop.most,
                           {shortOf(loop.wanted), shortOf(loop.proportional), shortOf(loop.integral), shortOf(loop.derivative),
                            shortOf(loop.period), shortOf(loop.smoothing), shortOf(loop.forward), shortOf(loop.band),
                            shortOf(rolls ? loop.lean_rate : loop.least), shortOf(rolls ? loop.lean_way : loop.turn)}});
    }
    silence = shortOf(program.link_parameter);
}

void Machine::tick(State& state, const Happening& happening, bool enforce) const {
    Desk desk{{tables_, state}, happening, enforce};
    for (const int cue : happening.start_cues) spark::ask(desk, static_cast<std::uint8_t>(cue));
    if (happening.clock_cue >= 0) spark::ask(desk, static_cast<std::uint8_t>(happening.clock_cue));
    for (const int word : happening.words) state.input(static_cast<std::size_t>(word)).said = 1;
    for (const auto& sent : happening.numbers) {
        auto& input = state.input(static_cast<std::size_t>(sent.input));
        input.value = static_cast<std::int16_t>(sent.reading);
        input.age = -2;
    }
    for (const auto& hand : happening.hands) {
        auto& output = state.output(static_cast<std::size_t>(hand.output));
        output.hand_asked = 1;
        output.hand_value = hand.value;
        output.hand_time = hand.ticks;
    }
    if (happening.stop) state->stop_asked = 1;
    if (happening.link) state->link_spoke = 1;
    for (std::size_t o = 0; o < state.outputs(); ++o) state.output(o).homed = 0;
    if (happening.debounced) believeAll(desk);
    else spark::readInputs(desk);
    spark::act(desk);
}

State::State(const Sizes& sizes) : sizes_{sizes} {
    std::size_t end = 0;
    const auto room = [&end](std::size_t bytes, std::size_t alignment) {
        end = (end + alignment - 1) / alignment * alignment;
        const std::size_t begin = end;
        end += bytes;
        return begin;
    };
    room(sizeof(spark::WholeState), alignof(spark::WholeState));
    inputs_ = room(sizes.inputs * sizeof(spark::InputState), alignof(spark::InputState));
    outputs_ = room(sizes.outputs * sizeof(spark::OutputState), alignof(spark::OutputState));
    cues_ = room(sizes.cues * sizeof(spark::CueState), alignof(spark::CueState));
    holders_ = room(sizes.holders * sizeof(spark::HolderState), alignof(spark::HolderState));
    times_ = room(sizes.times * sizeof(std::int32_t), alignof(std::int32_t));
    numbers_ = room(sizes.numbers * sizeof(std::int32_t), alignof(std::int32_t));
    block_.assign(end, std::byte{0});
}

std::int32_t readingOf(const Fraction& share) {
    return std::clamp<std::int32_t>(static_cast<std::int32_t>(std::lround(si(share) * 1024.0)), 0, 1023);
}

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

bool isTurnedByLoop(const Program& program, std::size_t output) {
    return std::any_of(program.loops.begin(), program.loops.end(),
                       [&](const ProgramLoop& loop) { return loop.turn >= 0 && loop.output == static_cast<int>(output); });
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

bool isOn(const Program& program, const State& state, std::size_t o) {
    return program.outputs[o].kind == OutputKind::Switched
               ? state.output(o).level > 0
               : state.output(o).elapsed < state.output(o).duration || state.output(o).asked != 0;
}

double shareOf(const ProgramOutput& output, std::int32_t level) {
    if (output.kind == OutputKind::Switched) return static_cast<double>(level) / output.top;
    return output.furthest != output.start ? static_cast<double>(level - output.start) / (output.furthest - output.start) : 0.0;
}

std::int32_t givenPermille(const Program& program, const State& state, std::size_t o) {
    // As much of a gadget as one output asks for.
    struct One {
        const State& state;
        spark::Output row;
        [[nodiscard]] const spark::Output* outputRow(std::uint8_t) const { return &row; }
        [[nodiscard]] const spark::OutputState& output(std::uint8_t index) const { return state.output(index); }
        [[nodiscard]] std::int32_t number(std::int16_t n) const { return state.number(n); }
    } one{state, {}};
    one.row.duty = shortOf(program.outputs[o].duty_parameter);
    return spark::givenShare(one, static_cast<std::uint8_t>(o));
}

double driveOf(const Program& program, const State& state, std::size_t o) {
    const auto& output = program.outputs[o];
    if (output.kind == OutputKind::Switched) {
        const double share = static_cast<double>(state.output(o).level) / output.top;
        return output.of_volts ? share * share : share;
    }
    return isOn(program, state, o) ? 1.0 : state.output(o).awake != 0 ? output.hold / 1000.0 : 0.0;
}

std::int64_t rateUnit(const ProgramOutput& output) {
    return std::llround(output.step_rate / 1000.0 / output.top * 281474976710656.0);
}

double signedDriveOf(const Program& program, const State& state, std::size_t o) {
    return state.output(o).back != 0 ? -driveOf(program, state, o) : driveOf(program, state, o);
}

bool coasts(const Program& program, const State& state, std::size_t o) {
    return program.outputs[o].two_inputs && state.output(o).level == 0 && state.output(o).braked == 0;
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
    if (program.inputs[i].source == InputSource::Word) return false;
    // As much of a gadget as one input asks for.
    struct One {
        const State& state;
        spark::Input row;
        [[nodiscard]] const spark::Input* inputRow(std::uint8_t) const { return &row; }
        [[nodiscard]] const spark::InputState& input(std::uint8_t index) const { return state.input(index); }
        [[nodiscard]] std::int32_t number(std::int16_t n) const { return state.number(n); }
        [[nodiscard]] const spark::WholeState& whole() const { return *state.operator->(); }
    } one{state, rowOf(program, i)};
    return spark::truthOf(one, static_cast<std::uint8_t>(i)) != 0;
}

bool holds(const Program& program, const State& state, const ProgramInterlock& interlock) {
    const auto o = static_cast<std::size_t>(interlock.output);
    // What gives way by going to its start is not blamed for going there.
    if (!isOn(program, state, o) || (program.outputs[o].kind != OutputKind::Switched && state.output(o).resting != 0)) return false;
    if (interlock.input >= 0 && state.input(static_cast<std::size_t>(interlock.input)).active == 0) return false;
    return std::all_of(interlock.terms.begin(), interlock.terms.end(), [&](const ProgramTerm& term) {
        const auto t = static_cast<std::size_t>(term.output);
        const auto& output = program.outputs[t];
        const std::int32_t past = (state.output(t).level - term.place) * (output.furthest >= output.start ? 1 : -1);
        // What has to look for its start may be anywhere until it was found.
        switch (term.kind) {
            case ProgramTerm::Kind::On: return isOn(program, state, t);
            case ProgramTerm::Kind::Off: return !isOn(program, state, t);
            case ProgramTerm::Kind::Beyond: return past > 0 || state.output(t).placed == 0;
            case ProgramTerm::Kind::Short: return past < 0 || state.output(t).placed == 0;
        }
        return false;
    });
}

namespace {

// As much of a gadget as is there without its tables.
struct StateOnly {
    State& state;
    [[nodiscard]] spark::WholeState& whole() const { return *state.operator->(); }
    [[nodiscard]] std::size_t outputs() const { return state.outputs(); }
    [[nodiscard]] spark::OutputState& output(std::size_t o) const { return state.output(o); }
};

}  // namespace

void setClock(State& state, std::int32_t ticks_after_midnight) {
    StateOnly whole{state};
    spark::setClock(whole, ticks_after_midnight, true);
}

void setNumber(State& state, std::size_t number, std::int32_t value) {
    state.number(static_cast<std::ptrdiff_t>(number)) = value;
    StateOnly whole{state};
    spark::numbersChanged(whole);
}

void setDate(State& state, int year, int month, int day) {
    state->date = {static_cast<std::int16_t>(year), static_cast<std::int16_t>(month), static_cast<std::int16_t>(day)};
    state->weekday = spark::weekdayOf(state->date);
    state->date_set = 1;
}

State powerUp(const Program& program) {
    std::size_t times = 0;
    for (const auto& cue : program.cues) times += cue.times_of_day.size();
    State state(
        {program.inputs.size(), program.outputs.size(), program.cues.size(), program.loops.size(), times, program.parameters.size()});
    for (std::size_t p = 0; p < program.parameters.size(); ++p) state.number(p) = program.parameters[p].value;
    spark::powerUp(*state.operator->());
    for (std::size_t i = 0; i < program.inputs.size(); ++i) spark::powerUp(state.input(i), isCautious(program, i));
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        const auto& output = program.outputs[o];
        spark::powerUp(state.output(o), output.kind, output.start, isHomed(program, o));
        state.output(o).braked = output.brakes ? 1 : 0;
    }
    for (std::size_t c = 0; c < program.cues.size(); ++c) spark::powerUp(state.cue(c));
    for (std::size_t l = 0; l < program.loops.size(); ++l) spark::powerUp(state.holder(l));
    return state;
}

State powerBack(const Program& program, const State& before) {
    State state = powerUp(program);
    if (program.clock_kept) {
        if (before->clock_set) setClock(state, before->clock);
        state->date_set = before->date_set;
        state->date = before->date;
        state->weekday = before->weekday;
    }
    for (std::size_t o = 0; o < program.outputs.size(); ++o)
        state.output(o).remembered = program.outputs[o].remembered && before.output(o).asked != 0 ? 1 : 0;
    return state;
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
