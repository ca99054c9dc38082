#include "actuator/fan_point.hpp"
#include <algorithm>

namespace hinge::actuator {

Result<Worked<FanPointResult>> fanPoint(const FanPoint& in) {
    const double n = si(in.speed_fraction), k = si(in.system_k);
    const auto& points = in.curve.points;
    Worked<FanPointResult> out;
    auto& r = out.result;
    for (std::size_t i = 1; i < points.size(); ++i) {
        const double q0 = n * points[i - 1].x, q1 = n * points[i].x, p0 = n * n * points[i - 1].y, p1 = n * n * points[i].y;
        if (p1 > k * q1 * q1) continue;
        // p0 + s·(Q − q0) = k·Q², the root in the form that stays right as k goes to 0.
        const double s = (p1 - p0) / (q1 - q0), c = s * q0 - p0;
        const double root = std::sqrt(std::max(0.0, s * s - 4.0 * k * c));
        const double q = std::clamp(s - root != 0.0 ? 2.0 * c / (s - root) : q0, q0, q1);
        r.flow = of<VolumeFlow>(q);
        r.pressure = of<Pressure>(p0 + s * (q - q0));
        r.air_power = of<Power>(q * si(*r.pressure));
        addStep(out.steps, "Q", "flow where the curves cross", "{p0} + {s}·(Q − {q0}) = {k}·Q²", {{"p0", p0}, {"s", s}, {"q0", q0}, {"k", k}}, *r.flow, "affinity-laws");
        addStep(out.steps, "p", "pressure there", "{p0} + {s}·({Q} − {q0})", {{"p0", p0}, {"s", s}, {"Q", q}, {"q0", q0}}, *r.pressure, "affinity-laws");
        addStep(out.steps, "P", "power in the air", "{Q}·{p}", {{"Q", q}, {"p", *r.pressure}}, *r.air_power, "definition");
        return out;
    }
    out.verdict = Verdict::Unknown;
    out.findings.push_back({"curve-too-short", Severity::Note, "The curve ends before it meets what the system asks: the flow there is not known. Measure one more point with the outlet wider open."});
    return out;
}

FormPtr fanPointForm() {
    using I = FanPoint;
    using R = FanPointResult;
    auto form = std::make_shared<FormOf<I, R>>("fan-point", "match", "flow and pressure where a fan's curve meets the system's", "affinity-laws", &fanPoint);
    form->rule("n²·P(Q/n) = system_k·Q², the curve linear between its points")
        .in("curve", &I::curve, nullptr, "flow:pressure points at full speed, such as 0:80,0.05:0")
        .in("speed_fraction", &I::speed_fraction, "1", "share of full speed").upTo(1.5)
        .in("system_k", &I::system_k, nullptr, "pressure lost per flow squared").zeroOk()
        .out("flow", &R::flow, "at the crossing", "m³/s")
        .out("pressure", &R::pressure, "at the crossing", "Pa")
        .out("air_power", &R::air_power, "flow·pressure", "W");
    return form;
}

}  // namespace hinge::actuator
