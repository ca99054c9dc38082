#pragma once
// The sampled controllers, in the numbers of the maker's loop: readings in, drive out.
#include <cmath>

namespace hinge::control {

/// Parallel: u = kp·e + ki·∫e − kd·y'. Ideal: u = kp·(e + ∫e/ti − td·y').
struct ParallelGains {
    double proportional = 0.0;  ///< drive for each count of error
    double integral = 0.0;      ///< drive for each count and second
    double derivative = 0.0;    ///< drive for each count a second
    friend bool operator==(const ParallelGains&, const ParallelGains&) = default;
};
struct IdealGains {
    double proportional = 0.0;
    double integral_time = 0.0;    ///< s; 0: no integral part
    double derivative_time = 0.0;  ///< s
};
/// @source definition
[[nodiscard]] constexpr ParallelGains parallel(const IdealGains& ideal) {
    return {ideal.proportional, ideal.integral_time > 0.0 ? ideal.proportional / ideal.integral_time : 0.0,
            ideal.proportional * ideal.derivative_time};
}
[[nodiscard]] constexpr IdealGains ideal(const ParallelGains& gains) {
    return {gains.proportional, gains.integral != 0.0 ? gains.proportional / gains.integral : 0.0,
            gains.proportional != 0.0 ? gains.derivative / gains.proportional : 0.0};
}

struct PidFigures {
    ParallelGains gains;
    double period = 0.02;            ///< s
    double smoothing = 1.0;          ///< share of a new change that counts, 1: unsmoothed
    double forward = 0.0;            ///< drive for each count wanted
    double band = 0.0;               ///< counts of error that are let be
    double least = 0.0, most = 1.0;  ///< of the drive
    double lean_rate = 0.0;          ///< cascade of what balances: counts wanted more for each unit of drive …
    double lean_way = 0.0;           ///< … and for each step away from the start
    friend bool operator==(const PidFigures&, const PidFigures&) = default;
};

/// The emitted sketch's loop in real numbers: derivative on the measurement and smoothed, the sum kept within what the
/// output can do, so that it never winds up.
/// @source derived: backward differences of the parallel form
class Pid {
public:
    explicit Pid(PidFigures figures) : figures_{figures} {}
    /// One period. @param way  steps away from the start, of what balances
    [[nodiscard]] double step(double wanted, double reading, double way = 0.0) {
        const auto& f = figures_;
        if (f.lean_rate != 0.0 || f.lean_way != 0.0) {
            const double lean = drive_ * f.lean_rate + way * f.lean_way;
            wanted += lean < -largest_lean ? -largest_lean : lean > largest_lean ? largest_lean : lean;
        }
        double error = wanted - reading;
        if (std::abs(error) <= f.band) error = 0.0;
        const double change = started_ ? reading - last_ : 0.0;
        last_ = reading;
        started_ = true;
        damped_ += f.smoothing * (change - damped_);
        sum_ += f.gains.integral * f.period * error;
        const double floor = f.least < 0.0 ? f.least : 0.0;
        sum_ = sum_ < floor ? floor : sum_ > f.most ? f.most : sum_;
        drive_ = f.gains.proportional * error + sum_ + f.forward * wanted - f.gains.derivative / f.period * damped_;
        drive_ = drive_ < f.least ? f.least : drive_ > f.most ? f.most : drive_;
        return drive_;
    }
    void reset() { sum_ = damped_ = drive_ = 0.0, started_ = false; }
    [[nodiscard]] double sum() const noexcept { return sum_; }  ///< what the integral part holds
    [[nodiscard]] const PidFigures& figures() const noexcept { return figures_; }
    static constexpr double largest_lean = 128.0;

private:
    PidFigures figures_;
    double sum_ = 0.0, damped_ = 0.0, last_ = 0.0, drive_ = 0.0;
    bool started_ = false;
};

/// On or off, with two bounds: stays what it was between them.
class OnOff {
public:
    /// @param lower, upper  on at or below the one, off at or above the other
    OnOff(double lower, double upper, double drive) : lower_{lower}, upper_{upper}, drive_{drive} {}
    [[nodiscard]] double step(double reading) {
        if (reading <= lower_) on_ = true;
        if (reading >= upper_) on_ = false;
        return on_ ? drive_ : 0.0;
    }

private:
    double lower_, upper_, drive_;
    bool on_ = false;
};

}  // namespace hinge::control
