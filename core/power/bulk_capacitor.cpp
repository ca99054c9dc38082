#include "power/bulk_capacitor.hpp"
#include <fmt/format.h>

namespace hinge::power {

Result<Worked<BulkCapacitorResult>> bulkCapacitor(const BulkCapacitor& in) {
    Worked<BulkCapacitorResult> out;
    auto& r = out.result;
    const double step = si(in.current_step), time = si(in.duration), esr = si(in.esr);
    const std::string source = "derived: ΔV = I·ESR + I·t/C";
    if (in.allowed_sag) {
        const double left = si(*in.allowed_sag) - step * esr;
        if (left <= 0.0) {
            out.findings.push_back({"rail-sag", Severity::Stop,
                                    fmt::format("The capacitor's own resistance drops {} already; you allow {}.",
                                                display(Kind::Voltage, step * esr), display(*in.allowed_sag))});
            out.verdict = Verdict::Breaks;
            return out;
        }
        r.capacitance = of<Capacitance>(step * time / left);
        r.standard = of<Capacitance>(preferred(si(*r.capacitance), in.series, Round::Up));
        r.sag = *in.allowed_sag;
        addStep(out.steps, "C", "capacitance for this sag", "{I}·{t}/({ΔV} − {I}·{ESR})",
                {{"I", step}, {"t", time}, {"ΔV", *in.allowed_sag}, {"ESR", esr}}, *r.capacitance, source);
        addStep(out.steps, "Cs", "next higher of the series", "{C} rounded up", {{"C", *r.capacitance}}, *r.standard, "iec-60063");
    } else if (in.capacitance) {
        r.capacitance = *in.capacitance;
        r.standard = of<Capacitance>(preferred(si(*in.capacitance), in.series, Round::Up));
        r.sag = of<Voltage>(step * esr + step * time / si(*in.capacitance));
        addStep(out.steps, "ΔV", "sag of the rail", "{I}·{ESR} + {I}·{t}/{C}",
                {{"I", step}, {"ESR", esr}, {"t", time}, {"C", *in.capacitance}}, *r.sag, source);
    } else {
        return fail(ErrorCode::Missing, "allowed_sag / capacitance", "", "give exactly one of allowed_sag / capacitance");
    }
    return out;
}

FormPtr bulkCapacitorForm() {
    using I = BulkCapacitor;
    using R = BulkCapacitorResult;
    auto form = std::make_shared<FormOf<I, R>>("bulk-capacitor", "feed", "a capacitor that carries a current step",
                                               "derived: ΔV = I·ESR + I·t/C", &bulkCapacitor);
    form->rule("C = I·t/(ΔV − I·ESR), or sag = I·ESR + I·t/C")
        .in("current_step", &I::current_step, nullptr, "beyond what the supply gives at once")
        .in("duration", &I::duration, nullptr, "until the supply follows")
        .in("allowed_sag", &I::allowed_sag, nullptr, "of the rail")
        .in("capacitance", &I::capacitance, nullptr, "fitted")
        .in("esr", &I::esr, "0", "series resistance of the capacitor")
        .in("series", &I::series, "E6", "of preferred values")
        .oneOf({{"allowed_sag"}, {"capacitance"}})
        .out("capacitance", &R::capacitance, "exact, or as fitted", "F")
        .out("standard", &R::standard, "next higher preferred value", "F")
        .out("sag", &R::sag, "of the rail", "V");
    return form;
}

}  // namespace hinge::power
