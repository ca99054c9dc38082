#pragma once
// One step of the classical fourth-order rule of Runge and Kutta, by Boost.Odeint.
#include <array>
#include <boost/numeric/odeint/stepper/runge_kutta4_classic.hpp>

namespace hinge::plant {

/// @param state  moved on by `dt`
/// @param rate   rate(state, time) gives the state's rate of change; `time` runs from 0 to dt within the step
template <std::size_t n, class Rate>
void rungeKutta(std::array<double, n>& state, double dt, const Rate& rate) {
    using State = std::array<double, n>;
    boost::numeric::odeint::runge_kutta4_classic<State> rule;
    rule.do_step([&](const State& at, State& change, double time) { change = rate(at, time); }, state, 0.0, dt);
}

}  // namespace hinge::plant
