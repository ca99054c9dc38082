// A loop: an output's drive made from a reading, once each period. Whole numbers only: gains in 256ths, shifts instead of divisions, which
// take 40 us on the small chips while the steps to come wait. The same file runs on the desk and on the board.
#ifndef SPARK_LOOP_H
#define SPARK_LOOP_H
#include <stdint.h>

namespace spark {

// What it remembers from period to period.
struct Loop {
  int32_t sum;     // of the errors, times the integral gain; stays within what the output can do
  int32_t damped;  // the reading's smoothed change, in 64ths of a count
  int16_t last;    // the reading before, -1 none yet
  int16_t phase;   // ticks into the period
};

// Its numbers, one after another: of these the first eight always, then `least` of what is switched and the `turn` of what its loop turns
// round, or the two leans of what rolls.
struct LoopNumber {
  enum Place : uint8_t {
    wanted,
    proportional,
    integral,
    derivative,
    period,
    smoothing,
    forward,
    band,
    least,
    lean_rate = least,
    lean_way,
    turn = lean_way,
    count
  };
};

constexpr int32_t largest_lean = 128;  // counts by which a lean may move what is wanted

inline int32_t within(int32_t value, int32_t from, int32_t to) { return value < from ? from : value > to ? to : value; }

inline bool operator==(const Loop& a, const Loop& b) {
  return a.sum == b.sum && a.damped == b.damped && a.last == b.last && a.phase == b.phase;
}

inline void forget(Loop& loop) {
  loop.sum = loop.damped = 0;
  loop.last = -1;
}

// Counts a tick. True in the last one of its period.
inline bool periodEnds(Loop& loop, int32_t period) {
  if (++loop.phase < (period < 1 ? 1 : period)) return false;
  loop.phase = 0;
  return true;
}

// The drive that a reading makes, at the end of a period: permille of what is switched, to `most`; steps a second of what rolls, to `most`
// either way, as what is turned round. rate, away: of what rolls, its steps a second now and
// its places from the start, the mean of all wheels: it leans back against its rolling, and towards home.
// Beyond what the gains are bounded to when they are set, nothing here overflows 32 bits.
inline int32_t loopDrive(Loop& loop, const int32_t* number, bool rolls, bool both, int32_t most, int32_t reading, int32_t rate,
                         int32_t away) {
  const int32_t lowest = rolls || both ? -most : number[LoopNumber::least] < most ? number[LoopNumber::least] : most;
  int32_t aim = number[LoopNumber::wanted];
  if (rolls)
    aim += within((rate * number[LoopNumber::lean_rate] >> 16) + (within(away, -65535, 65535) * number[LoopNumber::lean_way] >> 16),
                  -largest_lean, largest_lean);
  const int32_t change = loop.last < 0 ? 0 : reading - loop.last;
  int32_t error = aim - reading;
  if (error <= number[LoopNumber::band] && -error <= number[LoopNumber::band]) error = 0;
  loop.last = static_cast<int16_t>(reading);
  loop.damped += (change * 64 - loop.damped) * number[LoopNumber::smoothing] >> 4;
  loop.sum = within(loop.sum + number[LoopNumber::integral] * error, rolls || both ? 256 * lowest : 0, 256 * most);
  return within((number[LoopNumber::proportional] * error + loop.sum + number[LoopNumber::forward] * aim -
                 (number[LoopNumber::derivative] * loop.damped >> 6)) >>
                    8,
                lowest, most);
}

}  // namespace spark
#endif
