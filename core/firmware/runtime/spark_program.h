// A gadget's behaviour as plain tables: what it reads, what it drives, and what happens when. Times in ticks of 1 ms, places in steps or
// half microseconds of a servo's pulse, shares in permille, readings 0 to 1023. The tables never change; what does is in spark_state.h. The
// same file runs on the desk, in the proof and on the board, so that they agree to the tick.
//
// Tables may stand where a plain pointer doesn't reach (the flash of a small chip): who includes this says before it how a field is read.
#ifndef SPARK_PROGRAM_H
#define SPARK_PROGRAM_H
#include <stdint.h>
#include "spark_loop.h"

#ifndef SPARK_READ
#define SPARK_READ(field) (field)
#endif

namespace spark {

// Inputs, outputs, cues are known by their place in their table; numbers by theirs in the list of numbers that may be changed live.
constexpr uint8_t nobody = 255;
constexpr int16_t no_number = -1;

// Where an input's truth comes from: a contact or reading on a pin; a word said over the link; a number sent over it; the ends of a cue
// counted; days of the week and of the year; the pulses of a tach.
enum class Source : uint8_t { Pin, Word, Number, Counter, Days, Tach };
struct Input {
  enum Is : uint8_t {
    analogue = 1,   // read as 0 to 1023
    below = 2,      // true from the lower level down, instead of from the upper one on
    held = 4,       // a cue asks how long it has been true
    looped = 8,     // a loop reads it
    cautious = 16,  // counts as true until it is known
  };
  Source source;
  uint8_t is;
  uint8_t weekdays;      // Days: bit 0 is Monday
  uint8_t counted;       // Counter: the cue whose ends count; Tach: the output that it belongs to, or nobody
  int16_t patience;      // Pin: ticks that a new level must last
  int16_t upper, lower;  // of a reading
  int16_t number;        // Number: ticks for which it counts; Counter: how often; Tach: ticks that its output must have been on
  int16_t from, to;      // Days: month*100 + day
  int16_t sets;          // a knob that sets this number, from `least` at 0 to `most` at 1023
  int32_t least, most;
};

// How a pin is driven: on and off, with a share; by a servo's pulse; by steps.
enum class Kind : uint8_t { Switched, Servo, Stepper };
// What an output does at power-up, on stop, on a lost link, and where it gives way: off; on; to its start, where its place is known.
enum class Rest : uint8_t { Off, On, Start };
struct Output {
  enum Is : uint8_t {
    homed = 1,       // its place is not known until its start was found
    rolls = 2,       // goes at the rate of a loop
    remembered = 4,  // comes back after a power cut as it was before
    turns = 8,       // can be turned round: a line says which way it goes
    brakes = 16,     // off, its bridge shorts the motor; else it coasts, but where a step brakes it
  };
  Kind kind;
  Rest rest;
  uint8_t is;
  uint8_t unlesses;         // inputs that forbid the way to its safe state
  int16_t duty;             // number: permille of full
  int16_t ramp, off_delay;  // numbers: ticks from nothing to its duty; ticks that it stays on after its reason has gone
                            // of a mover `ramp` is of its ticks at rest until it is let go; no_number: never
  int16_t rest_number;      // Start: number of its ticks
  int32_t top;              // compare value of full on
  int32_t start, furthest;  // places at power-up, and the farthest
  const uint8_t* unless;
};

// One move of a cue.
enum class Do : uint8_t {
  On,       // output, with: number of its share or no_number for its duty
  Off,      // output
  Wait,     // number: ticks
  Go,       // output, with: number of the place, number: ticks
  Toggle,   // output
  Until,    // input as wanted; number: ticks that it may take, else the cue gives up, and the place of output is not known
  Home,     // output back until input; number: ticks that it may take; with: number of steps that it looks for, no_number: its whole way
  Again,    // with: the step to go back to; number: how often, 0 for ever
  Fade,     // output, with: number of the share, number: ticks
  Flicker,  // output, number: ticks
  Clear,    // input: it counts from nothing
  Run,      // output on for number ticks; the cue may do something else meanwhile; with: as On
  Turn,     // output off for number ticks, unless it goes the way that the step says already
};
struct Step {
  enum Is : uint8_t {
    wanted = 1,   // Until, Home: the level that ends the wait
    gentle = 2,   // Go: a servo too speeds up and slows down
    joined = 4,   // the next step starts in the same tick; the last of them waits for the longest
    back = 8,     // On, Turn: the other way round; Go: by so much nearer to its start
    brakes = 16,  // Off: and its bridge shorts the motor until it is on again, or put to rest
    by = 32,      // Go: so far from where it stands; what would lead out of its way ends the cue
    anew = 64,    // Home: the input must become so while it looks: a line that is so before tells nothing
  };
  Do does;
  uint8_t output, input, is;
  int16_t number, with;
};

// What starts a cue: one bit each.
enum class By : uint8_t { Press = 1, Release = 2, Held = 4, Every = 8, Time = 16, Power = 32, After = 64 };
constexpr uint8_t asked_for = 128;  // and over the link, whatever its starts are
constexpr uint8_t bitOf(By by) { return static_cast<uint8_t>(by); }
constexpr uint8_t timed_starts = bitOf(By::Every) | bitOf(By::Time);
struct Start {
  By by;
  uint8_t of;      // Press, Release, Held: input; After: cue; Time: which of all times it is
  int16_t number;  // Held: ticks; Every: ticks
  int32_t time;    // Time: ticks after midnight
  int32_t late;    // Time: ticks by which it may be missed and still come
};
// All the kinds in a list.
constexpr uint8_t kindsIn(const Start* starts, int16_t count) {
  return count > 0 ? static_cast<uint8_t>(bitOf(starts->by) | kindsIn(starts + 1, static_cast<int16_t>(count - 1))) : 0;
}

// What keeps a cue from starting, and, throughout, ends it.
struct Guard {
  uint8_t input, throughout, blocks_when;
};

struct Cue {
  const Start* starts;
  const Guard* guards;
  const Step* steps;
  uint8_t start_count, guard_count;
  uint8_t counts;  // a counter counts its ends
  uint8_t by;      // the kinds of its starts
  int16_t step_count;
};

// An output must not be on with this input true (nobody: whatever the inputs) while all of the terms are so: it gives way.
struct Term {
  enum class So : uint8_t { On, Off, Beyond, Short };
  uint8_t output;
  So so;
  int32_t place;
};
struct Interlock {
  uint8_t output, input, term_count;
  const Term* terms;
};

// On while an input is as wanted; or proportional: at a share that follows its reading from `start` permille above `dead` on. Those of
// one output stand one after another.
struct Follower {
  uint8_t output, input, guard;  // guard: holds it off while it is true
  uint8_t wanted, proportional;
  int16_t dead, start;
};

// An output whose drive is made from a reading while it is on.
struct Holder {
  uint8_t output, input;
  int32_t most;                        // permille, or steps a second
  int16_t numbers[LoopNumber::count];  // as LoopNumber says; no_number: 0, of smoothing 16
};

}  // namespace spark
#endif
