#pragma once
// A maker's own firmware, as it ran, laid against the plan.
#include <string>
#include <vector>
#include "plan/plan.hpp"
#include "plant/firmware_seen.hpp"

namespace hinge::proof {

/// One thing that it does, beside what the plan says, and what to do about it.
struct OwnFact {
    std::string channel;  ///< id; empty: of the whole sketch
    std::string what, is, should;
    Verdict verdict = Verdict::Unknown;
    std::string text;
};
/// @param planned_starts  per output: how often the plan's own routine turns it on under the same script; empty: not known
/// PWM, pulses and steps as checkCapture() judges them; how often each output went on against the plan's own routine under the
/// same script, and so what fires twice or never; outputs that are on at the start; how long loop() blocks (20 ms holds, 50 ms
/// is tight: a press is as short as that); interrupts lost; resets; first of all, where it was not watched to the end. (Limits: common
/// practice, no published source.)
[[nodiscard]] std::vector<OwnFact> ownFacts(const plant::FirmwareSeen& seen, const project::Project& project, const plan::Plan& plan,
                                            const std::vector<int>& planned_starts);

}  // namespace hinge::proof
