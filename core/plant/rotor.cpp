#include "plant/rotor.hpp"
#include <algorithm>
#include <cmath>
#include "actuator/mains_fan.hpp"

namespace hinge::plant {

double Rotor::settledSpeed(double share) const {
    const double holds = std::max(figures_.friction, figures_.stiction);
    const double drive = figures_.torque * share * figures_.supply / figures_.resistance;
    if (jammed_ || std::abs(drive) <= holds) return 0.0;
    const double sign = drive > 0.0 ? 1.0 : -1.0;
    return (drive - sign * figures_.friction) * figures_.resistance / (figures_.torque * figures_.back);
}

// One stretch with a constant share, ended early where it comes to rest or its current to nothing.
void Rotor::stretch(double dt, double share, bool brakes) {
    const auto& f = figures_;
    const double tau = timeConstant();
    double left = dt, charge = 0.0, moved = 0.0;
    const double before = angle_;
    for (int round = 0; left > 0.0 && round < 8; ++round) {
        const double volts = share * f.supply, stall = f.torque * volts / f.resistance;
        if (jammed_ || (speed_ == 0.0 && std::abs(stall) <= std::max(f.friction, f.stiction))) {
            speed_ = 0.0;
            charge += volts / f.resistance * left;
            break;
        }
        const double way = speed_ != 0.0 ? (speed_ > 0.0 ? 1.0 : -1.0) : stall > 0.0 ? 1.0 : -1.0;
        const bool coasts = !brakes && (volts - f.back * speed_) * way <= 0.0;
        if (coasts) {
            // Only friction: a straight line to the speed at which the pulses push again, or to rest.
            if (f.friction <= 0.0) {
                moved += speed_ * left;
                break;
            }
            const double slow = f.friction / f.inertia, until = std::abs(speed_) - std::max(0.0, volts * way / f.back),
                         time = std::min(left, until / slow);
            const double after = time < left && volts * way > 0.0 ? volts / f.back : time < left ? 0.0 : speed_ - way * slow * time;
            moved += (speed_ + after) / 2.0 * time;
            speed_ = after;
            left -= time;
            if (speed_ != 0.0 && time <= 0.0) {
                // It stands on the edge: friction takes it down to where the pulses hold it.
                const double settled = (stall - way * f.friction) * f.resistance / (f.torque * f.back);
                const double decay = std::exp(-left / tau), mean = settled + (speed_ - settled) * (1.0 - decay) * tau / left;
                charge += (volts - f.back * mean) / f.resistance * left;
                moved += mean * left;
                speed_ = settled + (speed_ - settled) * decay;
                left = 0.0;
            }
            continue;
        }
        const double settled = (stall - way * f.friction) * f.resistance / (f.torque * f.back);
        double time = left;
        bool rests = false;
        if (settled * way < 0.0 && speed_ * way > 0.0) {
            const double to_rest = tau * std::log((speed_ - settled) / -settled);
            if (to_rest < left) time = to_rest, rests = true;
        }
        const double decay = std::exp(-time / tau), mean = time > 0.0 ? settled + (speed_ - settled) * (1.0 - decay) * tau / time : speed_;
        moved += mean * time;
        charge += (volts - f.back * mean) / f.resistance * time;
        speed_ = rests ? 0.0 : settled + (speed_ - settled) * decay;
        left -= time;
    }
    angle_ = before + moved;
    current_ = dt > 0.0 ? charge / dt : 0.0;
}

void Rotor::step(double dt, double share, bool loose) {
    stretch(dt, share, figures_.brakes && !loose);
    supply_current_ = std::max(0.0, current_ * share);
    driven_ = std::clamp(driven_, angle_ - figures_.play / 2.0, angle_ + figures_.play / 2.0);
}

double FanPlant::drive(double share) const noexcept {
    return figures_.slip > 0.0 ? figures_.volts * std::sqrt(std::max(0.0, share)) : share;
}

double FanPlant::reached(double share) const noexcept {
    return figures_.slip > 0.0 ? actuator::mainsFanShare(drive(share), figures_.slip) : share;
}

void FanPlant::step(double dt, double share) {
    if (!turns_ && drive(share) >= figures_.start_share) turns_ = true;
    if (turns_ && drive(share) < figures_.keep_share) turns_ = false;
    const double was = angle_;
    const double settled = turns_ ? figures_.full_speed * reached(share) : 0.0, decay = std::exp(-dt / figures_.spin_up);
    angle_ += settled * dt + (speed_ - settled) * (1.0 - decay) * figures_.spin_up;
    speed_ = settled + (speed_ - settled) * decay;
    held_share_ = turns_ ? reached(share) : 0.0;
    if (jammed_) speed_ = 0.0, angle_ = was;
}

double FanPlant::current() const noexcept {
    const double share = jammed_ ? held_share_ : speed_ / figures_.full_speed;
    return figures_.current * share * share * share;
}

}  // namespace hinge::plant
