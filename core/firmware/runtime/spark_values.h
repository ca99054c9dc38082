// What a reading means and what an output is given. Whole numbers only: readings 0 to 1023, shares in permille, times in ticks of 1 ms.
// The same file runs on the desk, in the proof and on the board, so that they agree to the tick.
#ifndef SPARK_VALUES_H
#define SPARK_VALUES_H
#include <stdint.h>

namespace spark {

// Whether a reading counts as true: from `upper` on, and no longer from `lower` down; `below`: the other way round. Between the two it
// stays as it was.
inline bool levelOf(int32_t reading, int32_t upper, int32_t lower, bool below, bool was) {
  if (below) return reading <= lower || (reading < upper && was);
  return reading >= upper || (reading > lower && was);
}

// A number that a knob sets: `least` at 0, `most` at 1023. In two parts, so that 32 bits are enough.
inline int32_t knobValue(int32_t least, int32_t most, int32_t reading) {
  return least + (most - least) / 1023 * reading + (most - least) % 1023 * reading / 1023;
}

// The share of a follower at a reading: nothing up to its dead band, `start` just above it, all at 1023.
inline int32_t followedShare(int32_t reading, int32_t dead, int32_t start) {
  if (reading <= dead) return 0;
  return start + (1000 - start) * (reading - dead) / (1023 - dead > 1 ? 1023 - dead : 1);
}

// Straight from one share to the other.
inline int32_t fadedShare(int32_t from, int32_t target, int32_t elapsed, int32_t ticks) {
  if (elapsed >= ticks) return target;
  const int32_t part = ticks / 1000000 + 1;  // so that a thousand times the time still fits 32 bits
  return from + (target - from) * (elapsed / part) / (ticks / part);
}

// Soft start: the compare value of an output that has been on for `on_for` ticks (1 is the first), from nothing to its share of `top` in
// `ramp` ticks, never less than one step while it is on.
inline int32_t rampLevel(int32_t permille, int32_t top, int32_t on_for, int32_t ramp) {
  const int32_t full = permille == 1000 ? top : (permille * top + 500) / 1000;  // all of it is most usual, and needs no division
  if (on_for >= ramp || full == 0) return full;
  const int32_t now = full * on_for / ramp;
  return now < 1 ? 1 : now;
}

// A flame: another share every flame_ticks, between 300 and 999 permille. The noise is a shift register of 16 bits (taps 16, 14, 13, 11:
// it comes round after 65535), and is never 0.
constexpr int32_t flame_ticks = 50;
constexpr uint16_t first_noise = 0xACE1;
inline uint16_t nextNoise(uint16_t noise) { return static_cast<uint16_t>(noise >> 1 ^ ((noise & 1) != 0 ? 0xB400 : 0)); }
inline int32_t flameShare(uint16_t noise) { return 300 + noise % 700; }

}  // namespace spark
#endif
