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

}  // namespace hinge::plant
