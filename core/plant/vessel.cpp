#include "plant/vessel.hpp"
#include <algorithm>
#include <cmath>
#include "plant/runge_kutta.hpp"

namespace hinge::plant {

void TankPlant::step(double dt, double share) {
    const double in = figures_.full_flow * share;
    std::array state{level_};
    rungeKutta(state, dt, [&](const auto& level, double) {
        return std::array{(in - figures_.outlet * std::sqrt(std::max(0.0, level[0]))) / figures_.area};
    });
    level_ = std::max(0.0, state[0]);
    if (level_ > figures_.top) {
        spilled_ += (level_ - figures_.top) * figures_.area;
        level_ = figures_.top;
    }
}

void BoxPlant::step(double dt, double share) {
    const auto& f = figures_;
    // A plate's heat falls straight with the difference: it acts like a conductance of its own.
    const double given = share < 0.0 && f.backwards > 0.0 ? f.backwards * share : f.power * share,
                 pumped = f.backwards > 0.0 ? f.backwards * std::abs(share) : std::abs(given);
    const double plate = f.largest_difference > 0.0 ? pumped / f.largest_difference : 0.0;
    const double rate = (f.conductance + plate) / f.capacity, settled = f.ambient + (rate > 0.0 ? given / (f.conductance + plate) : 0.0);
    const double before = inside_;
    if (rate > 0.0) {
        double lag = std::max(f.sensor_lag, 1e-6);
        if (std::abs(rate * lag - 1.0) < 1e-6) lag *= 1.00001;
        const double fast = std::exp(-dt / lag), slow = std::exp(-rate * dt), away = before - settled, seen = away / (1.0 - rate * lag);
        inside_ = settled + away * slow;
        shown_ = settled + seen * slow + (shown_ - settled - seen) * fast;
    } else {
        // No loss: a straight line, and the thermometer behind it by its lag.
        const double gain = given / f.capacity, lag = std::max(f.sensor_lag, 1e-6), fast = std::exp(-dt / lag);
        inside_ = before + gain * dt;
        shown_ = inside_ - gain * lag + (shown_ - before + gain * lag) * fast;
    }
    power_ = given - plate * (inside_ - f.ambient);
}

}  // namespace hinge::plant
