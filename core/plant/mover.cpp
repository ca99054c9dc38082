#include "plant/mover.hpp"
#include <algorithm>
#include <cmath>
#include <numbers>
#include "plant/runge_kutta.hpp"

namespace hinge::plant {

void ServoPlant::step(double dt, double place) {
    const auto& f = figures_;
    strains_ = false;
    if (place <= 0.0) {
        current_ = 0.0;
        return;
    }
    const double asked = (place - f.zero_place) * f.per_place, target = std::clamp(asked, f.low_stop, f.high_stop);
    strains_ = std::abs(asked - target) > f.dead;
    const double before = angle_;
    double away = target - angle_, left = dt;
    if (std::abs(away) > f.dead) {
        const double way = away > 0.0 ? 1.0 : -1.0, near = f.most_speed * f.quickness;
        if (std::abs(away) > near) {
            const double time = std::min(left, (std::abs(away) - near) / f.most_speed);
            angle_ += way * f.most_speed * time;
            left -= time;
            away = target - angle_;
        }
        if (left > 0.0) angle_ = target - away * std::exp(-left / f.quickness);
    }
    current_ = strains_
                   ? f.strain_current
                   : f.rest_current + (f.move_current - f.rest_current) * std::min(1.0, std::abs(angle_ - before) / (f.most_speed * dt));
}

double StepAxis::torqueAt(double speed) const {
    const double at = std::abs(speed) / figures_.speed_spacing;
    const auto last = figures_.torque.size() - 1, low = std::min(static_cast<std::size_t>(at), last);
    if (low == last) return figures_.torque.back();
    return figures_.torque[low] + (at - static_cast<double>(low)) * (figures_.torque[low + 1] - figures_.torque[low]);
}

void StepAxis::standAt(double place) {
    commanded_ = angle_ = place * 2.0 * std::numbers::pi / figures_.places_per_turn;
    speed_ = 0.0;
    placed_ = true;
}

void StepAxis::step(double dt, double place) {
    if (!placed_) standAt(place);
    const auto& f = figures_;
    const double to = place * 2.0 * std::numbers::pi / f.places_per_turn, from = commanded_;
    const int parts = std::max(1, static_cast<int>(std::ceil(dt / 50e-6)));
    const double h = dt / parts;
    const auto acceleration = [&](double angle, double speed, double field) {
        // Dry friction, rounded off below 5 rpm so that rest is found.
        const double against = f.load * std::clamp(speed / 0.5, -1.0, 1.0);
        return (torqueAt(speed) * std::sin(f.teeth * (field - angle)) - f.damping * speed - against) / f.inertia;
    };
    for (int i = 0; i < parts; ++i) {
        std::array state{angle_, speed_};
        rungeKutta(state, h, [&](const auto& now, double time) {
            return std::array{now[1], acceleration(now[0], now[1], from + (to - from) * (i * h + time) / dt)};
        });
        angle_ = state[0];
        speed_ = state[1];
    }
    commanded_ = to;
}

double StepAxis::lost() const noexcept {
    const double slip = 2.0 * std::numbers::pi / figures_.teeth;  // one turn of the field
    return std::round((commanded_ - angle_) / slip) * figures_.places_per_turn / figures_.teeth;
}

}  // namespace hinge::plant
