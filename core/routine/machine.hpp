#pragma once
// A program laid out as the runtime's tables (firmware/runtime/spark_program.h), and its ticks, which are the runtime's own.
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
