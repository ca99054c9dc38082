#pragma once
#include <string>
#include "project/project.hpp"
#include "timing/calendar.hpp"

namespace hinge::report {

/// The schedule as iCalendar: one event for each time of day of each cue, every day or on the weekdays of the days that it is tied to, and
/// each care that was decided. Local time without a zone, as the board's clock has it. Empty when nothing is scheduled.
/// @param from   the first day
/// @param stamp  when it was made, "20261126T100000Z"
/// @source rfc-5545
[[nodiscard]] std::string calendarOf(const project::Project& project, const timing::Date& from, const std::string& stamp);

}  // namespace hinge::report
