#include "demand/turning.hpp"
#include <fmt/format.h>
#include "quantity/constants.hpp"

namespace hinge::demand {

Result<Worked<SteerInPlaceResult>> steerInPlace(const SteerInPlace& in) {
    Worked<SteerInPlaceResult> out;
    auto& r = out.result;
    const double b = si(in.contact_width), e = si(in.kingpin_offset);
    r.torque = of<Torque>(si(in.friction_coefficient) * si(in.wheel_load) * std::sqrt(b * b / 8.0 + e * e));
    r.needed_torque = of<Torque>(si(in.factor) * si(r.torque));
    addStep(out.steps, "T", "torque to turn the standing wheel", "{µ}·{W}·√({b}²/8 + {e}²)",
            {{"µ", in.friction_coefficient}, {"W", in.wheel_load}, {"b", b}, {"e", e}}, r.torque, "steering-torque");
    addStep(out.steps, "Tn", "torque to ask for", "{k}·{T}", {{"k", in.factor}, {"T", r.torque}}, r.needed_torque,
            "margin: common practice, no published source");
    return out;
}

FormPtr steerInPlaceForm() {
    using I = SteerInPlace;
    using R = SteerInPlaceResult;
    auto form = std::make_shared<FormOf<I, R>>("steer-in-place", "need", "torque to steer a wheel that stands still", "steering-torque",
                                               &steerInPlace);
    form->rule("torque = µ·W·√(b²/8 + e²); needed = factor·torque")
        .in("wheel_load", &I::wheel_load, nullptr, "force on the wheel")
        .in("friction_coefficient", &I::friction_coefficient, "0.8", "of tyre and ground")
        .zeroOk()
        .in("contact_width", &I::contact_width, nullptr, "of the tyre on the ground")
        .in("kingpin_offset", &I::kingpin_offset, "0", "steering axis to the middle of the contact")
        .in("factor", &I::factor, "2", "margin wanted")
        .between(1.0, std::numeric_limits<double>::infinity())
        .out("torque", &R::torque, "at the steering axis")
        .out("needed_torque", &R::needed_torque, "factor·torque");
    return form;
}

Result<Worked<CrankTurnsResult>> crankTurns(const CrankTurns& in) {
    Worked<CrankTurnsResult> out;
    auto& r = out.result;
    r.steps = of<Count>(std::round(si(in.turns) * si(in.steps_per_turn) * si(in.microsteps)));
    addStep(out.steps, "n", "steps, to the nearest", "{N}·{s}·{µ}", {{"N", in.turns}, {"s", in.steps_per_turn}, {"µ", in.microsteps}},
            r.steps, "definition");
    if (in.turn_time) {
        r.rotation_speed = of<RotationSpeed>(2.0 * constants::pi * si(in.turns) / si(*in.turn_time));
        addStep(out.steps, "ω", "rotation", "2·π·{N}/{t}", {{"N", in.turns}, {"t", *in.turn_time}}, *r.rotation_speed, "definition");
    }
    return out;
}

FormPtr crankTurnsForm() {
    using I = CrankTurns;
    using R = CrankTurnsResult;
    auto form = std::make_shared<FormOf<I, R>>("crank-turns", "need", "turns of a crank as steps and speed", "definition", &crankTurns);
    form->rule("steps = turns·steps_per_turn·microsteps, nearest; rotation = 2π·turns/turn_time")
        .in("turns", &I::turns, nullptr, "counted by hand")
        .in("turn_time", &I::turn_time, nullptr, "for all the turns")
        .otherwise("unknown")
        .in("steps_per_turn", &I::steps_per_turn, "200", "of the motor")
        .in("microsteps", &I::microsteps, "1", "a full step")
        .out("steps", &R::steps, "nearest")
        .out("rotation_speed", &R::rotation_speed, "of the crank", "rad/s");
    return form;
}

Result<Worked<SwingResult>> swing(const Swing& in) {
    Worked<SwingResult> out;
    const double theta = si(in.amplitude);
    out.result.period = of<Duration>(2.0 * constants::pi * std::sqrt(si(in.length) / constants::gravity) * (1.0 + theta * theta / 16.0));
    addStep(out.steps, "T", "there and back", "2·π·√({L}/{g})·(1 + {θ}²/16)", {{"L", in.length}, {"g", constants::gravity}, {"θ", theta}},
            out.result.period, "pendulum");
    if (theta > constants::pi / 4 * (1 + 1e-12))
        out.findings.push_back({"swing-wide", Severity::Warn,
                                fmt::format("At {} to each side the formula is only good to about a per cent.", display(in.amplitude))});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr swingForm() {
    auto form = std::make_shared<FormOf<Swing, SwingResult>>("swing", "need", "period of something that swings", "pendulum", &swing);
    form->rule("period = 2π√(L/g)·(1 + θ²/16); a warning above 45°")
        .in("length", &Swing::length, nullptr, "pivot to centre of mass")
        .in("amplitude", &Swing::amplitude, "0", "to one side")
        .between(0.0, constants::pi / 2)
        .out("period", &SwingResult::period, "there and back");
    return form;
}

}  // namespace hinge::demand
