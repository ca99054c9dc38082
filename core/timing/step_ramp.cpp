#include "timing/step_ramp.hpp"
#include <fmt/format.h>
#include <cmath>
#include "quantity/constants.hpp"
#include "quantity/roots.hpp"

namespace hinge::timing {

Result<Worked<StepIntervalsResult>> stepIntervals(const StepIntervals& in) {
    const double a = si(in.acceleration), f = si(in.clock), n = si(in.steps);
    if (n > 100000.0) return fail(ErrorCode::OutOfRange, "steps", exactNumber(n), "1 to 100000");
    Worked<StepIntervalsResult> out;
    auto& r = out.result;
    const double c0 = std::sqrt(2.0 / a);
    double given = 0.0, rounded = 0.0, last = 0.0, recurrence = 0.676 * c0, recurred = 0.0, before = 0.0;
    for (double k = 0.0; k < n; k += 1.0) {
        const double exact_end = c0 * std::sqrt(k + 1.0);
        // The rounding is carried: each interval ends at the tick nearest to where it should.
        const double ticks = std::round((exact_end - given) * f);
        given += ticks / f;
        rounded += std::round(c0 * (std::sqrt(k + 1.0) - std::sqrt(k)) * f) / f;
        if (k == 0.0) r.first_interval = of<Count>(ticks);
        last = ticks;
        if (k > 0.0) recurrence -= 2.0 * recurrence / (4.0 * k + 1.0);
        recurred += recurrence;
        if (r.intervals.size() < 64) r.intervals.push_back(of<Count>(ticks));
        if (k > 0.0 && r.recurrence_ratio.size() < 64) r.recurrence_ratio.push_back(of<Ratio>(recurrence / before));
        before = recurrence;
    }
    const double whole = c0 * std::sqrt(n);
    r.last_interval = of<Count>(last);
    r.last_rate = of<Frequency>(a * whole);
    r.accumulated_error = of<Duration>(given - whole);
    r.rounded_error = of<Duration>(rounded - whole);
    r.recurrence_error = of<Duration>(recurred - whole);
    addStep(out.steps, "c0", "first interval, exact", "√(2/{a})", {{"a", a}}, of<Duration>(c0), "austin-2005");
    addStep(out.steps, "v", "rate after the ramp", "√(2·{n}·{a})", {{"n", n}, {"a", a}}, r.last_rate, "derived: s = v²/2a");
    addStep(out.steps, "e", "error of the whole ramp, rounding carried", "Σ{c} − c0·√{n}", {{"c", given}, {"n", n}}, r.accumulated_error,
            "definition");
    addStep(out.steps, "er", "by the recurrence c − 2·c/(4·k + 1)", "Σ{cr} − c0·√{n}", {{"cr", recurred}, {"n", n}}, r.recurrence_error,
            "austin-2005");
    if (last < 2.0)
        out.findings.push_back(
            {"step-too-fast", Severity::Stop, "The last interval is under two ticks: a faster clock, or a slower move."});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr stepIntervalsForm() {
    using I = StepIntervals;
    using R = StepIntervalsResult;
    auto form = std::make_shared<FormOf<I, R>>("step-intervals", "pulse", "a stepper's ramp as a table of timer ticks", "austin-2005",
                                               &stepIntervals);
    form->rule("interval n = √(2/a)·(√(n + 1) − √n), rounded to ticks with the rest carried to the next")
        .in("acceleration", &I::acceleration, nullptr, "steps a second, each second")
        .in("steps", &I::steps, nullptr, "of the ramp")
        .in("clock", &I::clock, "2MHz", "ticks a second")
        .out("first_interval", &R::first_interval, "in ticks")
        .out("last_interval", &R::last_interval, "in ticks")
        .out("last_rate", &R::last_rate, "steps a second after the ramp")
        .out("intervals", &R::intervals, "in ticks, the first 64")
        .out("accumulated_error", &R::accumulated_error, "of the whole ramp")
        .out("rounded_error", &R::rounded_error, "when each interval is rounded by itself")
        .out("recurrence_error", &R::recurrence_error, "by the published recurrence")
        .out("recurrence_ratio", &R::recurrence_ratio, "of neighbouring intervals by the recurrence");
    return form;
}

Result<Worked<MicrostepTorqueResult>> microstepTorque(const MicrostepTorque& in) {
    const double holding = si(in.holding_torque), micro = si(in.microsteps), load = si(in.load_torque), poles = si(in.steps_per_turn) / 4.0;
    Worked<MicrostepTorqueResult> out;
    auto& r = out.result;
    const double electrical = constants::pi / 2.0 / micro;
    r.step_torque = of<Torque>(holding * std::sin(electrical));
    r.step_angle = of<Angle>(electrical / poles);
    addStep(out.steps, "Ts", "torque of one micro-step", "{T}·sin(90°/{n})", {{"T", in.holding_torque}, {"n", in.microsteps}},
            r.step_torque, "microstep-sine");
    addStep(out.steps, "s", "its angle", "360°/({N}·{n})", {{"N", in.steps_per_turn}, {"n", in.microsteps}}, r.step_angle, "definition");
    if (load >= holding) {
        out.findings.push_back({"too-weak", Severity::Stop, "The load is more than the holding torque: it slips."});
    } else {
        r.lag = of<Angle>(std::asin(load / holding) / poles);
        r.lost = of<Count>(std::floor(std::asin(load / holding) / electrical + 1e-9));
        addStep(out.steps, "d", "lags behind its place by", "asin({L}/{T})/({N}/4)",
                {{"L", in.load_torque}, {"T", in.holding_torque}, {"N", in.steps_per_turn}}, *r.lag, "microstep-sine");
        if (si(r.lost) >= 1.0)
            out.findings.push_back(
                {"microstep-lost", Severity::Note,
                 fmt::format("{:.0f} micro-steps pass before the load follows: finer steps make it smoother, not more exact.",
                             si(r.lost))});
    }
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr microstepTorqueForm() {
    using I = MicrostepTorque;
    using R = MicrostepTorqueResult;
    auto form =
        std::make_shared<FormOf<I, R>>("microstep-torque", "pulse", "what one micro-step can move", "microstep-sine", &microstepTorque);
    form->rule("step_torque = holding·sin(90°/microsteps); lag = asin(load/holding)/(steps/4)")
        .in("holding_torque", &I::holding_torque, nullptr, "at the current that is set")
        .in("microsteps", &I::microsteps, "16", "a full step")
        .in("load_torque", &I::load_torque, "0Nm", "friction and load")
        .in("steps_per_turn", &I::steps_per_turn, "200", "of the motor")
        .out("step_torque", &R::step_torque, "of one micro-step")
        .out("step_angle", &R::step_angle, "of the shaft")
        .out("lag", &R::lag, "under the load")
        .out("lost", &R::lost, "micro-steps before the load follows");
    return form;
}

Result<Worked<StepResonanceResult>> stepResonance(const StepResonance& in) {
    const double poles = si(in.steps_per_turn) / 4.0;
    Worked<StepResonanceResult> out;
    auto& r = out.result;
    const double f = std::sqrt(poles * si(in.holding_torque) / si(in.inertia)) / (2.0 * constants::pi);
    r.natural_frequency = of<Frequency>(f);
    r.low = of<Frequency>(f * 2.0 / 3.0);
    r.high = of<Frequency>(f * 4.0 / 3.0);
    addStep(out.steps, "f", "swings at", "√({p}·{T}/{J})/2π", {{"p", poles}, {"T", in.holding_torque}, {"J", in.inertia}},
            r.natural_frequency, "stepper-natural-frequency");
    if (in.step_rate) {
        r.full_step_rate = of<Frequency>(si(*in.step_rate) / si(in.microsteps));
        addStep(out.steps, "fs", "full steps a second", "{v}/{n}", {{"v", *in.step_rate}, {"n", in.microsteps}}, *r.full_step_rate,
                "definition");
        if (si(*r.full_step_rate) >= si(r.low) && si(*r.full_step_rate) <= si(r.high))
            out.findings.push_back({"resonance", si(in.microsteps) < 8.0 ? Severity::Warn : Severity::Note,
                                    si(in.microsteps) < 8.0 ? "It runs where the rotor swings: it rattles and may lose steps. Eight "
                                                              "micro-steps or more, another speed, or a damper."
                                                            : "It runs where the rotor swings; micro-steps keep that small."});
    }
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr stepResonanceForm() {
    using I = StepResonance;
    using R = StepResonanceResult;
    auto form = std::make_shared<FormOf<I, R>>("step-resonance", "pulse", "speeds at which a stepper rattles", "stepper-natural-frequency",
                                               &stepResonance);
    form->rule("f = √((steps/4)·holding/inertia)/2π; a third to both sides is avoided below eight micro-steps")
        .in("holding_torque", &I::holding_torque, nullptr, "at the current that is set")
        .in("inertia", &I::inertia, nullptr, "of rotor and load")
        .in("steps_per_turn", &I::steps_per_turn, "200", "of the motor")
        .in("microsteps", &I::microsteps, "1", "a full step")
        .in("step_rate", &I::step_rate, nullptr, "micro-steps a second")
        .otherwise("not judged")
        .out("natural_frequency", &R::natural_frequency, "of the swing")
        .out("low", &R::low, "full steps a second")
        .out("high", &R::high, "full steps a second")
        .out("full_step_rate", &R::full_step_rate, "that is asked");
    return form;
}

Result<Worked<HomingResult>> homing(const Homing& in) {
    Worked<HomingResult> out;
    out.result.overrun = of<Length>(si(in.speed) * si(in.delay));
    out.result.repeatability = of<Length>(si(in.backoff_speed) * si(in.jitter) + si(in.step_length));
    addStep(out.steps, "o", "runs on past the contact", "{v}·{t}", {{"v", in.speed}, {"t", in.delay}}, out.result.overrun, "definition");
    addStep(out.steps, "r", "finds its place to", "{vb}·{j} + {s}", {{"vb", in.backoff_speed}, {"j", in.jitter}, {"s", in.step_length}},
            out.result.repeatability, "definition");
    return out;
}

FormPtr homingForm() {
    auto form = std::make_shared<FormOf<Homing, HomingResult>>("homing", "pulse", "how well an end switch finds the same place",
                                                               "definition", &homing);
    form->rule("overrun = speed·delay; repeatability = backoff_speed·jitter + step_length, besides the switch's own")
        .in("speed", &Homing::speed, nullptr, "towards the switch")
        .in("backoff_speed", &Homing::backoff_speed, nullptr, "off it again")
        .in("delay", &Homing::delay, "21ms", "from the contact to the halt")
        .in("step_length", &Homing::step_length, nullptr, "way of one step")
        .in("jitter", &Homing::jitter, "1ms", "how much the delay differs")
        .out("overrun", &HomingResult::overrun, "leave that much room behind the switch")
        .out("repeatability", &HomingResult::repeatability, "of the place");
    return form;
}

Result<Worked<CreepResult>> creep(const Creep& in) {
    Worked<CreepResult> out;
    auto& r = out.result;
    r.speed = of<Speed>(si(in.length) / si(in.duration));
    r.step_interval = of<Duration>(si(in.distance_per_step) / si(r.speed));
    r.picture_interval = of<Duration>(si(in.duration) / si(in.pictures));
    r.way_per_picture = of<Length>(si(in.length) / si(in.pictures));
    r.blur = of<Length>(si(r.speed) * si(in.exposure));
    addStep(out.steps, "v", "speed", "{L}/{T}", {{"L", in.length}, {"T", in.duration}}, r.speed, "definition");
    addStep(out.steps, "ts", "one step every", "{s}/{v}", {{"s", in.distance_per_step}, {"v", r.speed}}, r.step_interval, "definition");
    addStep(out.steps, "tp", "one picture every", "{T}/{n}", {{"T", in.duration}, {"n", in.pictures}}, r.picture_interval, "definition");
    addStep(out.steps, "b", "way during an exposure", "{v}·{e}", {{"v", r.speed}, {"e", in.exposure}}, r.blur, "definition");
    if (si(in.exposure) > si(r.picture_interval))
        out.findings.push_back({"exposure-too-long", Severity::Stop, "An exposure lasts longer than the time to the next picture."});
    if (si(in.duration) > 4294967.0)
        out.findings.push_back(
            {"counter-rollover", Severity::Warn, "It runs longer than 49.7 days: a millisecond counter of 32 bits rolls over on the way."});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr creepForm() {
    using I = Creep;
    using R = CreepResult;
    auto form = std::make_shared<FormOf<I, R>>("creep", "pulse", "a slow carriage with pictures on the way", "definition", &creep);
    form->rule("speed = length/duration; step_interval = distance_per_step/speed; blur = speed·exposure")
        .in("length", &I::length, nullptr, "of the track to cover")
        .in("duration", &I::duration, nullptr, "for it")
        .in("pictures", &I::pictures, "1", "on the way")
        .in("exposure", &I::exposure, "0s", "of one picture")
        .in("distance_per_step", &I::distance_per_step, nullptr, "way of one step")
        .out("speed", &R::speed, "of the carriage")
        .out("step_interval", &R::step_interval, "from step to step")
        .out("picture_interval", &R::picture_interval, "from picture to picture")
        .out("way_per_picture", &R::way_per_picture, "between two pictures")
        .out("blur", &R::blur, "during one exposure");
    return form;
}

namespace {

constexpr const char* s_curve = "derived: with tj = a/j and ta = v/a − tj (or tj = √(v/j), ta = 0): ramp = v·(2tj + ta)/2";
// Time from rest to a rate; half of it times the rate is the way.
double rampTime(double rate, double acceleration, double jerk) {
    return rate >= acceleration * acceleration / jerk ? rate / acceleration + acceleration / jerk : 2.0 * std::sqrt(rate / jerk);
}

}  // namespace

Result<Worked<SCurveResult>> sCurve(const SCurve& in) {
    Worked<SCurveResult> out;
    auto& r = out.result;
    const double n = si(in.steps), a = si(in.acceleration), j = si(in.jerk);
    double rate = si(in.rate);
    if (rate * rampTime(rate, a, j) > n)  // the two ramps take rate·time together
        rate = crossing([&](double peak) { return peak * rampTime(peak, a, j) - n; }, 0.0, rate);
    const double ramp = rampTime(rate, a, j), cruise = std::max(0.0, n / rate - ramp);
    r.peak_rate = of<Frequency>(rate);
    r.peak_acceleration = of<StepAcceleration>(std::min(a, std::sqrt(rate * j)));
    r.ramp_time = of<Duration>(ramp);
    r.ramp_steps = of<Ratio>(0.5 * rate * ramp);
    r.duration = of<Duration>(2.0 * ramp + cruise);
    const double v = si(in.rate), straight = v * v / a <= n ? n / v + v / a : 2.0 * std::sqrt(n / a);
    r.longer_by = of<Duration>(si(r.duration) - straight);
    addStep(out.steps, "v", "fastest that fits", "v·t(v) ≤ {n}, at most {w}", {{"n", in.steps}, {"w", in.rate}}, r.peak_rate, s_curve);
    addStep(out.steps, "t", "from rest to it", "v/{a} + {a}/{j}, or 2·√(v/{j})", {{"a", in.acceleration}, {"j", in.jerk}}, r.ramp_time,
            s_curve);
    addStep(out.steps, "s", "steps of one ramp", "{v}·{t}/2", {{"v", r.peak_rate}, {"t", r.ramp_time}}, r.ramp_steps, s_curve);
    addStep(out.steps, "T", "the whole move", "2·{t} + ({n} − 2·{s})/{v}",
            {{"t", r.ramp_time}, {"n", in.steps}, {"s", r.ramp_steps}, {"v", r.peak_rate}}, r.duration, s_curve);
    addStep(out.steps, "Δ", "longer than a straight ramp", "{T} − t₀", {{"T", r.duration}}, r.longer_by, s_curve);
    return out;
}

FormPtr sCurveForm() {
    using I = SCurve;
    using R = SCurveResult;
    auto form = std::make_shared<FormOf<I, R>>("s-curve", "pulse", "a stepper's move without jerks", s_curve, &sCurve);
    form->rule("ramp time = v/a + a/j (or 2√(v/j)); ramp = v·time/2; the rate is lowered until both ramps fit")
        .in("steps", &I::steps, nullptr, "of the move")
        .in("rate", &I::rate, nullptr, "steps a second at most")
        .in("acceleration", &I::acceleration, nullptr, "steps/s² at most")
        .in("jerk", &I::jerk, nullptr, "steps/s³")
        .out("peak_rate", &R::peak_rate, "that is reached")
        .out("peak_acceleration", &R::peak_acceleration, "that is reached")
        .out("ramp_time", &R::ramp_time, "from rest to it")
        .out("ramp_steps", &R::ramp_steps, "of one ramp")
        .out("duration", &R::duration, "of the whole move")
        .out("longer_by", &R::longer_by, "than with a straight ramp");
    return form;
}

}  // namespace hinge::timing
