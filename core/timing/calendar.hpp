#pragma once
#include <cstdint>
#include <string_view>
#include "quantity/result.hpp"

namespace hinge::timing {

/// Weekdays as bits, Monday the lowest: "mon,tue"; empty is all of them.
/// @error BadFormat  a day that is none, or one twice
[[nodiscard]] Result<std::uint8_t> parseWeekdays(std::string_view text);
/// "04-01" as month*100 + day.
/// @error BadFormat  no such day in a leap year
[[nodiscard]] Result<int> parseMonthDay(std::string_view text);
struct Date {
    int year = 2000, month = 1, day = 1;
    friend bool operator==(const Date&, const Date&) = default;
};
/// "2026-11-25", the years 2000 to 2099.
/// @error BadFormat
[[nodiscard]] Result<Date> parseDate(std::string_view text);
/// Days of a month, 28 to 31.
/// @source derived: the Gregorian calendar's rule of leap years
[[nodiscard]] int daysIn(int year, int month);
[[nodiscard]] Date dayAfter(Date date);
/// 0 is Monday, as ISO 8601 begins its week.
/// @source derived: days since Saturday, 1 January 2000, modulo 7
[[nodiscard]] int weekdayOf(Date date);
/// Days since 2000-01-01; 0 on that day.
[[nodiscard]] int dayNumber(Date date);
/// True when the day lies within two month*100 + day bounds, both counting; from after to runs over the new year.
[[nodiscard]] bool inSeason(int from, int to, int month, int day);

}  // namespace hinge::timing
