#pragma once
#include <vector>
#include "routine/program.hpp"

namespace hinge::routine {

/// The part of a program that some outputs can feel: the cues that touch them, what those touch, and the inputs they read.
/// Cues meet only in outputs and no cue reads an output, so whatever is left out can change neither when these cues run nor
/// what they ask. What an interval, a held input or another cue's end would start may start at any tick.
struct Slice {
    Program program;
    std::vector<int> inputs, outputs, cues;  ///< places in the whole program
    std::vector<std::uint8_t> first;         ///< inputs at power-up, as the whole program takes them
    int idle = -1;                           ///< an input that matters only by not having been read yet, or −1
};
/// @param rule   the interlock, or nullptr
/// @param output the output that matters where there is no rule
/// @param loose  moves from where a mover stands, where that mover is not what the question is about, may lead out of its way at any time,
///               and do not move it: more can happen than does, and far fewer states are to be looked at. An input of its own says which.
///               For what must never be, not for what must be possible.
[[nodiscard]] Slice sliceFor(const Program& whole, const ProgramInterlock* rule, int output, bool loose = false);
/// Whether anything is different then.
[[nodiscard]] bool hasLoose(const Program& whole);

}  // namespace hinge::routine
