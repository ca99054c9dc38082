#include "timing/calendar.hpp"
#include <array>
#include <string>
#include "firmware/runtime/spark_clock.h"

namespace hinge::timing {
namespace {

// Two digits at a place, or -1.
int two(std::string_view text, std::size_t at) {
    if (at + 2 > text.size()) return -1;
    const char a = text[at], b = text[at + 1];
    return a >= '0' && a <= '9' && b >= '0' && b <= '9' ? (a - '0') * 10 + (b - '0') : -1;
}

}  // namespace

Result<std::uint8_t> parseWeekdays(std::string_view text) {
    static constexpr std::array<std::string_view, 7> names{"mon", "tue", "wed", "thu", "fri", "sat", "sun"};
    std::uint8_t days = 0;
    std::string word;
    const auto take = [&]() -> bool {
        for (std::size_t d = 0; d < names.size(); ++d)
            if (word == names[d] && (days >> d & 1) == 0) return days = static_cast<std::uint8_t>(days | 1u << d), word.clear(), true;
        return false;
    };
    for (const char c : text) {
        if (c == ' ') continue;
        if (c != ',') word += c;
        else if (!take())
            return fail(ErrorCode::BadFormat, "weekdays", std::string{text.substr(0, 60)}, "mon,tue,wed,thu,fri,sat,sun, each once");
    }
    if (word.empty() && days == 0) return std::uint8_t{0x7f};
    if (!take()) return fail(ErrorCode::BadFormat, "weekdays", std::string{text.substr(0, 60)}, "mon,tue,wed,thu,fri,sat,sun, each once");
    return days;
}

Result<int> parseMonthDay(std::string_view text) {
    const int month = two(text, 0), day = two(text, 3);
    if (text.size() != 5 || text[2] != '-' || month < 1 || month > 12 || day < 1 || day > daysIn(2000, month))
        return fail(ErrorCode::BadFormat, "date", std::string{text.substr(0, 60)}, "month and day, such as 04-01");
    return month * 100 + day;
}

Result<Date> parseDate(std::string_view text) {
    const auto bad = [&] {
        return fail(ErrorCode::BadFormat, "date", std::string{text.substr(0, 60)}, "a date such as 2026-11-25, from 2000 to 2099");
    };
    if (text.size() != 10 || text[4] != '-' || text[7] != '-' || two(text, 0) != 20) return bad();
    const int year = 2000 + two(text, 2), month = two(text, 5), day = two(text, 8);
    if (year < 2000 || month < 1 || month > 12 || day < 1 || day > daysIn(year, month)) return bad();
    return Date{year, month, day};
}

namespace {

spark::Date sparkDate(Date date) {
    return {static_cast<std::int16_t>(date.year), static_cast<std::int16_t>(date.month), static_cast<std::int16_t>(date.day)};
}

}  // namespace

int daysIn(int year, int month) {
    return spark::daysIn(static_cast<std::int16_t>(year), static_cast<std::int16_t>(month));
}

Date dayAfter(Date date) {
    const auto next = spark::dayAfter(sparkDate(date));
    return {next.year, next.month, next.day};
}

int dayNumber(Date date) {
    return spark::dayNumber(sparkDate(date));
}

int weekdayOf(Date date) {
    return spark::weekdayOf(sparkDate(date));
}

bool inSeason(int from, int to, int month, int day) {
    return spark::inSeason(static_cast<std::int16_t>(from), static_cast<std::int16_t>(to), static_cast<std::int16_t>(month),
                           static_cast<std::int16_t>(day));
}

}  // namespace hinge::timing
