#pragma once
// A sketch for one hold point: the gadget's own pins and safety, and nothing moves but the channel under test.
#include "plan/firmware_model.hpp"

namespace hinge::proof {

/// One thing that a test sketch does when its word is said.
struct TestWord {
    std::string word;  ///< said over the link: "say run"
    std::string does;  ///< in words
};
struct TestSketch {
    project::Project project;  ///< the gadget with the test's routine instead of its own
    std::vector<TestWord> words;
    firmware::Sketch sketch;
};
/// What is switched: "run", on for as long as is safe to look at, then off by itself. A servo: "middle" (1.5 ms, before its horn goes on),
/// then "there" and "back". A stepper: "step", one full step's worth of its way, then "there" and "back". Where the ends are what is to be
/// found, a servo goes "out1" to "out4" and "in1" to "in4", a tenth of a millisecond each from its middle; a stepper a tenth of a turn
/// there and back. Interlocks about the channel stay; cues, followers and loops go. Every other output stays in its safe state.
/// @error Unknown  no such channel
/// @error Missing  its pin or its pulses are not settled
/// @param plain  the project's plan without evidence, where it is there already; nullptr: it is made
[[nodiscard]] Result<TestSketch> testSketch(const project::Project& project, const project::Parts& parts, const std::string& channel,
                                            const plan::Plan* plain = nullptr);

}  // namespace hinge::proof
