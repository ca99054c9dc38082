#include "proof/own_sketch.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "plan/apart.hpp"
#include "plan/firmware_model.hpp"
#include "plant/on_times.hpp"
#include "proof/capture_check.hpp"
#include "quantity/text.hpp"

namespace hinge::proof {
namespace {

// Times that an output went on after having been off for longer than a servo's frame, or between two long times.
int turnsOn(const plant::FirmwareSeen& seen, int output, const plan::ChannelPlan& planned) {
    if (planned.latch)
        return static_cast<int>(std::count_if(seen.latchings.begin(), seen.latchings.end(),
                                              [&](const plant::Edge& edge) { return edge.output == output && edge.level != 0; }));
    const double apart = planned.signal == plan::SignalKind::StepRate ? std::max(0.25, 3.0 / si(*planned.motion.step_rate)) : 0.045;
    if (!planned.motion.pulse_still) return static_cast<int>(plant::onTimes(seen.edges, output, apart).size());
    const auto edges = plant::speedEdges(seen.edges, output, si(*planned.motion.pulse_still), seen.length);
    return static_cast<int>(std::count_if(edges.begin(), edges.end(), [](const plant::Edge& edge) { return edge.level != 0; }));
}

}  // namespace

std::vector<OwnFact> ownFacts(const plant::FirmwareSeen& seen, const project::Project& project, const plan::Plan& plan,
                              const std::vector<int>& planned_starts) {
    if (plan.apart) return ownFacts(seen, plan.apart->project(), plan.apart->plan, planned_starts);
    std::vector<OwnFact> facts;
    const auto time = [](double seconds) { return display(Kind::Duration, seconds, 3); };
    // What was not watched is said first: everything below is about the time before.
    if (seen.cut)
        facts.push_back({"", "watched", "only for " + time(seen.length), "", Verdict::Unknown,
                         "It switches its pins so often that no more edges were kept; what it does later is not known."});
    if (seen.loop_known) {
        const bool blocks = seen.longest_loop > 0.05, slow = seen.longest_loop > 0.02;
        facts.push_back(
            {"", "longest time between two loops", seen.loops == 0 ? "loop() is never reached" : time(seen.longest_loop), "20 ms at most",
             seen.loops == 0 || blocks ? Verdict::Breaks
             : slow                    ? Verdict::Tight
                                       : Verdict::Holds,
             seen.loops == 0 ? "setup() does not come to its end."
             : blocks ? fmt::format("At {} it stands still: no button, end switch or stop is seen in that time.", time(seen.longest_at))
                      : ""});
        if (seen.loops > 1) facts.push_back({"", "mean time of a loop", time(seen.mean_loop), "", Verdict::Holds, ""});
    } else {
        facts.push_back(
            {"", "time of a loop", "not known", "", Verdict::Unknown, "Only a sketch that is compiled here shows where its loop begins."});
    }
    facts.push_back(
        {"", "interrupts",
         fmt::format("{} of the processor, the longest {}", display(Kind::Fraction, seen.interrupt_share, 2), time(seen.longest_interrupt)),
         "",
         seen.interrupt_share > 0.5   ? Verdict::Breaks
         : seen.interrupt_share > 0.3 ? Verdict::Tight
                                      : Verdict::Holds,
         ""});
    if (seen.ticks_due > 0) {
        const auto lost = seen.ticks_due > seen.ticks_served ? seen.ticks_due - seen.ticks_served : 0;
        facts.push_back(
            {"", "interrupts of its clock lost", fmt::format("{} of {}", lost, seen.ticks_due), "none",
             lost > 2 ? Verdict::Breaks : Verdict::Holds,
             lost > 2 ? "Something holds interrupts off for more than a millisecond: millis() runs slow, and every time with it." : ""});
    } else {
        facts.push_back({"", "its clock", "not as the sketch API sets it", "", Verdict::Unknown,
                         "Timer 0 is used for something else, or not at all: millis() and delay() do not keep time."});
    }
    if (seen.resets > 0)
        facts.push_back({"", "resets", std::to_string(seen.resets), "none", Verdict::Breaks,
                         "It started anew by itself: a watchdog, or memory that ran out."});
    const auto driven = plan::drivenChannels(project, plan);
    std::string floating, first_floating, also;
    for (std::size_t o = 0; o < driven.size(); ++o) {
        const int index = static_cast<int>(o);
        const auto& name = driven[o]->name;
        if (std::find(seen.never_output.begin(), seen.never_output.end(), index) != seen.never_output.end()) {
            (floating.empty() ? first_floating : also) = driven[o]->id;
            floating += (floating.empty() ? "" : ", ") + name + " on " + driven[o]->pin;
            continue;
        }
        const auto* of_plan = plan::findChannel(plan, driven[o]->id);
        if (driven[o]->safe != project::SafeState::On && of_plan != nullptr && !kinds::isServoPulse(of_plan->signal) &&
            std::find(seen.on_at_start.begin(), seen.on_at_start.end(), index) != seen.on_at_start.end())
            facts.push_back({driven[o]->id, name + " at the start", "on within the first tenth of a second", "off", Verdict::Breaks,
                             "Set the level before pinMode(): else it moves at every reset."});
        if (o >= planned_starts.size() || of_plan == nullptr || plan::isPlaced(*of_plan)) continue;
        const int does = turnsOn(seen, index, *of_plan), should = planned_starts[o];
        facts.push_back({driven[o]->id, name + " goes on", fmt::format("{} times", does), fmt::format("{} times", should),
                         does == should ? Verdict::Holds : Verdict::Breaks,
                         does == should  ? ""
                         : does == 0     ? "It never does, under the same inputs."
                         : does > should ? "It fires more than once where the routine starts it once: a bounce, a level taken for an edge, "
                                           "or an alarm that stays true."
                                         : "It misses starts: what blocks does not see them."});
    }
    if (!floating.empty())
        facts.push_back({also.empty() ? first_floating : "", "never made outputs", floating, "outputs", Verdict::Breaks,
                         "Their pins stay inputs: the wires float. Are they other pins in the sketch?"});
    for (const auto& check : checkCapture(captureOf(seen.edges, project, plan, seen.length, 2'000'000), project, plan))
        facts.push_back({check.channel, fmt::format("{}: {}", check.signal, check.what), display(check.kind, check.measured, 4),
                         display(check.kind, check.planned, 4), check.verdict, check.text});
    return facts;
}

}  // namespace hinge::proof
