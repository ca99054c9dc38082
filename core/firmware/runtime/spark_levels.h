// What is wanted of the outputs, what must never be, and what goes to the pins.
// Part of the tick (spark_tick.h, which says what G is). The same file runs on the desk, in the proof and on the board.
#ifndef SPARK_LEVELS_H
#define SPARK_LEVELS_H
#include <stdint.h>
#include "spark_hand.h"

namespace spark {

#if SPARK_FOLLOWERS
template <class G> void follow(G& g) {
  const bool stopped = g.whole().stopped;
  for (uint8_t f = 0; f < g.followers();) {
    const uint8_t o = SPARK_READ(g.followerRow(f)->output);
    bool now = false;
    int32_t most = -1;
    for (; f < g.followers() && SPARK_READ(g.followerRow(f)->output) == o; ++f) {
      const Follower* row = g.followerRow(f);
      const InputState& input = g.input(SPARK_READ(row->input));
      const uint8_t guard = SPARK_READ(row->guard);
      // An input not yet believed moves nothing.
      if (!input.heard || (guard != nobody && g.input(guard).active)) continue;
      if (!SPARK_READ(row->proportional)) {
        now = now || input.active == SPARK_READ(row->wanted);
        continue;
      }
#if SPARK_READINGS
      const int32_t share =
          !g.counts() ? (input.active ? 1000 : 0) : followedShare(input.value, SPARK_READ(row->dead), SPARK_READ(row->start));
      now = now || share > 0;
      if (share > 0 && share > most) most = share;
#endif
    }
    OutputState& output = g.output(o);
    if (stopped) now = false;
    if (now) output.resting = 0;
    if (now != output.followed || most != output.duty) output.idle = 0;
    if (output.followed && !now && !output.asked && !stopped) output.off_delay = g.number(SPARK_READ(g.outputRow(o)->off_delay));
    output.followed = now;
    output.duty = static_cast<int16_t>(most);
  }
}
#endif

// ---- What is wanted of the outputs, what must never be, and what goes to the pins

template <class G> void want(G& g, uint8_t o) {
  OutputState& output = g.output(o);
  const Output* row = g.outputRow(o);
#if SPARK_MOVES
  if (SPARK_READ(row->kind) != Kind::Switched) {
    if (output.resting && isMoving(output) && forbidsRest(g, row)) halt(output);  // not to its start past what guards its cues
    output.on = isMoving(output) && !output.resting;
    return;
  }
#endif
#if SPARK_LIGHTS
  if (isMoving(output)) {
    ++output.elapsed;
    output.share = static_cast<int16_t>(fadedShare(output.from, output.target, output.elapsed, output.duration));
    if (output.elapsed == output.duration && output.target == 0) output.asked = 0;
  }
  if (output.flicker > 0) {
    if (output.flicker % flame_ticks == 0 || output.share < 0) {
      uint16_t& noise = g.whole().noise;
      noise = nextNoise(noise);
      output.share = static_cast<int16_t>(flameShare(noise));
    }
    if (--output.flicker == 0) output.asked = 0;
  }
#endif
#if SPARK_RUNS
  if (output.run > 0 && --output.run == 0) release(g, o);
#endif
  output.on = byHand(output) ? output.share > 0 : output.asked || output.followed || (output.resting && SPARK_READ(row->rest) == Rest::On);
#if SPARK_BRAKES
  if (output.asked || output.followed) brakeAsItIs(g, o);
#endif
  if (!output.on && output.off_delay > 0) {
    --output.off_delay;
    output.on = 1;
  }
#if SPARK_CONFIGURES
  if (output.unready) output.on = 0;
#endif
}

#if SPARK_TERMS
template <class G> bool isSo(G& g, const Term* term) {
  const uint8_t o = SPARK_READ(term->output);
  const OutputState& output = g.output(o);
  const Term::So so = SPARK_READ(term->so);
  if (so == Term::So::On || so == Term::So::Off) return (output.on != 0) == (so == Term::So::On);
#if SPARK_MOVES
  if (!output.placed) return true;  // it may be anywhere
  const Output* row = g.outputRow(o);
  const bool up = SPARK_READ(row->furthest) >= SPARK_READ(row->start);
  const int32_t place = SPARK_READ(term->place);
  return (so == Term::So::Beyond) == up ? output.level > place : output.level < place;
#else
  return false;
#endif
}
#endif

template <class G> void enforce(G& g, const Interlock* row) {
  const uint8_t o = SPARK_READ(row->output), in = SPARK_READ(row->input);
  OutputState& output = g.output(o);
  if (!output.on || (in != nobody && !g.input(in).active)) return;
#if SPARK_TERMS
  const Term* term = SPARK_READ(row->terms);
  for (uint8_t k = SPARK_READ(row->term_count); k > 0; --k, ++term)
    if (!isSo(g, term)) return;
#endif
  rest(g, o);
  output.on = SPARK_READ(g.outputRow(o)->rest) == Rest::On;
}

// Permille that a switched output is given while it is on: by the desk's hand, a follower, a fade or a loop, else its own.
template <class G> int32_t givenShare(G& g, uint8_t o) {
  const OutputState& output = g.output(o);
  if (!byHand(output) && output.duty >= 0) return output.duty;
  return byHand(output) || output.share >= 0 ? output.share : g.number(SPARK_READ(g.outputRow(o)->duty));
}

// Whether nothing of it changes by itself, after its level was given: off, or on with its soft start over.
inline bool isIdle(const OutputState& output) {
#if SPARK_HAND
  if (output.hand > 0 || output.hand_asked) return false;
#endif
#if SPARK_LIGHTS
  if (output.flicker > 0) return false;
#endif
#if SPARK_RUNS
  if (output.run > 0) return false;
#endif
  return (output.on ? output.asked || output.followed || output.resting : !output.asked && !output.followed && output.off_delay == 0) &&
         !isMoving(output);
}

#if SPARK_LETS_GO
// A mover that stands is let go when its time is over: what holds it then is its own friction.
inline void restFor(OutputState& output, int32_t ticks, int32_t most) {
  if (isMoving(output)) {
    output.on_for = 0;
    return;
  }
  output.on_for += ticks;
  if (output.on_for < most) {
    output.idle = 0;
    return;
  }
  output.on_for = 0;
  output.awake = 0;
}
#endif

template <class G> void give(G& g, uint8_t o) {
  OutputState& output = g.output(o);
  const Output* row = g.outputRow(o);
#if SPARK_MOVES
  if (SPARK_READ(row->kind) != Kind::Switched) {
    if (isMoving(output)) {
      ++output.elapsed;
      const int32_t fine = finePlaceAt(output.profile, output.from, output.target, output.elapsed, output.duration, output.speed);
      output.level = fine >> 8;
      output.fraction = static_cast<uint8_t>(fine & 0xff);
#if SPARK_ROLLS
    } else if (output.asked) {
      // At the rate of its loop, as far as it likes: what balances may roll for days.
      roll(output.share, output.level, output.fraction);
#endif
    }
    output.idle = isIdle(output);
#if SPARK_LETS_GO
    const int16_t let_go = SPARK_READ(row->ramp);
    if (let_go != no_number && output.awake) restFor(output, 1, g.number(let_go));
#endif
    return;
  }
#endif
  if (!output.on) {
    output.share = output.given = -1;
    output.on_for = output.level = 0;
    output.idle = isIdle(output);
    return;
  }
  // Two divisions: only while the level can change.
  const int32_t share = givenShare(g, o), ramp = g.number(SPARK_READ(row->ramp));
  if (output.on_for < longest_count && ++output.on_for >= ramp) output.on_for = longest_count;
  const bool settled = output.on_for == longest_count;
  if (!settled || share != output.given) output.level = rampLevel(share, SPARK_READ(row->top), output.on_for, ramp);
  output.given = static_cast<int16_t>(settled ? share : -1);
  output.idle = settled && isIdle(output);
}

}  // namespace spark
#endif
