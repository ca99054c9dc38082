#include "match/ability.hpp"
#include <algorithm>
#include <cmath>
#include "actuator/stepper_torque.hpp"
#include "quantity/constants.hpp"

namespace hinge::match {

std::vector<StrokePoint> abilityCurve(const Context& c, const actuator::Part& part, const driver::DriverPart& driver,
                                      const RailOption& rail) {
    const Numbers n = judge(c, part, driver, rail);
    if (std::isnan(n.volts) || n.volts <= 0.0) return {};
    std::vector<StrokePoint> curve;
    if (const auto* m = std::get_if<actuator::Motor>(&part)) {
        if (!m->no_load_speed || !m->no_load_current || !m->stall_current || !m->stall_torque) return {};
        const double resistance = si(m->nominal_voltage) / si(*m->stall_current), rest = si(*m->no_load_current);
        const double kt = si(*m->stall_torque) / (si(*m->stall_current) - rest),
                     ke = (si(m->nominal_voltage) - rest * resistance) / si(*m->no_load_speed);
        const double ratio = si(m->gear_ratio) * c.gear_ratio, efficiency = si(m->gear_efficiency) * (c.gear_ratio != 1.0 ? 0.9 : 1.0);
        curve = {{0.0, std::max(0.0, (n.volts - rest * resistance) / ke / ratio)},
                 {kt * std::max(0.0, n.volts / resistance - rest) * ratio * efficiency, 0.0}};
    } else if (const auto* s = std::get_if<actuator::Servo>(&part)) {
        if (!s->torque_low || !s->torque_high || !s->time_low || !s->time_high) return {};
        const double along = std::clamp((n.volts - si(s->voltage_low)) / (si(s->voltage_high) - si(s->voltage_low)), 0.0, 1.0);
        const double stall = si(*s->torque_low) + along * (si(*s->torque_high) - si(*s->torque_low)),
                     time60 = si(*s->time_low) + along * (si(*s->time_high) - si(*s->time_low));
        curve = {{0.0, constants::pi / 3.0 / time60 / c.gear_ratio}, {stall * c.gear_ratio * (c.gear_ratio != 1.0 ? 0.9 : 1.0), 0.0}};
    } else if (const auto* st = std::get_if<actuator::Stepper>(&part)) {
        if (!st->holding_torque || !st->rated_current || !st->phase_resistance || !st->phase_inductance || std::isnan(n.drive_current))
            return {};
        const double ratio = si(st->gear_ratio) * c.gear_ratio, efficiency = si(st->gear_efficiency) * (c.gear_ratio != 1.0 ? 0.9 : 1.0);
        actuator::StepperTorque in{*st->holding_torque,
                                   *st->rated_current,
                                   *st->phase_resistance,
                                   *st->phase_inductance,
                                   st->steps_per_turn,
                                   of<Voltage>(n.volts),
                                   of<Current>(n.drive_current),
                                   {},
                                   {}};
        const double most = n.volts / (si(*st->holding_torque) / (std::sqrt(2.0) * si(*st->rated_current)));
        for (int i = 0; i <= 80; ++i) {
            in.speed = of<RotationSpeed>(most * i / 80.0 * (i / 80.0));  // closer together where it is slow
            const auto worked = actuator::stepperTorque(in);
            if (worked) curve.push_back({si(worked->result.torque) * ratio * efficiency, si(in.speed) / ratio});
        }
    }
    return curve;
}

std::vector<StrokePoint> fanCurveHere(const Context& c, const actuator::Part& part, const driver::DriverPart& driver,
                                      const RailOption& rail) {
    const auto* fan = std::get_if<actuator::Fan>(&part);
    if (fan == nullptr) return {};
    const Numbers n = judge(c, part, driver, rail);
    if (std::isnan(n.speed)) return {};
    std::vector<StrokePoint> curve;
    for (const auto& point : fan->curve.points) curve.push_back({point.x * n.speed, point.y * n.speed * n.speed});
    return curve;
}

double warmedBy(const project::HeatDemand& d, double power, double time) {
    if (!d.mass) return 0.0;
    const double capacity = si(*d.mass) * si(d.specific_heat), loss = d.loss_conductance ? si(*d.loss_conductance) : 0.0;
    if (loss <= 0.0) return power * time / capacity;
    return power / loss * -std::expm1(-loss * time / capacity);
}

}  // namespace hinge::match
