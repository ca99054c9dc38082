#pragma once
// A maker's own firmware, as it ran, laid against the plan.
#include "plan/plan.hpp"
#include "plant/stand_in.hpp"
#include <string>
#include <vector>

namespace hinge::proof {

/// What was seen of it; the emulator gives this.
struct OwnSeen {
    std::vector<plant::Edge> edges;
    double length = 0.0;              ///< s
    bool loop_known = false;
    std::uint64_t loops = 0;
    double longest_loop = 0.0, longest_at = 0.0, mean_loop = 0.0;   ///< s
    double interrupt_share = 0.0, longest_interrupt = 0.0;          ///< of the processor; s
    int resets = 0;
    std::uint64_t ticks_due = 0, ticks_served = 0;                  ///< of the timer behind millis()
    std::vector<int> on_at_start, never_output;                     ///< outputs
    std::vector<int> planned_starts;  ///< per output: how often the plan's own routine turns it on under the same script; empty: not known
};
/// One thing that it does, beside what the plan says, and what to do about it.
struct OwnFact {
    std::string channel;   ///< id; empty: of the whole sketch
    std::string what, is, should;
    Verdict verdict = Verdict::Unknown;
    std::string text;
};
/// PWM, pulses and steps as checkCapture() judges them; how often each output went on against the plan's own routine under the
/// same script, and so what fires twice or never; outputs that are on at the start; how long loop() blocks (20 ms holds, 50 ms
/// is tight: a press is as short as that); interrupts lost; resets. (Limits: common practice, no published source.)
[[nodiscard]] std::vector<OwnFact> ownFacts(const OwnSeen& seen, const project::Project& project, const plan::Plan& plan);

}  // namespace hinge::proof
