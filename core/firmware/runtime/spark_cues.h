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
  cue.rounds = 0;
  const Cue* row = g.cueRow(c);
  const Step* step = SPARK_READ(row->steps);
  for (int16_t k = SPARK_READ(row->step_count); k > 0; --k, ++step) {
    if (!holdsOutput(SPARK_READ(step->does))) continue;
    const uint8_t o = SPARK_READ(step->output), owner = g.output(o).owner;
    if (owner == nobody || owner == c || g.cue(owner).place < 0) rest(g, o);
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

// Of what counts in every tick; else only when something has happened.
inline bool isTimed(By by) { return by == By::Held || by == By::Every || by == By::Time; }

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
    case By::Every:
      if (!g.counts() || ++cue.since < atLeastOne(g.number(SPARK_READ(start->number)))) return false;
      cue.since = 0;
      return true;
#endif
#if SPARK_TIMES
    case By::Time: {
      // It comes once: a clock put back an hour starts nothing again.
      int32_t& hush = g.hush(of);
      if (hush > 0) --hush;
      if (!whole.clock_set || hush > 0 ||
          !comesNow(whole.clock, SPARK_READ(start->time), whole.passed, whole.clock_jumped, SPARK_READ(start->late)))
        return false;
      hush = once_apart;
      return true;
    }
#endif
    default: break;
  }
  (void)cue;
  return false;
}

template <class G> void startCues(G& g) {
  WholeState& whole = g.whole();
  const bool happened = whole.happened || whole.wakes || whole.stop_asked;
  const Cue* row = g.cueRow(0);
  for (uint8_t c = 0; c < g.cues(); ++c, ++row) {
    CueState& cue = g.cue(c);
    if (!happened && !SPARK_READ(row->timed)) {
      if (cue.place >= 0 && SPARK_READ(row->guard_count) != 0 && isGuarded(g, row, true)) endCue(g, c);
      continue;
    }
    bool starts = cue.asked;
    cue.asked = 0;
    const Start* start = SPARK_READ(row->starts);
    for (uint8_t k = SPARK_READ(row->start_count); k > 0; --k, ++start) {
      const By by = SPARK_READ(start->by);
      if (happened || isTimed(by)) starts = comes(g, cue, by, start) || starts;
    }
    if (cue.place >= 0 && (whole.stop_asked || isGuarded(g, row, true))) endCue(g, c);
    if (cue.place < 0 && starts && !whole.stop_asked && !isGuarded(g, row, false)) startCue(g, c);
  }
  for (uint8_t c = 0; whole.happened && c < g.cues(); ++c) g.cue(c).ended = 0;
  whole.happened = whole.clock_jumped = whole.wakes = 0;
  if (!whole.stop_asked) return;
  whole.stopped = 1;
  for (uint8_t o = 0; o < g.outputs(); ++o) {
    rest(g, o);
    if (SPARK_READ(g.outputRow(o)->rest) != Rest::Start) g.output(o).awake = 0;
  }
}

}  // namespace spark
#endif
