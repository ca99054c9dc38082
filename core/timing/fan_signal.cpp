#include "timing/fan_signal.hpp"
#include "quantity/constants.hpp"

namespace hinge::timing {

Result<Worked<FanDutyResult>> fanDuty(const FanDuty& in) {
    Worked<FanDutyResult> out;
    auto& r = out.result;
    const double demand = si(in.demand), start = si(in.start_duty);
    r.duty = of<Fraction>(demand > 0.0 ? start + demand * (1.0 - start) : 0.0);
    r.compare = of<Count>(std::floor(si(r.duty) * si(in.top) + 0.5));
    const std::string source = "common practice, no published source";
    addStep(out.steps, "d", "duty", demand > 0.0 ? "{s} + {x}·(1 − {s})" : "0", {{"s", start}, {"x", demand}}, r.duty, source);
    addStep(out.steps, "n", "compare value", "⌊{d}·{TOP} + ½⌋", {{"d", r.duty}, {"TOP", in.top}}, r.compare, "definition");
    return out;
}

FormPtr fanDutyForm() {
    auto form = std::make_shared<FormOf<FanDuty, FanDutyResult>>("fan-duty", "pulse", "a knob's demand as a fan's duty",
                                                                 "common practice, no published source", &fanDuty);
    form->rule("duty = 0 at 0, else start + demand·(1 − start); compare = ⌊duty·top + ½⌋")
        .in("demand", &FanDuty::demand, nullptr, "0 to 1")
        .zeroOk()
        .in("start_duty", &FanDuty::start_duty, "0.25", "at which it turns")
        .zeroOk()
        .in("top", &FanDuty::top, "320", "of the timer")
        .out("duty", &FanDutyResult::duty, "to set")
        .out("compare", &FanDutyResult::compare, "register value");
    return form;
}

Result<Worked<TachResult>> tach(const Tach& in) {
    Worked<TachResult> out;
    out.result.rotation_speed = of<RotationSpeed>(2.0 * constants::pi * si(in.pulses) / si(in.pulses_per_turn) / si(in.window));
    out.result.rpm = out.result.rotation_speed;
    addStep(out.steps, "ω", "rotation", "2·π·{n}/{p}/{t}", {{"n", in.pulses}, {"p", in.pulses_per_turn}, {"t", in.window}},
            out.result.rotation_speed, "definition");
    return out;
}

FormPtr tachForm() {
    auto form = std::make_shared<FormOf<Tach, TachResult>>("tach", "pulse", "rotation from a tach's pulses", "definition", &tach);
    form->rule("rotation = 2π·pulses/pulses_per_turn/window")
        .in("pulses", &Tach::pulses, nullptr, "counted")
        .zeroOk()
        .in("window", &Tach::window, nullptr, "in which they were counted")
        .in("pulses_per_turn", &Tach::pulses_per_turn, "2", "of the tach")
        .out("rotation_speed", &TachResult::rotation_speed, "of the shaft")
        .out("rpm", &TachResult::rpm, "the same", "rpm");
    return form;
}

}  // namespace hinge::timing
