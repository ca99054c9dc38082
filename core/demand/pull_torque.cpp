#include "demand/pull_torque.hpp"

namespace hinge::demand {

Result<Worked<PullTorqueResult>> pullTorque(const PullTorque& in) {
    Worked<PullTorqueResult> out;
    out.result.torque = of<Torque>(si(in.pull) * si(in.arm));
    out.result.needed_torque = of<Torque>(si(in.factor) * si(out.result.torque));
    addStep(out.steps, "T", "torque at the hinge", "{F}·{r}", {{"F", in.pull}, {"r", in.arm}}, out.result.torque, "newton-rotation");
    addStep(out.steps, "Tn", "torque to ask for", "{k}·{T}", {{"k", in.factor}, {"T", out.result.torque}}, out.result.needed_torque,
            "margin: common practice, no published source");
    return out;
}

FormPtr pullTorqueForm() {
    auto form = std::make_shared<FormOf<PullTorque, PullTorqueResult>>("pull-torque", "need", "torque at a hinge from a pull on a scale",
                                                                       "newton-rotation", &pullTorque);
    form->rule("torque = pull·arm; needed_torque = factor·torque")
        .in("pull", &PullTorque::pull, nullptr, "reading of the scale, at right angles to the arm")
        .in("arm", &PullTorque::arm, nullptr, "hinge to hook")
        .in("factor", &PullTorque::factor, "2", "margin wanted")
        .between(1.0, std::numeric_limits<double>::infinity())
        .out("torque", &PullTorqueResult::torque, "pull·arm")
        .out("needed_torque", &PullTorqueResult::needed_torque, "factor·torque");
    return form;
}

}  // namespace hinge::demand
