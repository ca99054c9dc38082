// The words in which a sketch's tables are written, so that they read as the routine reads. Each gives one row; all is worked out by the
// compiler, and nothing of it is left on the chip.
#ifndef SPARK_WORDS_H
#define SPARK_WORDS_H
#include <stdint.h>
#include "spark_program.h"

namespace spark {

// ---- What is read. Times in ticks of 1 ms, readings 0 to 1023.
constexpr Input contact(int16_t patience) { return {Source::Pin, 0, 0, nobody, patience, 0, 0, no_number, 0, 0, no_number, 0, 0}; }
constexpr Input level(int16_t patience, int16_t upper, int16_t lower) {
  return {Source::Pin, Input::analogue, 0, nobody, patience, upper, lower, no_number, 0, 0, no_number, 0, 0};
}
constexpr Input spokenWord() { return {Source::Word, 0, 0, nobody, 0, 0, 0, no_number, 0, 0, no_number, 0, 0}; }
constexpr Input number(int16_t counts_for, int16_t upper, int16_t lower) {
  return {Source::Number, 0, 0, nobody, 0, upper, lower, counts_for, 0, 0, no_number, 0, 0};
}
constexpr Input counter(uint8_t cue, int16_t how_often) { return {Source::Counter, 0, 0, cue, 0, 0, 0, how_often, 0, 0, no_number, 0, 0}; }
// weekdays: bit 0 is Monday; from, to: month*100 + day.
constexpr Input days(uint8_t weekdays, int16_t from, int16_t to) {
  return {Source::Days, 0, weekdays, nobody, 0, 0, 0, no_number, from, to, no_number, 0, 0};
}
constexpr Input tach(int16_t upper, int16_t lower) {
  return {Source::Tach, 0, 0, nobody, 0, upper, lower, no_number, 0, 0, no_number, 0, 0};
}
constexpr Input also(uint8_t is, Input i) {
  return {i.source,   static_cast<uint8_t>(i.is | is),
          i.weekdays, i.counted,
          i.patience, i.upper,
          i.lower,    i.number,
          i.from,     i.to,
          i.sets,     i.least,
          i.most};
}
// Believed only once its output has been on for so many ticks.
constexpr Input belongsTo(uint8_t output, int16_t ticks, Input i) {
  return {i.source, i.is, i.weekdays, output, i.patience, i.upper, i.lower, ticks, i.from, i.to, i.sets, i.least, i.most};
}
constexpr Input below(Input i) { return also(Input::below, i); }        // true from the lower level down
constexpr Input held(Input i) { return also(Input::held, i); }          // a cue asks how long it has been true
constexpr Input looped(Input i) { return also(Input::looped, i); }      // a loop reads it
constexpr Input cautious(Input i) { return also(Input::cautious, i); }  // counts as true until it is known
// A knob: sets a number, from `least` to `most`.
constexpr Input sets(int16_t which, int32_t least, int32_t most, Input i) {
  return {i.source, i.is, i.weekdays, i.counted, i.patience, i.upper, i.lower, i.number, i.from, i.to, which, least, most};
}

// ---- What is driven. duty, ramp, off_delay: numbers; top: compare value of full on.
constexpr Output switched(int16_t duty, int16_t ramp, int16_t off_delay, int32_t top) {
  return {Kind::Switched, Rest::Off, 0, 0, duty, ramp, off_delay, no_number, top, 0, 0, 0};
}
constexpr Output servo(int32_t start, int32_t furthest) {
  return {Kind::Servo, Rest::Off, 0, 0, no_number, no_number, no_number, no_number, 1, start, furthest, 0};
}
constexpr Output stepper(int32_t start, int32_t furthest) {
  return {Kind::Stepper, Rest::Off, 0, 0, no_number, no_number, no_number, no_number, 1, start, furthest, 0};
}
constexpr Output also(uint8_t is, Output o) {
  return {o.kind,     o.rest,  static_cast<uint8_t>(o.is | is), o.unlesses, o.duty, o.ramp, o.off_delay, o.rest_number, o.top, o.start,
          o.furthest, o.unless};
}
// Let go after so many ticks at rest.
constexpr Output letGoAfter(int16_t ticks, Output o) {
  return {o.kind, o.rest, o.is, o.unlesses, o.duty, ticks, o.off_delay, o.rest_number, o.top, o.start, o.furthest, o.unless};
}
constexpr Output homed(Output o) { return also(Output::homed, o); }            // its start must be looked for
constexpr Output rolls(Output o) { return also(Output::rolls, o); }            // at the rate of its loop
constexpr Output brakes(Output o) { return also(Output::brakes, o); }          // shorts its motor while it is off
constexpr Output turns(Output o) { return also(Output::turns, o); }            // can be turned round
constexpr Output remembered(Output o) { return also(Output::remembered, o); }  // after a power cut as before
constexpr Output restsOn(Output o) {
  return {o.kind, Rest::On, o.is, o.unlesses, o.duty, o.ramp, o.off_delay, o.rest_number, o.top, o.start, o.furthest, o.unless};
}
// In `ticks` to its start; `unless`: inputs that forbid the way.
constexpr Output restsAtStart(int16_t ticks, Output o) {
  return {o.kind, Rest::Start, o.is, o.unlesses, o.duty, o.ramp, o.off_delay, ticks, o.top, o.start, o.furthest, o.unless};
}
template <unsigned count> constexpr Output restsAtStart(int16_t ticks, const uint8_t (&unless)[count], Output o) {
  return {o.kind, Rest::Start, o.is, count, o.duty, o.ramp, o.off_delay, ticks, o.top, o.start, o.furthest, unless};
}

// ---- What starts a cue, and what keeps it from starting
constexpr Start pressed(uint8_t input) { return {By::Press, input, no_number, 0, 0}; }
constexpr Start released(uint8_t input) { return {By::Release, input, no_number, 0, 0}; }
constexpr Start heldFor(uint8_t input, int16_t ticks) { return {By::Held, input, ticks, 0, 0}; }
constexpr Start every(int16_t ticks) { return {By::Every, nobody, ticks, 0, 0}; }
constexpr Start withPower() { return {By::Power, nobody, no_number, 0, 0}; }
constexpr Start after(uint8_t cue) { return {By::After, cue, no_number, 0, 0}; }
// The nth time of day of all; late: ticks by which it may be missed and still come.
constexpr Start at(uint8_t nth, uint8_t hour, uint8_t minute, uint8_t second, int32_t late) {
  return {By::Time, nth, no_number, ((hour * INT32_C(60) + minute) * 60 + second) * 1000, late};
}
constexpr Guard unless(uint8_t input) { return {input, 1, 1}; }        // also while it runs
constexpr Guard onlyWhile(uint8_t input) { return {input, 1, 0}; }     // also while it runs
constexpr Guard notStartedBy(uint8_t input) { return {input, 0, 1}; }  // asked at the start only
constexpr Guard startedOnlyBy(uint8_t input) { return {input, 0, 0}; }

// ---- What a cue does. ticks, share, to: numbers.
constexpr Step on(uint8_t output) { return {Do::On, output, nobody, 0, no_number, no_number}; }
constexpr Step on(uint8_t output, int16_t share) { return {Do::On, output, nobody, 0, no_number, share}; }
constexpr Step onBackwards(uint8_t output) { return {Do::On, output, nobody, Step::back, no_number, no_number}; }
constexpr Step onBackwards(uint8_t output, int16_t share) { return {Do::On, output, nobody, Step::back, no_number, share}; }
// Off for so many ticks, unless it goes that way already.
constexpr Step turn(uint8_t output, int16_t ticks) { return {Do::Turn, output, nobody, 0, ticks, no_number}; }
constexpr Step turnBackwards(uint8_t output, int16_t ticks) { return {Do::Turn, output, nobody, Step::back, ticks, no_number}; }
constexpr Step off(uint8_t output) { return {Do::Off, output, nobody, 0, no_number, no_number}; }
constexpr Step brake(uint8_t output) { return {Do::Off, output, nobody, Step::brakes, no_number, no_number}; }
constexpr Step toggle(uint8_t output) { return {Do::Toggle, output, nobody, 0, no_number, no_number}; }
constexpr Step wait(int16_t ticks) { return {Do::Wait, nobody, nobody, 0, ticks, no_number}; }
constexpr Step run(uint8_t output, int16_t ticks) { return {Do::Run, output, nobody, 0, ticks, no_number}; }
constexpr Step run(uint8_t output, int16_t ticks, int16_t share) { return {Do::Run, output, nobody, 0, ticks, share}; }
constexpr Step go(uint8_t output, int16_t to, int16_t ticks) { return {Do::Go, output, nobody, 0, ticks, to}; }
constexpr Step goGently(uint8_t output, int16_t to, int16_t ticks) { return {Do::Go, output, nobody, Step::gentle, ticks, to}; }
// By so much from where it stands, on or back towards its start; what would lead out of its way ends the cue.
constexpr Step goBy(uint8_t output, int16_t way, int16_t ticks) { return {Do::Go, output, nobody, Step::by, ticks, way}; }
constexpr Step goBackBy(uint8_t output, int16_t way, int16_t ticks) { return {Do::Go, output, nobody, Step::by | Step::back, ticks, way}; }
constexpr Step gently(Step s) { return {s.does, s.output, s.input, static_cast<uint8_t>(s.is | Step::gentle), s.number, s.with}; }
constexpr Step fade(uint8_t output, int16_t share, int16_t ticks) { return {Do::Fade, output, nobody, 0, ticks, share}; }
constexpr Step flicker(uint8_t output, int16_t ticks) { return {Do::Flicker, output, nobody, 0, ticks, no_number}; }
constexpr Step clear(uint8_t counter) { return {Do::Clear, nobody, counter, 0, no_number, no_number}; }
// Waits for an input, but no longer than ticks: then the cue gives up.
constexpr Step until(uint8_t input, int16_t ticks) { return {Do::Until, nobody, input, Step::wanted, ticks, no_number}; }
constexpr Step untilNot(uint8_t input, int16_t ticks) { return {Do::Until, nobody, input, 0, ticks, no_number}; }
// Its switch lets go within ticks: else it was not found, and the cue gives up.
constexpr Step letsGo(uint8_t output, uint8_t input, int16_t ticks) { return {Do::Until, output, input, 0, ticks, no_number}; }
constexpr Step home(uint8_t output, uint8_t input, int16_t ticks) { return {Do::Home, output, input, Step::wanted, ticks, no_number}; }
// Only from so many steps away, once more and slowly.
constexpr Step homeFrom(uint8_t output, uint8_t input, int16_t steps, int16_t ticks) {
  return {Do::Home, output, input, Step::wanted, ticks, steps};
}
// The input must become so while it looks.
constexpr Step anew(Step s) { return {s.does, s.output, s.input, static_cast<uint8_t>(s.is | Step::anew), s.number, s.with}; }
// From that step on once more, as often as the number says; 0 for ever.
constexpr Step again(int16_t step, int16_t times) { return {Do::Again, nobody, nobody, 0, times, step}; }
// The next step starts in the same tick; the last of them waits for the longest.
constexpr Step together(Step s) { return {s.does, s.output, s.input, static_cast<uint8_t>(s.is | Step::joined), s.number, s.with}; }

// A cue's three lists; `none` where it has none of a kind.
struct None {};
constexpr None none() { return None(); }
template <class Row> struct List {
  const Row* rows;
  int16_t count;
  template <unsigned size> constexpr List(const Row (&list)[size]) : rows(list), count(size) {}
  constexpr List(None) : rows(0), count(0) {}
};
// Its starts are constexpr, so that their kinds are known.
constexpr Cue cue(List<Start> starts, List<Guard> guards, List<Step> steps) {
  return {starts.rows,
          guards.rows,
          steps.rows,
          static_cast<uint8_t>(starts.count),
          static_cast<uint8_t>(guards.count),
          0,
          kindsIn(starts.rows, starts.count),
          steps.count};
}
// A counter counts its ends.
constexpr Cue counted(Cue c) { return {c.starts, c.guards, c.steps, c.start_count, c.guard_count, 1, c.by, c.step_count}; }

// ---- What must never be, what follows, what is held
constexpr Term isOn(uint8_t output) { return {output, Term::So::On, 0}; }
constexpr Term isOff(uint8_t output) { return {output, Term::So::Off, 0}; }
constexpr Term isBeyond(uint8_t output, int32_t place) { return {output, Term::So::Beyond, place}; }
constexpr Term isShort(uint8_t output, int32_t place) { return {output, Term::So::Short, place}; }
template <unsigned count> constexpr Interlock never(uint8_t output, uint8_t input, const Term (&terms)[count]) {
  return {output, input, count, terms};
}
constexpr Interlock never(uint8_t output, uint8_t input) { return {output, input, 0, 0}; }
constexpr Follower follows(uint8_t output, uint8_t input, uint8_t wanted, uint8_t guard) { return {output, input, guard, wanted, 0, 0, 0}; }
constexpr Follower inProportion(uint8_t output, uint8_t input, int16_t dead, int16_t start, uint8_t guard) {
  return {output, input, guard, 1, 1, dead, start};
}

}  // namespace spark
#endif
