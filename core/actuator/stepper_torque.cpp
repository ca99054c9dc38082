#include "actuator/stepper_torque.hpp"
#include <fmt/format.h>
#include <algorithm>

namespace hinge::actuator {

Result<Worked<StepperTorqueResult>> stepperTorque(const StepperTorque& in) {
    const double kt = si(in.holding_torque) / (std::sqrt(2.0) * si(in.rated_current));
    const double r_phase = si(in.phase_resistance), l = si(in.phase_inductance), v = si(in.supply_voltage), drive = si(in.drive_current);
    const double pole = si(in.steps_per_turn) / 4.0, speed = si(in.speed);
    const double e = kt * speed, x = speed * pole * l;
    Worked<StepperTorqueResult> out;
    auto& r = out.result;
    const std::string source = "stepper-voltage-limit";
    addStep(out.steps, "Kt", "torque per ampere of peak", "{Th}/(√2·{Ir})", {{"Th", in.holding_torque}, {"Ir", in.rated_current}},
            of<TorquePerCurrent>(kt), source);
    addStep(out.steps, "E", "back-EMF at this speed", "{Kt}·{ω}", {{"Kt", kt}, {"ω", speed}}, of<Voltage>(e), source);
    addStep(out.steps, "X", "reactance of a phase", "{ω}·{p}·{L}", {{"ω", speed}, {"p", pole}, {"L", l}}, of<Resistance>(x), source);
    if (r_phase * drive < v) {
        const double a = kt * kt + pole * l * drive * pole * l * drive, b = 2.0 * r_phase * drive * kt,
                     c = r_phase * r_phase * drive * drive - v * v;
        r.corner_speed = of<RotationSpeed>((-b + std::sqrt(b * b - 4.0 * a * c)) / (2.0 * a));
    }
    if (e < v) {
        const double z = r_phase * r_phase + x * x;
        const double limited = (-r_phase * e + std::sqrt(r_phase * r_phase * e * e - z * (e * e - v * v))) / z;
        r.current = of<Current>(std::min(drive, limited));
        r.torque = of<Torque>(kt * si(r.current));
        r.load_fraction = of<Ratio>(si(in.load_torque) / si(r.torque));
    }
    addStep(out.steps, "I", "peak current that flows", "least of {Id} and what V² = (R·I + E)² + (X·I)² leaves", {{"Id", drive}}, r.current,
            source);
    addStep(out.steps, "T", "torque at this speed", "{Kt}·{I}", {{"Kt", kt}, {"I", r.current}}, r.torque, source);
    addStep(out.steps, "ωc", "full current up to", "V² = (R·I + Kt·ω)² + (p·L·I·ω)² for ω", {}, r.corner_speed, source);
    if (r.load_fraction)
        addStep(out.steps, "x", "share of it that the load asks", "{Tl}/{T}", {{"Tl", in.load_torque}, {"T", r.torque}}, *r.load_fraction,
                "to half: common practice, no published source");
    const double share = r.load_fraction ? si(*r.load_fraction) : 2.0;
    if (share > 0.8 * (1 + 1e-12))
        out.findings.push_back(
            {"too-weak", Severity::Stop,
             fmt::format("At {} this stepper gives {}; the load asks {}.", display(in.speed), display(r.torque), display(in.load_torque))});
    else if (share > 0.5 * (1 + 1e-12))
        out.findings.push_back(
            {"stepper-over-half", Severity::Warn,
             fmt::format("The load asks {} of the torque at this speed; half is the usual limit.", display(Kind::Fraction, share, 2))});
    if (drive > std::sqrt(2.0) * si(in.rated_current) * (1 + 1e-12))
        out.findings.push_back({"stepper-current-over", Severity::Stop,
                                fmt::format("A peak of {} is more than √2 times the rated {}: the motor overheats.",
                                            display(in.drive_current), display(in.rated_current))});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr stepperTorqueForm() {
    using I = StepperTorque;
    using R = StepperTorqueResult;
    auto form = std::make_shared<FormOf<I, R>>("stepper-torque", "match", "torque of a stepper at a speed, limited by its supply",
                                               "stepper-voltage-limit", &stepperTorque);
    form->rule("Kt = Th/(√2·Ir); V² = (R·I + Kt·ω)² + (ωe·L·I)², ωe = ω·steps/4; torque = Kt·min(drive, I); to 0.5 holds, to 0.8 tight")
        .in("holding_torque", &I::holding_torque, nullptr, "both phases at the rated current")
        .in("rated_current", &I::rated_current, nullptr, "per phase")
        .in("phase_resistance", &I::phase_resistance, nullptr, "of a phase")
        .in("phase_inductance", &I::phase_inductance, nullptr, "of a phase")
        .in("steps_per_turn", &I::steps_per_turn, "200", "full steps")
        .in("supply_voltage", &I::supply_voltage, nullptr, "of the driver")
        .in("drive_current", &I::drive_current, nullptr, "peak of the sine")
        .in("speed", &I::speed, nullptr, "of the shaft")
        .zeroOk()
        .in("load_torque", &I::load_torque, "0", "without margin")
        .out("current", &R::current, "peak that flows")
        .out("torque", &R::torque, "at this speed")
        .out("corner_speed", &R::corner_speed, "up to which the full current flows")
        .out("load_fraction", &R::load_fraction, "load over torque");
    return form;
}

}  // namespace hinge::actuator
