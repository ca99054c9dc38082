#include "timing/steps.hpp"
#include <fmt/format.h>
#include "quantity/constants.hpp"

namespace hinge::timing {

Result<Worked<StepTimingResult>> stepTiming(const StepTiming& in) {
    if (in.distance.kind != in.travel_per_turn.kind)
        return fail(ErrorCode::WrongUnit, "distance", displayPlain(in.distance.kind, in.distance.value),
                    "the same kind as travel_per_turn, " + std::string{kindName(in.travel_per_turn.kind)});
    Worked<StepTimingResult> out;
    auto& r = out.result;
    const double per_turn = si(in.steps_per_turn) * si(in.microsteps);
    r.steps_per_unit = of<Ratio>(per_turn / in.travel_per_turn.value);
    r.steps = of<Count>(std::round(in.distance.value * si(r.steps_per_unit)));
    r.step_rate = of<Frequency>(si(r.steps) / si(in.duration));
    addStep(out.steps, "k", "steps per metre or radian", "{s}·{µ}/{l}",
            {{"s", in.steps_per_turn}, {"µ", in.microsteps}, {"l", in.travel_per_turn.value}}, r.steps_per_unit, "definition");
    addStep(out.steps, "n", "steps, to the nearest", "{x}·{k}", {{"x", in.distance.value}, {"k", r.steps_per_unit}}, r.steps, "definition");
    addStep(out.steps, "f", "step rate", "{n}/{t}", {{"n", r.steps}, {"t", in.duration}}, r.step_rate, "definition");
    if (si(r.steps) > 0.0) {
        r.step_interval = of<Duration>(1.0 / si(r.step_rate));
        addStep(out.steps, "T", "step to step", "1/{f}", {{"f", r.step_rate}}, *r.step_interval, "definition");
        if (si(*r.step_interval) < 2.0 * si(in.pulse_width) * (1 - 1e-12))
            out.findings.push_back({"pulse-too-short", Severity::Stop,
                                    fmt::format("{} from step to step leaves no room for a pulse of {} and as long a pause.",
                                                display(*r.step_interval), display(in.pulse_width))});
    }
    if (in.largest_rate && si(r.step_rate) > si(*in.largest_rate) * (1 + 1e-12))
        out.findings.push_back({"step-too-fast", Severity::Stop,
                                fmt::format("{} steps a second are asked for; {} is the most.", significant(si(r.step_rate)),
                                            significant(si(*in.largest_rate)))});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr stepTimingForm() {
    using I = StepTiming;
    using R = StepTimingResult;
    auto form =
        std::make_shared<FormOf<I, R>>("step-timing", "pulse", "steps, rate and interval of a stepper's move", "definition", &stepTiming);
    form->rule("steps = distance·steps_per_turn·microsteps/travel, nearest; rate = steps/duration; interval = 1/rate")
        .in("steps_per_turn", &I::steps_per_turn, "200", "of the motor")
        .in("microsteps", &I::microsteps, "16", "a full step")
        .in("travel_per_turn", &I::travel_per_turn, nullptr, "a length, or an angle")
        .in("distance", &I::distance, nullptr, "the same kind")
        .in("duration", &I::duration, nullptr, "of the move")
        .in("pulse_width", &I::pulse_width, "2e-6", "of the driver")
        .in("largest_rate", &I::largest_rate, nullptr, "steps a second")
        .otherwise("none")
        .out("steps", &R::steps, "nearest")
        .out("steps_per_unit", &R::steps_per_unit, "per metre or radian")
        .out("step_rate", &R::step_rate, "steps a second")
        .out("step_interval", &R::step_interval, "step to step", "s");
    return form;
}

Result<Worked<StepProfileResult>> stepProfile(const StepProfile& in) {
    Worked<StepProfileResult> out;
    auto& r = out.result;
    const double n = si(in.steps), v = si(in.rate), a = si(in.acceleration);
    const bool trapezoid = v * v / a <= n * (1 + 1e-12);
    r.accel_steps = of<Ratio>(trapezoid ? v * v / (2.0 * a) : n / 2.0);
    // At the very edge the difference of two equal numbers is 0, not their rounding.
    r.cruise_steps = of<Ratio>(trapezoid && n - v * v / a > 1e-9 * n ? n - v * v / a : 0.0);
    r.peak_rate = of<Frequency>(trapezoid ? v : std::sqrt(n * a));
    r.duration = of<Duration>(trapezoid ? n / v + v / a : 2.0 * std::sqrt(n / a));
    r.first_interval = of<Duration>(std::sqrt(2.0 / a));
    const std::string source = "derived: s = v²/2a";
    addStep(out.steps, "na", trapezoid ? "steps of the ramp" : "steps of the ramp: the rate is never reached",
            trapezoid ? "{v}²/(2·{a})" : "{n}/2", {{"v", v}, {"a", a}, {"n", n}}, r.accel_steps, source);
    addStep(out.steps, "nc", "steps at the full rate", trapezoid ? "{n} − {v}²/{a}" : "0", {{"n", n}, {"v", v}, {"a", a}}, r.cruise_steps,
            source);
    addStep(out.steps, "vp", "fastest", trapezoid ? "{v}" : "√({n}·{a})", {{"v", v}, {"n", n}, {"a", a}}, r.peak_rate, source);
    addStep(out.steps, "t", "whole move", trapezoid ? "{n}/{v} + {v}/{a}" : "2·√({n}/{a})", {{"n", n}, {"v", v}, {"a", a}}, r.duration,
            source);
    addStep(out.steps, "t1", "first step after", "√(2/{a})", {{"a", a}}, r.first_interval, source);
    return out;
}

FormPtr stepProfileForm() {
    using I = StepProfile;
    using R = StepProfileResult;
    auto form =
        std::make_shared<FormOf<I, R>>("step-profile", "pulse", "a stepper's move with straight ramps", "derived: s = v²/2a", &stepProfile);
    form->rule("trapezoid when v²/a ≤ n: ramp v²/2a, time n/v + v/a; else triangle: peak √(n·a), time 2√(n/a); first interval √(2/a)")
        .in("steps", &I::steps, nullptr, "of the move")
        .in("rate", &I::rate, nullptr, "steps a second")
        .in("acceleration", &I::acceleration, nullptr, "steps a second, each second")
        .out("accel_steps", &R::accel_steps, "of the ramp")
        .out("cruise_steps", &R::cruise_steps, "at the full rate")
        .out("peak_rate", &R::peak_rate, "fastest")
        .out("duration", &R::duration, "of the move")
        .out("first_interval", &R::first_interval, "to the first step");
    return form;
}

Result<Worked<PartialRunResult>> partialRun(const PartialRun& in) {
    Worked<PartialRunResult> out;
    out.result.full_time = of<Duration>(si(in.section_time) * si(in.full_length) / si(in.section));
    out.result.speed = of<Speed>(si(in.section) / si(in.section_time));
    addStep(out.steps, "T", "time to set for the whole track", "{t}·{L}/{s}",
            {{"t", in.section_time}, {"L", in.full_length}, {"s", in.section}}, out.result.full_time, "definition");
    addStep(out.steps, "v", "speed", "{s}/{t}", {{"s", in.section}, {"t", in.section_time}}, out.result.speed, "definition");
    return out;
}

FormPtr partialRunForm() {
    auto form = std::make_shared<FormOf<PartialRun, PartialRunResult>>("partial-run", "pulse", "part of a track in a time", "definition",
                                                                       &partialRun);
    form->rule("full_time = section_time·full/section; speed = section/section_time")
        .in("full_length", &PartialRun::full_length, nullptr, "of the track")
        .in("section", &PartialRun::section, nullptr, "to cover")
        .in("section_time", &PartialRun::section_time, nullptr, "for it")
        .out("full_time", &PartialRunResult::full_time, "to set for the whole track")
        .out("speed", &PartialRunResult::speed, "along it");
    return form;
}

Result<Worked<WheelStepResult>> wheelStep(const WheelStep& in) {
    Worked<WheelStepResult> out;
    out.result.distance_per_step =
        of<Length>(constants::pi * si(in.wheel_diameter) / (si(in.steps_per_turn) * si(in.microsteps) * si(in.gear_ratio)));
    addStep(out.steps, "s", "way of one step", "π·{D}/({n}·{µ}·{i})",
            {{"D", in.wheel_diameter}, {"n", in.steps_per_turn}, {"µ", in.microsteps}, {"i", in.gear_ratio}}, out.result.distance_per_step,
            "definition");
    return out;
}

FormPtr wheelStepForm() {
    auto form = std::make_shared<FormOf<WheelStep, WheelStepResult>>("wheel-step", "pulse", "way that a wheel goes with one step",
                                                                     "definition", &wheelStep);
    form->rule("distance_per_step = π·D/(steps_per_turn·microsteps·gear_ratio)")
        .in("wheel_diameter", &WheelStep::wheel_diameter, nullptr, "over the tyre")
        .in("steps_per_turn", &WheelStep::steps_per_turn, "200", "of the motor")
        .in("microsteps", &WheelStep::microsteps, "16", "a full step")
        .in("gear_ratio", &WheelStep::gear_ratio, "1", "above 1 slows")
        .out("distance_per_step", &WheelStepResult::distance_per_step, "of the wheel");
    return form;
}

}  // namespace hinge::timing
