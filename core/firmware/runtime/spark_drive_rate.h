// A stepper that is kept turning: a rate that never rises or falls faster than its slope, also through nothing when it is turned round, and
// the steps that are due in each tick. What is left of a step is summed up in 2^-48 of one, so that days of creeping are out by less than
// one. The same file runs on the desk, in the tests and on the board.
#ifndef SPARK_DRIVE_RATE_H
#define SPARK_DRIVE_RATE_H
#include <stdint.h>

namespace spark {

constexpr int32_t rate_top = 60000;  // the rate at full speed

struct StepRate {
  int32_t now;   // the rate at which it goes; below 0 backwards
  int32_t past;  // the rate that `each` was worked out for
  int64_t each;  // 2^-48 of a step in a tick
  int64_t left;  // of the sum: less than a 256th of a step

  // Once a tick: 256ths of a step that are due. wanted: the rate, below 0 backwards; ramp: ticks from nothing to full speed; unit: 2^-48 of
  // a step that a rate of 1 makes in a tick. There is no multiplication while it goes evenly.
  int32_t next(int32_t wanted, int32_t ramp, int64_t unit) {
    if (now != wanted) {
      const int32_t slope = ramp > 1 ? (rate_top + ramp - 1) / ramp : 2 * rate_top;
      const int32_t way = wanted > now ? wanted - now : now - wanted, by = way < slope ? way : slope;
      now += wanted > now ? by : -by;
    }
    if (now != past) {
      past = now;
      each = now * unit;
    }
    left += each;
    const int32_t due = static_cast<int32_t>(left >> 40);
    left &= (static_cast<int64_t>(1) << 40) - 1;
    return due;
  }
};

}  // namespace spark
#endif
