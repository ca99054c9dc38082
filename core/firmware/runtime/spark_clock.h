// Time of day and date. Times in ticks of 1 ms after midnight, the years 2000 to 2099.
// The same file runs on the desk, in the proof and on the board, so that they agree to the tick.
#ifndef SPARK_CLOCK_H
#define SPARK_CLOCK_H
#include <stdint.h>

namespace spark {

constexpr int32_t ticks_per_day = 86400000;
constexpr int32_t once_apart = 7200000;  // ticks in which a time of day does not come twice: a clock put back an hour starts nothing again
constexpr int32_t largest_correction = 300000;  // a clock put on by no more than this is corrected: what lies between comes still

struct Date {
  int16_t year, month, day;
};

inline int16_t daysIn(int16_t year, int16_t month) {
  if (month == 2) return (year % 4 == 0 && year % 100 != 0) || year % 400 == 0 ? 29 : 28;
  return month == 4 || month == 6 || month == 9 || month == 11 ? 30 : 31;
}

inline Date dayAfter(Date date) {
  if (++date.day <= daysIn(date.year, date.month)) return date;
  date.day = 1;
  if (++date.month <= 12) return date;
  date.month = 1;
  ++date.year;
  return date;
}

// Days since 1 January 2000.
inline int32_t dayNumber(Date date) {
  int32_t days = date.day - 1;
  for (int16_t month = 1; month < date.month; ++month) days += daysIn(date.year, month);
  for (int16_t year = 2000; year < date.year; ++year) days += daysIn(year, 2) + 337;
  return days;
}

// 0 is Monday, as ISO 8601 begins its week; 1 January 2000 was a Saturday.
inline uint8_t weekdayOf(Date date) { return static_cast<uint8_t>((dayNumber(date) + 5) % 7); }

// Whether a day lies between two of the year, both as month*100 + day and both counting; from after to runs over the new year.
inline bool inSeason(int16_t from, int16_t to, int16_t month, int16_t day) {
  const int16_t at = static_cast<int16_t>(month * 100 + day);
  return from <= to ? at >= from && at <= to : at >= from || at <= to;
}

// Ticks since a time of day, over midnight where need be; both within the day.
inline int32_t sinceTime(int32_t clock, int32_t time) { return clock < time ? clock - time + ticks_per_day : clock - time; }

// Ticks by which the clock has gone on since the tick before, where it said `before` (-1: it was not set): 1, more after a correction.
inline int32_t passedSince(int32_t clock, int32_t before) {
  if (before < 0) return 1;
  const int32_t passed = sinceTime(clock, before);
  return passed < 1 || passed > largest_correction ? 1 : passed;
}

// Whether a time of day was passed in the ticks just gone; or by no more than `late`, where the clock has just been set past it.
inline bool comesNow(int32_t clock, int32_t time, int32_t passed, bool jumped, int32_t late) {
  const int32_t since = sinceTime(clock, time);
  return since < passed || (jumped && since <= late);
}

}  // namespace spark
#endif
