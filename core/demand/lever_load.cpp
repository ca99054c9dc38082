#include "demand/lever_load.hpp"
#include "quantity/constants.hpp"

namespace hinge::demand {

Result<Worked<LeverLoadResult>> leverLoad(const LeverLoad& in) {
    if (si(in.mass) == 0.0 && !in.inertia) return fail(ErrorCode::OutOfRange, "mass", "0", "greater than 0, unless the inertia is given");
    const double arm = si(in.arm), time = si(in.move_time);
    const double inertia = in.inertia ? si(*in.inertia) : si(in.mass) * arm * arm;
    Worked<LeverLoadResult> out;
    auto& r = out.result;
    r.gravity_torque = of<Torque>(si(in.mass) * constants::gravity * arm * std::cos(si(in.angle)));
    r.accel_torque = of<Torque>(inertia * 4.0 * si(in.move_angle) / (time * time));
    r.peak_speed = of<RotationSpeed>(2.0 * si(in.move_angle) / time);
    r.peak_torque = of<Torque>(si(r.gravity_torque) + si(r.accel_torque) + si(in.friction));
    r.needed_torque = of<Torque>(si(in.factor) * si(r.peak_torque));
    addStep(out.steps, "τg", "weight of the load at the arm", "{m}·{g}·{r}·cos({θ})",
            {{"m", in.mass}, {"g", constants::gravity}, {"r", arm}, {"θ", in.angle}}, r.gravity_torque, "newton-rotation");
    addStep(out.steps, "τa", "to get it moving, triangular profile", "{J}·4·{φ}/{t}²", {{"J", inertia}, {"φ", in.move_angle}, {"t", time}},
            r.accel_torque, "derived: φ/2 = ½·α·(t/2)²");
    addStep(out.steps, "ω", "fastest, half way", "2·{φ}/{t}", {{"φ", in.move_angle}, {"t", time}}, r.peak_speed,
            "derived: φ/2 = ½·α·(t/2)²");
    addStep(out.steps, "τ", "most that is asked", "{τg} + {τa} + {τf}",
            {{"τg", r.gravity_torque}, {"τa", r.accel_torque}, {"τf", in.friction}}, r.peak_torque, "newton-rotation");
    addStep(out.steps, "τn", "torque to ask for", "{k}·{τ}", {{"k", in.factor}, {"τ", r.peak_torque}}, r.needed_torque,
            "margin: common practice, no published source");
    return out;
}

FormPtr leverLoadForm() {
    using I = LeverLoad;
    using R = LeverLoadResult;
    auto form =
        std::make_shared<FormOf<I, R>>("lever-load", "need", "torque and speed to swing a load on an arm", "newton-rotation", &leverLoad);
    form->rule("gravity = m·g·arm·cos angle; accel = J·4·move_angle/move_time²; peak = sum with friction; needed = factor·peak")
        .in("mass", &I::mass, nullptr, "of the load")
        .zeroOk()
        .in("arm", &I::arm, nullptr, "pivot to its centre")
        .in("angle", &I::angle, "0", "from horizontal, the worst of the stroke")
        .between(-constants::pi / 2, constants::pi / 2)
        .in("inertia", &I::inertia, nullptr, "total about the pivot")
        .otherwise("mass·arm²")
        .in("move_angle", &I::move_angle, nullptr, "of the stroke")
        .in("move_time", &I::move_time, nullptr, "for the stroke")
        .in("friction", &I::friction, "0", "of the hinge")
        .in("factor", &I::factor, "2", "margin wanted")
        .between(1.0, std::numeric_limits<double>::infinity())
        .out("gravity_torque", &R::gravity_torque, "of the weight")
        .out("accel_torque", &R::accel_torque, "to accelerate")
        .out("peak_speed", &R::peak_speed, "half way")
        .out("peak_torque", &R::peak_torque, "sum with friction")
        .out("needed_torque", &R::needed_torque, "factor·peak")
        .resolve([](I& given) {
            if (!given.inertia && si(given.mass) > 0.0) given.inertia = of<Inertia>(si(given.mass) * si(given.arm) * si(given.arm));
        });
    return form;
}

}  // namespace hinge::demand
