#pragma once
// How near a sampled loop is to ringing for ever.
#include <Eigen/Core>
#include <complex>
#include <optional>
#include "control/closed_loop.hpp"

namespace hinge::control {

/// A machine near its working point: x' = Ax + bu, y = cx, read `delay` later.
struct LinearPlant {
    Eigen::MatrixXd a;
    Eigen::VectorXd b;
    Eigen::RowVectorXd c;
    double delay = 0.0;    ///< s
    bool counted = false;  ///< y is counted over each period (a tach): the integral of cx over it
};
/// @param share  where it works: drive, or for what balances upright
/// @return nullopt for what has no loop of this kind (servo, stepper axis)
/// @source derived: the plants' own equations, straightened at their working point
[[nodiscard]] std::optional<LinearPlant> straightened(const plant::Coupling& coupling, double share);
/// First order with dead time: a fitted step.
[[nodiscard]] LinearPlant firstOrder(double gain, double time_constant, double dead_time);

struct Margins {
    bool stable = false;               ///< every pole of the sampled loop lies within the unit circle
    double slowest = 0.0;              ///< largest size of a pole: what is left of an error after each period
    std::optional<double> crossover;   ///< rad/s at which the loop's gain is 1, the last one
    std::optional<double> phase;       ///< rad, the least over all such crossings
    std::optional<double> gain;        ///< factor by which all gains may grow; absent: any
    std::optional<double> least_gain;  ///< factor to which they may shrink: what falls by itself needs some; absent: to nothing
};
/// @source astrom-wittenmark: sampled systems, frequency response at e^(jωh)
[[nodiscard]] Margins margins(const LinearPlant& plant, const PidFigures& pid);
/// The poles alone: quick enough to try a whole range of gains.
[[nodiscard]] bool isStable(const LinearPlant& plant, const PidFigures& pid);
/// The loop's gain at ω [rad/s], 0 < ω < π/h.
[[nodiscard]] std::complex<double> loopGain(const LinearPlant& plant, const PidFigures& pid, double omega);
/// The longest period, with the same gains a second, at which it is still stable: between the period now and a hundred times it, to 1 %.
/// @return nullopt when it is not stable now
[[nodiscard]] std::optional<double> longestStablePeriod(const LinearPlant& plant, const PidFigures& pid);

}  // namespace hinge::control
