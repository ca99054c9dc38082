#include "demand/dose.hpp"
#include <fmt/format.h>

namespace hinge::demand {

Result<Worked<DoseResult>> dose(const Dose& in) {
    Worked<DoseResult> out;
    auto& r = out.result;
    r.run_time = of<Duration>(si(in.volume) / si(in.flow));
    r.daily_run_time = of<Duration>(si(r.run_time) * si(in.doses_per_day));
    r.daily_volume = of<Volume>(si(in.volume) * si(in.doses_per_day));
    addStep(out.steps, "t", "run time of one dose", "{V}/{Q}", {{"V", in.volume}, {"Q", in.flow}}, r.run_time, "derived: t = V/Q");
    addStep(out.steps, "td", "run time in a day", "{t}·{n}", {{"t", r.run_time}, {"n", in.doses_per_day}}, r.daily_run_time,
            "derived: t = V/Q");
    addStep(out.steps, "Vd", "volume in a day", "{V}·{n}", {{"V", in.volume}, {"n", in.doses_per_day}}, r.daily_volume, "derived: t = V/Q");
    if (in.run_time_limit && si(r.run_time) > si(*in.run_time_limit))
        out.findings.push_back({"dose-over-time", Severity::Stop,
                                fmt::format("One dose takes {}; you allow {}. The pump is strong enough but too slow: it needs {} or more.",
                                            display(r.run_time), display(*in.run_time_limit),
                                            display(Kind::VolumeFlow, si(in.volume) / si(*in.run_time_limit)))});
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr doseForm() {
    auto form = std::make_shared<FormOf<Dose, DoseResult>>("dose", "need", "run time of a dose and what it makes in a day",
                                                           "derived: t = V/Q", &dose);
    form->rule("run_time = volume/flow; past run_time_limit it breaks")
        .in("volume", &Dose::volume, nullptr, "volume of one dose")
        .in("flow", &Dose::flow, nullptr, "flow at the working point, or by cup and clock")
        .in("doses_per_day", &Dose::doses_per_day, "1", "doses in a day")
        .in("run_time_limit", &Dose::run_time_limit, nullptr, "longest time for one dose")
        .out("run_time", &DoseResult::run_time, "of one dose")
        .out("daily_run_time", &DoseResult::daily_run_time, "in a day")
        .out("daily_volume", &DoseResult::daily_volume, "in a day");
    return form;
}

}  // namespace hinge::demand
