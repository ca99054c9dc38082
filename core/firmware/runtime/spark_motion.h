// Where a mover is while it moves. Whole numbers only: places in steps or half microseconds of a servo's pulse, times in ticks of 1 ms.
// The same file runs on the desk, in the proof and on the board, so that they agree to the tick.
#ifndef SPARK_MOTION_H
#define SPARK_MOTION_H
#include <stdint.h>

namespace spark {

// How a move's speed goes: even throughout; up for half of the time and down for the other; even, with a short ramp at each end.
enum class Profile : uint8_t { Straight, Gentle, Even };

constexpr int32_t fine_parts = 256;            // parts of a step (or half microsecond) in which a place is worked out
constexpr int32_t largest_place = 65535;       // with these two the 32-bit sums below never overflow
constexpr int32_t longest_move = 86400000;     // ticks: a day
constexpr int32_t fine_move = 60000;           // ticks; a longer move goes at an even speed, with short ramps
constexpr int32_t even_ramp = 2048;            // ticks of each ramp of a move at an even speed
constexpr int32_t home_extra = 64;             // steps that a search for the start goes beyond the way and its eighth
constexpr int32_t farthest_roll = 1000000000;  // steps beyond which what balances is not counted further: days at its fastest

// How an output goes to a place in some ticks. straight: a servo that is not asked to go gently; search: it looks for its start.
inline Profile profileOf(bool straight, int32_t ticks, bool search) {
  if (straight) return Profile::Straight;
  return ticks > (search ? 2 * even_ramp : fine_move) ? Profile::Even : Profile::Gentle;
}

// What a move is made of, worked out once when it starts, so that there is no division while it goes: of a gentle one twice its way over
// its ticks squared, in fine parts, times 2^31; of others its speed in fine parts a tick, times 2^32. Of a short straight one 0.
inline uint64_t speedOf(Profile profile, int32_t from, int32_t target, int32_t ticks) {
  if (profile == Profile::Straight && ticks <= fine_move) return 0;
  const uint32_t way = target >= from ? target - from : from - target, whole = static_cast<uint32_t>(ticks);
  const uint32_t by = profile == Profile::Gentle ? whole * whole : profile == Profile::Even ? whole - even_ramp : whole;
  return (static_cast<uint64_t>(way) << 40) / by;
}

// Place in fine parts after `elapsed` of `ticks`, to less than two of them (Straight up to fine_move: in whole places). Gentle:
// 2*way*(t/T)^2 in the first half, and the same from the end. Even: way*t^2/(2*r*(T - r)) in its ramp of r ticks, way*(t - r/2)/(T - r)
// after it. speed: as speedOf() gave it.
inline int32_t finePlaceAt(Profile profile, int32_t from, int32_t target, int32_t elapsed, int32_t ticks, uint64_t speed) {
  if (elapsed >= ticks) return target * fine_parts;
  const bool up = target >= from;
  const uint32_t way = up ? target - from : from - target, whole = ticks;
  // The end is the beginning, seen from there.
  const bool first =
      profile == Profile::Straight || (profile == Profile::Gentle ? elapsed <= ticks - elapsed : elapsed <= ticks - even_ramp);
  const uint32_t at = first ? elapsed : ticks - elapsed;
  uint32_t covered;
  if (profile == Profile::Gentle) {
    covered = static_cast<uint32_t>(speed * (at * at) >> 31);
  } else if (profile == Profile::Straight && ticks <= fine_move) {
    covered = way * at / whole * fine_parts;
  } else {
    const uint32_t ramp = profile == Profile::Even ? even_ramp : 0;
    covered = static_cast<uint32_t>(at < ramp ? (speed >> 8) * at * at >> 36 : speed * (2 * at - ramp) >> 33);
  }
  const int32_t parts = static_cast<int32_t>(covered);
  return (first ? from : target) * fine_parts + (first == up ? parts : -parts);
}

// Where a search for the start begins to count: as far from it as the output can be, an eighth of the way and some steps more, so that lost
// steps do not keep it from its switch.
inline int32_t homingFrom(int32_t start, int32_t furthest) {
  const int32_t way = furthest - start, more = (way >= 0 ? way : -way) / 8 + home_extra;
  return furthest + (way >= 0 ? more : -more);
}

// One tick of what rolls at the rate of its loop, in steps a second: 256/1000 as a shift, to half a fine part; there is no time for a
// division.
inline void roll(int32_t rate, int32_t& place, uint8_t& fraction) {
  const int32_t fine = fraction + ((rate * 16777 + 32768) >> 16), next = place + (fine >> 8);
  place = next < -farthest_roll ? -farthest_roll : next > farthest_roll ? farthest_roll : next;
  fraction = static_cast<uint8_t>(fine & 0xff);
}

}  // namespace spark
#endif
