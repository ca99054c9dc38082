#include "demand/straight_motion.hpp"
#include "quantity/constants.hpp"

namespace hinge::demand {
namespace {

using constants::gravity;
using constants::pi;

}  // namespace

Result<Worked<LinearLoadResult>> linearLoad(const LinearLoad& in) {
    Worked<LinearLoadResult> out;
    auto& r = out.result;
    const double beta = si(in.incline);
    r.force = of<Force>(si(in.mass) * gravity * (std::sin(beta) + si(in.friction_coefficient) * std::cos(beta)) +
                        si(in.mass) * si(in.acceleration) + si(in.extra_force));
    r.power = of<Power>(si(r.force) * si(in.speed));
    addStep(out.steps, "F", "force along the way", "{m}·{g}·(sin({β}) + {µ}·cos({β})) + {m}·{a} + {Fx}",
            {{"m", in.mass}, {"g", gravity}, {"β", beta}, {"µ", in.friction_coefficient}, {"a", in.acceleration}, {"Fx", in.extra_force}},
            r.force, "newton-rotation");
    addStep(out.steps, "P", "power at that speed", "{F}·{v}", {{"F", r.force}, {"v", in.speed}}, r.power, "definition");
    return out;
}

FormPtr linearLoadForm() {
    using I = LinearLoad;
    auto form = std::make_shared<FormOf<I, LinearLoadResult>>("linear-load", "need", "force to move a load along a way", "newton-rotation",
                                                              &linearLoad);
    form->rule("force = m·g·(sin β + µ·cos β) + m·a + extra; power = force·speed")
        .in("mass", &I::mass, nullptr, "moved")
        .in("incline", &I::incline, "0", "of the way, up is positive")
        .between(-pi / 2, pi / 2)
        .in("friction_coefficient", &I::friction_coefficient, "0", "of the guide")
        .in("acceleration", &I::acceleration, "0", "wanted")
        .signedOk()
        .in("extra_force", &I::extra_force, "0", "such as a spring or a string")
        .signedOk()
        .in("speed", &I::speed, "0", "of the load")
        .out("force", &LinearLoadResult::force, "along the way")
        .out("power", &LinearLoadResult::power, "force·speed");
    return form;
}

Result<Worked<ScrewDriveResult>> screwDrive(const ScrewDrive& in) {
    Worked<ScrewDriveResult> out;
    auto& r = out.result;
    const double lead = si(in.lead);
    r.torque = of<Torque>(si(in.force) * lead / (2.0 * pi * si(in.efficiency)));
    r.rotation_speed = of<RotationSpeed>(2.0 * pi * si(in.speed) / lead);
    addStep(out.steps, "T", "torque at the screw", "{F}·{l}/(2·π·{η})", {{"F", in.force}, {"l", lead}, {"η", in.efficiency}}, r.torque,
            "power-screw");
    addStep(out.steps, "ω", "its rotation", "2·π·{v}/{l}", {{"v", in.speed}, {"l", lead}}, r.rotation_speed, "power-screw");
    if (in.mean_diameter) {
        const double steepness = lead / (pi * si(*in.mean_diameter));
        r.self_locking = si(in.friction_coefficient) > steepness;
        addStep(out.steps, "l/πd", "steepness; below the friction it locks itself", "{l}/(π·{d})", {{"l", lead}, {"d", *in.mean_diameter}},
                of<Ratio>(steepness), "power-screw");
    }
    return out;
}

FormPtr screwDriveForm() {
    using I = ScrewDrive;
    using R = ScrewDriveResult;
    auto form =
        std::make_shared<FormOf<I, R>>("screw-drive", "need", "torque and rotation of a screw that pushes", "power-screw", &screwDrive);
    form->rule("torque = force·lead/(2π·efficiency); rotation = 2π·speed/lead; self-locking: µ > lead/(π·d)")
        .in("force", &I::force, nullptr, "to push")
        .in("lead", &I::lead, nullptr, "travel per turn")
        .in("efficiency", &I::efficiency, "0.3", "of the thread")
        .in("mean_diameter", &I::mean_diameter, nullptr, "of the thread")
        .otherwise("unknown")
        .in("friction_coefficient", &I::friction_coefficient, "0.15", "of the thread")
        .zeroOk()
        .in("speed", &I::speed, "0", "of the load")
        .out("torque", &R::torque, "at the screw")
        .out("rotation_speed", &R::rotation_speed, "of the screw")
        .out("self_locking", &R::self_locking, "holds without power", "");
    return form;
}

Result<Worked<BeltDriveResult>> beltDrive(const BeltDrive& in) {
    Worked<BeltDriveResult> out;
    auto& r = out.result;
    const double travel = si(in.pulley_teeth) * si(in.belt_pitch);
    r.travel_per_turn = of<Length>(travel);
    r.torque = of<Torque>(si(in.force) * travel / (2.0 * pi));
    r.rotation_speed = of<RotationSpeed>(2.0 * pi * si(in.speed) / travel);
    const std::string source = "derived: work of one turn";
    addStep(out.steps, "s", "travel of one turn", "{z}·{p}", {{"z", in.pulley_teeth}, {"p", in.belt_pitch}}, r.travel_per_turn, source);
    addStep(out.steps, "T", "torque at the pulley", "{F}·{s}/(2·π)", {{"F", in.force}, {"s", travel}}, r.torque, source);
    addStep(out.steps, "ω", "its rotation", "2·π·{v}/{s}", {{"v", in.speed}, {"s", travel}}, r.rotation_speed, source);
    return out;
}

FormPtr beltDriveForm() {
    using I = BeltDrive;
    using R = BeltDriveResult;
    auto form = std::make_shared<FormOf<I, R>>("belt-drive", "need", "torque and rotation of a pulley with a toothed belt",
                                               "derived: work of one turn", &beltDrive);
    form->rule("travel_per_turn = teeth·pitch; torque = force·travel/2π; rotation = 2π·speed/travel")
        .in("force", &I::force, nullptr, "along the belt")
        .in("pulley_teeth", &I::pulley_teeth, nullptr, "of the pulley")
        .in("belt_pitch", &I::belt_pitch, nullptr, "tooth to tooth")
        .in("speed", &I::speed, "0", "of the belt")
        .out("travel_per_turn", &R::travel_per_turn, "of the belt")
        .out("torque", &R::torque, "at the pulley")
        .out("rotation_speed", &R::rotation_speed, "of the pulley");
    return form;
}

Result<Worked<WheelDriveResult>> wheelDrive(const WheelDrive& in) {
    Worked<WheelDriveResult> out;
    auto& r = out.result;
    const double slope = si(in.slope);
    r.force = of<Force>(si(in.mass) * (gravity * (std::sin(slope) + si(in.rolling_coefficient) * std::cos(slope)) + si(in.acceleration)));
    r.torque_per_wheel = of<Torque>(si(r.force) * si(in.wheel_diameter) / 2.0 / si(in.driven_wheels));
    r.rotation_speed = of<RotationSpeed>(2.0 * si(in.speed) / si(in.wheel_diameter));
    r.power = of<Power>(si(r.force) * si(in.speed));
    addStep(out.steps, "F", "force at the ground", "{m}·({g}·(sin({s}) + {c}·cos({s})) + {a})",
            {{"m", in.mass}, {"g", gravity}, {"s", slope}, {"c", in.rolling_coefficient}, {"a", in.acceleration}}, r.force,
            "newton-rotation");
    addStep(out.steps, "T", "torque at each driven wheel", "{F}·{D}/2/{n}",
            {{"F", r.force}, {"D", in.wheel_diameter}, {"n", in.driven_wheels}}, r.torque_per_wheel, "newton-rotation");
    addStep(out.steps, "ω", "rotation of a wheel", "2·{v}/{D}", {{"v", in.speed}, {"D", in.wheel_diameter}}, r.rotation_speed,
            "definition");
    addStep(out.steps, "P", "power at the ground", "{F}·{v}", {{"F", r.force}, {"v", in.speed}}, r.power, "definition");
    return out;
}

FormPtr wheelDriveForm() {
    using I = WheelDrive;
    using R = WheelDriveResult;
    auto form =
        std::make_shared<FormOf<I, R>>("wheel-drive", "need", "torque at the wheels of a moving body", "newton-rotation", &wheelDrive);
    form->rule("F = m·(g·(sin s + c·cos s) + a); torque_per_wheel = F·D/2/driven_wheels; rotation = 2·speed/D; power = F·speed")
        .in("mass", &I::mass, nullptr, "of the whole body")
        .in("wheel_diameter", &I::wheel_diameter, nullptr, "over the tyre")
        .in("slope", &I::slope, "0", "up is positive")
        .between(-pi / 2, pi / 2)
        .in("rolling_coefficient", &I::rolling_coefficient, "0.02", "of tyre and ground")
        .in("acceleration", &I::acceleration, "0", "wanted")
        .signedOk()
        .in("driven_wheels", &I::driven_wheels, "2", "that share the force")
        .in("speed", &I::speed, "0", "of the body")
        .out("force", &R::force, "at the ground")
        .out("torque_per_wheel", &R::torque_per_wheel, "at each driven wheel")
        .out("rotation_speed", &R::rotation_speed, "of a wheel")
        .out("power", &R::power, "F·speed");
    return form;
}

}  // namespace hinge::demand
