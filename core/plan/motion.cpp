#include "plan/motion.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "driver/mains.hpp"
#include "firmware/runtime/spark_drive_phase.h"
#include "kinds/demand_kind.hpp"
#include "plan/feed.hpp"
#include "quantity/constants.hpp"
#include "quantity/text.hpp"
#include "routine/program.hpp"
#include "timing/horn_mount.hpp"
#include "timing/servo_pulse.hpp"
#include "timing/step_ramp.hpp"
#include "timing/steps.hpp"

namespace hinge::plan {
namespace {

void add(Plan& plan, const Finding& finding, Stage stage, const std::string& channel, std::vector<Remedy> remedies = {}) {
    plan.findings.push_back({finding.id, finding.severity, stage, channel, finding.text, std::move(remedies)});
}

}  // namespace

namespace {

// A pulse that says a speed: from the one at which it stands still, half a millisecond to full speed either way.
// @source common practice, no published source
void speedPulse(const project::Channel& channel, Plan& plan, ChannelPlan& out) {
    const auto still = channel.calibration.pulse_stop.value_or(of<Duration>(1.5e-3)), span = of<Duration>(0.5e-3);
    const double share = si(channel.signal.duty);
    out.motion.pulse_still = still;
    out.motion.pulse_span = span;
    Steps steps;
    addStep(steps, "tf", "pulse at its share, forwards", "{t0} + {s}·{d}", {{"t0", still}, {"s", span}, {"d", share}},
            of<Duration>(si(still) + si(span) * share), "common practice, no published source");
    addStep(steps, "tb", "and backwards", "{t0} − {s}·{d}", {{"t0", still}, {"s", span}, {"d", share}},
            of<Duration>(si(still) - si(span) * share), "common practice, no published source");
    plan.workings.push_back({"pulses that say its speed", Stage::Pulse, channel.id, steps, Verdict::Holds});
}

// The sketch steps on a beat of 62.5 µs: sixteen steps a millisecond.
constexpr double fastest_steps = 16e3;
void judgeRate(const project::Channel& channel, Plan& plan, double rate, const char* when) {
    if (rate <= fastest_steps) return;
    const double coarser = std::exp2(std::floor(std::log2(si(channel.signal.microsteps) * fastest_steps / rate)));
    std::vector<Remedy> remedies;
    if (coarser >= 1.0)
        remedies.push_back({fmt::format("Use {:.0f} micro-steps", coarser),
                            {{"channels/" + channel.id + "/signal/microsteps", fmt::format("{:.0f}", coarser)}},
                            "a little more noise"});
    add(plan,
        {"step-too-fast", Severity::Stop,
         fmt::format("{} wants {}; the sketch steps at most {}.", when, display(Kind::Frequency, rate),
                     display(Kind::Frequency, fastest_steps))},
        Stage::Pulse, channel.id, std::move(remedies));
}

// Steps that go on: at the speed that Need asks, from rest to it over the soft start.
void stepRate(const project::Channel& channel, const kinds::Stepping& stepper, Plan& plan, ChannelPlan& out) {
    const auto& asked = out.context->ask;
    if (!asked.speed) return;
    const double a_turn =
        std::round(si(stepper.steps_per_turn) * si(stepper.gear) * out.context->gear_ratio) * si(channel.signal.microsteps);
    const double rate = si(*asked.speed) / (2.0 * constants::pi) * a_turn, ramp = si(channel.signal.soft_start);
    out.motion.step_rate = out.motion.peak_rate = of<Frequency>(rate);
    Steps steps;
    addStep(steps, "N", "micro-steps a turn", "{s}·{g}·{µ}",
            {{"s", stepper.steps_per_turn}, {"g", si(stepper.gear) * out.context->gear_ratio}, {"µ", channel.signal.microsteps}},
            of<Count>(a_turn), "definition");
    addStep(steps, "f", "steps a second", "{ω}/(2·π)·{N}", {{"ω", *asked.speed}, {"N", a_turn}}, of<Frequency>(rate), "definition");
    if (ramp > 0.0)
        addStep(steps, "a", "its ramp, up and down", "{f}/{t}", {{"f", rate}, {"t", ramp}}, of<StepAcceleration>(rate / ramp),
                "definition");
    plan.workings.push_back({"steps that go on", Stage::Pulse, channel.id, steps, Verdict::Holds});
    judgeRate(channel, plan, rate, "At that speed it");
    if (!asked.run_up || ramp >= si(*asked.run_up) * (1.0 - 1e-9)) return;
    std::vector<Remedy> remedies;
    const std::string path = "channels/" + channel.id + "/";
    if (const double most = 5.0; si(*asked.run_up) <= most)
        remedies.push_back({"Start as softly as Need reckons",
                            {{path + "signal/soft_start", exactText(Kind::Duration, si(*asked.run_up))}},
                            "it takes as long to stop"});
    add(plan,
        {"start-too-steep", Severity::Warn,
         fmt::format("{} comes to its speed in {}; Need reckons with {}, and its motor is chosen for that. It may lose steps, or only hum.",
                     channel.name, display(channel.signal.soft_start), display(*asked.run_up))},
        Stage::Pulse, channel.id, std::move(remedies));
}

}  // namespace

void evaluateMotion(const project::Channel& channel, const project::Parts& parts, Plan& plan, ChannelPlan& out) {
    const auto* part = match::partOf(out.context, parts, channel.actuator);
    const auto& asked = out.context->ask;
    if (part != nullptr && out.signal == SignalKind::SpeedPulse) return speedPulse(channel, plan, out);
    if (part != nullptr && out.signal == SignalKind::StepRate)
        if (const auto stepper = kinds::actuatorKind(*part).stepping(*part)) return stepRate(channel, *stepper, plan, out);
    if (part == nullptr || !asked.angle || !asked.time) return;
    const double ratio = out.context->gear_ratio;
    const auto show = [&](const char* title, const auto& worked) {
        plan.workings.push_back({title, Stage::Pulse, channel.id, worked.steps, worked.verdict});
        for (const auto& finding : worked.findings) add(plan, finding, Stage::Pulse, channel.id);
    };
    const auto& kind = kinds::actuatorKind(*part);
    if (const double range = kind.range(*part); out.signal == SignalKind::ServoPulse) {
        if (!channel.calibration.pulse_min || !channel.calibration.pulse_max || !kinds::known(range)) return;
        const auto pulseAt = [&](double angle) {
            timing::ServoPulse in;
            in.pulse_min = *channel.calibration.pulse_min;
            in.pulse_max = *channel.calibration.pulse_max;
            in.angle_range = of<Angle>(range);
            in.angle = of<Angle>(angle);
            return timing::servoPulse(in);
        };
        // The move stands in the middle of the servo's range, so that travel is left on both sides.
        const double sweep = si(*asked.angle) * ratio, start = std::max(0.0, (range - sweep) / 2.0);
        const auto from = pulseAt(start), to = pulseAt(start + sweep);
        if (from && to) {
            show("pulse at the end of the move", *to);
            out.motion.pulse_from = from->result.pulse;
            out.motion.pulse_to = to->result.pulse;
            out.motion.pulse_per_angle = (si(*channel.calibration.pulse_max) - si(*channel.calibration.pulse_min)) / range * ratio;
        }
    }
    if (const auto stepper = kind.stepping(*part); stepper && out.signal == SignalKind::Steps) {
        timing::StepTiming in;
        in.steps_per_turn = of<Count>(std::round(si(stepper->steps_per_turn) * si(stepper->gear) * ratio));
        in.microsteps = channel.signal.microsteps;
        in.travel_per_turn = {2.0 * constants::pi, Kind::Angle};
        in.distance = {si(*asked.angle), Kind::Angle};
        if (asked.travel_per_turn && asked.stroke)
            in.travel_per_turn = {si(*asked.travel_per_turn), Kind::Length}, in.distance = {si(*asked.stroke), Kind::Length};
        in.duration = *asked.time;
        const auto worked = timing::stepTiming(in);
        if (!worked) return;
        show("steps of one move", *worked);
        out.motion.steps = worked->result.steps;
        out.motion.step_rate = worked->result.step_rate;
        const double steps = si(worked->result.steps), time = si(*asked.time);
        const auto ticks = static_cast<std::int32_t>(std::lround(std::clamp(time, 0.001, 86'400.0) * 1000.0));
        const bool even = routine::profileOf(routine::OutputKind::Stepper, ticks, false) == routine::Profile::Even;
        const double peak = steps * 1000.0 * routine::peakSpeed(even ? routine::Profile::Even : routine::Profile::Gentle, ticks);
        out.motion.peak_rate = of<Frequency>(peak);
        if (steps < 2.0) return;
        timing::StepProfile profile;
        profile.steps = worked->result.steps;
        profile.rate = of<Frequency>(peak);
        profile.acceleration = of<StepAcceleration>(peak / (even ? routine::even_ramp / 1000.0 : time / 2.0));
        if (const auto ramp = timing::stepProfile(profile)) show(even ? "its ramps, even between" : "its ramp, triangular", *ramp);
        if (asked.torque && stepper->holding) {
            timing::MicrostepTorque micro;
            micro.holding_torque = *stepper->holding;
            micro.microsteps = channel.signal.microsteps;
            micro.load_torque = of<Torque>(si(*asked.torque) / (ratio * si(stepper->gear)));
            micro.steps_per_turn = stepper->steps_per_turn;
            // Too weak a motor is Match's word; here stands what a micro-step is worth.
            if (const auto one = timing::microstepTorque(micro))
                plan.workings.push_back({"one micro-step, at full current", Stage::Pulse, channel.id, one->steps, Verdict::Holds});
        }
        judgeRate(channel, plan, si(*out.motion.peak_rate), "At its fastest the move");
        if (steps > routine::largest_place)
            add(plan,
                {"move-too-long", Severity::Stop,
                 fmt::format("A move of {:.0f} steps is more than the {} that the sketch counts.", steps, routine::largest_place)},
                Stage::Pulse, channel.id);
    }
}

void evaluateMains(const project::Channel& channel, const project::Parts& parts, Plan& plan, ChannelPlan& out) {
    const auto* driver = project::findDriver(parts, channel.drive.part);
    if (driver == nullptr || !onMains(channel) || !kinds::driverKind(*driver).alternating) return;
    MainsPlan mains;
    mains.share = channel.signal.duty;
    if (out.signal == SignalKind::PartWaves && channel.signal.share_of == project::ShareOf::Volts)
        mains.share = of<Fraction>(si(mains.share) * si(mains.share));
    if (const auto fed = kinds::demandKind(channel.demand).mains(channel.demand))
        mains.volts = fed->volts, mains.frequency = fed->frequency;
    if (const auto* heat = std::get_if<project::HeatDemand>(&channel.demand)) {
        const auto* part = match::partOf(out.context, parts, channel.actuator);
        const double power = part != nullptr ? kinds::actuatorKind(*part).rated_power(*part) : kinds::unknown;
        if (kinds::known(power) && heat->loss_conductance && heat->temperature_rise && si(channel.signal.duty) >= 1.0) {
            mains.share = of<Fraction>(std::min(1.0, si(*heat->loss_conductance) * si(*heat->temperature_rise) / power));
            mains.to_hold = true;
        }
    }
    const auto show = [&](const char* title, const auto& worked) {
        plan.workings.push_back({title, Stage::Pulse, channel.id, worked.steps, worked.verdict});
    };
    if (kinds::driverKind(*driver).waves == kinds::Waves::WholeCycles) {
        // As the sketch gives them: block by block.
        mains.together = driver::cyclesTogether(mains.frequency);
        const auto blocks = of<Frequency>(si(mains.frequency) / mains.together);
        if (const auto worked = driver::wholeCycles({mains.share, blocks, of<Count>(50.0)})) {
            for (const char block : worked->result.pattern) mains.pattern.append(static_cast<std::size_t>(mains.together), block);
            const std::string title = mains.together == 1 ? "whole cycles" : fmt::format("whole cycles, {} at a time", mains.together);
            show((title + (mains.to_hold ? " that hold the temperature" : "")).c_str(), *worked);
        }
    } else {
        driver::PhaseAngle angle;
        angle.mains_frequency = mains.frequency;
        angle.power_fraction = mains.share;
        if (const auto worked = driver::phaseAngle(angle)) {
            mains.delay = worked->result.delay;
            show("firing delay, resistive load", *worked);
        }
        // As the sketch fires it: never right at a crossing.
        const double half = 0.5 / si(mains.frequency);
        mains.until = of<Duration>(half * spark::gate_until / 65536.0);
        if (const auto at = spark::firingDelay(static_cast<std::int32_t>(std::lround(1000.0 * si(mains.share)))); at != spark::never_fired)
            mains.delay = of<Duration>(std::max(half * spark::earliest_fired / 65536.0, si(mains.delay.value_or(Duration{}))));
        else mains.delay.reset();
        // Two 47 kΩ resistors in front of the coupler are the usual choice, common practice.
        driver::ZeroCross crossing;
        crossing.mains_voltage = mains.volts;
        crossing.mains_frequency = mains.frequency;
        crossing.series_resistance = of<Resistance>(94e3);
        if (const auto worked = driver::zeroCross(crossing)) {
            mains.early = worked->result.early;
            show("its zero-cross sensor, with two 47 kΩ resistors", *worked);
        }
    }
    out.mains = std::move(mains);
}

void evaluateInterrupts(const project::Project& project, Plan& plan) {
    const auto& family = board::family(project.board.form);
    double servos = 0.0, steppers = 0.0;
    for (const auto& channel : plan.channels) {
        if (!isDriven(channel)) continue;
        servos += kinds::isServoPulse(channel.signal) ? 1.0 : 0.0;
        steppers += kinds::isSteps(channel.signal) ? 1.0 : 0.0;
    }
    if (servos + steppers == 0.0 || !family.emulated) return;
    // Entry and return included; a step's own pulse takes 37 more, at its rate. Measured one by one without link-time optimisation, and
    // taken down by the sixth by which it shortens the whole of the stage's.
    constexpr double beat = 28.0, servo = 30.0, stepper = 42.0, step = 37.0, clock = 71.0;
    std::string list =
        fmt::format("16kHz@{:.0f},{:.4f}Hz@{:.0f}", beat + servo * servos + stepper * steppers, family.clock / (64.0 * 256.0), clock);
    for (const auto& channel : plan.channels)
        if (channel.motion.step_rate && isDriven(channel)) list += fmt::format(",{:.3f}Hz@{:.0f}", si(*channel.motion.step_rate), step);
    timing::InterruptLoad in;
    in.interrupts = list;
    in.clock = of<Frequency>(family.clock);
    const auto worked = timing::interruptLoad(in);
    if (!worked) return;
    plan.workings.push_back({"the sketch's interrupts, while all move", Stage::Pulse, "", worked->steps, worked->verdict});
    for (const auto& finding : worked->findings) add(plan, finding, Stage::Pulse, "");
}

std::optional<Current> turnedAtSpeed(const ChannelPlan& channel) {
    if (!channel.chosen || !channel.chosen->stalled) return std::nullopt;
    return of<Current>(2.0 * si(*channel.chosen->stalled));
}

}  // namespace hinge::plan
