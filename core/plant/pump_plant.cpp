#include "plant/pump_plant.hpp"
#include <algorithm>
#include <cmath>

namespace hinge::plant {

PumpPlant::PumpPlant(PumpFigures figures) : figures_{std::move(figures)} {}

double PumpPlant::settledSpeed(double duty) const noexcept {
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
    duty_ = duty;
    const double before = speed_;
    const double flow_before = flow();
    const double settled = settledSpeed(duty);
    const double decay = std::exp(-dt / figures_.spin_up);
    speed_ = settled + (before - settled) * decay;
    // Mean of the exponential over the step, exact.
    const double mean_speed = dt > 0.0 ? settled + (before - settled) * (1.0 - decay) * figures_.spin_up / dt : speed_;
    current_ = duty > 0.0 ? std::max(0.0, (duty * figures_.supply - figures_.nominal_back * mean_speed) / figures_.resistance) : 0.0;
    poured_ += dt * 0.5 * (flow_before + flow());
}

}  // namespace hinge::plant
