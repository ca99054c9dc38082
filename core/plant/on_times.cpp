#include "plant/on_times.hpp"
#include <cmath>

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

double onFor(const std::vector<OnTime>& times, double length) {
    double sum = 0.0;
    for (const auto& time : times) sum += time.to.value_or(length) - time.from;
    return sum;
}

std::vector<SpeedTold> speedsTold(const std::vector<Edge>& edges, int output, double still, double length) {
    std::vector<SpeedTold> told;
    double rose = -1.0, last = -1.0, now = 0.0;
    const auto say = [&](double time, double off) {
        if (std::abs(off) <= pulse_jitter) off = 0.0;
        if (std::abs(off - now) > pulse_jitter || (off == 0.0 && now != 0.0)) told.push_back({time, off}), now = off;
    };
    for (const auto& edge : edges) {
        if (edge.output != output) continue;
        if (last >= 0.0 && edge.time - last > pulses_gone) say(last + pulses_gone, 0.0);
        if (edge.level != 0) rose = edge.time;
        else if (rose >= 0.0) say(rose, edge.time - rose - still), last = edge.time;
    }
    if (last >= 0.0 && length - last > pulses_gone) say(last + pulses_gone, 0.0);
    return told;
}

std::vector<Edge> speedEdges(const std::vector<Edge>& edges, int output, double still, double length) {
    std::vector<Edge> made;
    for (const auto& told : speedsTold(edges, output, still, length))
        if (const int on = told.off != 0.0 ? 1 : 0; made.empty() ? on != 0 : made.back().level != on)
            made.push_back({told.time, output, -1, on});
    return made;
}

}  // namespace hinge::plant
