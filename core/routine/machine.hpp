#pragma once
// A program laid out as the runtime's tables (firmware/runtime/spark_program.h), and its ticks, which are the runtime's own.
#include "firmware/runtime/spark_commands.h"
#include "routine/program.hpp"

namespace hinge::routine {

/// The tables of a program. Rows point into each other: it is moved, not copied.
struct Tables {
    std::vector<spark::Input> inputs;
    std::vector<spark::Output> outputs;
    std::vector<spark::Start> starts;
    std::vector<spark::Guard> guards;
    std::vector<spark::Step> steps;
    std::vector<spark::Cue> cues;
    std::vector<spark::Term> terms;
    std::vector<spark::Interlock> interlocks;
    std::vector<spark::Follower> followers;  ///< those of one output one after another
    std::vector<spark::Holder> holders;
    std::vector<std::uint8_t> unlesses;
    std::int16_t silence = spark::no_number;

    explicit Tables(const Program& program);
    Tables(const Tables&) = delete;
    Tables& operator=(const Tables&) = delete;
    Tables(Tables&&) = default;
    Tables& operator=(Tables&&) = default;
};

/// What the runtime asks of a gadget, on the desk: a program's tables and a state. What comes from outside is not in it.
struct Reach {
    const Tables& tables;
    State& state;

    [[nodiscard]] std::uint8_t inputs() const { return static_cast<std::uint8_t>(tables.inputs.size()); }
    [[nodiscard]] std::uint8_t outputs() const { return static_cast<std::uint8_t>(tables.outputs.size()); }
    [[nodiscard]] std::uint8_t cues() const { return static_cast<std::uint8_t>(tables.cues.size()); }
    [[nodiscard]] std::uint8_t followers() const { return static_cast<std::uint8_t>(tables.followers.size()); }
    [[nodiscard]] std::uint8_t interlocks() const { return static_cast<std::uint8_t>(tables.interlocks.size()); }
    [[nodiscard]] std::uint8_t holders() const { return static_cast<std::uint8_t>(tables.holders.size()); }
    [[nodiscard]] const spark::Input* inputRow(std::uint8_t i) const { return tables.inputs.data() + i; }
    [[nodiscard]] const spark::Output* outputRow(std::uint8_t o) const { return tables.outputs.data() + o; }
    [[nodiscard]] const spark::Cue* cueRow(std::uint8_t c) const { return tables.cues.data() + c; }
    [[nodiscard]] const spark::Follower* followerRow(std::uint8_t f) const { return tables.followers.data() + f; }
    [[nodiscard]] const spark::Interlock* interlockRow(std::uint8_t r) const { return tables.interlocks.data() + r; }
    [[nodiscard]] const spark::Holder* holderRow(std::uint8_t l) const { return tables.holders.data() + l; }
    [[nodiscard]] spark::InputState& input(std::uint8_t i) const { return state.input(i); }
    [[nodiscard]] spark::OutputState& output(std::uint8_t o) const { return state.output(o); }
    [[nodiscard]] spark::CueState& cue(std::uint8_t c) const { return state.cue(c); }
    [[nodiscard]] spark::HolderState& holder(std::uint8_t l) const { return state.holder(l); }
    [[nodiscard]] std::uint32_t& hush(std::uint8_t t) const { return state.hush(t); }
    [[nodiscard]] std::int32_t& number(std::int16_t n) const { return state.number(n); }
    [[nodiscard]] spark::WholeState& whole() const { return *state.operator->(); }
};

/// Characters of the longest line that the link may say to this program, and its end.
[[nodiscard]] std::size_t lineRoom(const Program& program);
/// Values of a frame of its telemetry, which has room for so many: levels, then what is measured.
[[nodiscard]] std::size_t frameValues(const Program& program, std::size_t most);
/// What the link does only with one of the words that start it; words by their order among the inputs that are said.
[[nodiscard]] std::vector<spark::Permit> permitsOf(const Program& program);

/// A program that can be run.
class Machine {
public:
    explicit Machine(Program program) : program_{std::move(program)}, tables_{program_} {}

    [[nodiscard]] const Program& program() const { return program_; }
    [[nodiscard]] const Tables& tables() const { return tables_; }
    /// One tick: inputs, then triggers in list order, then moves, then outputs.
    /// @param enforce  the interlocks' last stage before the pins; off for the proof
    void tick(State& state, const Happening& happening, bool enforce = true) const;

private:
    Program program_;
    Tables tables_;
};

}  // namespace hinge::routine
