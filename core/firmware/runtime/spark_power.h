// How everything stands when the power comes: outputs at rest, cues idle, the clock lost. On zeroed state; and the bounds of what is
// counted. Part of the tick (spark_tick.h, which says what G is). The same file runs on the desk, in the proof and on the board.
#ifndef SPARK_POWER_H
#define SPARK_POWER_H
#include <stdint.h>
#include "spark_motion.h"
#include "spark_program.h"
#include "spark_state.h"
#include "spark_values.h"

namespace spark {

constexpr int32_t tach_window = 1000;                    // ticks over which the pulses of a tach are counted that no loop reads
constexpr int32_t longest_count = 1000000000;            // more than any soft start takes
constexpr int16_t most_counted = 30000;                  // ends that a counter counts
constexpr int16_t hand_ticks = 1500;                     // for which an output obeys the desk's hand unless it is told again
constexpr int32_t hand_own = -1, hand_off = -2;          // what the hand may say besides a share or a place: as loop or duty says; let go
constexpr int32_t servo_least = 800, servo_most = 5200;  // half microseconds that a pulse is kept between when the hand moves it

inline int32_t atLeastOne(int32_t ticks) { return ticks < 1 ? 1 : ticks; }

// A number was changed: what waited for its time by the old one is looked at again, and what stood still by it.
template <class G> void numbersChanged(G& g) {
#if SPARK_WAITS
  g.whole().look = 1;
#endif
  for (uint8_t o = 0; o < g.outputs(); ++o) g.output(o).idle = 0;
}

// ---- Power-up: outputs at rest, cues idle, the clock lost; on zeroed state

inline void powerUp(WholeState& whole) {
#if SPARK_TIMES
  whole.clock_before = -1;
  whole.passed = 1;
#endif
#if SPARK_WAITS
  whole.look = 1;
#endif
#if SPARK_SILENCE
  whole.link_age = -1;
#endif
#if SPARK_DAYS
  whole.date = {2000, 1, 1};
  whole.weekday = 5;
#endif
#if SPARK_LIGHTS
  whole.noise = first_noise;
#endif
  (void)whole;
}
// An input that guards or interlocks counts as true until the pin has said otherwise.
inline void powerUp(InputState& input, bool cautious) {
  input.active = input.candidate = cautious;
#if SPARK_SAID
  input.age = -1;
#endif
}
inline void powerUp(OutputState& output, Kind kind, int32_t start, bool homed) {
  output.share = output.duty = output.given = -1;
  output.owner = nobody;
  output.resting = 1;
  if (kind != Kind::Switched) output.level = start;
#if SPARK_GLIDES
  output.from = output.target = output.level;
#endif
#if SPARK_MOVES
  output.placed = !homed;
#else
  (void)homed;
#endif
}
inline void powerUp(CueState& cue) { cue.place = -1; }
inline void powerUp(HolderState& holder) { holder.loop.last = -1; }

}  // namespace spark
#endif
