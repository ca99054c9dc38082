#include "actuator/fan_point.hpp"
#include "actuator/curve_crossing.hpp"

namespace hinge::actuator {

Result<Worked<FanPointResult>> fanPoint(const FanPoint& in) {
    const double n = si(in.speed_fraction), k = si(in.system_k);
    Worked<FanPointResult> out;
    auto& r = out.result;
    if (const auto met = curveMeets(in.curve, n, 0.0, k)) {
        const double q = met->flow, s = met->slope, q0 = met->start_flow, p0 = met->start_height;
        r.flow = of<VolumeFlow>(q);
        r.pressure = of<Pressure>(p0 + s * (q - q0));
        r.air_power = of<Power>(q * si(*r.pressure));
        addStep(out.steps, "Q", "flow where the curves cross", "{p0} + {s}·(Q − {q0}) = {k}·Q²",
                {{"p0", p0}, {"s", s}, {"q0", q0}, {"k", k}}, *r.flow, "affinity-laws");
        addStep(out.steps, "p", "pressure there", "{p0} + {s}·({Q} − {q0})", {{"p0", p0}, {"s", s}, {"Q", q}, {"q0", q0}}, *r.pressure,
                "affinity-laws");
        addStep(out.steps, "P", "power in the air", "{Q}·{p}", {{"Q", q}, {"p", *r.pressure}}, *r.air_power, "definition");
        return out;
    }
    out.verdict = Verdict::Unknown;
    out.findings.push_back({"curve-too-short", Severity::Note,
                            "The curve ends before it meets what the system asks: the flow there is not known. Measure one more point with "
                            "the outlet wider open."});
    return out;
}

FormPtr fanPointForm() {
    using I = FanPoint;
    using R = FanPointResult;
    auto form = std::make_shared<FormOf<I, R>>("fan-point", "match", "flow and pressure where a fan's curve meets the system's",
                                               "affinity-laws", &fanPoint);
    form->rule("n²·P(Q/n) = system_k·Q², the curve linear between its points")
        .in("curve", &I::curve, nullptr, "flow:pressure points at full speed, such as 0:80,0.05:0")
        .in("speed_fraction", &I::speed_fraction, "1", "share of full speed")
        .upTo(1.5)
        .in("system_k", &I::system_k, nullptr, "pressure lost per flow squared")
        .zeroOk()
        .out("flow", &R::flow, "at the crossing", "m³/s")
        .out("pressure", &R::pressure, "at the crossing", "Pa")
        .out("air_power", &R::air_power, "flow·pressure", "W");
    return form;
}

}  // namespace hinge::actuator
