#include "proof/link_reading.hpp"
#include <cmath>

namespace hinge::proof {

std::optional<double> framesASecond(const capture::Recording& recording, std::size_t from) {
    if (recording.size() < from + 2) return std::nullopt;
    const double since = recording.time(recording.size() - 1) - recording.time(from);
    if (since <= 0.0) return std::nullopt;
    return static_cast<double>(recording.size() - 1 - from) / since;
}

double meanOfLast(const capture::Recording& recording, std::size_t signal, double seconds) {
    const auto begin = recording.from(recording.time(recording.size() - 1) - seconds);
    double sum = 0.0;
    for (std::size_t i = begin; i < recording.size(); ++i) sum += recording.value(signal, i);
    return sum / static_cast<double>(recording.size() - begin);
}

long countsOfLast(const capture::Recording& recording, std::size_t signal, double seconds) {
    return std::lround(meanOfLast(recording, signal, seconds));
}

OnTimeRead firstOnTime(const capture::Recording& recording, std::size_t signal, std::size_t from) {
    OnTimeRead read;
    double on = 0.0;
    for (std::size_t i = from; i < recording.size(); ++i) {
        const bool runs = recording.value(signal, i) > 0.0F;
        if (runs && !read.began) read.began = true, on = recording.time(i);
        if (!runs && read.began) {
            read.lasted = recording.time(i) - on;
            break;
        }
    }
    return read;
}

}  // namespace hinge::proof
