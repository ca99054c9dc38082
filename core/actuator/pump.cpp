#include "actuator/pump.hpp"
#include <cmath>
#include "actuator/pwm_current.hpp"
#include "quantity/roots.hpp"

namespace hinge::actuator {

namespace {
constexpr double usual_diode = 0.7;  // V of the freewheel diode
}

double pulsedSpeed(double supply, double duty, double resistance, double inductance, double period, double running, double back) {
    if (duty <= 0.0 || supply <= 0.0) return 0.0;
    // The motor's mean current only falls with speed and the load's only rises.
    const auto left = [&](double n) {
        return pwmMeans(supply, back * n, resistance, inductance, period, duty, usual_diode).motor - running * n * n;
    };
    return crossing(left, 0.0, 2.0 * supply / back);
}

PumpSpeedNumbers pumpSpeedNumbers(const PumpSpeed& in) {
    const double run = si(in.running_current), nominal = si(in.nominal_voltage);
    PumpSpeedNumbers out;
    out.resistance = nominal / si(in.stall_current);
    out.back = nominal - run * out.resistance;
    const double applied = si(in.duty) * si(in.supply);
    out.pulsed = in.inductance && si(*in.inductance) > 0.0 && si(in.frequency) > 0.0 && si(in.duty) < 1.0;
    if (out.pulsed) {
        const double period = 1.0 / si(in.frequency);
        out.fraction = pulsedSpeed(si(in.supply), si(in.duty), out.resistance, si(*in.inductance), period, run, out.back);
        out.motor = run * out.fraction * out.fraction;
        out.supply =
            pwmMeans(si(in.supply), out.back * out.fraction, out.resistance, si(*in.inductance), period, si(in.duty), usual_diode).supply;
    } else {
        // run·R·n² + Ke·n − d·V = 0, the positive root in the form that stays right as run·R → 0.
        const double a = run * out.resistance;
        out.fraction = applied > 0.0 ? 2.0 * applied / (out.back + std::sqrt(out.back * out.back + 4.0 * a * applied)) : 0.0;
        out.motor = run * out.fraction * out.fraction;
        out.supply = out.motor * si(in.duty);
    }
    return out;
}

Result<Worked<PumpSpeedResult>> pumpSpeed(const PumpSpeed& in) {
    const double run = si(in.running_current), stall = si(in.stall_current), nominal = si(in.nominal_voltage);
    if (stall <= run)
        return fail(ErrorCode::OutOfRange, "stall_current", displayPlain(in.stall_current),
                    "above running_current, " + displayPlain(in.running_current));
    const auto numbers = pumpSpeedNumbers(in);
    const double resistance = numbers.resistance, back = numbers.back, n = numbers.fraction, a = run * resistance;
    const bool pulsed = numbers.pulsed;
    Worked<PumpSpeedResult> out;
    auto& r = out.result;
    r.resistance = of<Resistance>(resistance);
    r.speed_fraction = of<Ratio>(n);
    r.motor_current = of<Current>(numbers.motor);
    r.supply_current = of<Current>(numbers.supply);
    r.stall_current = of<Current>(si(in.supply) / resistance);
    const std::string source = "dc-motor-linear; affinity-laws";
    addStep(out.steps, "R", "winding resistance", "{Vn}/{Is}", {{"Vn", nominal}, {"Is", stall}}, r.resistance, source);
    if (pulsed)
        addStep(out.steps, "n", "share of its full speed, where the pulses' mean current meets the load",
                "mean of the pulses at {K}·n = {Ir}·n²", {{"K", back}, {"Ir", run}}, r.speed_fraction, source);
    else
        addStep(out.steps, "n", "share of its full speed", "2·{d}·{V}/({K} + √({K}² + 4·{a}·{d}·{V}))",
                {{"d", in.duty}, {"V", in.supply}, {"K", back}, {"a", a}}, r.speed_fraction, source);
    addStep(out.steps, "I", "motor current", "{Ir}·{n}²", {{"Ir", run}, {"n", n}}, r.motor_current, source);
    addStep(out.steps, "Is", "current if it jams", "{V}/{R}", {{"V", in.supply}, {"R", resistance}}, r.stall_current, "ohm");
    return out;
}

FormPtr pumpSpeedForm() {
    using I = PumpSpeed;
    using R = PumpSpeedResult;
    auto form = std::make_shared<FormOf<I, R>>("pump-speed", "match", "speed and current of a pump's motor at a voltage and duty",
                                               "dc-motor-linear; affinity-laws", &pumpSpeed);
    form->rule("duty·V = I·R + Ke·n with I = Irun·n²")
        .in("supply", &I::supply, nullptr, "across motor and switch")
        .in("duty", &I::duty, "1", "share of the time it is on")
        .zeroOk()
        .in("nominal_voltage", &I::nominal_voltage, nullptr, "of the pump")
        .in("running_current", &I::running_current, nullptr, "at the nominal voltage")
        .in("stall_current", &I::stall_current, nullptr, "at the nominal voltage")
        .in("inductance", &I::inductance, nullptr, "of the winding")
        .otherwise("unknown: the current never dies away")
        .in("frequency", &I::frequency, "0", "of the PWM")
        .out("speed_fraction", &R::speed_fraction, "of the speed at the nominal voltage")
        .out("motor_current", &R::motor_current, "mean in the winding")
        .out("supply_current", &R::supply_current, "mean from the supply")
        .out("stall_current", &R::stall_current, "at this supply")
        .out("resistance", &R::resistance, "of the winding");
    return form;
}

Result<Worked<SoftStartResult>> softStart(const SoftStart& in) {
    const double run = si(in.running_current), stall = si(in.stall_current);
    if (stall < run) return fail(ErrorCode::OutOfRange, "stall_current", displayPlain(in.stall_current), "at least running_current");
    Worked<SoftStartResult> out;
    auto& r = out.result;
    double peak = stall;
    const double ramp = si(in.ramp);
    if (in.spin_up_time && ramp > 0.0) {
        const double tau = si(*in.spin_up_time);
        peak = run + (stall - run) * tau / ramp * -std::expm1(-ramp / tau);
        r.peak_current = of<Current>(peak);
        addStep(out.steps, "Ip", "largest current while starting", "{Ir} + ({Is} − {Ir})·{τ}/{Tr}·(1 − e^(−{Tr}/{τ}))",
                {{"Ir", run}, {"Is", stall}, {"τ", tau}, {"Tr", ramp}}, r.peak_current, "derived: n' = (u − n)/τ");
    } else {
        r.peak_current = of<Current>(peak);
        addStep(out.steps, "Ip", ramp > 0.0 ? "largest current: spin-up not known, so the stall current" : "largest current: straight on",
                "{Is}", {{"Is", stall}}, r.peak_current, "derived: at rest there is no back-EMF");
    }
    r.of_stall = of<Fraction>(peak / stall);
    return out;
}

FormPtr softStartForm() {
    using I = SoftStart;
    using R = SoftStartResult;
    auto form = std::make_shared<FormOf<I, R>>("soft-start", "pulse", "peak current of a motor started through a PWM ramp",
                                               "derived: n' = (u − n)/τ", &softStart);
    form->rule("Ip = Ir + (Is − Ir)·τ/Tr·(1 − e^(−Tr/τ))")
        .in("supply", &I::supply, nullptr, "of the motor")
        .in("running_current", &I::running_current, nullptr, "once up to speed")
        .zeroOk()
        .in("stall_current", &I::stall_current, nullptr, "at this supply")
        .in("spin_up_time", &I::spin_up_time, nullptr, "to 63 % of its speed")
        .otherwise("unknown: the stall current")
        .in("ramp", &I::ramp, "0", "from nothing to full duty")
        .out("peak_current", &R::peak_current, "while starting")
        .out("of_stall", &R::of_stall, "share of the stall current");
    return form;
}

}  // namespace hinge::actuator
