#include "actuator/pump_point.hpp"
#include <fmt/format.h>
#include "actuator/curve_crossing.hpp"

namespace hinge::actuator {

Result<Worked<PumpPointResult>> pumpPoint(const PumpPoint& in) {
    const double n = si(in.speed_fraction);
    const double lift = si(in.static_head);
    const double k = si(in.system_k);
    const auto& points = in.curve.points;
    Worked<PumpPointResult> out;
    const double shut_off = n * n * points.front().y;
    addStep(out.steps, "H0", "head at no flow, at this speed", "{n}²·{H}", {{"n", n}, {"H", points.front().y}}, of<Length>(shut_off),
            "affinity-laws");
    if (shut_off <= lift) {
        out.result.flow = of<VolumeFlow>(0.0);
        out.result.head = of<Length>(shut_off);
        out.findings.push_back({"pump-cannot-lift", Severity::Stop,
                                fmt::format("The pump lifts {} at most; the outlet is {} up. Nothing comes out.",
                                            display(Kind::Length, shut_off), display(in.static_head))});
        out.verdict = Verdict::Breaks;
        return out;
    }
    if (const auto met = curveMeets(in.curve, n, lift, k)) {
        const double q = met->flow;
        out.result.flow = of<VolumeFlow>(q);
        out.result.head = of<Length>(lift + k * q * q);
        addStep(out.steps, "Q", "flow where the curves cross", "{h0} + {s}·(Q − {q0}) = {hs} + {k}·Q²",
                {{"h0", met->start_height}, {"s", met->slope}, {"q0", met->start_flow}, {"hs", lift}, {"k", k}}, *out.result.flow,
                "affinity-laws");
        addStep(out.steps, "H", "head there", "{hs} + {k}·{Q}²", {{"hs", lift}, {"k", k}, {"Q", q}}, *out.result.head,
                "derived: system curve");
        return out;
    }
    out.verdict = Verdict::Unknown;
    out.findings.push_back(
        {"curve-too-short", Severity::Note,
         "The curve ends before it meets what the tube asks; the flow there is not known. Measure one more point, with the outlet lower."});
    return out;
}

FormPtr pumpPointForm() {
    using I = PumpPoint;
    auto form = std::make_shared<FormOf<I, PumpPointResult>>("pump-point", "match", "flow and head where a pump's curve meets the system's",
                                                             "affinity-laws", &pumpPoint);
    form->rule("n²·H(Q/n) = static_head + system_k·Q², the curve linear between its points")
        .in("curve", &I::curve, nullptr, "flow:head points at full speed, such as 0:3,0.00002:0")
        .in("speed_fraction", &I::speed_fraction, "1", "share of full speed")
        .upTo(1.5)
        .in("static_head", &I::static_head, nullptr, "outlet above the water's surface")
        .signedOk()
        .in("system_k", &I::system_k, nullptr, "head lost per flow squared")
        .zeroOk()
        .out("flow", &PumpPointResult::flow, "at the crossing", "m³/s")
        .out("head", &PumpPointResult::head, "at the crossing", "m");
    return form;
}

}  // namespace hinge::actuator
