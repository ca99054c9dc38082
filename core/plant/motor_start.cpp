#include "plant/motor_start.hpp"
#include <Eigen/Core>
#include <algorithm>
#include <cmath>
#include "plant/linear.hpp"
#include "quantity/roots.hpp"

namespace hinge::plant {
namespace {

using Vector = Eigen::Vector4d;  // capacitor's volts, current, speed, 1
using Matrix = Eigen::Matrix4d;

struct Circuit {
    MotorStart in;
    double source = 0.0, branch = 0.0;  // conductances

    explicit Circuit(const MotorStart& given) : in{given} {
        source = 1.0 / std::max(1e-6, in.resistance);
        branch = in.capacitance > 0.0 ? 1.0 / std::max(1e-6, in.esr) : 0.0;
    }
    double volts(const Vector& x) const { return (in.supply * source + x(0) * branch - x(1)) / (source + branch); }
    Matrix rates(bool turning) const {
        Matrix a = Matrix::Zero();
        const double all = source + branch;
        Eigen::RowVector4d v;
        v << branch / all, -1.0 / all, 0.0, in.supply * source / all;
        if (branch > 0.0) {
            a.row(0) = v * branch / in.capacitance;
            a(0, 0) -= branch / in.capacitance;
        }
        a.row(1) = v / in.inductance;
        a(1, 1) -= in.winding / in.inductance;
        a(1, 2) -= in.constant / in.inductance;
        if (turning) {
            a(2, 1) = in.constant / in.inertia;
            a(2, 3) = -in.load_torque / in.inertia;
        }
        return a;
    }
    MotorInstant instant(double time, const Vector& x) const {
        const double v = volts(x);
        return {time, v, x(1), (in.supply - v) * source, x(2)};
    }
};

}  // namespace

Result<MotorStartResult> motorStart(const MotorStart& in, int samples) {
    for (const double value : {in.supply, in.winding, in.inductance, in.constant, in.inertia, in.length})
        if (!std::isfinite(value) || value <= 0.0)
            return fail(ErrorCode::OutOfRange, "motor start", std::to_string(value), "numbers above zero");
    for (const double value : {in.resistance, in.capacitance, in.esr, in.load_torque})
        if (!std::isfinite(value) || value < 0.0)
            return fail(ErrorCode::OutOfRange, "motor start", std::to_string(value), "numbers, not below zero");
    if (samples < 2) return fail(ErrorCode::OutOfRange, "samples", std::to_string(samples), "2 or more");
    const Circuit circuit(in);
    Vector x(in.supply, 0.0, 0.0, 1.0);
    const double step = in.length / samples;
    const Matrix still = Matrix{exponential(circuit.rates(false) * step)}, turning = Matrix{exponential(circuit.rates(true) * step)};
    const double breakaway = in.load_torque / in.constant;
    bool turns = in.load_torque == 0.0;
    MotorStartResult out;
    out.samples.reserve(static_cast<std::size_t>(samples) + 1);
    const auto keep = [&](double time) {
        const auto now = circuit.instant(time, x);
        if (out.samples.empty() || now.volts < out.lowest.volts) out.lowest = now;
        if (out.samples.empty() || now.motor_current > out.peak.motor_current) out.peak = now;
        out.samples.push_back(now);
    };
    keep(0.0);
    for (int k = 1; k <= samples; ++k) {
        const Vector before = x;
        x = (turns ? turning : still) * x;
        if (!turns && x(1) > breakaway) {
            // It lets go within this step.
            const auto held = [&](double time) { return Vector{Matrix{exponential(circuit.rates(false) * time)} * before}; };
            const double free = crossing([&](double time) { return held(time)(1) - breakaway; }, 0.0, step);
            x = Matrix{exponential(circuit.rates(true) * (step - free))} * held(free);
            turns = true;
        }
        keep(k * step);
    }
    out.end = out.samples.back();
    // Settled: k·i = T and v = R·i + k·ω with the source behind its resistance.
    const double settled = (in.supply - breakaway * (in.winding + 1.0 / circuit.source)) / in.constant;
    for (const auto& sample : out.samples)
        if (out.run_up < 0.0 && settled > 0.0 && sample.speed >= 0.95 * settled) out.run_up = sample.time;
    return out;
}

}  // namespace hinge::plant
