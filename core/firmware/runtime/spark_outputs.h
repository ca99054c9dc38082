// Outputs that are let go, sent somewhere, or put to rest.
// Part of the tick (spark_tick.h, which says what G is). The same file runs on the desk, in the proof and on the board.
#ifndef SPARK_OUTPUTS_H
#define SPARK_OUTPUTS_H
#include <stdint.h>
#include "spark_power.h"

namespace spark {

// A move that is cut short stands where it is.
inline void halt(OutputState& output) {
#if SPARK_GLIDES
  output.elapsed = output.duration = 0;
#else
  (void)output;
#endif
}

inline bool isMoving(const OutputState& output) {
#if SPARK_GLIDES
  return output.elapsed < output.duration;
#else
  (void)output;
  return false;
#endif
}

// No flicker and no run any more.
inline void calm(OutputState& output) {
#if SPARK_LIGHTS
  output.flicker = 0;
#endif
#if SPARK_RUNS
  output.run = 0;
#endif
  (void)output;
}

#if SPARK_MOVES
// What guards its cues guards its way to safety too: a hand in the door is no less there because the link is lost.
template <class G> bool forbidsRest(G& g, const Output* row) {
  const uint8_t* unless = SPARK_READ(row->unless);
  for (uint8_t k = SPARK_READ(row->unlesses); k > 0; --k, ++unless)
    if (g.input(SPARK_READ(*unless)).active) return true;
  return false;
}

enum class Manner : uint8_t { Own, Gentle, Search };

template <class G> void startMove(G& g, uint8_t o, int32_t to, int32_t ticks, Manner how) {
  OutputState& output = g.output(o);
  output.idle = 0;
  output.from = output.level;
  output.target = to;
  output.elapsed = 0;
  output.duration = atLeastOne(ticks);
  const bool straight = SPARK_READ(g.outputRow(o)->kind) == Kind::Servo && how != Manner::Gentle;
  output.profile = profileOf(straight, output.duration, how == Manner::Search);
  output.speed = speedOf(output.profile, output.from, to, output.duration);
  output.awake = 1;
}

#endif

#if SPARK_HOMES
// Its place is set, whatever was counted before.
template <class G> void setPlace(G& g, uint8_t o, int32_t at) {
  OutputState& output = g.output(o);
  output.level = at;
  output.fraction = 0;
  g.moved(o);
}

// Where its sensor says so is the start.
template <class G> void setDown(G& g, uint8_t o) {
  OutputState& output = g.output(o);
  halt(output);
  setPlace(g, o, SPARK_READ(g.outputRow(o)->start));
  output.placed = output.homed = 1;
}
#endif

#if SPARK_BRAKES
// Off it is as its channel says, where no step says otherwise.
template <class G> void brakeAsItIs(G& g, uint8_t o) { g.output(o).braked = (SPARK_READ(g.outputRow(o)->is) & Output::brakes) != 0; }
#endif

// Off, after its off-delay.
template <class G> void release(G& g, uint8_t o) {
  OutputState& output = g.output(o);
#if SPARK_RUNS
  output.run = 0;
#endif
  if (!output.asked) return;
  output.asked = output.idle = 0;
  halt(output);
  const Output* row = g.outputRow(o);
  if (SPARK_READ(row->kind) == Kind::Switched) output.off_delay = g.number(SPARK_READ(row->off_delay));
}

// To its safe state: off, or on, or back to its start.
template <class G> void rest(G& g, uint8_t o) {
  OutputState& output = g.output(o);
  output.asked = output.idle = 0;
  output.off_delay = 0;
  calm(output);
  halt(output);
  output.resting = 1;
#if SPARK_BRAKES
  brakeAsItIs(g, o);
#endif
#if SPARK_MOVES
  const Output* row = g.outputRow(o);
  if (SPARK_READ(row->rest) != Rest::Start || !output.awake || !output.placed || forbidsRest(g, row)) return;
  startMove(g, o, SPARK_READ(row->start), g.number(SPARK_READ(row->rest_number)), Manner::Gentle);
#endif
}

}  // namespace spark
#endif
