#include "plant/on_times.hpp"

namespace hinge::plant {

std::vector<OnTime> onTimes(const std::vector<Edge>& edges, int output, double pause) {
    struct Pulse {
        double from = 0.0;
        std::optional<double> to;
        [[nodiscard]] bool solid(double pause) const { return !to || *to - from > pause; }
    };
    std::vector<Pulse> pulses;
    for (const auto& edge : edges) {
        if (edge.output != output) continue;
        if (edge.level != 0) pulses.push_back({edge.time, std::nullopt});
        else if (!pulses.empty()) pulses.back().to = edge.time;
    }
    std::vector<OnTime> times;
    for (std::size_t k = 0; k < pulses.size(); ++k) {
        // Off between two stretches that are longer than any PWM's or servo's pulse is off, however short it is.
        const bool fresh =
            k == 0 ||
            (pulses[k - 1].to && (pulses[k].from - *pulses[k - 1].to > pause || (pulses[k - 1].solid(pause) && pulses[k].solid(pause))));
        if (fresh) times.push_back({pulses[k].from, std::nullopt, 0});
        times.back().to = pulses[k].to;
        ++times.back().pulses;
    }
    return times;
}

}  // namespace hinge::plant
