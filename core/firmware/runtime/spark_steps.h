// The steps of a cue.
// Part of the tick (spark_tick.h, which says what G is). The same file runs on the desk, in the proof and on the board.
#ifndef SPARK_STEPS_H
#define SPARK_STEPS_H
#include <stdint.h>
#include "spark_cues.h"

namespace spark {

#if SPARK_TURNS
// Sets the way an output goes. False where it is driven the other way: it is never turned round while its pin is not at rest.
template <class G> bool setWay(G& g, uint8_t o, bool back) {
  OutputState& output = g.output(o);
  if (!(SPARK_READ(g.outputRow(o)->is) & Output::turns) || (output.back != 0) == back) return true;
  if (output.on) return false;
  output.back = back;
  return true;
}
#endif

// One switch, a case a move: a small chip pays for every call. What one step does at once. `ticks`: for how long the cue then waits. False
// where the cue stays at it, or has ended.
template <class G> bool doStep(G& g, uint8_t c, const Step* step, int32_t number, int32_t& ticks) {
  CueState& cue = g.cue(c);
  const uint8_t o = SPARK_READ(step->output), in = SPARK_READ(step->input);
  const int16_t with = SPARK_READ(step->with);
  OutputState& output = g.output(o == nobody ? 0 : o);
  const Do does = SPARK_READ(step->does);
  (void)cue, (void)in;
  if (o != nobody) {
    output.idle = 0;
    output.owner = c;
#if SPARK_RUNS
    if (does != Do::Run) output.run = 0;
#endif
#if SPARK_CONFIGURES
    if (output.unready && does != Do::Off) {
      giveUp(g, c);
      return false;
    }
#endif
  }
  switch (does) {
    case Do::On:
    case Do::Run:
#if SPARK_TURNS
      if (!setWay(g, o, SPARK_READ(step->is) & Step::back)) {
        giveUp(g, c);
        return false;
      }
#endif
      calm(output);
      halt(output);
      output.asked = output.awake = 1;
      output.share = static_cast<int16_t>(with != no_number ? g.number(with) : -1);
#if SPARK_RUNS
      if (does == Do::Run) {
        output.run = (number < 0 ? 0 : number) + 1;
        ticks = number;
      }
#endif
      return true;
    case Do::Off: release(g, o);
#if SPARK_BRAKES
      if (SPARK_READ(step->is) & Step::brakes) output.braked = 1;
#endif
      return true;
#if SPARK_TURNS
    case Do::Turn:
      if ((output.back != 0) == ((SPARK_READ(step->is) & Step::back) != 0)) return true;
      release(g, o);
      ticks = atLeastOne(number);
      return true;
#endif
    case Do::Wait: ticks = number; return true;
#if SPARK_TOGGLES
    case Do::Toggle:
      if (output.asked) {
        release(g, o);
      } else {
        output.asked = 1;
        output.share = -1;
      }
      return true;
#endif
#if SPARK_WATCHES
    case Do::Until:
      if (g.input(in).active == (SPARK_READ(step->is) & Step::wanted)) return true;
      cue.wait = atLeastOne(number);
      cue.watches = 1;
      return false;
#endif
#if SPARK_LIGHTS
    case Do::Fade:
      output.from = !output.asked ? 0 : output.share >= 0 ? output.share : g.number(SPARK_READ(g.outputRow(o)->duty));
      output.target = g.number(with);
      output.elapsed = 0;
      output.duration = ticks = atLeastOne(number);
      output.asked = 1;
      output.share = static_cast<int16_t>(output.from);
      output.flicker = 0;
      return true;
    case Do::Flicker:
      output.asked = 1;
      output.share = -1;
      halt(output);
      output.flicker = ticks = atLeastOne(number);
      return true;
#endif
#if SPARK_COUNTS
    case Do::Clear: g.input(in).count = 0; return true;
#endif
#if SPARK_MOVES
    case Do::Go:
      // What must be looked for first is not moved from a place that nobody knows.
      if (!output.placed) {
        giveUp(g, c);
        return false;
      }
#if SPARK_BY
      if (SPARK_READ(step->is) & Step::by) {
        // The proof, where only that matters: it may lead out of its way or not.
        if (!g.counts() && in != nobody) {
          if (g.input(in).active) {
            giveUp(g, c);
            return false;
          }
          ticks = atLeastOne(number);
          return true;
        }
        const Output* row = g.outputRow(o);
        const int32_t start = SPARK_READ(row->start), furthest = SPARK_READ(row->furthest);
        const bool up = (furthest >= start) != ((SPARK_READ(step->is) & Step::back) != 0);
        const int32_t to = up ? output.level + g.number(with) : output.level - g.number(with);
        if (to < (start < furthest ? start : furthest) || to > (start < furthest ? furthest : start)) {
          giveUp(g, c);
          return false;
        }
        startMove(g, o, to, number, (SPARK_READ(step->is) & Step::gentle) ? Manner::Gentle : Manner::Own);
        ticks = output.duration;
        return true;
      }
#endif
      startMove(g, o, g.number(with), number, (SPARK_READ(step->is) & Step::gentle) ? Manner::Gentle : Manner::Own);
      // The cue goes on in the tick after the one in which the place is reached.
      ticks = output.duration;
      return true;
#if SPARK_HOMES
    case Do::Home: {
      output.awake = 1;
      if (g.input(in).active == (SPARK_READ(step->is) & Step::wanted)) {
        if (SPARK_READ(step->is) & Step::anew) {
          output.placed = 0;
          giveUp(g, c);
          return false;
        }
        setDown(g, o);
        return true;
      }
      // Wherever it is: as far back as it could be, and further. Or once more, from near by.
      const Output* row = g.outputRow(o);
      const int32_t start = SPARK_READ(row->start), furthest = SPARK_READ(row->furthest);
      output.placed = 0;
      setPlace(g, o, with == no_number ? homingFrom(start, furthest) : furthest >= start ? start + g.number(with) : start - g.number(with));
      startMove(g, o, start, number, Manner::Search);
      cue.wait = output.duration + 1;
      cue.watches = 1;
      return false;
    }
#endif
#endif
    default: return true;
  }
}

#if SPARK_WATCHES
// A cue that waits for an input: whether it goes on in this tick.
template <class G> bool hasCome(G& g, uint8_t c) {
  CueState& cue = g.cue(c);
  const Step* step = SPARK_READ(g.cueRow(c)->steps) + cue.place;
  if (g.input(SPARK_READ(step->input)).active != (SPARK_READ(step->is) & Step::wanted)) {
    if (--cue.wait > 0) return false;
#if SPARK_HOMES
    // A switch that does not let go was not found there.
    const uint8_t o = SPARK_READ(step->output);
    if (o != nobody) g.output(o).placed = 0;
#endif
    giveUp(g, c);
    return false;
  }
  cue.wait = cue.watches = 0;
#if SPARK_HOMES
  if (SPARK_READ(step->does) == Do::Home) setDown(g, SPARK_READ(step->output));
#endif
  return true;
}

#endif

template <class G> void runCue(G& g, uint8_t c) {
  CueState& cue = g.cue(c);
  const Cue* row = g.cueRow(c);
  const Step* steps = SPARK_READ(row->steps);
#if SPARK_AGAIN
  bool went_round = false;
#endif
  while (cue.place >= 0) {
    if (cue.place >= SPARK_READ(row->step_count)) {
      cue.place = -1;
#if SPARK_AGAIN
      cue.rounds = 0;
#endif
      cue.ended = 1;
      g.whole().happened |= bitOf(By::After);
#if SPARK_COUNTS
      if (SPARK_READ(row->counts))
        for (uint8_t i = 0; i < g.inputs(); ++i) {
          const Input* counter = g.inputRow(i);
          if (SPARK_READ(counter->source) == Source::Counter && SPARK_READ(counter->counted) == c && g.input(i).count < most_counted)
            ++g.input(i).count;
        }
#endif
      return;
    }
    const Step* step = steps + cue.place;
    const int16_t n = SPARK_READ(step->number);
    const int32_t number = n != no_number ? g.number(n) : 0;
#if SPARK_AGAIN
    if (SPARK_READ(step->does) == Do::Again) {
      ++cue.rounds;
      if (number != 0 && cue.rounds >= number) {
        cue.rounds = 0;
      } else {
        if (number == 0) cue.rounds = 0;
        cue.place = SPARK_READ(step->with);
        if (went_round) return;  // twice in one tick: a round without a wait must not hold up the others
        went_round = true;
        continue;
      }
    } else
#endif
    {
      int32_t ticks = 0;
      if (!doStep(g, c, step, number, ticks)) return;
      // A cue waits at the last of the steps that start together, for the longest of them.
      if (ticks > cue.wait) cue.wait = ticks;
    }
    if (!(SPARK_READ(step->is) & Step::joined) && cue.wait > 0) return;
    ++cue.place;
  }
}

}  // namespace spark
#endif
