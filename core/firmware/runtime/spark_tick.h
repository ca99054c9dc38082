// What a gadget does in one tick of 1 ms: read the inputs, start cues in the order of their list, run their moves, set the outputs. This is
// the meaning of every routine: the window, the proof and the chips all run this file, and those that it includes.
//
// G is the gadget: its tables (spark_program.h), its state (spark_state.h), and its ears:
//   inputs(), outputs(), cues(), followers(), interlocks(), holders()       how many
//   inputRow(i), outputRow(o), cueRow(c), followerRow(f), interlockRow(r), holderRow(l)   pointers into its tables
//   input(i), output(o), cue(c), holder(l), hush(t), number(n), whole()     references to what changes
//   pin(i), reading(i), pulses(i)    what an input's pin says now: at its active level; 0 to 1023; pulses since the last tick
//   leastSilence()                   number of ticks of silence after which the link is lost, or no_number
//   counts()                         false where the proof stands for intervals, readings and loops
//   enforces()                       false where the interlocks' last stage is switched off
//   moved(o)                         its place has been set, whatever was counted before
#ifndef SPARK_TICK_H
#define SPARK_TICK_H
#include <stdint.h>
#include "spark_clock.h"
#include "spark_cues.h"
#include "spark_hold.h"
#include "spark_inputs.h"
#include "spark_levels.h"
#include "spark_steps.h"

namespace spark {

// ---- Time, the link, and power that is back

#if SPARK_DAYS
template <class G> void setDate(G& g, Date to) {
  WholeState& whole = g.whole();
  whole.date = to;
  whole.weekday = weekdayOf(to);
  whole.date_set = 1;
}
#endif

#if SPARK_CLOCK
// The time of day, in ticks after midnight. jumped: what has been missed by a little comes still.
template <class G> void setClock(G& g, int32_t to, bool jumped) {
  WholeState& whole = g.whole();
  whole.clock = to;
  whole.clock_set = 1;
  if (jumped) whole.clock_jumped = 1;
#if SPARK_WAITS
  whole.look = 1;
#endif
}
#endif

template <class G> void keepTime(G& g) {
  WholeState& whole = g.whole();
  if (g.counts()) ++whole.ticks;
#if SPARK_CLOCK
  if (whole.clock_set && ++whole.clock >= ticks_per_day) {
    whole.clock = 0;
#if SPARK_DAYS
    if (whole.date_set) setDate(g, dayAfter(whole.date));
#endif
  }
#endif
#if SPARK_TIMES
  whole.passed = whole.clock_set ? passedSince(whole.clock, whole.clock_before) : 1;
  whole.clock_before = whole.clock_set ? whole.clock : -1;
#endif
#if SPARK_SILENCE
  if (whole.link_spoke) whole.link_age = 0;
  else if (whole.link_age >= 0 && whole.link_age < ticks_per_day) ++whole.link_age;
  const int16_t silence = g.leastSilence();
  if (silence != no_number && whole.link_age > 0 && whole.link_age == g.number(silence)) whole.stop_asked = 1;
#endif
  whole.link_spoke = 0;
  whole.wakes = !whole.awoken && whole.all_heard;
  if (!whole.wakes) return;
  whole.awoken = 1;
#if SPARK_REMEMBERS
  for (uint8_t o = 0; o < g.outputs(); ++o) {
    OutputState& output = g.output(o);
    if (!output.remembered) continue;
    output.asked = 1;
    output.remembered = output.resting = output.idle = 0;
  }
#endif
}

// ---- The tick

// Everything after the inputs.
template <class G> void act(G& g) {
  keepTime(g);
  startCues(g);
#if SPARK_HAND
  obeyHand(g);
#endif
  g.whole().stop_asked = 0;
  CueState* cue = &g.cue(0);
  for (uint8_t c = 0; c < g.cues(); ++c, ++cue) {
    if (cue->place < 0) continue;
    if (cue->wait > 0) {
#if SPARK_WATCHES
      if (cue->watches ? !hasCome(g, c) : --cue->wait > 0) continue;
#else
      if (--cue->wait > 0) continue;
#endif
      ++cue->place;
    }
    runCue(g, c);
  }
#if SPARK_FOLLOWERS
  follow(g);
#endif
  for (uint8_t o = 0; o < g.outputs(); ++o)
    if (!g.output(o).idle) want(g, o);
  if (g.enforces())
    for (uint8_t r = 0; r < g.interlocks(); ++r) enforce(g, g.interlockRow(r));
#if SPARK_LOOPS
  if (g.counts()) {
    // All of them before the first is driven anew: the order of the loops is nobody's advantage.
#if SPARK_ROLLS
    for (uint8_t l = 0; l < g.holders(); ++l) lean(g, l);
#endif
    for (uint8_t l = 0; l < g.holders(); ++l) hold(g, l);
  }
#endif
  for (uint8_t o = 0; o < g.outputs(); ++o)
    if (!g.output(o).idle) give(g, o);
}

template <class G> void tick(G& g) {
  readInputs(g);
  act(g);
}

}  // namespace spark
#endif
