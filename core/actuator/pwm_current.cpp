#include "actuator/pwm_current.hpp"
#include <algorithm>
#include <cmath>

namespace hinge::actuator {

PwmMeans pwmMeans(double supply, double back_emf, double resistance, double inductance, double period, double duty, double diode_drop,
                  Pause pause) {
    PwmMeans means;
    const double towards_on = (supply - back_emf) / resistance,
                 towards_off = -(pause == Pause::Brake   ? back_emf
                                 : pause == Pause::Coast ? supply + back_emf + 2.0 * diode_drop
                                                         : back_emf + diode_drop) /
                               resistance;
    if (duty <= 0.0 || towards_on <= 0.0) return means;
    if (duty >= 1.0) {
        means.motor = means.supply = means.peak = means.valley = towards_on;
        return means;
    }
    const double tau = inductance / resistance, on = duty * period, off = period - on;
    const double fall = std::exp(-off / tau);
    // Written with expm1, so that a short period (τ ≫ T) loses no digits.
    const double valley = (towards_off * -std::expm1(-off / tau) + towards_on * -std::expm1(-on / tau) * fall) / -std::expm1(-period / tau);
    means.continuous = valley > 0.0 || pause == Pause::Brake;
    means.valley = means.continuous ? valley : 0.0;
    means.peak = towards_on + (means.valley - towards_on) * std::exp(-on / tau);
    const double charge_on = towards_on * on + (means.valley - towards_on) * tau * -std::expm1(-on / tau);
    double charge_off = 0.0;
    if (means.continuous) {
        charge_off = towards_off * off + (means.peak - towards_off) * tau * -std::expm1(-off / tau);
    } else if (towards_off < 0.0) {
        const double dies = tau * std::log1p(means.peak / -towards_off);
        charge_off = towards_off * dies + means.peak * tau;
    } else {
        charge_off = means.peak * tau * -std::expm1(-off / tau);
    }
    means.supply = (charge_on - (pause == Pause::Coast ? charge_off : 0.0)) / period;
    means.motor = (charge_on + charge_off) / period;
    return means;
}

Result<Worked<PwmCurrentResult>> pwmCurrent(const PwmCurrent& in) {
    const double period = 1.0 / si(in.frequency), tau = si(in.inductance) / si(in.resistance);
    const auto means =
        pwmMeans(si(in.supply), si(in.back_emf), si(in.resistance), si(in.inductance), period, si(in.duty), si(in.diode_drop), in.pause);
    Worked<PwmCurrentResult> out;
    auto& r = out.result;
    r.motor_current = of<Current>(means.motor);
    r.supply_current = of<Current>(means.supply);
    r.peak_current = of<Current>(means.peak);
    r.ripple = of<Current>(means.peak - means.valley);
    r.continuous = means.continuous;
    const std::string source = "derived: L·di/dt + R·i = V − E on, −(E + Vd) off";
    addStep(out.steps, "τ", "time constant of the winding", "{L}/{R}", {{"L", in.inductance}, {"R", in.resistance}}, of<Duration>(tau),
            source);
    addStep(
        out.steps, "Ip", "peak in each pulse", "{I∞} + ({i0} − {I∞})·e^(−{ton}/{τ})",
        {{"I∞", (si(in.supply) - si(in.back_emf)) / si(in.resistance)}, {"i0", means.valley}, {"ton", si(in.duty) * period}, {"τ", tau}},
        r.peak_current, source);
    addStep(out.steps, "Is", "mean from the supply",
            in.pause == Pause::Coast ? "(charge while on − charge given back)/{T}" : "charge while on/{T}", {{"T", period}},
            r.supply_current, source);
    addStep(out.steps, "Im", means.continuous ? "mean in the winding" : "mean in the winding; it dies away in every pause",
            "charge on and off/{T}", {{"T", period}}, r.motor_current, source);
    return out;
}

FormPtr pwmCurrentForm() {
    using I = PwmCurrent;
    using R = PwmCurrentResult;
    auto form = std::make_shared<FormOf<I, R>>("pwm-current", "pulse", "mean and ripple of a winding's current under PWM",
                                               "derived: L·di/dt + R·i = V − E on, −(E + Vd) off", &pwmCurrent);
    form->rule(
            "on: i → (V − E)/R; off: i → −(E + Vd)/R (diode), −(V + E + 2·Vd)/R (coast), not below 0, or −E/R (brake); τ = L/R; periodic")
        .in("supply", &I::supply, nullptr, "across winding and switch")
        .in("back_emf", &I::back_emf, "0", "of the turning motor")
        .in("resistance", &I::resistance, nullptr, "winding, wire and switch")
        .in("inductance", &I::inductance, nullptr, "of the winding")
        .in("frequency", &I::frequency, nullptr, "of the PWM")
        .in("duty", &I::duty, nullptr, "share of the time it is on")
        .zeroOk()
        .in("diode_drop", &I::diode_drop, "0.7", "of the freewheel diode")
        .zeroOk()
        .in("pause", &I::pause, "diode", "where the current goes while the switch is off")
        .out("motor_current", &R::motor_current, "mean in the winding")
        .out("supply_current", &R::supply_current, "mean from the supply")
        .out("peak_current", &R::peak_current, "in each pulse")
        .out("ripple", &R::ripple, "peak to valley")
        .out("continuous", &R::continuous, "the current never dies away");
    return form;
}

}  // namespace hinge::actuator
