#include "plant/on_times.hpp"

namespace hinge::plant {

std::vector<OnTime> onTimes(const std::vector<Edge>& edges, int output, double pause) {
    std::vector<OnTime> times;
    for (const auto& edge : edges) {
        if (edge.output != output) continue;
        if (edge.level == 0) {
            if (!times.empty()) times.back().to = edge.time;
            continue;
        }
        if (times.empty() || (times.back().to && edge.time - *times.back().to > pause)) times.push_back({edge.time, std::nullopt, 0});
        times.back().to.reset();
        ++times.back().pulses;
    }
    return times;
}

}  // namespace hinge::plant
