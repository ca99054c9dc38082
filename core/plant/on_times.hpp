#pragma once
#include <optional>
#include <vector>
#include "plant/stand_in.hpp"

namespace hinge::plant {

/// A time that an output was on.
struct OnTime {
    double from = 0.0;         ///< s
    std::optional<double> to;  ///< s; none: still on at the end
    int pulses = 0;            ///< rises in it: 1 where it is switched only, many under PWM
};
/// The times that an output was on, from its edges. Pulses closer than `pause` [s] are one time: PWM, steps and servo frames are not told
/// one by one; of what is on for longer than that before and after, each is a time of its own.
[[nodiscard]] std::vector<OnTime> onTimes(const std::vector<Edge>& edges, int output, double pause = 0.03);

/// How long that is in all [s]. @param length  s that were watched: what is still on at the end was on until then
[[nodiscard]] double onFor(const std::vector<OnTime>& times, double length);

/// s by which a servo's pulse may differ from the one at which it stands still and still turn nothing (common practice, no published
/// source), and after which a servo without pulses is off.
inline constexpr double pulse_jitter = 2e-6, pulses_gone = 0.05;

/// The edges that a switch in its place would have: of a servo that turns on, which is on while its pulses differ from the one at which it
/// stands still, and off 50 ms after the last of them.
/// @param still   s of pulse at which it stands still
/// @param length  s that were watched
[[nodiscard]] std::vector<Edge> speedEdges(const std::vector<Edge>& edges, int output, double still, double length);
/// A speed that its pulses said from an instant on.
struct SpeedTold {
    double time = 0.0;  ///< s
    double off = 0.0;   ///< s of pulse beyond the one at which it stands still; below 0: backwards
};
[[nodiscard]] std::vector<SpeedTold> speedsTold(const std::vector<Edge>& edges, int output, double still, double length);

}  // namespace hinge::plant
