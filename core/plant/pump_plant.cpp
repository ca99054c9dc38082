#include "plant/pump_plant.hpp"
#include <algorithm>
#include <cmath>
#include "actuator/pump.hpp"
#include "actuator/pwm_current.hpp"

namespace hinge::plant {

PumpPlant::PumpPlant(PumpFigures figures) : figures_{std::move(figures)} {}

double PumpPlant::settledSpeed(double duty) const {
    if (figures_.inductance > 0.0 && duty < 1.0)
        return actuator::pulsedSpeed(figures_.supply, duty, figures_.resistance, figures_.inductance, figures_.period, figures_.running,
                                     figures_.nominal_back);
    const double applied = duty * figures_.supply;
    if (applied <= 0.0) return 0.0;
    const double a = figures_.running * figures_.resistance;
    const double back = figures_.nominal_back;
    return 2.0 * applied / (back + std::sqrt(back * back + 4.0 * a * applied));
}

double PumpPlant::flow() const noexcept {
    if (figures_.flow.size() < 2 || tank() <= 0.0) return 0.0;
    const double place = std::max(0.0, speed_ / figures_.speed_step);
    const auto last = figures_.flow.size() - 1;
    const auto low = std::min(static_cast<std::size_t>(place), last - 1);
    const double share = std::min(1.0, place - static_cast<double>(low));
    return figures_.flow[low] + share * (figures_.flow[low + 1] - figures_.flow[low]);
}

void PumpPlant::step(double dt, double duty) {
    if (steady_ && duty == duty_) {
        poured_ += dt * flow();
        return;
    }
    duty_ = duty;
    if (jammed_) speed_ = 0.0;
    const double before = speed_;
    const double flow_before = flow();
    if (duty != settled_duty_) {
        settled_duty_ = duty;
        settled_ = settledSpeed(duty);
    }
    const double settled = jammed_ ? 0.0 : settled_;
    if (dt != decay_dt_) decay_dt_ = dt, decay_ = std::exp(-dt / figures_.spin_up);
    const double decay = decay_;
    speed_ = settled + (before - settled) * decay;
    // An exponential never arrives; a trillionth of full speed is taken for there.
    if (std::abs(speed_ - settled) < 1e-12) speed_ = settled;
    // Mean of the exponential over the step, exact.
    const double mean_speed = dt > 0.0 ? settled + (before - settled) * (1.0 - decay) * figures_.spin_up / dt : speed_;
    const double back = figures_.nominal_back * mean_speed;
    if (figures_.inductance > 0.0) {
        const auto means = actuator::pwmMeans(figures_.supply, back, figures_.resistance, figures_.inductance, figures_.period, duty, 0.7);
        current_ = means.motor;
        supply_current_ = means.supply;
    } else {
        current_ = duty > 0.0 ? std::max(0.0, (duty * figures_.supply - back) / figures_.resistance) : 0.0;
        supply_current_ = current_ * duty;
    }
    poured_ += dt * 0.5 * (flow_before + flow());
    steady_ = before == settled;
}

}  // namespace hinge::plant
