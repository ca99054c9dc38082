// What is read, and when it is believed.
// Part of the tick (spark_tick.h, which says what G is). The same file runs on the desk, in the proof and on the board.
#ifndef SPARK_INPUTS_H
#define SPARK_INPUTS_H
#include <stdint.h>
#include "spark_clock.h"
#include "spark_power.h"

namespace spark {

// A level that is believed. What an input says first after power-up starts nothing: a button held, or stuck, while the power comes back
// must not set anything in motion.
template <class G> void believe(G& g, uint8_t i, uint8_t now, bool first) {
  InputState& input = g.input(i);
  input.heard = 1;
  if (input.active == now) return;
  input.active = now;
  g.whole().changed = 1;
#if SPARK_HELD
  input.active_for = 0;
#endif
  if (first) return;
  input.edge = now;
  input.let_go = 1 - now;
  g.whole().happened |= bitOf(now ? By::Press : By::Release);
}

#if SPARK_HELD
// How long it has been true counts only from an edge that was seen, and only where a cue asks.
template <class G> void countHeld(G& g, const Input* row, InputState& input) {
  if (!(SPARK_READ(row->is) & Input::held)) return;
  if (input.edge) input.active_for = 1;
  else if (input.active && input.active_for > 0 && input.active_for < ticks_per_day) ++input.active_for;
  if (input.active_for > 0) g.whole().happened |= bitOf(By::Held);
}
#endif

#if SPARK_READINGS
inline uint8_t levelOf(const Input* row, int32_t reading, uint8_t was) {
  return levelOf(reading, SPARK_READ(row->upper), SPARK_READ(row->lower), (SPARK_READ(row->is) & Input::below) != 0, was != 0) ? 1 : 0;
}
#endif

#if SPARK_SAID
template <class G> bool isFresh(G& g, uint8_t i) {
  const int32_t age = g.input(i).age;
  return age >= 0 && age < atLeastOne(g.number(SPARK_READ(g.inputRow(i)->number)));
}
#endif

#if SPARK_STALLS
// A tach that belongs to an output says nothing before that has run up. What was put off because it stood still counts as that until nobody
// wants it any more, and as long again as its run-up: else it would be tried again by itself, and nobody would see why it stopped.
inline void countRunning(const OutputState& output, InputState& input, int32_t run_up, int32_t ticks) {
  if (output.on) {
    const int32_t more = input.running + ticks;
    input.running = static_cast<int16_t>(more < run_up ? more : run_up);
    return;
  }
  bool wanted = output.asked || output.followed;
#if SPARK_HAND
  wanted = wanted || output.hand > 0;
#endif
  if (!input.active) input.running = 0;
  else if (!wanted) input.running = static_cast<int16_t>(input.running > ticks ? input.running - ticks : 0);
}
template <class G> bool hasRunUp(G& g, const Input* row, const InputState& input) {
  return SPARK_READ(row->counted) == nobody || (input.active && input.running > 0) ||
         input.running >= atLeastOne(g.number(SPARK_READ(row->number)));
}
// What is shown of an output's current means nothing before it has started. What put it off holds as long as a tach's word does.
template <class G> uint8_t shownOf(G& g, const Input* row, InputState& input, uint8_t now) {
  const uint8_t whose = SPARK_READ(row->counted);
  if (whose == nobody) return now;
  countRunning(g.output(whose), input, atLeastOne(g.number(SPARK_READ(row->number))), 1);
  if (!g.output(whose).on) return input.active && input.running > 0 ? 1 : 0;
  return input.running >= atLeastOne(g.number(SPARK_READ(row->number))) ? now : 0;
}
#endif

// What an input that has no contact says by itself.
template <class G> uint8_t truthOf(G& g, uint8_t i) {
  const Input* row = g.inputRow(i);
  const InputState& input = g.input(i);
  switch (SPARK_READ(row->source)) {
#if SPARK_SAID
    case Source::Word: return input.said;
#if SPARK_READINGS
    case Source::Number: return isFresh(g, i) ? levelOf(row, input.value, input.active) : (SPARK_READ(row->is) & Input::cautious) != 0;
#endif
#endif
#if SPARK_COUNTS
    case Source::Counter: return input.count >= g.number(SPARK_READ(row->number));
#if SPARK_READINGS
    case Source::Tach:
#if SPARK_STALLS
      if (!hasRunUp(g, row, input)) return 0;
#endif
      return levelOf(row, input.value, input.active);
#endif
#endif
#if SPARK_DAYS
    case Source::Days: {
      const WholeState& now = g.whole();
      return now.clock_set && now.date_set && (SPARK_READ(row->weekdays) >> now.weekday & 1) != 0 &&
             inSeason(SPARK_READ(row->from), SPARK_READ(row->to), now.date.month, now.date.day);
    }
#endif
    default: break;
  }
  (void)input;
  return 0;
}

template <class G> void readInputs(G& g) {
  WholeState& whole = g.whole();
  whole.all_heard = 1;
  const Input* row = g.inputRow(0);
  InputState* state = &g.input(0);
  for (uint8_t i = 0; i < g.inputs(); ++i, ++row, ++state) {
    InputState& input = *state;
    const Source source = SPARK_READ(row->source);
    input.edge = input.let_go = 0;
    if (source == Source::Pin) {
      uint8_t now;
#if SPARK_READINGS
      if (SPARK_READ(row->is) & Input::analogue) {
        // Between the two levels it stays what it was.
        input.value = g.reading(i);
        now = levelOf(row, input.value, input.candidate);
#if SPARK_STALLS
        now = shownOf(g, row, input, now);
#endif
      } else
#endif
        now = g.pin(i);
      if (now != input.candidate) {
        input.candidate = now;
        input.steady = 0;
      }
      // What is believed already, and still so, is looked at no further.
      if (now != input.active || !input.heard) {
        const int16_t patience = SPARK_READ(row->patience);
        if (input.steady < patience && ++input.steady == patience) believe(g, i, now, !input.heard);
      }
    } else {
#if SPARK_SAID
      if (input.age == -2) input.age = 0;
      else if (input.age >= 0 && input.age < ticks_per_day) ++input.age;
      if (source == Source::Word) input.heard = 1;
#endif
#if SPARK_COUNTS && SPARK_READINGS
      if (source == Source::Tach) {
        const int32_t count = static_cast<int32_t>(input.count) + g.pulses(i);
        input.count = count > most_counted ? most_counted : static_cast<int16_t>(count);
        // One that a loop reads is counted by it.
        if (!(SPARK_READ(row->is) & Input::looped) && ++input.steady >= tach_window) {
          input.value = input.count > 1023 ? 1023 : input.count;
          input.count = 0;
          input.steady = 0;
        }
#if SPARK_STALLS
        const uint8_t whose = SPARK_READ(row->counted);
        if (whose != nobody) countRunning(g.output(whose), input, atLeastOne(g.number(SPARK_READ(row->number))), 1);
#endif
      }
#endif
      believe(g, i, truthOf(g, i), !input.heard);
#if SPARK_SAID
      input.said = 0;
      // A number that has fallen silent is as if never read.
      if (source == Source::Number) input.heard = isFresh(g, i);
#endif
    }
    if (source != Source::Number && !input.heard) whole.all_heard = 0;
#if SPARK_READINGS
    const int16_t sets = SPARK_READ(row->sets);
    if (sets != no_number && input.heard) {
      const int32_t value = knobValue(SPARK_READ(row->least), SPARK_READ(row->most), input.value);
      if (value != g.number(sets)) {
        g.number(sets) = value;
        numbersChanged(g);
      }
    }
#endif
#if SPARK_HELD
    countHeld(g, row, input);
#endif
  }
}

}  // namespace spark
#endif
