#pragma once
// Steps of the bring-up that several phases make, and the ranges of their readings.
#include <fmt/format.h>
#include "kinds/actuator_kind.hpp"
#include "plan/feed.hpp"
#include "proof/bring_up.hpp"
#include "quantity/text.hpp"

namespace hinge::proof {

inline void range(Step& step, double expected, double share_below, double share_above, std::string reason) {
    step.expected = expected;
    step.least = expected * (1.0 - share_below);
    step.most = expected * (1.0 + share_above);
    step.reason = std::move(reason);
}

/// A reading past a limit of a part is never accepted, however wide the range.
inline void neverOver(Step& step, std::optional<double> limit, const std::string& whose) {
    if (!step.most || !limit || *limit >= *step.most) return;
    step.most = *limit;
    if (step.least && *step.least > *limit) step.least = *limit;
    step.reason += fmt::format("; never over {}, {}", display(step.kind, *limit), whose);
}

/// One channel's current once it runs, or holds.
template <class Add>
void addRunning(const Add& add, const project::Channel& channel, const project::Parts& parts, const plan::ChannelPlan& numbers) {
    if (!numbers.chosen || !numbers.chosen->running || plan::onMains(channel)) return;
    const bool steps = kinds::isSteps(numbers.signal);
    auto& step = add(channel.id + ".running", channel.id, channel.name + (steps ? ": current at rest, enabled" : ": running current"),
                     steps ? "Belt off. Enable the driver, do not step, read the amps."
                           : fmt::format("Start {} alone, read the amps once they are steady.", channel.name),
                     "hand on the movers' switch", "ammeter in its plus", Kind::Current);
    step.caution = project::channelKind(channel) == project::ChannelKind::Heat ? "It gets hot: nothing that burns beside it."
                   : project::channelKind(channel) == project::ChannelKind::Switch
                       ? ""
                       : "Fingers clear: it moves without warning. Horn or belt off the first time.";
    range(step, steps ? numbers.chosen->numbers.rest : si(*numbers.chosen->running), 0.3, 0.3,
          steps ? "copper of both windings at the current set; three tenths either way"
                : "its figures under this load; three tenths either way");
    if (const auto* driver = project::findDriver(parts, channel.drive.part); driver != nullptr && driver->current_max && !steps)
        neverOver(step, si(*driver->current_max), "what its driver bears");
}

/// What a driver's own file says of it without its load, as steps.
template <class Add>
void addChecks(const Add& add, const project::Channel& channel, const std::vector<kinds::LoneCheck>& checks) {
    for (const auto& check : checks) {
        auto& step = add(channel.id + "." + check.id, channel.id, channel.name + ": " + check.title, check.what, check.ready,
                         check.instrument, check.kind);
        step.expected = check.expected, step.least = check.least, step.most = check.most;
        step.reason = check.reason;
        if (!check.abort.empty()) step.abort = check.abort;
        if (!check.caution.empty()) step.caution = check.caution;
        if (check.never_over) neverOver(step, *check.never_over, check.bears);
    }
}
inline kinds::Alone aloneOf(const project::Channel& channel, const driver::DriverPart& driver, const plan::ChannelPlan& numbers,
                            const plan::Plan& plan, const project::Parts& parts, double logic) {
    kinds::Alone alone{channel, project::findActuator(parts, channel.actuator), driver};
    for (const auto& rail : plan.rails)
        if (rail.id == channel.rail && rail.voltage) alone.volts = si(*rail.voltage);
    alone.logic = logic;
    alone.signal = numbers.signal;
    alone.share = si(numbers.closedFor(channel.signal.duty));
    alone.mains = plan::onMains(channel);
    alone.numbers = numbers.chosen ? &numbers.chosen->numbers : nullptr;
    return alone;
}

/// A motor with nothing on its shaft takes what its data sheet says for that.
template <class Add>
void addUncoupled(const Add& add, const project::Channel& channel, const project::Parts& parts, const plan::ChannelPlan& numbers) {
    const auto* part = project::findActuator(parts, channel.actuator);
    if (part == nullptr || numbers.signal != plan::SignalKind::Pwm) return;
    const double free = kinds::actuatorKind(*part).free_current(*part);
    if (!kinds::known(free)) return;
    auto& step = add(channel.id + ".uncoupled", channel.id, channel.name + ": running free",
                     "Belt, wheel or coupling off. Load its test sketch, say run, and read the amps.",
                     "hand on the movers' switch; wheel in the air", "ammeter in its plus", Kind::Current);
    range(step, free, 0.6, 0.8, "the data sheet's current without load; grease and brushes make it more or less");
    step.caution = "Fingers, hair and strings clear: it starts at once.";
}

}  // namespace hinge::proof
