#pragma once
// One part on one driver and one rail, judged in plain numbers. No text is made here, so that whole catalogues can be judged;
// explain.hpp says it. What each kind of part and driver is judged by stands in its file of core/kinds.
#include "kinds/actuator_kind.hpp"

namespace hinge::match {

using namespace kinds;

/// What a part asks of its driver for this demand; nullopt: it cannot do this kind of job.
[[nodiscard]] inline std::optional<Method> methodFor(const Context& c, const actuator::Part& part) {
    return actuatorKind(part).method(c, part);
}
/// The stable id of a rule, "too-weak".
[[nodiscard]] const char* idOf(Rule rule, const actuator::Part& part);

/// What can be said of a part on a rail before a driver is chosen; `broken` stays so with every driver.
struct Glance {
    Method method = Method::OneWay;
    double rail = unknown, wire = 0.0;
    double least_current = 0.0;  ///< that the driver must carry, from below
    bool broken = false;
    Numbers numbers;     ///< with a driver that drops nothing: no real one makes it better
    bool suits = false;  ///< this kind of part can do this kind of job at all
};
[[nodiscard]] Glance glance(const Context& context, const actuator::Part& part, const RailOption& rail);
/// Everything. A driver that cannot drive this kind of part is Rule::Misfit.
[[nodiscard]] Numbers judge(const Context& context, const actuator::Part& part, const driver::DriverPart& driver, const RailOption& rail);

}  // namespace hinge::match
