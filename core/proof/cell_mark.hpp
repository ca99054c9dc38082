#pragma once
#include "plan/plan.hpp"

namespace hinge::proof {

/// Lets a channel's Prove cell say what was found about it: what breaks goes before what is tight, and both before what is not known yet.
inline void markProved(plan::Plan& plan, const std::string& channel, Verdict verdict) {
    for (auto& each : plan.channels) {
        if (each.id != channel) continue;
        auto& cell = each.cells[static_cast<std::size_t>(project::Stage::Prove)];
        const Verdict before = cell.verdict;
        if (verdict == Verdict::Breaks || (verdict == Verdict::Tight && before != Verdict::Breaks)) cell.verdict = verdict;
        if (before == Verdict::Unknown && cell.verdict != Verdict::Unknown) --plan.headline.unknown;
    }
}

}  // namespace hinge::proof
