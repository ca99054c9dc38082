#pragma once
// Where a pump's or fan's curve meets what the system asks: the one search behind both.
#include <algorithm>
#include <cmath>
#include <optional>
#include "working/form.hpp"

namespace hinge::actuator {

/// The piece of the curve on which they meet, and the meeting itself; plain SI.
struct CurveMeeting {
    double start_flow = 0.0;    ///< of the piece [m³/s]
    double start_height = 0.0;  ///< head [m] or pressure [Pa] there
    double slope = 0.0;         ///< of the piece
    double flow = 0.0;          ///< where they meet
};
/// n²·H(Q/n) = rest + k·Q², the curve linear between its points (affinity: Q ∝ n, H ∝ n²).
/// @param rest  head or pressure asked without flow; the curve must start above it
/// @return nullopt when the curve ends before it meets the system
/// @source affinity-laws
[[nodiscard]] inline std::optional<CurveMeeting> curveMeets(const Curve& curve, double n, double rest, double k) {
    const auto& points = curve.points;
    for (std::size_t i = 1; i < points.size(); ++i) {
        const double q0 = n * points[i - 1].x, q1 = n * points[i].x;
        const double h0 = n * n * points[i - 1].y, h1 = n * n * points[i].y;
        if (h1 > rest + k * q1 * q1) continue;
        // h0 + s·(Q − q0) = rest + k·Q²: the crossing lies in [q0, q1] since the gap changes sign there.
        const double s = (h1 - h0) / (q1 - q0), c = rest - h0 + s * q0;
        // k·Q² − s·Q + c = 0; the root that stays right as k goes to 0.
        const double root = std::sqrt(std::max(0.0, s * s - 4.0 * k * c));
        return CurveMeeting{q0, h0, s, std::clamp(s - root != 0.0 ? 2.0 * c / (s - root) : q0, q0, q1)};
    }
    return std::nullopt;
}

}  // namespace hinge::actuator
