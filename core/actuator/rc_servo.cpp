#include "actuator/rc_servo.hpp"
#include <fmt/format.h>
#include "quantity/constants.hpp"

namespace hinge::actuator {

Result<Worked<RcServoResult>> rcServo(const RcServo& in) {
    const double low = si(in.voltage_low), high = si(in.voltage_high), v = si(in.supply);
    if (high <= low)
        return fail(ErrorCode::OutOfRange, "voltage_high", displayPlain(in.voltage_high),
                    "above voltage_low, " + displayPlain(in.voltage_low));
    Worked<RcServoResult> out;
    auto& r = out.result;
    const std::string source = "servo-linear";
    if (v < low) {
        out.verdict = Verdict::Unknown;
        out.findings.push_back(
            {"servo-below-data", Severity::Note,
             fmt::format("The data sheet starts at {}; what the servo does at {} is not known. Hang a weight on its arm and find out.",
                         display(in.voltage_low), display(in.supply))});
        return out;
    }
    if (v > high * (1 + 1e-12)) {
        r.stall_torque = in.torque_high;
        out.findings.push_back({"supply-over", Severity::Stop,
                                fmt::format("{} on a servo made for {} at most.", display(in.supply), display(in.voltage_high))});
    } else {
        r.stall_torque = of<Torque>(si(in.torque_low) + (v - low) / (high - low) * (si(in.torque_high) - si(in.torque_low)));
    }
    addStep(out.steps, "τs", "stall torque at this supply", "{τl} + ({V} − {Vl})/({Vh} − {Vl})·({τh} − {τl})",
            {{"τl", in.torque_low}, {"V", v}, {"Vl", low}, {"Vh", high}, {"τh", in.torque_high}}, *r.stall_torque, source);
    const double share = si(in.load_torque) / si(*r.stall_torque);
    r.load_fraction = of<Ratio>(share);
    addStep(out.steps, "x", "share that the load asks", "{τ}/{τs}", {{"τ", in.load_torque}, {"τs", *r.stall_torque}}, *r.load_fraction,
            "at most half: common practice, no published source");
    if (share < 1.0) {
        r.move_time = of<Duration>(si(in.move_angle) / (constants::pi / 3.0) * si(in.time_per_60deg) / (1.0 - share));
        addStep(out.steps, "t", "time for the stroke under load", "{φ}/60°·{t60}/(1 − {x})",
                {{"φ", in.move_angle}, {"t60", in.time_per_60deg}, {"x", share}}, *r.move_time, source);
    }
    if (share > 0.8 * (1 + 1e-12))
        out.findings.push_back(
            {"too-weak", Severity::Stop,
             fmt::format("The load asks {}; the servo stalls at {}.", display(in.load_torque), display(*r.stall_torque))});
    else if (share > 0.5 * (1 + 1e-12))
        out.findings.push_back(
            {"servo-over-half", Severity::Warn,
             fmt::format("The load asks {} of the servo's stall torque; half is the usual limit.", display(Kind::Fraction, share, 2))});
    out.verdict = worse(out.verdict, verdictOf(out.findings));
    return out;
}

FormPtr rcServoForm() {
    using I = RcServo;
    using R = RcServoResult;
    auto form = std::make_shared<FormOf<I, R>>("rc-servo", "match", "a hobby servo under load", "servo-linear", &rcServo);
    form->rule(
            "stall torque linear between the two voltages; load_fraction = load/stall; move_time = angle/60°·time/(1 − load_fraction); to "
            "0.5 holds, to 0.8 tight")
        .in("torque_low", &I::torque_low, nullptr, "stall torque at voltage_low")
        .in("voltage_low", &I::voltage_low, nullptr, "lower voltage of the data sheet")
        .in("torque_high", &I::torque_high, nullptr, "stall torque at voltage_high")
        .in("voltage_high", &I::voltage_high, nullptr, "higher voltage of the data sheet")
        .in("time_per_60deg", &I::time_per_60deg, nullptr, "at this supply, no load")
        .in("supply", &I::supply, nullptr, "of the servo")
        .in("load_torque", &I::load_torque, nullptr, "without margin")
        .zeroOk()
        .in("move_angle", &I::move_angle, nullptr, "of the stroke")
        .out("stall_torque", &R::stall_torque, "at this supply", "N·m")
        .out("load_fraction", &R::load_fraction, "load over stall")
        .out("move_time", &R::move_time, "under load", "s");
    return form;
}

}  // namespace hinge::actuator
