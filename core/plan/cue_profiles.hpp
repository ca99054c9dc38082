#pragma once
// What each cue of a routine does to the outputs when it runs alone: the supply is judged by these.
#include <cstdint>
#include <memory>
#include <vector>
#include "routine/program.hpp"
#include "routine/state.hpp"

namespace hinge::plan {

enum class Phase : std::uint8_t { Off, On, Moving, Holding, Jammed };
/// The outputs from an instant on.
struct DriveChange {
    double time = 0.0;               ///< s
    std::vector<Phase> phases;       ///< per output
    std::vector<float> shares = {};  ///< per output: of the duty that its figures hold for; empty: all of it
    double supply = 1.0;             ///< share of their volts that the sources give
};
/// What each output does in a state of the program.
[[nodiscard]] std::vector<Phase> phasesOf(const routine::Program& program, const routine::State& state);
/// What one cue does when it runs alone from power-up; its times count from its start.
struct CueProfile {
    int cue = 0;        ///< −1: an output that no cue starts (it follows an input, a loop holds it, it is on at rest)
    bool tail = false;  ///< looked at after its end only: outputs that run on, while it may have started anew
    std::vector<DriveChange> changes;
    std::size_t first = 0, last = 0;  ///< the changes that are looked at
};

/// One cue followed from power-up.
struct CueCourse {
    routine::Program reads;            ///< the program as far as this cue's course reads it: no names, nothing of the other cues
    std::vector<CueProfile> profiles;  ///< none, or it, or it and its tail
};
/// All cues of a program, and what draws without one.
struct CueProfiles {
    routine::Program reads;                                 ///< without names
    std::vector<std::shared_ptr<const CueCourse>> courses;  ///< as its cues
    std::vector<CueProfile> profiles;
};
/// @param before  of programs that were followed earlier: what reads the very same is taken from them, in this order; nullptr: none
[[nodiscard]] std::shared_ptr<const CueProfiles> cueProfiles(const routine::Program& program,
                                                             std::initializer_list<const std::shared_ptr<const CueProfiles>> before = {});

}  // namespace hinge::plan
