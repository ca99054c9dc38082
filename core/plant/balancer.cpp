#include "plant/balancer.hpp"
#include <cmath>
#include "plant/runge_kutta.hpp"
#include "quantity/constants.hpp"

namespace hinge::plant {

void Balancer::setUp() {
    lean_ = figures_.start_lean;
    momentum_ = 0.0;
    lies_ = placed_ = false;
}

void Balancer::step(double dt, double place) {
    if (!placed_) place_ = place, placed_ = true;
    const double steps = place - place_, g = constants::gravity, h = figures_.height;
    place_ = place;
    const double way = steps * figures_.distance_per_step;
    rolled_ += way;
    if (lies_) return;
    // dψ/dt = g·sin φ − x'·φ'·sin φ, h·φ' = ψ − x'·cos φ; x' is constant over the step.
    const double v = dt > 0.0 ? way / dt : 0.0;
    const auto lean_rate = [&](double lean, double momentum) { return (momentum - v * std::cos(lean)) / h; };
    const auto momentum_rate = [&](double lean, double momentum) {
        return g * std::sin(lean) - v * lean_rate(lean, momentum) * std::sin(lean);
    };
    std::array state{lean_, momentum_};
    rungeKutta(state, dt, [&](const auto& now, double) { return std::array{lean_rate(now[0], now[1]), momentum_rate(now[0], now[1])}; });
    lean_ = state[0];
    momentum_ = state[1];
    if (std::abs(lean_) >= figures_.falls_at) {
        lean_ = lean_ > 0.0 ? figures_.falls_at : -figures_.falls_at;
        momentum_ = 0.0;
        lies_ = true;
    }
}

}  // namespace hinge::plant
