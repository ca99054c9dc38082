#include "match/ability.hpp"
#include <cmath>

namespace hinge::match {

std::vector<StrokePoint> abilityCurve(const Context& c, const actuator::Part& part, const driver::DriverPart& driver,
                                      const RailOption& rail) {
    const Numbers n = judge(c, part, driver, rail);
    return n.volts > 0.0 ? actuatorKind(part).shaft(c, part, n) : std::vector<StrokePoint>{};
}

std::vector<StrokePoint> fanCurveHere(const Context& c, const actuator::Part& part, const driver::DriverPart& driver,
                                      const RailOption& rail) {
    return actuatorKind(part).air(part, judge(c, part, driver, rail));
}

double warmedBy(const project::HeatDemand& d, double power, double time) {
    if (!d.mass) return 0.0;
    const double capacity = si(*d.mass) * si(d.specific_heat), loss = d.loss_conductance ? si(*d.loss_conductance) : 0.0;
    if (loss <= 0.0) return power * time / capacity;
    return power / loss * -std::expm1(-loss * time / capacity);
}

}  // namespace hinge::match
