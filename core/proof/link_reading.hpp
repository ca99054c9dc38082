#pragma once
// What a hold point reads off the link's recording.
#include <optional>
#include "capture/recording.hpp"

namespace hinge::proof {

/// Samples in a second of the board's time, from sample `from` to the last; nullopt before any time has gone by.
[[nodiscard]] std::optional<double> framesASecond(const capture::Recording& recording, std::size_t from);
/// Mean of a signal over the last so many seconds of the board's time. Needs a sample.
[[nodiscard]] double meanOfLast(const capture::Recording& recording, std::size_t signal, double seconds);
/// The same in whole counts, to the nearest: what a loop reads has no parts of one.
[[nodiscard]] long countsOfLast(const capture::Recording& recording, std::size_t signal, double seconds);

/// The first time that a signal was on, from sample `from`.
struct OnTimeRead {
    bool began = false;
    std::optional<double> lasted;  ///< s; absent while it is on
};
[[nodiscard]] OnTimeRead firstOnTime(const capture::Recording& recording, std::size_t signal, std::size_t from);

}  // namespace hinge::proof
