#pragma once
// A program's tables (routine/machine.hpp) printed in the words of firmware/runtime/spark_words.h, so that the sketch reads as the routine
// reads.
#include <string>
#include "routine/program.hpp"

namespace hinge::firmware {

/// In capitals, whatever the locale.
[[nodiscard]] std::string capitals(std::string text);
/// The enumerators by which the sketch knows a program's numbers, inputs, outputs and cues.
[[nodiscard]] std::string numberName(const routine::Program& program, int parameter);
[[nodiscard]] std::string inputName(const routine::Program& program, int input);
[[nodiscard]] std::string outputName(const routine::Program& program, int output);
[[nodiscard]] std::string cueName(const routine::Program& program, int cue);

/// Whether an output is ever braked.
[[nodiscard]] bool brakesAny(const routine::Program& program);
/// What a program has, as lines "#define SPARK_MOVES 1": the rest is left out of its sketch.
/// @param expands  outputs behind an expander
/// @param radio  a radio on a line of its own
[[nodiscard]] std::string switchesText(const routine::Program& program, bool linked, bool saves, bool expands, bool radio);
/// All tables, each cue under a comment that says it in a sentence.
[[nodiscard]] std::string tablesText(const routine::Program& program);
/// "Rain: when Start is true, or at 14:30; unless Tank empty (also while it runs)".
[[nodiscard]] std::string sentenceOf(const routine::Program& program, const routine::ProgramCue& cue);

}  // namespace hinge::firmware
