#pragma once
#include <vector>
#include "working/form.hpp"

namespace hinge::timing {

/// "06:40" or "06:40:30" in seconds after midnight.
/// @error BadFormat  anything else; 24:00 and 25:00 are refused
[[nodiscard]] Result<int> parseTimeOfDay(std::string_view text);
/// "06:40,18:30", rising or not; at least one, none twice.
/// @error BadFormat, Conflict
[[nodiscard]] Result<std::vector<int>> parseTimesOfDay(std::string_view text);
/// Seconds after midnight as "06:40", or "06:40:30" where there are seconds.
[[nodiscard]] std::string timeOfDayText(int seconds);

struct TimeOfDay {
    std::string times;
    std::string now;
    Duration duration{};
};
struct TimeOfDayResult {
    Duration next{};      ///< to the next one strictly after now, in (0, 86400]
    bool on_now = false;  ///< (now − t) mod 24 h is below the duration for some t
};
/// @error BadFormat  naming `times` or `now`
/// @source derived: modular arithmetic over a day
[[nodiscard]] Result<Worked<TimeOfDayResult>> timeOfDay(const TimeOfDay& in);
[[nodiscard]] FormPtr timeOfDayForm();

}  // namespace hinge::timing
