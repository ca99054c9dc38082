// What starts a cue, keeps it from starting, and ends it.
// Part of the tick (spark_tick.h, which says what G is). The same file runs on the desk, in the proof and on the board.
#ifndef SPARK_CUES_H
#define SPARK_CUES_H
#include <stdint.h>
#include "spark_clock.h"
#include "spark_outputs.h"

namespace spark {

inline bool holdsOutput(Do does) {
  return does == Do::On || does == Do::Toggle || does == Do::Fade || does == Do::Flicker || does == Do::Go || does == Do::Home ||
         does == Do::Run;
}

template <class G> bool isGuarded(G& g, const Cue* row, bool running) {
  const Guard* guard = SPARK_READ(row->guards);
  for (uint8_t k = SPARK_READ(row->guard_count); k > 0; --k, ++guard)
    if (g.input(SPARK_READ(guard->input)).active == SPARK_READ(guard->blocks_when) && (SPARK_READ(guard->throughout) || !running))
      return true;
  return false;
}

// A cue that is cut short lets go of all it holds or would have held, without an off-delay; but not of what another one that runs has taken
// over since.
template <class G> void endCue(G& g, uint8_t c) {
  CueState& cue = g.cue(c);
  cue.place = -1;
  cue.wait = 0;
#if SPARK_WATCHES
  cue.watches = 0;
#endif
#if SPARK_AGAIN
  cue.rounds = 0;
#endif
  const Cue* row = g.cueRow(c);
  const Step* step = SPARK_READ(row->steps);
  for (int16_t k = SPARK_READ(row->step_count); k > 0; --k, ++step) {
    if (!holdsOutput(SPARK_READ(step->does))) continue;
    const uint8_t o = SPARK_READ(step->output), owner = g.output(o).owner;
    if (owner >= g.cues() || owner == c || g.cue(owner).place < 0) rest(g, o);
  }
}

template <class G> void startCue(G& g, uint8_t c) {
  CueState& cue = g.cue(c);
  cue.place = 0;
  cue.faulted = 0;
  g.whole().stopped = 0;
  const Cue* row = g.cueRow(c);
  const Step* step = SPARK_READ(row->steps);
  for (int16_t k = SPARK_READ(row->step_count); k > 0; --k, ++step) {
    const uint8_t o = SPARK_READ(step->output);
    if (o == nobody) continue;
    OutputState& output = g.output(o);
    output.resting = output.idle = 0;
    if (output.owner == c) output.owner = nobody;  // what it did the last time is done
  }
}

// The end that comes when a thing awaited does not: what the cue held is let go, and it is remembered.
template <class G> void giveUp(G& g, uint8_t c) {
  endCue(g, c);
  g.cue(c).faulted = 1;
}

// To be started in the next tick, over the link; guards apply.
template <class G> void ask(G& g, uint8_t c) {
  g.cue(c).asked = 1;
  g.whole().happened |= asked_for;
}

#if SPARK_WAITS
constexpr uint32_t seldom = UINT32_C(1) << 30;  // ticks after which is looked in any case: twelve days, so that differences fit 32 bits
// What comes in so many ticks is looked at then, or before.
inline void lookIn(WholeState& whole, int32_t ticks) {
  if (static_cast<int32_t>(whole.look_at - whole.ticks) > ticks) whole.look_at = whole.ticks + static_cast<uint32_t>(ticks);
}
#endif

template <class G> bool comes(G& g, CueState& cue, By by, const Start* start) {
  WholeState& whole = g.whole();
  const uint8_t of = SPARK_READ(start->of);
  switch (by) {
    case By::Press: return g.input(of).edge;
    case By::Release: return g.input(of).let_go;
    case By::Power: return whole.wakes;
    case By::After: return g.cue(of).ended;
#if SPARK_HELD
    case By::Held: return g.input(of).active_for == atLeastOne(g.number(SPARK_READ(start->number)));
#endif
#if SPARK_EVERY
    case By::Every: {
      if (!g.counts()) return false;
      const int32_t every = atLeastOne(g.number(SPARK_READ(start->number)));
      const uint32_t waited = whole.ticks - cue.since;
      const bool now = waited >= static_cast<uint32_t>(every);
      if (now) cue.since = whole.ticks;
      lookIn(whole, now ? every : every - static_cast<int32_t>(waited));
      return now;
    }
#endif
#if SPARK_TIMES
    case By::Time: {
      // It comes once: a clock put back an hour starts nothing again.
      uint32_t& hushed = g.hush(of);
      const bool hush = static_cast<int32_t>(hushed - whole.ticks) > 0;
      if (!hush) hushed = whole.ticks;
      if (!whole.clock_set) return false;
      const int32_t time = SPARK_READ(start->time), ahead = sinceTime(time, whole.clock);
      lookIn(whole, ahead > 0 ? ahead : ticks_per_day);
      if (hush || !comesNow(whole.clock, time, whole.passed, whole.clock_jumped, SPARK_READ(start->late))) return false;
      hushed = whole.ticks + once_apart;
      return true;
    }
#endif
    default: break;
  }
  (void)cue;
  return false;
}

// Every cue's starts of those kinds, and every guard.
template <class G> void consider(G& g, uint8_t kinds) {
  const bool stop = g.whole().stop_asked;
  const Cue* row = g.cueRow(0);
  for (uint8_t c = 0; c < g.cues(); ++c, ++row) {
    CueState& cue = g.cue(c);
    bool starts = false;
    if (kinds & asked_for) {
      starts = cue.asked;
      cue.asked = 0;
    }
    if (kinds & SPARK_READ(row->by)) {
      const Start* start = SPARK_READ(row->starts);
      for (uint8_t k = SPARK_READ(row->start_count); k > 0; --k, ++start) {
        const By by = SPARK_READ(start->by);
        if (kinds & bitOf(by)) starts = comes(g, cue, by, start) || starts;
      }
    }
    if (cue.place >= 0 && (stop || isGuarded(g, row, true))) endCue(g, c);
    if (starts && cue.place < 0 && !stop && !isGuarded(g, row, false)) startCue(g, c);
  }
  if (!(kinds & bitOf(By::After))) return;
  for (uint8_t c = 0; c < g.cues(); ++c) g.cue(c).ended = 0;
}

template <class G> void startCues(G& g) {
  WholeState& whole = g.whole();
  uint8_t kinds = whole.happened;
  if (whole.wakes) kinds |= bitOf(By::Power);
#if SPARK_WAITS
  if (whole.look || static_cast<int32_t>(whole.ticks - whole.look_at) >= 0) {
    whole.look = 0;
    whole.look_at = whole.ticks + seldom;
    kinds |= timed_starts;
  }
#endif
  if (kinds || whole.changed || whole.stop_asked) consider(g, kinds);
  whole.happened = whole.changed = whole.wakes = 0;
#if SPARK_CLOCK
  whole.clock_jumped = 0;
#endif
  if (!whole.stop_asked) return;
  whole.stopped = 1;
  for (uint8_t o = 0; o < g.outputs(); ++o) {
    rest(g, o);
    if (SPARK_READ(g.outputRow(o)->rest) != Rest::Start) g.output(o).awake = 0;
  }
}

}  // namespace spark
#endif
