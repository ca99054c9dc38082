#include "control/margins.hpp"
#include <Eigen/LU>
#include <algorithm>
#include <numbers>
#include <vector>
#include "plant/linear.hpp"
#include "quantity/constants.hpp"
#include "quantity/roots.hpp"

namespace hinge::control {
namespace {

using Matrix = Eigen::MatrixXd;
using Vector = Eigen::VectorXd;

LinearPlant plantOf(std::initializer_list<double> a, std::initializer_list<double> b, std::initializer_list<double> c) {
    const auto n = static_cast<Eigen::Index>(b.size());
    LinearPlant p;
    p.a = Eigen::Map<const Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>>(a.begin(), n, n);
    p.b = Eigen::Map<const Vector>(b.begin(), n);
    p.c = Eigen::Map<const Vector>(c.begin(), n).transpose();
    return p;
}

// One period of the plant under a held drive that changes `late` after its beginning, from the drive before.
struct Sampled {
    Matrix phi;
    Vector gamma, gamma_before;
    Eigen::RowVectorXd c;
    int whole = 0;  // periods of delay, besides
};
Sampled sample(const LinearPlant& plant, double h) {
    const Eigen::Index n = plant.b.size(), m = n + (plant.counted ? 1 : 0);
    // Counted: the integral of y, which begins anew in each period.
    Matrix a = Matrix::Zero(n + (plant.counted ? 1 : 0), n + (plant.counted ? 1 : 0));
    Vector b = Vector::Zero(a.rows());
    a.topLeftCorner(n, n) = plant.a;
    b.head(n) = plant.b;
    if (plant.counted) a.row(n).head(n) = plant.c;
    const auto held = [&](double time) {
        Matrix both = Matrix::Zero(a.rows() + 1, a.rows() + 1);
        both.topLeftCorner(a.rows(), a.rows()) = a * time;
        both.topRightCorner(a.rows(), 1) = b * time;
        const Matrix e = plant::exponential(both);
        return std::pair<Matrix, Vector>{e.topLeftCorner(a.rows(), a.rows()), e.topRightCorner(a.rows(), 1)};
    };
    Sampled s;
    s.whole = static_cast<int>(std::floor(plant.delay / h + 1e-9));
    const double late = std::max(0.0, plant.delay - s.whole * h);
    const auto [all, full] = held(h);
    const auto [rest, now] = held(h - late);
    const auto [unused, early] = held(late);
    s.phi = Matrix::Zero(m, m);
    s.gamma = s.gamma_before = Vector::Zero(m);
    s.phi.topLeftCorner(a.rows(), a.rows()) = all;
    s.gamma.head(a.rows()) = now;
    s.gamma_before.head(a.rows()) = rest * early;
    s.c = Eigen::RowVectorXd::Zero(m);
    if (plant.counted) {
        s.phi(n, n) = 0.0;
        s.c(n) = 1.0;
    } else {
        s.c.head(n) = plant.c;
    }
    return s;
}

}  // namespace

LinearPlant firstOrder(double gain, double time_constant, double dead_time) {
    auto p = plantOf({-1.0 / time_constant}, {gain / time_constant}, {1.0});
    p.delay = dead_time;
    return p;
}

std::optional<LinearPlant> straightened(const plant::Coupling& coupling, double share) {
    const auto& sense = coupling.sense;
    std::optional<LinearPlant> made;
    if (const auto* rotor = std::get_if<plant::Rotor>(&coupling.machine)) {
        const double tau = rotor->timeConstant(), k = rotor->figures().supply / rotor->figures().back;
        made = sense.by_angle ? plantOf({0.0, 1.0, 0.0, -1.0 / tau}, {0.0, k / tau}, {sense.per_unit, 0.0})
                              : plantOf({-1.0 / tau}, {k / tau}, {sense.per_unit});
    } else if (const auto* fan = std::get_if<plant::FanPlant>(&coupling.machine)) {
        const double a = std::max(0.0, share - 1e-4), b = share + 1e-4, slope = (fan->reached(b) - fan->reached(a)) / (b - a);
        made = plantOf({-1.0 / fan->figures().spin_up}, {slope * fan->figures().full_speed / fan->figures().spin_up}, {sense.per_unit});
    } else if (const auto* tank = std::get_if<plant::TankPlant>(&coupling.machine)) {
        const auto& f = tank->figures();
        // Where the share holds the level: k√h = q·share.
        const double root = f.outlet > 0.0 ? f.full_flow * share / f.outlet : 0.0;
        made = plantOf({root > 0.0 ? -f.outlet / (2.0 * root * f.area) : 0.0}, {f.full_flow / f.area}, {sense.per_unit});
    } else if (const auto* box = std::get_if<plant::BoxPlant>(&coupling.machine)) {
        const auto& f = box->figures();
        const double plate = f.largest_difference > 0.0 ? std::abs(f.power * share) / f.largest_difference : 0.0,
                     rate = (f.conductance + plate) / f.capacity;
        const double difference = f.conductance + plate > 0.0 ? f.power * share / (f.conductance + plate) : 0.0;
        const double push = (f.power - (f.largest_difference > 0.0 ? std::abs(f.power) / f.largest_difference * difference : 0.0)) /
                            f.capacity,
                     lag = std::max(f.sensor_lag, 1e-3);
        made = plantOf({-rate, 0.0, 1.0 / lag, -1.0 / lag}, {push, 0.0}, {0.0, sense.per_unit});
    } else if (const auto* body = std::get_if<plant::Balancer>(&coupling.machine)) {
        const auto& f = body->figures();
        // Momentum and lean: ψ' = g·φ, h·φ' = ψ − d·u.
        made = plantOf({0.0, constants::gravity, 1.0 / f.height, 0.0}, {0.0, -f.distance_per_step / f.height}, {0.0, sense.per_unit});
    }
    if (made) made->delay = sense.delay, made->counted = sense.tach;
    return made;
}

namespace {

// The loop opened at the reading, and opened at the drive: there all gains stand before everything that they act on, the lean of what
// balances too, so that so many times the gains is so many times this.
struct Opened {
    std::complex<double> reading, drive;
};
Opened openedAt(const Sampled& s, const PidFigures& pid, double omega) {
    const double h = pid.period;
    const std::complex<double> z = std::polar(1.0, omega * h), back = 1.0 / z;
    const Eigen::Index m = s.phi.rows();
    const Eigen::MatrixXcd zi = z * Eigen::MatrixXcd::Identity(m, m) - s.phi.cast<std::complex<double>>();
    const Eigen::VectorXcd x =
        zi.partialPivLu().solve(s.gamma.cast<std::complex<double>>() + back * s.gamma_before.cast<std::complex<double>>());
    const std::complex<double> g = (s.c.cast<std::complex<double>>() * x)(0) * std::pow(back, s.whole);
    const std::complex<double> change = pid.smoothing / (1.0 - (1.0 - pid.smoothing) * back) * (1.0 - back);
    const std::complex<double> sums = pid.gains.proportional + pid.gains.integral * h / (1.0 - back);
    // The outer loop of what balances acts on what is wanted: the drive of the period before, and the way.
    const std::complex<double> leans = back * (pid.lean_rate + pid.lean_way * h / (1.0 - back));
    const auto whole = g * (sums + pid.gains.derivative / h * change);
    return {whole / (1.0 - sums * leans), whole - sums * leans};
}
std::complex<double> gainAt(const Sampled& s, const PidFigures& pid, double omega) {
    return openedAt(s, pid, omega).reading;
}

// The loop as one linear map from period to period: plant, drives on their way, last reading, smoothed change, and where they are fed
// the sum and the way. What nothing feeds is left out: it would stand at 1 and mean nothing.
Eigen::VectorXcd polesOf(const Sampled& s, const PidFigures& pid) {
    const double h = pid.period;
    const bool homes = pid.lean_way != 0.0, sums = pid.gains.integral != 0.0;
    const Eigen::Index m = s.phi.rows(), late = s.whole + 1, sum_at = m + late + 2, way_at = sum_at + (sums ? 1 : 0),
                       size = way_at + (homes ? 1 : 0);
    const auto next = [&](const Vector& v) {
        Vector out = Vector::Zero(size);
        const double y = s.c.dot(v.head(m)), way = homes ? v(way_at) : 0.0, error = v(m) * pid.lean_rate + way * pid.lean_way - y;
        const double sum = sums ? v(sum_at) + pid.gains.integral * h * error : 0.0;
        const double damped = v(m + late + 1) + pid.smoothing * (y - v(m + late) - v(m + late + 1));
        const double u = pid.gains.proportional * error + sum - pid.gains.derivative / h * damped;
        // The drive acts after whole periods; a part of one more acts with the drive before it.
        const auto past = [&](Eigen::Index k) { return k == 0 ? u : v(m + k - 1); };
        out.head(m) = s.phi * v.head(m) + s.gamma * past(s.whole) + s.gamma_before * past(s.whole + 1);
        for (Eigen::Index k = 0; k < late; ++k) out(m + k) = past(k);
        out(m + late) = y;
        out(m + late + 1) = damped;
        if (sums) out(sum_at) = sum;
        if (homes) out(way_at) = way + u * h;
        return out;
    };
    Matrix map(size, size);
    for (Eigen::Index i = 0; i < size; ++i) map.col(i) = next(Vector::Unit(size, i));
    return plant::eigenvalues(map);
}

// The largest size of a pole.
double slowestOf(const Sampled& s, const PidFigures& pid) {
    const auto poles = polesOf(s, pid);
    // What balances may roll on evenly, upright: its reading shows nothing of a steady drive, and with a sum one pole stands at 1 for
    // that. It neither grows nor says anything of standing.
    const Eigen::Index m = s.phi.rows();
    const double steady = std::abs(s.c.dot((Matrix::Identity(m, m) - s.phi).fullPivLu().solve(s.gamma + s.gamma_before))),
                 usual = std::abs(s.c.dot(s.gamma + s.gamma_before));
    Eigen::Index rolling = -1;
    if (pid.gains.integral != 0.0 && steady < 1e-9 * usual)
        for (Eigen::Index i = 0; i < poles.size(); ++i)
            if (std::abs(poles(i) - 1.0) < 1e-6 && (rolling < 0 || std::abs(poles(i) - 1.0) < std::abs(poles(rolling) - 1.0))) rolling = i;
    double slowest = 0.0;
    for (Eigen::Index i = 0; i < poles.size(); ++i)
        if (i != rolling) slowest = std::max(slowest, std::abs(poles(i)));
    return slowest;
}

PidFigures scaled(PidFigures pid, double factor) {
    pid.gains = {pid.gains.proportional * factor, pid.gains.integral * factor, pid.gains.derivative * factor};
    return pid;
}

}  // namespace

std::complex<double> loopGain(const LinearPlant& plant, const PidFigures& pid, double omega) {
    return gainAt(sample(plant, pid.period), pid, omega);
}

bool isStable(const LinearPlant& plant, const PidFigures& pid) {
    return slowestOf(sample(plant, pid.period), pid) < 1.0;
}

Margins margins(const LinearPlant& plant, const PidFigures& pid) {
    const double h = pid.period;
    const auto s = sample(plant, h);
    Margins result;
    result.slowest = slowestOf(s, pid);
    result.stable = result.slowest < 1.0;
    const double top = std::numbers::pi / h;
    // Where the loop's gain is real and negative it would ring for ever with all gains so many times as large: also where the
    // circle begins and ends, at rest and at half a turn a period.
    std::vector<double> factors;
    for (const double end : {top * 1e-7, top})
        if (const auto gain = openedAt(s, pid, end).drive; gain.real() < 0.0 && std::abs(gain.imag()) < 1e-3 * std::abs(gain.real()))
            factors.push_back(1.0 / std::abs(gain));
    Opened before;
    for (int i = 0; i <= 1200; ++i) {
        const double omega = top * std::pow(10.0, -4.0 + 4.0 * i / 1200.0) * 0.99999, low = omega / std::pow(10.0, 4.0 / 1200.0);
        const auto gain = openedAt(s, pid, omega);
        const auto between = [&](auto height) { return crossing([&](double w) { return height(openedAt(s, pid, w)); }, low, omega); };
        const auto large = [](const Opened& g) { return std::abs(g.reading) - 1.0; };
        const auto above = [](const Opened& g) { return g.drive.imag(); };
        const auto parted = [&](auto height) { return i > 0 && (height(gain) >= 0.0) != (height(before) >= 0.0); };
        if (parted(large)) {
            const double at = between(large);
            // −L's angle is how far the loop's gain is from −1, either way round.
            const double margin = std::abs(std::arg(-gainAt(s, pid, at)));
            result.crossover = at;
            if (!result.phase || margin < *result.phase) result.phase = margin;
        }
        if (parted(above) && gain.drive.real() < 0.0 && before.drive.real() < 0.0)
            factors.push_back(1.0 / std::abs(openedAt(s, pid, between(above)).drive));
        before = gain;
    }
    // Not each of them is a limit: the poles say which one is left first, upwards and downwards.
    std::sort(factors.begin(), factors.end());
    const auto leaves = [&](double factor, double beyond) { return slowestOf(s, scaled(pid, factor * beyond)) >= 1.0; };
    for (auto f = factors.begin(); f != factors.end() && result.stable && !result.gain; ++f)
        if (*f > 1.0 && leaves(*f, 1.0 + 1e-4)) result.gain = *f;
    for (auto f = factors.rbegin(); f != factors.rend() && result.stable && !result.least_gain; ++f)
        if (*f < 1.0 && leaves(*f, 1.0 - 1e-4)) result.least_gain = *f;
    return result;
}

std::optional<double> longestStablePeriod(const LinearPlant& plant, const PidFigures& pid) {
    const auto stable = [&](double h) {
        auto longer = pid;
        longer.period = h;
        // What is counted over a longer period gives more counts for the same speed: the gain for a count falls as much.
        if (plant.counted)
            longer.gains = {pid.gains.proportional * pid.period / h, pid.gains.integral * pid.period / h,
                            pid.gains.derivative * pid.period / h};
        return isStable(plant, longer);
    };
    if (!stable(pid.period)) return std::nullopt;
    double low = pid.period, high = low;
    for (int i = 0; i < 14 && stable(high); ++i) low = high, high *= 1.4;
    if (high > 100.0 * pid.period) return low;
    while (high / low > 1.01) {
        const double middle = std::sqrt(low * high);
        (stable(middle) ? low : high) = middle;
    }
    return low;
}

}  // namespace hinge::control
