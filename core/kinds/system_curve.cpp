#include "kinds/system_curve.hpp"
#include <algorithm>
#include "kinds/pairing.hpp"
#include "quantity/constants.hpp"
#include "quantity/roots.hpp"

namespace hinge::kinds {

std::optional<demand::PumpHead> headInputs(const project::PumpDemand& d, double flow) {
    if (!d.lift || !d.tube_length || !d.tube_diameter) return std::nullopt;
    demand::PumpHead in;
    in.static_head = *d.lift;
    in.flow = of<VolumeFlow>(flow);
    in.tube_length = *d.tube_length;
    in.tube_diameter = *d.tube_diameter;
    in.fittings_k = d.fittings_k;
    in.outlet_pressure = d.outlet_pressure;
    return in;
}

double headOnCurve(const HeadCurve& curve, double flow) {
    const auto& p = curve.points;
    if (flow <= p.front().x) return p.front().y;
    for (std::size_t i = 1; i < p.size(); ++i)
        if (flow <= p[i].x) return p[i - 1].y + (p[i].y - p[i - 1].y) * (flow - p[i - 1].x) / (p[i].x - p[i - 1].x);
    return p.back().y;
}

std::optional<double> systemHead(const project::PumpDemand& d, double flow) {
    if (flow <= 0.0)
        return d.lift ? std::optional<double>{si(*d.lift) + si(d.outlet_pressure) / (constants::water_density * constants::gravity)}
                      : std::nullopt;
    const auto in = headInputs(d, flow);
    if (!in) return std::nullopt;
    const auto figures = demand::pumpHeadFigures(*in);
    if (!figures) return std::nullopt;
    return si(figures->total_head);
}

HeadCurve curveAt(const actuator::Pump& pump, double n) {
    HeadCurve curve = pump.curve;
    const bool affinity = pump.pump_class == actuator::PumpClass::Centrifugal;
    for (auto& point : curve.points) {
        point.x *= n;
        if (affinity) point.y *= n * n;
    }
    return curve;
}

std::optional<double> crossing(const project::PumpDemand& d, const HeadCurve& curve) {
    const auto gap = [&](double q) -> std::optional<double> {
        const auto head = systemHead(d, q);
        if (!head) return std::nullopt;
        return headOnCurve(curve, q) - *head;
    };
    const auto at_rest = gap(0.0);
    const auto at_end = gap(curve.points.back().x);
    if (!at_rest || !at_end) return std::nullopt;
    if (*at_rest <= 0.0) return 0.0;
    if (*at_end > 0.0) return std::nullopt;
    return hinge::crossing([&](double q) { return gap(q).value_or(unknown); }, 0.0, curve.points.back().x);  // it only falls with flow
}

std::optional<double> liftAt(const project::PumpDemand& d, const HeadCurve& curve, double flow) {
    if (flow <= 0.0 || flow > curve.points.back().x || !d.lift) return std::nullopt;
    const auto asked = systemHead(d, flow);
    if (!asked) return std::nullopt;
    return std::max(0.0, headOnCurve(curve, flow) - (*asked - si(*d.lift)));
}

ChartWindow chartWindow(const project::PumpDemand& d, const Ask& asked, const HeadCurve& own) {
    const double lift = d.lift ? std::max(0.0, si(*d.lift)) : 0.0;
    ChartWindow window{asked.flow ? si(*asked.flow) * 1.8 : 2e-5, std::max(0.2, lift * 1.8)};
    if (!own.points.empty()) {
        window.flow = std::max(window.flow, own.points.back().x * 1.08);
        window.head = std::max(window.head, std::min(own.points.front().y * 1.15, lift * 6.0 + 2.0));
    }
    if (const auto end = systemHead(d, window.flow)) window.head = std::max(window.head, std::min(*end * 1.05, window.head * 2.0));
    return window;
}

}  // namespace hinge::kinds
