#pragma once
// The flat, non-blocking program that one tick of 1 ms runs. Whole numbers only, so that the
// interpreter on the desk and the sketch on the chip agree to the tick.
#include <cstdint>
#include <span>
#include <string>
#include <vector>
#include "firmware/runtime/spark_tick.h"
#include "quantity/dimensions.hpp"
#include "routine/state.hpp"

namespace hinge::routine {

inline constexpr std::int32_t ticks_per_second = 1000;
using spark::ticks_per_day;

/// A number that may be changed live over the link. Whole, in the unit named.
struct Parameter {
    std::string name;  ///< an identifier: letters, digits, underscore
    std::string unit;  ///< "ms" or "permille"
    std::string meaning;
    std::int32_t value = 0;
    std::int32_t least = 0;
    std::int32_t most = 0;
    std::string source;  ///< the working the number came from
    friend bool operator==(const Parameter&, const Parameter&) = default;
};

using spark::tach_window;

/// Where an input's truth comes from: a contact or reading on a pin; a word said over the link, true for the tick in which it comes; a
/// number sent over the link, silent for its time-out as if never read; a cue's ends counted; the days; pulses counted over each period of
/// its loop, without one over tach_window.
using InputSource = spark::Source;
struct ProgramInput {
    std::string id;
    std::string name;
    bool active_high = false;    ///< a contact: active when its pin reads high
    std::int32_t debounce = 20;  ///< ticks a new level must last
    bool analogue = false;       ///< read as 0 … 1023; active from `upper` on, inactive from `lower` down
    std::int32_t upper = 512, lower = 512;
    bool below = false;  ///< the other way round: active from `lower` down, inactive from `upper` on
    InputSource source = InputSource::Pin;
    std::string word;                        ///< Word
    int timeout_parameter = -1;              ///< Number: ticks
    int counted = -1, limit_parameter = -1;  ///< Counter: cue, and how often; else the output that a tach or a current belongs
                                             ///< to, and the ticks that this must have been on before it is believed; −1: none
    std::uint8_t weekdays = 0x7f;            ///< Days: bit 0 is Monday
    int from_date = 101, to_date = 1231;     ///< Days: month·100 + day; from after to runs over the new year
    int sets = -1;                           ///< a knob that sets this parameter …
    std::int32_t sets_most = 0;              ///< … from its least to this
    friend bool operator==(const ProgramInput&, const ProgramInput&) = default;
};

/// How an output's pin is driven: on and off (with PWM), by a servo's pulse, or by steps.
using OutputKind = spark::Kind;
/// What an output does at power-up, on stop, on a lost link, and where an interlock makes it give way: off, where a mover stands still; of
/// what is switched on; a mover goes to its start, where its place is known.
using Rest = spark::Rest;

struct ProgramOutput {
    std::string id;
    std::string name;
    int duty_parameter = 0;       ///< index: permille of full
    int ramp_parameter = 0;       ///< index: ticks from 0 to the duty
    int off_delay_parameter = 0;  ///< index: ticks it stays on after its reason has gone
    std::int32_t top = 255;       ///< compare value of full on
    OutputKind kind = OutputKind::Switched;
    std::int32_t start = 0;     ///< place at power-up: half microseconds of pulse, or steps
    std::int32_t furthest = 0;  ///< largest place; at most largest_place
    std::int32_t hold = 0;      ///< permille of its moving drive while it holds still
    Rest rest = Rest::Off;
    int rest_parameter = -1;       ///< Start: ticks of that move
    std::vector<int> rest_unless;  ///< Start: inputs that forbid every cue to move it, also while it moves: it stands still then
    bool remembered = false;       ///< after a power cut it is as it was before
    bool turns = false;            ///< cues or a loop turn it round: a line, or its pulse, says which way it goes
    std::int32_t pulse_still = 0;  ///< of a servo that turns on: half microseconds of pulse at which it stands still; `top` more or less
                                   ///< are full speed. 0: it is none
    std::int32_t latch = 0;        ///< of a coil that latches: ticks of each pulse; 0: it is none …
    std::int32_t latch_turn = 0;   ///< … and after power-up before its first
    double step_rate = 0.0;        ///< of a stepper that goes on: steps a second at `top`; 0: it is none
    int still_parameter = -1;      ///< the same as a number that is changed live
    double half_waves = 0.0;       ///< of what is fired into each half-wave of the mains: Hz of the mains; 0: it is none …
    bool of_volts = false;         ///< … and its shares are of the rms volts, not of the power
    bool two_inputs = false;       ///< its bridge has an input for each end of the motor: off it coasts, or brakes …
    bool brakes = false;           ///< … always, and not only where a cue says so
    bool configured = false;       ///< its driver is told its settings at the start, and moves nothing before
    int let_go_parameter = -1;     ///< of what is sent to places: index: ticks at rest until it is let go; -1: it holds for ever
    friend bool operator==(const ProgramOutput&, const ProgramOutput&) = default;
};

using spark::even_ramp;
using spark::farthest_roll;
using spark::fine_move;
using spark::home_extra;
using spark::largest_place;
using spark::longest_move;
using spark::Profile;

/// Until waits for an input; Home goes back until an input says that the start is reached; both end their cue
/// as a fault when it does not come in time. Again starts the cue over.
/// Run is On for some ticks and then Off, timed by the output itself, so that the cue may do something else meanwhile.
/// Turn is Off for some ticks where the output went the other way until now; nothing where it did not.
using Operation = spark::Do;
struct Instruction {
    Operation operation = Operation::Off;
    int output = -1;      ///< On, Off, Toggle, Go, Home, Fade, Flicker, Run, Turn; Until: whose place is not known where it does not come
    int parameter = -1;   ///< Wait, Go, Fade, Flicker, Run, Turn: index of its ticks; Until, Home: of the ticks it may take; Again: how
                          ///< often, 0 for ever
    int target = -1;      ///< Go: index of the place to go to, or of the way; On and Run (−1: its duty), Fade: of the permille; Home: of
                          ///< the steps that it looks for (−1: its whole way)
    int input = -1;       ///< Until, Home, Clear
    bool wanted = true;   ///< Until: the input's level that ends the wait
    bool gentle = false;  ///< Go: a servo too speeds up for half of the time and slows down for the other
    int back = 0;         ///< Again: the instruction to go back to
    bool joined = false;  ///< the next instruction starts in the same tick; the last of them waits for the longest
    bool backwards = false;  ///< On, Turn: the other way round; Go by: nearer to its start
    bool brakes = false;     ///< Off: and its bridge shorts the motor
    bool by = false;         ///< Go: so far from where it stands
    bool anew = false;       ///< Home: its input must become so while it looks
    friend bool operator==(const Instruction&, const Instruction&) = default;
};

struct ProgramGuard {
    int input = 0;
    bool throughout = true;
    bool blocks_when = true;  ///< the input's level that keeps the cue from running
    friend bool operator==(const ProgramGuard&, const ProgramGuard&) = default;
};

struct ProgramCue {
    std::string id;
    std::string name;
    std::vector<int> inputs;                 ///< an edge to active of any of these starts it
    std::vector<std::int32_t> times_of_day;  ///< ticks after midnight
    std::vector<ProgramGuard> guards;
    std::vector<Instruction> instructions;
    std::vector<int> released;                 ///< an edge to inactive of any of these starts it
    int held_input = -1, held_parameter = -1;  ///< an input that has been active for so many ticks starts it, once
    int every_parameter = -1;                  ///< starts it each time so many ticks have passed
    bool at_power_up = false;                  ///< as soon as every input has been believed once
    int after = -1;                            ///< the orderly end of this cue starts it
    std::int32_t late = 0;                     ///< ticks by which a time of day may be missed and still come; at most once_apart
    friend bool operator==(const ProgramCue&, const ProgramCue&) = default;
};

using spark::largest_correction;
using spark::once_apart;

struct ProgramTerm {
    int output = 0;
    using Kind = spark::Term::So;
    Kind kind = Kind::Off;
    std::int32_t place = 0;
    friend bool operator==(const ProgramTerm&, const ProgramTerm&) = default;
};
struct ProgramInterlock {
    std::string id;
    std::string text;
    int output = 0;                  ///< must not be on …
    int input = -1;                  ///< … with this active (−1: whatever the inputs) …
    std::vector<ProgramTerm> terms;  ///< … while all of these are so; the output gives way
    friend bool operator==(const ProgramInterlock&, const ProgramInterlock&) = default;
};

/// How many of a kind a program may have: the tables know them by one byte.
inline constexpr std::size_t most_of_a_kind = 254;

/// Ties an output to an input, besides what cues ask: on while it is active (or is not), or at a duty that
/// follows an analogue reading from `start` permille at `dead` upwards.
struct ProgramFollower {
    int output = 0;
    int input = 0;
    bool wanted = true;  ///< on while the input has this level
    bool proportional = false;
    std::int32_t dead = 0;   ///< reading up to which it is off, 0 … 1023
    std::int32_t start = 0;  ///< permille just above it; 1000 at the top
    int guard = -1;          ///< an input that holds it off while it is active
    friend bool operator==(const ProgramFollower&, const ProgramFollower&) = default;
};
/// Whether a reading counts as true; between its two levels it stays as it was.
[[nodiscard]] bool levelOf(const ProgramInput& input, std::int32_t reading, bool was);
/// A share of the reference as a reading, 0 to 1023; of a tach, pulses.
[[nodiscard]] std::int32_t readingOf(const Fraction& share);
/// Permille of a proportional follower at a reading. Whole numbers, as the sketch.
[[nodiscard]] std::int32_t followedDuty(const ProgramFollower& follower, std::int32_t reading);

/// Makes an output's drive from a reading while it is on: a·error + its sum + its change, in 256ths.
/// Its parameters stand one after another, from `wanted` on, in this order.
struct ProgramLoop {
    int output = 0;
    int input = 0;
    int wanted = -1, proportional = -1, integral = -1, derivative = -1, period = -1;  ///< parameters; gains in 256ths
    std::int32_t most = 1000;                                                         ///< permille, or steps a second
    int smoothing = -1;  ///< sixteenths of a new change that count; 16: unsmoothed
    int forward = -1;    ///< 256ths for each count wanted, whatever the reading
    int band = -1;       ///< counts of error that are let be
    int least = -1;      ///< of what is switched: permille below which it does not go while it is on
    int lean_rate = -1,
        lean_way = -1;  ///< of steps: counts wanted more for each step a second, and for each step away from the start, in 65536ths
    int turn = -1;      ///< of what it drives both ways: ticks that it stands still before it is turned round; −1: one way only
    friend bool operator==(const ProgramLoop&, const ProgramLoop&) = default;
};

/// True of what says how an output goes: a tach's speed, a level that is its driver's current.
[[nodiscard]] constexpr bool belongs(const ProgramInput& input) {
    return (input.source == InputSource::Tach || input.source == InputSource::Pin) && input.counted >= 0;
}
/// True of an input that is more than yes or no: its reading goes with the telemetry, after the levels.
[[nodiscard]] constexpr bool isMeasured(const ProgramInput& input) {
    return input.analogue || input.source == InputSource::Tach || input.source == InputSource::Number;
}
using spark::hand_off;
using spark::hand_own;
using spark::hand_ticks;
using spark::largest_lean;
using spark::servo_least;
using spark::servo_most;

struct Program {
    std::vector<Parameter> parameters;
    std::vector<ProgramInput> inputs;
    std::vector<ProgramOutput> outputs;
    std::vector<ProgramCue> cues;
    std::vector<ProgramInterlock> interlocks;
    std::vector<ProgramFollower> followers;
    std::vector<ProgramLoop> loops;
    bool clock_kept = false;  ///< a clock with a battery keeps time and date through a power cut
    int link_parameter = -1;  ///< ticks of silence after which the link counts as lost; −1: it may go
    friend bool operator==(const Program&, const Program&) = default;
};

/// What arrives from outside in one tick.
struct Happening {
    std::span<const std::uint8_t> pin_active;  ///< per input: the pin stands at its active level
    std::span<const std::int32_t> values;      ///< per input: reading of an analogue one, 0 … 1023
    std::vector<int> start_cues;               ///< started over the link; guards apply
    bool stop = false;                         ///< everything to its safe state, cues ended
    bool debounced = false;                    ///< pin_active is already debounced (for the proof), and every change an edge …
    std::uint32_t unheard = 0;                 ///< … but of these inputs, which have not been believed since power-up; one bit each
    int clock_cue = -1;                        ///< proof only: this cue's time of day comes now
    std::vector<int> words;                    ///< inputs whose word was said
    struct Sent {
        int input;
        std::int32_t reading;
    };
    std::vector<Sent> numbers;             ///< sent over the link, 0 … 1023
    std::span<const std::int32_t> pulses;  ///< per input: pulses that came in this tick
    bool link = false;                     ///< the link has spoken
    /// The desk's hand on an output: permille of full, or a place to go to in some ticks; hand_own: as its loop or duty
    /// says; hand_off: let go. Not part of the proof; the interlocks still hold.
    struct ByHand {
        int output;
        std::int32_t value;
        std::int32_t ticks;
    };
    std::vector<ByHand> hands{};
};

/// The state after power-up: outputs at rest, cues idle, clock lost.
[[nodiscard]] State powerUp(const Program& program);
/// The state after power has gone and come back: what is remembered comes on again once every input is known.
[[nodiscard]] State powerBack(const Program& program, const State& before);
/// Sets the time of day, and with it what has been missed by a little.
void setClock(State& state, std::int32_t ticks_after_midnight);
/// Changes a number while it runs: what waits by the old one is looked at again.
void setNumber(State& state, std::size_t number, std::int32_t value);
/// Sets the date. @param month  1 … 12  @param day  1 … 31
void setDate(State& state, int year, int month, int day);
/// Whether a loop reads this input.
[[nodiscard]] bool isLooped(const Program& program, std::size_t input);
/// True of an input whose silence must not set anything in motion: until it is known it counts as active.
[[nodiscard]] bool isCautious(const Program& program, std::size_t input);
/// What an input that has no contact says by itself: a number, a counter, days, a tach.
[[nodiscard]] bool truthOf(const Program& program, const State& state, std::size_t input);
/// True when the output, as it is now, and the rest of the statement are so.
[[nodiscard]] bool holds(const Program& program, const State& state, const ProgramInterlock& interlock);
/// True while an output does something: a switched one is on, the others move.
[[nodiscard]] bool isOn(const Program& program, const State& state, std::size_t output);
/// Share of its full drive, 0 to 1: the duty; of a mover 1 while it moves, its holding share after.
[[nodiscard]] double driveOf(const Program& program, const State& state, std::size_t output);
/// Of a stepper that goes on: 2^-48 of a step that a level of 1 makes in a tick, as spark::StepRate takes it.
[[nodiscard]] std::int64_t rateUnit(const ProgramOutput& output);
/// The same with the way that it is set: below 0 it is turned round.
[[nodiscard]] double signedDriveOf(const Program& program, const State& state, std::size_t output);
/// True where its bridge lets the motor run out by itself: it is off, and no cue has braked it.
[[nodiscard]] bool coasts(const Program& program, const State& state, std::size_t output);
/// Permille that a switched output is given while it is on: by the desk's hand, a follower, a fade or a loop, else its own.
[[nodiscard]] std::int32_t givenPermille(const Program& program, const State& state, std::size_t output);
/// A level as a share of what the output can be: of full power, or of the way of its move.
[[nodiscard]] double shareOf(const ProgramOutput& output, std::int32_t level);
using spark::fine_parts;
/// How an output goes to a place in some ticks. @param gentle  the instruction's  @param home  it looks for its start
[[nodiscard]] Profile profileOf(OutputKind kind, std::int32_t duration, bool gentle, bool home = false);
/// Highest speed of a move, in ways a tick: 1/T straight, 2/T gentle, 1/(T − even_ramp) even.
[[nodiscard]] double peakSpeed(Profile profile, std::int32_t duration);
/// Place after `elapsed` of `duration` ticks, in fine parts: spark::finePlaceAt with the move's own speed.
[[nodiscard]] std::int32_t finePlaceAt(Profile profile, std::int32_t from, std::int32_t target, std::int32_t elapsed,
                                       std::int32_t duration);
/// Whether a loop drives it both ways.
[[nodiscard]] bool isTurnedByLoop(const Program& program, std::size_t output);
/// Whether some cue looks for this output's start by an input: until it was found, its place is not known, and no cue moves it.
[[nodiscard]] bool isHomed(const Program& program, std::size_t output);
/// Where a search for the start begins to count: as far from it as the output can be, an eighth of the way and home_extra steps more,
/// so that lost steps do not keep it from its switch.
[[nodiscard]] std::int32_t homingFrom(const ProgramOutput& output);
/// Inputs whose word, any of them, the link must say with a command that starts this cue, drives this output or sets this number: those
/// that start a cue which does the same. Empty: none is needed.
[[nodiscard]] std::vector<int> wordsOfCue(const Program& program, std::size_t cue);
[[nodiscard]] std::vector<int> wordsOfOutput(const Program& program, std::size_t output);
[[nodiscard]] std::vector<int> wordsOfParameter(const Program& program, std::size_t parameter);
/// Permille after `elapsed` of `duration` ticks of a fade.
[[nodiscard]] std::int32_t fadedShare(std::int32_t from, std::int32_t target, std::int32_t elapsed, std::int32_t duration);
/// The compare value of an output that has been on for `on_for` ticks (1 is the first).
[[nodiscard]] std::int32_t rampLevel(std::int32_t permille, std::int32_t top, std::int32_t on_for, std::int32_t ramp);

}  // namespace hinge::routine

// Compiled once, in machine.cpp: else every file that copies one would compile it anew.
extern template class std::vector<hinge::routine::ProgramGuard>;
extern template class std::vector<hinge::routine::Instruction>;
extern template class std::vector<hinge::routine::ProgramTerm>;
extern template class std::vector<hinge::routine::Parameter>;
extern template class std::vector<hinge::routine::ProgramInput>;
extern template class std::vector<hinge::routine::ProgramOutput>;
extern template class std::vector<hinge::routine::ProgramCue>;
extern template class std::vector<hinge::routine::ProgramInterlock>;
extern template class std::vector<hinge::routine::ProgramFollower>;
extern template class std::vector<hinge::routine::ProgramLoop>;
