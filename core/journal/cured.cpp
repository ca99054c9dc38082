#include "journal/cured.hpp"
#include <fmt/format.h>
#include <cmath>
#include "quantity/text.hpp"

namespace hinge::journal {

Result<Worked<CuredResult>> cured(const Cured& in) {
    const double m = si(in.old_interval), t = si(in.run_time), c = si(in.confidence);
    if (c >= 1.0) return fail(ErrorCode::OutOfRange, "confidence", exactNumber(c), "below 1: certainty takes for ever");
    Worked<CuredResult> out;
    auto& r = out.result;
    r.confidence_reached = of<Fraction>(1.0 - std::exp(-t / m));
    r.needed_time = of<Duration>(-m * std::log(1.0 - c));
    addStep(out.steps, "p", "chance that it would have come by now, were it not cured", "1 − e^(−{t}/{m})",
            {{"t", in.run_time}, {"m", in.old_interval}}, r.confidence_reached, "poisson-process");
    addStep(out.steps, "n", "time without it for the confidence asked", "−{m}·ln(1 − {c})", {{"m", in.old_interval}, {"c", in.confidence}},
            r.needed_time, "poisson-process");
    if (si(r.needed_time) > t * (1.0 + 1e-12)) {
        out.verdict = Verdict::Tight;
        out.findings.push_back({"not-cured-yet", Severity::Warn,
                                fmt::format("It has stayed away for {}: {} sure. Let it run for {} in all before you call it cured.",
                                            display(in.run_time), display(r.confidence_reached, 2), display(r.needed_time))});
    }
    return out;
}

FormPtr curedForm() {
    using I = Cured;
    using R = CuredResult;
    auto form = std::make_shared<FormOf<I, R>>("cured", "log", "how long a fault must stay away before it is called cured",
                                               "poisson-process", &cured);
    form->rule("reached = 1 − e^(−run/old); needed = −old·ln(1 − confidence)")
        .in("old_interval", &I::old_interval, nullptr, "mean time between faults before the cure")
        .in("run_time", &I::run_time, nullptr, "without one since")
        .zeroOk()
        .in("confidence", &I::confidence, "0.95", "asked for")
        .out("confidence_reached", &R::confidence_reached, "so far")
        .out("needed_time", &R::needed_time, "without a fault, in all");
    return form;
}

}  // namespace hinge::journal
