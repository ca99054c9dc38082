// What a gadget does in one tick of 1 ms: read the inputs, start cues in the order of their list, run their moves, set the outputs. This is
// the meaning of every routine: the window, the proof and the chips all run this file.
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
#include "spark_loop.h"
#include "spark_motion.h"
#include "spark_program.h"
#include "spark_state.h"
#include "spark_values.h"

namespace spark {

constexpr int32_t tach_window = 1000;                    // ticks over which the pulses of a tach are counted that no loop reads
constexpr int32_t longest_count = 1000000000;            // ticks beyond which is not counted how long an output has been on
constexpr int16_t most_counted = 30000;                  // ends that a counter counts
constexpr int16_t hand_ticks = 1500;                     // for which an output obeys the desk's hand unless it is told again
constexpr int32_t hand_own = -1, hand_off = -2;          // what the hand may say besides a share or a place: as loop or duty says; let go
constexpr int32_t servo_least = 800, servo_most = 5200;  // half microseconds that a pulse is kept between when the hand moves it

inline int32_t atLeastOne(int32_t ticks) { return ticks < 1 ? 1 : ticks; }

// ---- Power-up: outputs at rest, cues idle, the clock lost; on zeroed state

inline void powerUp(WholeState& whole) {
  whole.clock_before = -1;
  whole.passed = 1;
#if SPARK_SILENCE
  whole.link_age = -1;
#endif
  whole.date = {2000, 1, 1};
  whole.weekday = 5;
  whole.noise = first_noise;
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

// ---- Outputs that are let go, sent somewhere, or put to rest

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
#if SPARK_MOVES
  const Output* row = g.outputRow(o);
  if (SPARK_READ(row->rest) != Rest::Start || !output.awake || !output.placed || forbidsRest(g, row)) return;
  startMove(g, o, SPARK_READ(row->start), g.number(SPARK_READ(row->rest_number)), Manner::Gentle);
#endif
}

// ---- Inputs

// A level that is believed. What an input says first after power-up starts nothing: a button held, or stuck, while the power comes back
// must not set anything in motion.
template <class G> void believe(G& g, uint8_t i, uint8_t now, bool first) {
  InputState& input = g.input(i);
  input.heard = 1;
  if (input.active == now) return;
  input.active = now;
#if SPARK_HELD
  input.active_for = 0;
#endif
  if (first) return;
  input.edge = now;
  input.let_go = 1 - now;
  g.whole().happened = 1;
}

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
    case Source::Tach: return levelOf(row, input.value, input.active);
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
  for (uint8_t i = 0; i < g.inputs(); ++i) {
    const Input* row = g.inputRow(i);
    InputState& input = g.input(i);
    const Source source = SPARK_READ(row->source);
    input.edge = input.let_go = 0;
    if (source == Source::Pin) {
      uint8_t now;
#if SPARK_READINGS
      if (SPARK_READ(row->is) & Input::analogue) {
        // Between the two levels it stays what it was.
        input.value = g.reading(i);
        now = levelOf(row, input.value, input.candidate);
      } else
#endif
        now = g.pin(i);
      if (now != input.candidate) {
        input.candidate = now;
        input.steady = 0;
      }
      const int16_t patience = SPARK_READ(row->patience);
      if (input.steady < patience && ++input.steady == patience) believe(g, i, now, !input.heard);
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
    if (sets != no_number && input.heard) g.number(sets) = knobValue(SPARK_READ(row->least), SPARK_READ(row->most), input.value);
#endif
#if SPARK_HELD
    // How long it has been true counts only from an edge that was seen, and only where a cue asks.
    if (SPARK_READ(row->is) & Input::held) {
      if (input.edge) input.active_for = 1;
      else if (input.active && input.active_for > 0 && input.active_for < ticks_per_day) ++input.active_for;
    }
#endif
  }
}

// ---- Time, the link, and power that is back

template <class G> void setDate(G& g, Date to) {
  WholeState& whole = g.whole();
  whole.date = to;
  whole.weekday = weekdayOf(to);
  whole.date_set = 1;
}

template <class G> void keepTime(G& g) {
  WholeState& whole = g.whole();
  if (whole.clock_set && ++whole.clock >= ticks_per_day) {
    whole.clock = 0;
#if SPARK_DAYS
    if (whole.date_set) setDate(g, dayAfter(whole.date));
#endif
  }
  whole.passed = whole.clock_set ? passedSince(whole.clock, whole.clock_before) : 1;
  whole.clock_before = whole.clock_set ? whole.clock : -1;
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
  for (uint8_t o = 0; o < g.outputs(); ++o) {
    OutputState& output = g.output(o);
    if (!output.remembered) continue;
    output.asked = 1;
    output.remembered = output.resting = output.idle = 0;
  }
}

// ---- Cues

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

#if SPARK_HAND
// What the desk's hand wants of an output.
template <class G> void takeHand(G& g, uint8_t o) {
  OutputState& output = g.output(o);
  output.idle = 0;
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

// What one step does at once. `ticks`: for how long the cue then waits. False where the cue stays at it, or has ended.
template <class G> bool doStep(G& g, uint8_t c, const Step* step, int32_t number, int32_t& ticks) {
  CueState& cue = g.cue(c);
  const uint8_t o = SPARK_READ(step->output), in = SPARK_READ(step->input);
  const int16_t with = SPARK_READ(step->with);
  OutputState& output = g.output(o == nobody ? 0 : o);
  const Do does = SPARK_READ(step->does);
  if (o != nobody) {
    output.idle = 0;
    output.owner = c;
#if SPARK_RUNS
    if (does != Do::Run) output.run = 0;
#endif
  }
  switch (does) {
    case Do::On:
    case Do::Run:
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
    case Do::Off: release(g, o); return true;
    case Do::Wait: ticks = number; return true;
    case Do::Toggle:
      if (output.asked) {
        release(g, o);
      } else {
        output.asked = 1;
        output.share = -1;
      }
      return true;
    case Do::Until:
      if (g.input(in).active == (SPARK_READ(step->is) & Step::wanted)) return true;
      cue.wait = atLeastOne(number);
      return false;
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
      startMove(g, o, g.number(with), number, (SPARK_READ(step->is) & Step::gentle) ? Manner::Gentle : Manner::Own);
      // The cue goes on in the tick after the one in which the place is reached.
      ticks = output.duration;
      return true;
#if SPARK_HOMES
    case Do::Home: {
      output.awake = 1;
      if (g.input(in).active == (SPARK_READ(step->is) & Step::wanted)) {
        setDown(g, o);
        return true;
      }
      // Wherever it is: as far back as it could be, and further.
      const Output* row = g.outputRow(o);
      output.placed = 0;
      setPlace(g, o, homingFrom(SPARK_READ(row->start), SPARK_READ(row->furthest)));
      startMove(g, o, SPARK_READ(row->start), number, Manner::Search);
      cue.wait = output.duration + 1;
      return false;
    }
#endif
#endif
    default: return true;
  }
}

// A cue that waits: whether it goes on in this tick.
template <class G> bool goesOn(G& g, uint8_t c) {
  CueState& cue = g.cue(c);
  const Step* step = SPARK_READ(g.cueRow(c)->steps) + cue.place;
  const Do does = SPARK_READ(step->does);
  if (does != Do::Until && does != Do::Home) return --cue.wait <= 0;
  if (g.input(SPARK_READ(step->input)).active != (SPARK_READ(step->is) & Step::wanted)) {
    if (--cue.wait == 0) giveUp(g, c);
    return false;
  }
  cue.wait = 0;
#if SPARK_HOMES
  if (does == Do::Home) setDown(g, SPARK_READ(step->output));
#endif
  return true;
}

template <class G> void runCue(G& g, uint8_t c) {
  CueState& cue = g.cue(c);
  const Cue* row = g.cueRow(c);
  const Step* steps = SPARK_READ(row->steps);
  bool went_round = false;
  while (cue.place >= 0) {
    if (cue.place >= SPARK_READ(row->step_count)) {
      cue.place = -1;
      cue.rounds = 0;
      cue.ended = 1;
      g.whole().happened = 1;
#if SPARK_COUNTS
      if (SPARK_READ(row->counts))
        for (uint8_t i = 0; i < g.inputs(); ++i)
          if (SPARK_READ(g.inputRow(i)->counted) == c && g.input(i).count < most_counted) ++g.input(i).count;
#endif
      return;
    }
    const Step* step = steps + cue.place;
    const int16_t n = SPARK_READ(step->number);
    const int32_t number = n != no_number ? g.number(n) : 0;
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
    } else {
      int32_t ticks = 0;
      if (!doStep(g, c, step, number, ticks)) return;
      // A cue waits at the last of the steps that start together, for the longest of them.
      if (ticks > cue.wait) cue.wait = ticks;
    }
    if (!(SPARK_READ(step->is) & Step::joined) && cue.wait > 0) return;
    ++cue.place;
  }
}

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
  if (!output.on && output.off_delay > 0) {
    --output.off_delay;
    output.on = 1;
  }
}

template <class G> bool isSo(G& g, const Term* term) {
  const uint8_t o = SPARK_READ(term->output);
  const OutputState& output = g.output(o);
  const Term::So so = SPARK_READ(term->so);
  if (so == Term::So::On || so == Term::So::Off) return (output.on != 0) == (so == Term::So::On);
#if SPARK_MOVES
  if (!output.placed) return true;  // it may be anywhere
#endif
  const Output* row = g.outputRow(o);
  const bool up = SPARK_READ(row->furthest) >= SPARK_READ(row->start);
  const int32_t place = SPARK_READ(term->place);
  return (so == Term::So::Beyond) == up ? output.level > place : output.level < place;
}

template <class G> void enforce(G& g, const Interlock* row) {
  const uint8_t o = SPARK_READ(row->output), in = SPARK_READ(row->input);
  OutputState& output = g.output(o);
  if (!output.on || (in != nobody && !g.input(in).active)) return;
  const Term* term = SPARK_READ(row->terms);
  for (uint8_t k = SPARK_READ(row->term_count); k > 0; --k, ++term)
    if (!isSo(g, term)) return;
  rest(g, o);
  output.on = SPARK_READ(g.outputRow(o)->rest) == Rest::On;
}

#if SPARK_ROLLS
// Wheels of one body lean back against its rolling, not each against its own: else what sets them apart by a little grows, and they turn it
// on the spot, which no reading of its tilt shows.
template <class G> void lean(G& g, uint8_t l) {
  HolderState& holder = g.holder(l);
  const Holder* own = g.holderRow(l);
  if (SPARK_READ(g.outputRow(SPARK_READ(own->output))->kind) != Kind::Stepper) return;
  if (holder.loop.phase + 1 < g.number(SPARK_READ(own->numbers[LoopNumber::period]))) return;  // it is read when its period ends
  holder.rate = holder.away = 0;
  int32_t count = 0;
  const uint8_t in = SPARK_READ(own->input);
  for (uint8_t k = 0; k < g.holders(); ++k) {
    const uint8_t o = SPARK_READ(g.holderRow(k)->output);
    const Output* row = g.outputRow(o);
    if (SPARK_READ(g.holderRow(k)->input) != in || SPARK_READ(row->kind) != Kind::Stepper) continue;
    holder.rate += g.output(o).share;
    holder.away += g.output(o).level - SPARK_READ(row->start);
    ++count;
  }
  if (count < 2) return;
  // Two wheels are most usual, and half of something, towards nothing, is no division: four of those would take 150 us on a small chip.
  holder.rate = count == 2 ? (holder.rate + (holder.rate < 0)) >> 1 : holder.rate / count;
  holder.away = count == 2 ? (holder.away + (holder.away < 0)) >> 1 : holder.away / count;
}

#endif
#if SPARK_LOOPS
// One tick of a loop. Under the desk's hand it only goes on counting.
template <class G> void hold(G& g, uint8_t l) {
  const Holder* row = g.holderRow(l);
  HolderState& holder = g.holder(l);
  const uint8_t o = SPARK_READ(row->output), i = SPARK_READ(row->input);
  OutputState& output = g.output(o);
  InputState& input = g.input(i);
  const Kind kind = SPARK_READ(g.outputRow(o)->kind);
#if SPARK_ROLLS
  const bool rolls = kind == Kind::Stepper;
#else
  const bool rolls = false;
#endif
  const bool hand = byHand(output);
#if SPARK_COUNTS
  const bool tach = SPARK_READ(g.inputRow(i)->source) == Source::Tach;
#endif
  const bool runs = kind == Kind::Switched ? output.on : output.asked;
  if ((!runs || hand) && holder.loop.last >= 0) forget(holder.loop);
  if (!runs) {
    holder.loop.phase = 0;
    if (kind != Kind::Switched) output.share = 0;
#if SPARK_COUNTS
    if (tach) input.count = input.value = 0;
#endif
    return;
  }
  if (holder.loop.last < 0 && !hand) output.share = 0;
  if (!periodEnds(holder.loop, g.number(SPARK_READ(row->numbers[LoopNumber::period])))) return;
#if SPARK_COUNTS
  if (tach) {
    input.value = input.count > 1023 ? 1023 : input.count;
    input.count = 0;
  }
#endif
  if (hand) return;
  int32_t numbers[LoopNumber::count];
  for (uint8_t k = 0; k < LoopNumber::count; ++k) {
    const int16_t n = SPARK_READ(row->numbers[k]);
    numbers[k] = n != no_number ? g.number(n) : k == LoopNumber::smoothing ? 16 : 0;
  }
  output.share = static_cast<int16_t>(loopDrive(holder.loop, numbers, rolls, SPARK_READ(row->most), input.value, holder.rate, holder.away));
}
#endif

// Permille that a switched output is given while it is on: by the desk's hand, a follower, a fade or a loop, else its own.
template <class G> int32_t givenShare(G& g, uint8_t o) {
  const OutputState& output = g.output(o);
  if (!byHand(output) && output.duty >= 0) return output.duty;
  return byHand(output) || output.share >= 0 ? output.share : g.number(SPARK_READ(g.outputRow(o)->duty));
}

// Whether nothing of it changes by itself, after its level was given.
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
  return !output.on && !output.asked && !output.followed && output.off_delay == 0 && !isMoving(output);
}

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
    return;
  }
#endif
  if (!output.on) {
    output.share = output.given = -1;
    output.on_for = output.level = 0;
    output.idle = isIdle(output);
    return;
  }
  if (output.on_for < longest_count) ++output.on_for;
  // Two divisions: only while the level can change.
  const int32_t share = givenShare(g, o), ramp = g.number(SPARK_READ(row->ramp));
  if (share == output.given && output.on_for >= ramp) return;
  output.level = rampLevel(share, SPARK_READ(row->top), output.on_for, ramp);
  output.given = static_cast<int16_t>(output.on_for >= ramp ? share : -1);
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
  for (uint8_t c = 0; c < g.cues(); ++c) {
    CueState& cue = g.cue(c);
    if (cue.place < 0) continue;
    if (cue.wait > 0) {
      if (!goesOn(g, c)) continue;
      ++cue.place;
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
