// The desk's hand on an output.
// Part of the tick (spark_tick.h, which says what G is). The same file runs on the desk, in the proof and on the board.
#ifndef SPARK_HAND_H
#define SPARK_HAND_H
#include <stdint.h>
#include "spark_loop.h"
#include "spark_outputs.h"

namespace spark {

#if SPARK_HAND
// What the desk's hand wants of an output.
template <class G> void takeHand(G& g, uint8_t o) {
  OutputState& output = g.output(o);
  output.idle = 0;
#if SPARK_CONFIGURES
  if (output.unready) return;
#endif
  const int32_t value = output.hand_value;
#if SPARK_MOVES
  const Output* row = g.outputRow(o);
  const Kind kind = SPARK_READ(row->kind);
  if (kind != Kind::Switched && !(SPARK_READ(row->is) & Output::rolls)) {
    if (value == hand_off) halt(output);
    if (value < 0) return;
    const bool servo = kind == Kind::Servo;
    startMove(g, o, within(value, servo ? servo_least : 0, servo ? servo_most : largest_place), output.hand_time, Manner::Gentle);
    output.resting = 0;
    return;
  }
  if (kind != Kind::Switched && value >= 0) return;  // what balances is not driven by hand
#endif
  if (value == hand_own && output.hand > 0 && !output.forced) {  // said again
    output.hand = hand_ticks;
    return;
  }
  output.resting = 0;
  calm(output);
  halt(output);
  output.forced = value >= 0;
  output.hand = value == hand_off ? 0 : hand_ticks;
  output.asked = value != hand_off && value != 0;
  output.share = static_cast<int16_t>(value > 1000 ? 1000 : value >= 0 ? value : -1);
}

// The hand lets go by itself when it is not told again.
template <class G> void obeyHand(G& g) {
  const bool stop = g.whole().stop_asked;
  for (uint8_t o = 0; o < g.outputs(); ++o) {
    OutputState& output = g.output(o);
    if (output.hand == 0 && !output.hand_asked) continue;
    if (stop) output.hand = output.hand_asked = 0;
    output.idle = 0;
    if (output.hand > 0 && --output.hand == 0) {
      output.asked = 0;
      output.share = -1;
    }
    if (!output.hand_asked) continue;
    output.hand_asked = 0;
    takeHand(g, o);
  }
}
inline bool byHand(const OutputState& output) { return output.hand > 0 && output.forced; }
#else
inline bool byHand(const OutputState&) { return false; }
#endif

}  // namespace spark
#endif
