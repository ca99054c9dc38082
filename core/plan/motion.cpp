#include "plan/motion.hpp"
#include "quantity/constants.hpp"
#include "quantity/text.hpp"
#include "routine/program.hpp"
#include "timing/servo_pulse.hpp"
#include "timing/steps.hpp"
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace hinge::plan {
namespace {

void add(Plan& plan, const Finding& finding, Stage stage, const std::string& channel, std::vector<Remedy> remedies = {}) {
    plan.findings.push_back({finding.id, finding.severity, stage, channel, finding.text, std::move(remedies)});
}

}  // namespace

void evaluateMotion(const project::Channel& channel, const project::Parts& parts, Plan& plan, ChannelPlan& out) {
    const auto* part = match::partOf(out.context, parts, channel.actuator);
    const auto& asked = out.context.ask;
    if (part == nullptr || !asked.angle || !asked.time) return;
    const double ratio = out.context.gear_ratio;
    const auto show = [&](const char* title, const auto& worked) {
        plan.workings.push_back({title, Stage::Pulse, channel.id, worked.steps, worked.verdict});
        for (const auto& finding : worked.findings) add(plan, finding, Stage::Pulse, channel.id);
    };
    if (const auto* servo = std::get_if<actuator::Servo>(part); servo != nullptr && out.signal == SignalKind::ServoPulse) {
        if (!channel.calibration.pulse_min || !channel.calibration.pulse_max || !servo->range) return;
        const auto pulseAt = [&](double angle) {
            timing::ServoPulse in;
            in.pulse_min = *channel.calibration.pulse_min;
            in.pulse_max = *channel.calibration.pulse_max;
            in.angle_range = *servo->range;
            in.angle = of<Angle>(angle);
            return timing::servoPulse(in);
        };
        // The move stands in the middle of the servo's range, so that travel is left on both sides.
        const double sweep = si(*asked.angle) * ratio, start = std::max(0.0, (si(*servo->range) - sweep) / 2.0);
        const auto from = pulseAt(start), to = pulseAt(start + sweep);
        if (from && to) {
            show("pulse at the end of the move", *to);
            out.motion.pulse_from = from->result.pulse;
            out.motion.pulse_to = to->result.pulse;
            out.motion.pulse_per_angle = (si(*channel.calibration.pulse_max) - si(*channel.calibration.pulse_min)) / si(*servo->range) * ratio;
        }
    }
    if (const auto* stepper = std::get_if<actuator::Stepper>(part); stepper != nullptr && out.signal == SignalKind::Steps) {
        timing::StepTiming in;
        in.steps_per_turn = of<Count>(std::round(si(stepper->steps_per_turn) * si(stepper->gear_ratio) * ratio));
        in.microsteps = channel.signal.microsteps;
        in.travel_per_turn = {2.0 * constants::pi, Kind::Angle};
        in.distance = {si(*asked.angle), Kind::Angle};
        if (asked.travel_per_turn && asked.stroke) in.travel_per_turn = {si(*asked.travel_per_turn), Kind::Length}, in.distance = {si(*asked.stroke), Kind::Length};
        in.duration = *asked.time;
        const auto worked = timing::stepTiming(in);
        if (!worked) return;
        show("steps of one move", *worked);
        out.motion.steps = worked->result.steps;
        out.motion.step_rate = worked->result.step_rate;
        const double steps = si(worked->result.steps), time = si(*asked.time);
        out.motion.peak_rate = of<Frequency>(2.0 * steps / time);
        if (steps < 2.0) return;
        timing::StepProfile profile;
        profile.steps = worked->result.steps;
        profile.rate = of<Frequency>(2.0 * steps / time);
        profile.acceleration = of<StepAcceleration>(4.0 * steps / (time * time));
        if (const auto ramp = timing::stepProfile(profile)) show("its ramp, triangular", *ramp);
        // The sketch steps on a beat of 62.5 µs: sixteen steps a millisecond.
        const double most = 16e3;
        if (si(*out.motion.peak_rate) > most) {
            const double coarser = std::exp2(std::floor(std::log2(si(channel.signal.microsteps) * most / si(*out.motion.peak_rate))));
            std::vector<Remedy> remedies;
            if (coarser >= 1.0) remedies.push_back({fmt::format("Use {:.0f} micro-steps", coarser), {{"channels/" + channel.id + "/signal/microsteps", fmt::format("{:.0f}", coarser)}}, "a little more noise"});
            add(plan, {"step-too-fast", Severity::Stop, fmt::format("At its fastest the move wants {}; the sketch steps at most {}.", display(*out.motion.peak_rate), display(Kind::Frequency, most))}, Stage::Pulse, channel.id, std::move(remedies));
        }
        if (steps > routine::largest_place)
            add(plan, {"move-too-long", Severity::Stop, fmt::format("A move of {:.0f} steps is more than the {} that the sketch counts.", steps, routine::largest_place)}, Stage::Pulse, channel.id);
    }
}

}  // namespace hinge::plan
