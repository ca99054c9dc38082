// All that changes while a gadget works, as plain structs: one for each input, output, cue and loop, and one for the whole. Zeroed they are
// as powerUp() begins. Switches leave out what a gadget doesn't use, so that a small one fits a small chip; where nothing is said, all is
// there. The same file runs on the desk, in the proof and on the board.
#ifndef SPARK_STATE_H
#define SPARK_STATE_H
#include <stdint.h>
#include "spark_clock.h"
#include "spark_loop.h"
#include "spark_motion.h"

// What a gadget has:
#ifndef SPARK_MOVES
#define SPARK_MOVES 1  // servos or steppers
#endif
#ifndef SPARK_LIGHTS
#define SPARK_LIGHTS 1  // fades and flicker
#endif
#ifndef SPARK_RUNS
#define SPARK_RUNS 1  // runs that a cue does not wait for, or side by side
#endif
#ifndef SPARK_TURNS
#define SPARK_TURNS 1  // outputs that can be turned round
#endif
#ifndef SPARK_BRAKES
#define SPARK_BRAKES 1  // outputs that can brake
#endif
#ifndef SPARK_LETS_GO
#define SPARK_LETS_GO 1  // movers that are let go at rest
#endif
#ifndef SPARK_FOLLOWERS
#define SPARK_FOLLOWERS 1
#endif
#ifndef SPARK_LOOPS
#define SPARK_LOOPS 1
#endif
#ifndef SPARK_ROLLS
#define SPARK_ROLLS 1  // steppers that go at the rate of a loop
#endif
#ifndef SPARK_HOMES
#define SPARK_HOMES 1  // movers whose start must be looked for
#endif
#ifndef SPARK_READINGS
#define SPARK_READINGS 1  // inputs that are more than yes or no
#endif
#ifndef SPARK_COUNTS
#define SPARK_COUNTS 1  // counters and tachs
#endif
#ifndef SPARK_BOTH
#define SPARK_BOTH 1  // loops that drive both ways
#endif
#ifndef SPARK_STALLS
#define SPARK_STALLS 1  // tachs and currents that say how what they belong to goes
#endif
#ifndef SPARK_BY
#define SPARK_BY 1  // moves by so much from where a mover stands
#endif
#ifndef SPARK_SAID
#define SPARK_SAID 1  // words and numbers that come over the link
#endif
#ifndef SPARK_TIMES
#define SPARK_TIMES 1  // times of day
#endif
#ifndef SPARK_DAYS
#define SPARK_DAYS 1  // days of the week and of the year
#endif
#ifndef SPARK_HELD
#define SPARK_HELD 1  // cues that a held input starts
#endif
#ifndef SPARK_EVERY
#define SPARK_EVERY 1  // cues that start every so often
#endif
#ifndef SPARK_SILENCE
#define SPARK_SILENCE 1  // a link that must not fall silent
#endif
#ifndef SPARK_HAND
#define SPARK_HAND 1  // the desk's hand on an output
#endif
#ifndef SPARK_WATCHES
#define SPARK_WATCHES 1  // cues that wait for an input
#endif
#ifndef SPARK_AGAIN
#define SPARK_AGAIN 1  // cues that do a part of theirs again
#endif
#ifndef SPARK_TOGGLES
#define SPARK_TOGGLES 1  // cues that turn over what is on or off
#endif
#ifndef SPARK_REMEMBERS
#define SPARK_REMEMBERS 1  // outputs that come back after a power cut as they were
#endif
#ifndef SPARK_TERMS
#define SPARK_TERMS 1  // interlocks that ask how other outputs stand
#endif
#ifndef SPARK_MAINS
#define SPARK_MAINS 1  // outputs that are fired into half-waves of the mains
#endif
#ifndef SPARK_CONFIGURES
#define SPARK_CONFIGURES 1  // outputs whose driver is told its settings at the start
#endif
#ifndef SPARK_EXPANDS
#define SPARK_EXPANDS 1  // outputs behind an expander
#endif
#ifndef SPARK_LINK
#define SPARK_LINK 1  // commands, answers and telemetry
#endif
#ifndef SPARK_RADIO
#define SPARK_RADIO 1  // a radio on a line of its own
#endif
#ifndef SPARK_SAVES
#define SPARK_SAVES 1  // numbers that can be saved
#endif
#define SPARK_CLOCK (SPARK_TIMES || SPARK_DAYS || SPARK_LINK)  // the time of day
#define SPARK_GLIDES (SPARK_MOVES || SPARK_LIGHTS)
#define SPARK_WAITS (SPARK_TIMES || SPARK_EVERY)  // starts that wait for their time

namespace spark {

struct InputState {
#if SPARK_HELD
  int32_t active_for;  // ticks it has been true since an edge was seen
#endif
#if SPARK_SAID
  int32_t age;  // ticks since its number came, -1 never, -2 just now
#endif
  int16_t steady;  // ticks that the candidate has lasted; of a tach, ticks of its period
#if SPARK_READINGS
  int16_t value;  // last reading; of a tach, pulses of the last period
#endif
#if SPARK_COUNTS
  int16_t count;  // ends counted, or pulses of the period that runs
#endif
#if SPARK_STALLS
  int16_t running;  // ticks that the output of a tach has been on
#endif
  uint8_t active;        // believed
  uint8_t candidate;     // level that waits to be believed
  uint8_t heard;         // believed at least once since power-up: what it says first starts nothing
  uint8_t edge, let_go;  // became true, or no longer is, in this tick
#if SPARK_SAID
  uint8_t said;  // its word came over the link
#endif
};

struct OutputState {
#if SPARK_MOVES
  uint64_t speed;  // of a long move
#endif
#if SPARK_GLIDES
  int32_t from, target;       // the move that runs or ran last: places; of a fade permille
  int32_t elapsed, duration;  // ticks of it; equal when it is over
#endif
  int32_t level;      // compare value now, or its place
  int32_t off_delay;  // ticks left
  int32_t
      on_for;  // ticks since it went on, 0 when off; longest_count: its soft start is over; of a mover: ticks at rest, until it is let go
#if SPARK_LIGHTS
  int32_t flicker;  // ticks of it left
#endif
#if SPARK_RUNS
  int32_t run;  // ticks left
#endif
#if SPARK_HAND
  int32_t hand_value, hand_time;  // what the desk's hand wants, where it has just asked
#endif
  int16_t share;  // permille it was given, -1: its own duty; of what rolls, steps a second
  int16_t duty;   // permille that a follower gives, -1: its own
  int16_t given;  // permille that made the level, where that is settled; -1: it is not
#if SPARK_HAND
  int16_t hand;  // ticks for which it still obeys the desk's hand
#endif
  uint8_t idle;      // nothing of it changes until something is done to it, or to a number
  uint8_t owner;     // cue that commanded it last, or nobody
  uint8_t asked;     // some cue wants it on
  uint8_t on;        // wanted in this tick, all counted
  uint8_t awake;     // has moved since power-up, and so holds
  uint8_t followed;  // a follower wants it on
  uint8_t resting;   // in its safe state until a cue or follower takes it up
#if SPARK_TURNS
  uint8_t back;  // it is set the other way round
#endif
#if SPARK_BRAKES
  uint8_t braked;  // while it is off, its bridge shorts the motor
#endif
#if SPARK_CONFIGURES
  uint8_t unready;  // its driver was not told its settings, or did not keep them: nothing moves it
#endif
#if SPARK_REMEMBERS
  uint8_t remembered;  // was on before the power went
#endif
#if SPARK_MOVES
  Profile profile;   // of its move
  uint8_t placed;    // its place is known, or need not be looked for
  uint8_t homed;     // its start was found in this tick
  uint8_t fraction;  // fine parts beyond the level
#endif
#if SPARK_HAND
  uint8_t forced;      // the hand gives the share itself, not its loop
  uint8_t hand_asked;  // the hand has just asked
#endif
};

struct CueState {
  int32_t wait;  // ticks left
#if SPARK_EVERY
  uint32_t since;  // tick in which its interval began
#endif
  int16_t place;  // next step, -1 when idle
#if SPARK_AGAIN
  int16_t rounds;  // times it has been started over
#endif
#if SPARK_WATCHES
  uint8_t watches;  // it waits for an input
#endif
  uint8_t ended;    // came to its orderly end in the last tick
  uint8_t faulted;  // ended because something did not come in time
  uint8_t asked;    // to be started, over the link
};

struct HolderState {
  Loop loop;
  int32_t rate, away;  // of what balances: mean drive and mean way of all that hold the same reading
#if SPARK_BOTH
  uint32_t stood;  // of what is turned round: the tick since which it has been off
#endif
};

struct WholeState {
  uint32_t ticks;  // since power-up
#if SPARK_CLOCK
  int32_t clock;  // ticks after midnight
#endif
#if SPARK_TIMES
  int32_t clock_before;  // the same at the last tick, -1: it was not set
  int32_t passed;        // ticks that the clock has gone on
#endif
#if SPARK_WAITS
  uint32_t look_at;  // tick before which no start comes that waits for its time ...
  uint8_t look;      // ... unless a number or the clock was changed
#endif
#if SPARK_SILENCE
  int32_t link_age;  // ticks since the link spoke, -1 never
#endif
#if SPARK_DAYS
  Date date;
  uint8_t weekday;  // 0 is Monday
  uint8_t date_set;
#endif
#if SPARK_LIGHTS
  uint16_t noise;  // of the flicker
#endif
#if SPARK_CLOCK
  uint8_t clock_set, clock_jumped;
#endif
  uint8_t awoken;      // the cues of power-up have been started
  uint8_t stopped;     // followers rest after a stop, until a cue starts
  uint8_t all_heard;   // every input is known
  uint8_t wakes;       // this tick is the first that knows them all
  uint8_t happened;    // kinds of starts that may come now
  uint8_t changed;     // what is believed of an input has changed: what guards may end a cue
  uint8_t stop_asked;  // everything to its safe state
  uint8_t link_spoke;
};

}  // namespace spark
#endif
