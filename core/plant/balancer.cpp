#include "plant/balancer.hpp"
#include <cmath>
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
    const double l1 = lean_rate(lean_, momentum_), m1 = momentum_rate(lean_, momentum_);
    const double l2 = lean_rate(lean_ + dt / 2.0 * l1, momentum_ + dt / 2.0 * m1),
                 m2 = momentum_rate(lean_ + dt / 2.0 * l1, momentum_ + dt / 2.0 * m1);
    const double l3 = lean_rate(lean_ + dt / 2.0 * l2, momentum_ + dt / 2.0 * m2),
                 m3 = momentum_rate(lean_ + dt / 2.0 * l2, momentum_ + dt / 2.0 * m2);
    const double l4 = lean_rate(lean_ + dt * l3, momentum_ + dt * m3), m4 = momentum_rate(lean_ + dt * l3, momentum_ + dt * m3);
    lean_ += dt / 6.0 * (l1 + 2.0 * l2 + 2.0 * l3 + l4);
    momentum_ += dt / 6.0 * (m1 + 2.0 * m2 + 2.0 * m3 + m4);
    if (std::abs(lean_) >= figures_.falls_at) {
        lean_ = lean_ > 0.0 ? figures_.falls_at : -figures_.falls_at;
        momentum_ = 0.0;
        lies_ = true;
    }
}

}  // namespace hinge::plant
