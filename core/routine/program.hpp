#pragma once
// The flat, non-blocking program that one tick of 1 ms runs. Whole numbers only, so that the
// interpreter on the desk and the sketch on the chip agree to the tick.
#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace hinge::routine {

inline constexpr std::int32_t ticks_per_second = 1000;
inline constexpr std::int32_t ticks_per_day = 86'400'000;

/// A number that may be changed live over the link. Whole, in the unit named.
struct Parameter {
    std::string name;   ///< an identifier: letters, digits, underscore
    std::string unit;   ///< "ms" or "permille"
    std::string meaning;
    std::int32_t value = 0;
    std::int32_t least = 0;
    std::int32_t most = 0;
    std::string source; ///< the working the number came from
    friend bool operator==(const Parameter&, const Parameter&) = default;
};

struct ProgramInput {
    std::string id;
    std::string name;
    bool active_high = false;      ///< active when the pin reads high
    std::int32_t debounce = 20;    ///< ticks a new level must last
    friend bool operator==(const ProgramInput&, const ProgramInput&) = default;
};

struct ProgramOutput {
    std::string id;
    std::string name;
    int duty_parameter = 0;        ///< index: permille of full
    int ramp_parameter = 0;        ///< index: ticks from 0 to the duty
    int off_delay_parameter = 0;   ///< index: ticks it stays on after its reason has gone
    std::int32_t top = 255;        ///< compare value of full on
    friend bool operator==(const ProgramOutput&, const ProgramOutput&) = default;
};

enum class Operation { On, Off, Wait };
struct Instruction {
    Operation operation = Operation::Off;
    int output = -1;      ///< On, Off
    int parameter = -1;   ///< Wait: index of its ticks
    friend bool operator==(const Instruction&, const Instruction&) = default;
};

struct ProgramGuard {
    int input = 0;
    bool throughout = true;
    friend bool operator==(const ProgramGuard&, const ProgramGuard&) = default;
};

struct ProgramCue {
    std::string id;
    std::string name;
    std::vector<int> inputs;                 ///< an edge to active of any of these starts it
    std::vector<std::int32_t> times_of_day;  ///< ticks after midnight
    std::vector<ProgramGuard> guards;
    std::vector<Instruction> instructions;
    friend bool operator==(const ProgramCue&, const ProgramCue&) = default;
};

struct ProgramInterlock {
    std::string id;
    std::string text;
    int output = 0;   ///< must not be on …
    int input = 0;    ///< … with this active; the output gives way
    friend bool operator==(const ProgramInterlock&, const ProgramInterlock&) = default;
};

struct Program {
    std::vector<Parameter> parameters;
    std::vector<ProgramInput> inputs;
    std::vector<ProgramOutput> outputs;
    std::vector<ProgramCue> cues;
    std::vector<ProgramInterlock> interlocks;
    friend bool operator==(const Program&, const Program&) = default;
};

/// All that changes while the program runs.
struct State {
    std::vector<std::int32_t> parameters;     ///< live values
    std::vector<std::uint8_t> active;         ///< debounced, per input
    std::vector<std::uint8_t> candidate;      ///< level that waits to be believed
    std::vector<std::int32_t> steady;         ///< ticks it has lasted
    std::vector<std::uint8_t> heard;          ///< per input: believed at least once since power-up
    std::vector<std::int32_t> place;          ///< per cue: next instruction, -1 when idle
    std::vector<std::int32_t> wait;           ///< per cue: ticks left
    std::vector<std::uint8_t> asked;          ///< per output: some cue wants it on
    std::vector<std::int32_t> off_delay;      ///< per output: ticks left
    std::vector<std::int32_t> on_for;         ///< per output: ticks since it went on, 0 when off
    std::vector<std::int32_t> level;          ///< per output: compare value now
    bool clock_set = false;
    std::int32_t clock = 0;                   ///< ticks after midnight
    friend bool operator==(const State&, const State&) = default;
};

/// What arrives from outside in one tick.
struct Happening {
    std::span<const std::uint8_t> pin_active;  ///< per input: the pin stands at its active level
    std::vector<int> start_cues;               ///< started over the link; guards apply
    bool stop = false;                         ///< everything to its safe state, cues ended
    bool debounced = false;                    ///< pin_active is already debounced, and every change an edge (for the proof)
    int clock_cue = -1;                        ///< proof only: this cue's time of day comes now
};

/// The state after power-up: outputs off, cues idle, clock lost.
[[nodiscard]] State powerUp(const Program& program);
/// One tick: inputs, then triggers in list order, then moves, then outputs.
/// @param enforce  the interlocks' last stage before the pins; off for the proof
void tick(const Program& program, State& state, const Happening& happening, bool enforce = true);
/// The compare value of an output that has been on for `on_for` ticks (1 is the first).
[[nodiscard]] std::int32_t rampLevel(std::int32_t permille, std::int32_t top, std::int32_t on_for, std::int32_t ramp);

}  // namespace hinge::routine
