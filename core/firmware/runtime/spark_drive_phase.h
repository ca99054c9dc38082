// Part of the mains' power by firing a triac some way into each half-wave. A line changes at both ends of a pulse round each crossing, and
// the middle of that pulse is the crossing, whatever the volts at which it begins. A loop keeps in step with them: what jitters is
// smoothed, what comes at the wrong time is a stray, what fails to come is made good for a few half-waves, and then nothing is fired any
// more. Times are counts of a timer that runs round at 16 bits. The same file runs on the desk, in the tests and on the board.
#ifndef SPARK_DRIVE_PHASE_H
#define SPARK_DRIVE_PHASE_H
#include <stdint.h>

#ifndef SPARK_READ
#define SPARK_READ(field) (field)
#endif
#ifndef SPARK_IN_FLASH
#define SPARK_IN_FLASH
#endif

namespace spark {

// 65536ths of a half-wave after which it is fired for a share of its power: at each percent, of 1 - a/pi + sin(2a)/(2 pi), a the angle, for
// what is a resistance (mean square of a sine from a on).
static const uint16_t firing_delays[101] SPARK_IN_FLASH = {
    65535, 57934, 55907, 54462, 53297, 52300, 51419, 50621, 49889, 49208, 48568, 47964, 47390, 46841, 46314, 45807, 45317,
    44842, 44381, 43933, 43495, 43068, 42650, 42240, 41838, 41443, 41055, 40672, 40295, 39923, 39556, 39193, 38834, 38479,
    38127, 37778, 37432, 37089, 36748, 36409, 36072, 35737, 35403, 35071, 34740, 34410, 34080, 33752, 33424, 33096, 32768,
    32440, 32112, 31784, 31456, 31126, 30796, 30465, 30133, 29799, 29464, 29127, 28788, 28447, 28104, 27758, 27409, 27057,
    26702, 26343, 25980, 25613, 25241, 24864, 24481, 24093, 23698, 23296, 22886, 22468, 22041, 21603, 21155, 20694, 20219,
    19729, 19222, 18695, 18146, 17572, 16968, 16328, 15647, 14915, 14117, 13236, 12239, 11074, 9629,  7602,  0,
};
constexpr uint16_t never_fired = 65535;
constexpr uint16_t earliest_fired = 1024;  // a 64th: before that a triac has too few volts to stay on
constexpr uint16_t latest_fired = 60000;   // after that the crossing is too near
constexpr uint16_t gate_until = 61440;     // to which a gate is held: a 16th before the crossing
constexpr uint8_t crossings_to_trust = 8;  // in a row, as far apart as the mains that is set has them
constexpr uint8_t crossings_to_miss = 4;   // in a row; then nothing is fired
constexpr uint8_t half_waves_alone = 25;   // fired after the last tick has asked: a sketch that hangs keeps nothing on

// For a share of full power in permille. Within 3 permille of that share from 50 to 950.
inline uint16_t firingDelay(int32_t share) {
  if (share <= 0) return never_fired;
  uint16_t delay = earliest_fired;
  if (share < 1000) {
    const uint16_t percent = static_cast<uint16_t>(share / 10), part = static_cast<uint16_t>(share % 10);
    const uint16_t before = SPARK_READ(firing_delays[percent]), after = SPARK_READ(firing_delays[percent + 1]);
    delay = static_cast<uint16_t>(before - static_cast<uint32_t>(before - after) * part / 10);
  }
  if (delay > latest_fired) return never_fired;
  return delay < earliest_fired ? earliest_fired : delay;
}

// The share of the power in a resistance at a share of the rms volts, both in permille.
inline int32_t powerOfVolts(int32_t share) { return (share * share + 500) / 1000; }

// Where the crossings are.
struct Crossings {
  uint16_t half;    // counts of a half-wave of the mains that is set
  uint16_t late;    // counts by which the interrupts at a crossing and at a firing come late, both together
  uint16_t edge;    // when the line changed last
  uint16_t middle;  // of the last pulse
  uint16_t apart;   // of the last two
  uint16_t at;      // the crossing with which this half-wave began, as reckoned
  uint16_t lost;    // crossings that failed to come while it was in step
  int32_t length;   // 64ths of a count: of a half-wave, as measured
  uint8_t part;     // 64ths of a count that `at` leaves out
  uint8_t good, missed, heard, in_step;

  bool isNear(int32_t counts) const { return counts >= half - half / 16 && counts <= half + half / 16; }

  // The line has changed. True where this brings it into step: the next half-wave begins at next().
  bool change(uint16_t now) {
    const uint16_t wide = static_cast<uint16_t>(now - edge);
    edge = now;
    // A spike; or what lies between two pulses.
    if (wide < half / 64 || wide > half / 2 - half / 16) return false;
    const uint16_t was = middle;
    middle = static_cast<uint16_t>(now - wide / 2 - late);
    apart = static_cast<uint16_t>(middle - was);
    if (in_step) {
      keep();
      return false;
    }
    heard = 1;
    if (!isNear(apart)) {
      good = 0;
      length = 0;
      return false;
    }
    length += static_cast<int32_t>(apart) * (64 / crossings_to_trust);
    if (++good < crossings_to_trust) return false;
    at = middle;
    part = good = missed = 0;
    in_step = 1;
    return true;
  }

  uint16_t next() const { return static_cast<uint16_t>(at + ((length + part) >> 6)); }
  void begin() {
    const int32_t on = length + part;
    at = static_cast<uint16_t>(at + (on >> 6));
    part = static_cast<uint8_t>(on & 63);
  }
  // Near the end of a half-wave: whether a crossing was there. False where it is out of step.
  bool stillThere() {
    if (heard) {
      missed = heard = 0;
    } else {
      if (lost < 65535) ++lost;
      ++missed;
    }
    if (missed < crossings_to_miss && isNear(length >> 6)) return true;
    in_step = 0;
    length = 0;
    return false;
  }

 private:
  void keep() {
    const int32_t slack = half / 16;
    int32_t off = static_cast<int16_t>(middle - at);
    if (off > 8 * slack) off -= length >> 6;  // before the half-wave that it begins
    if (off > slack || off < -slack) return;
    heard = 1;
    at = static_cast<uint16_t>(at + off / 4);
    length += 2 * off;
  }
};

// Gates at one mains. Pins: fire(g) and quench(g) set a gate's pin.
template <uint8_t gates> struct PhaseDrive {
  Crossings mains;
  uint16_t wanted[gates];  // delay in each half-wave, as firingDelay() has it
  uint16_t due[gates];
  uint8_t waits[gates];
  uint8_t runs;   // between a crossing and the end of what may be fired
  uint8_t alone;  // half-waves that may still be fired without being asked again

  void powerUp(uint16_t half, uint16_t late) {
    mains.half = half;
    mains.late = late;
    for (uint8_t g = 0; g < gates; ++g) wanted[g] = never_fired;
  }

  // Once a tick for each gate, with no interrupt between: the delay, or never_fired, which lets its pin go at once.
  template <class Pins> void ask(uint8_t gate, uint16_t delay, Pins& pins) {
    wanted[gate] = delay;
    alone = half_waves_alone;
    if (delay == never_fired) pins.quench(gate);
  }

  // Does what is due at `now`, and gives when it wants to be called again; whoever calls it looks at mains.in_step first. A gate is held on
  // to a 16th before the crossing, so that a coil's current, which comes late, finds it on; and let go there, so that it is not on in the
  // next.
  template <class Pins> uint16_t step(uint16_t now, Pins& pins) {
    const uint16_t length = static_cast<uint16_t>(mains.length >> 6);
    if (!runs) {
      const uint16_t next = mains.next();
      if (static_cast<int16_t>(now - next) < 0) return next;
      mains.begin();
      runs = 1;
      if (alone > 0) --alone;
      for (uint8_t g = 0; g < gates; ++g) {
        waits[g] = alone > 0 && wanted[g] != never_fired;
        due[g] = static_cast<uint16_t>(mains.at + (static_cast<uint32_t>(length) * wanted[g] >> 16));
      }
    }
    const uint16_t end = static_cast<uint16_t>(mains.at + (static_cast<uint32_t>(length) * gate_until >> 16));
    uint16_t next = end;
    for (uint8_t g = 0; g < gates; ++g) {
      if (!waits[g]) continue;
      if (static_cast<int16_t>(now - due[g]) >= 0) {
        waits[g] = 0;
        if (wanted[g] != never_fired) pins.fire(g);
      } else if (static_cast<int16_t>(due[g] - next) < 0) {
        next = due[g];
      }
    }
    if (static_cast<int16_t>(now - end) < 0) return next;
    runs = 0;
    for (uint8_t g = 0; g < gates; ++g) {
      waits[g] = 0;
      pins.quench(g);
    }
    (void)mains.stillThere();
    return mains.next();
  }
};

}  // namespace spark
#endif
