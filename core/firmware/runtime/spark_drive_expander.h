// Boards of more lines: pulses for servos and lights, or lines that are on or off. They are told over two wires, where they answer, or over
// a serial line, where they don't. Each tick sends the news of one output of pulses at most, in turn, or of all that is on or off at once:
// nothing waits for the others. The same file runs on the desk, in the tests and on the board.
//
// P is its pins, any of the board's:
//   two wires, with the pull-ups of its module:  clock(bool high), data(bool high) (high: let go), bool in(), pause()    half a clock
//   a serial line:                               drive(bool high), wait(uint8_t us)
#ifndef SPARK_DRIVE_EXPANDER_H
#define SPARK_DRIVE_EXPANDER_H
#include <stdint.h>
#include "spark_drive_registers.h"

namespace spark {

// Bytes on two wires; each is acknowledged, or nobody is there.
template <class P> struct TwoWire {
  static void start() {
    P::data(true);
    P::clock(true);
    P::pause();
    P::data(false);
    P::pause();
    P::clock(false);
    P::pause();
  }
  static void stop() {
    P::data(false);
    P::pause();
    P::clock(true);
    P::pause();
    P::data(true);
    P::pause();
  }
  static bool shift(bool out) {
    P::data(out);
    P::pause();
    P::clock(true);
    P::pause();
    const bool in = P::in();
    P::clock(false);
    return in;
  }
  static bool write(uint8_t byte) {
    for (uint8_t k = 0; k < 8; ++k, byte = static_cast<uint8_t>(byte << 1)) shift(byte & 0x80);
    return !shift(true);
  }
  // The last byte of what is read is not acknowledged.
  static uint8_t read(bool last) {
    uint8_t byte = 0;
    for (uint8_t k = 0; k < 8; ++k) byte = static_cast<uint8_t>(byte << 1 | (shift(true) ? 1 : 0));
    shift(last);
    return byte;
  }
};

// A board on two wires at its address: bytes from a register on, put there or got from there. A bus of the chip's own that has the same two
// can stand in its place.
template <class P, uint8_t address> struct OnTwoWires {
  using Wire = TwoWire<P>;
  static bool put(uint8_t at, const uint8_t* bytes, uint8_t count) {
    Wire::start();
    bool well = Wire::write(address << 1) && Wire::write(at);
    for (; well && count > 0; --count) well = Wire::write(*bytes++);
    Wire::stop();
    return well;
  }
  static bool get(uint8_t at, uint8_t* bytes, uint8_t count) {
    Wire::start();
    bool well = Wire::write(address << 1) && Wire::write(at);
    if (well) {
      Wire::start();
      well = Wire::write(address << 1 | 1);
      for (; well && count > 0; --count) *bytes++ = Wire::read(count == 1);
    }
    Wire::stop();
    return well;
  }
};

// Outputs of 4096 counts a period from registers: on and off as two bytes each, the lower first; a bit above the counts is on for good.
template <class Bus, uint8_t first> struct TwoWireExpander : Bus {
  using Bus::get;
  using Bus::put;
  static bool send(uint8_t output, uint16_t counts) {
    const bool always = counts >= 4096;
    const uint8_t bytes[4] = {0, static_cast<uint8_t>(always ? 0x10 : 0), static_cast<uint8_t>(counts),
                              static_cast<uint8_t>(always ? 0 : counts >> 8)};
    return put(static_cast<uint8_t>(first + 4 * output), bytes, 4);
  }
  static bool busy() { return false; }
  // Whether a register is as it was set.
  static bool is(uint8_t at, uint8_t set) {
    uint8_t said = 0;
    return get(at, &said, 1) && said == set;
  }
  // Its rate is taken while it sleeps; then all outputs off, and awake. `mode`, `rate`: registers; `runs`: the mode awake; `asleep`: the
  // bit that sleeps.
  static Configured configure(uint8_t mode, uint8_t runs, uint8_t asleep, uint8_t rate, uint8_t prescale, uint8_t outputs) {
    const uint8_t sleeps = static_cast<uint8_t>(runs | asleep);
    if (!put(mode, &sleeps, 1)) return Configured::Silent;
    if (!put(rate, &prescale, 1)) return Configured::Forgets;
    for (uint8_t k = 0; k < outputs; ++k)
      if (!send(k, 0)) return Configured::Forgets;
    uint8_t said = 0;
    if (!put(mode, &runs, 1) || !get(rate, &said, 1) || said != prescale) return Configured::Forgets;
    return get(mode, &said, 1) && said == runs ? Configured::Well : Configured::Forgets;
  }
};

// Targets in counts, seven bits a byte, behind a command and the output's number; a byte that tells the rate comes before the first. A byte
// a tick.
template <class P, uint8_t bit_us, uint8_t hello, uint8_t command> struct SerialExpander {
  static uint8_t bytes[4];
  static uint8_t at;  // of the byte that goes next; 4: none
  static void byte(uint8_t out) {
    P::drive(false);
    P::wait(bit_us);
    for (uint8_t k = 0; k < 8; ++k, out = static_cast<uint8_t>(out >> 1)) {
      P::drive(out & 1);
      P::wait(bit_us);
    }
    P::drive(true);
    P::wait(bit_us);
  }
  static void begin() {
    P::drive(true);
    P::wait(bit_us);
    byte(hello);
    at = 4;
  }
  static bool send(uint8_t output, uint16_t counts) {
    bytes[0] = command;
    bytes[1] = output;
    bytes[2] = counts & 0x7F;
    bytes[3] = counts >> 7 & 0x7F;
    at = 0;
    return true;
  }
  static bool busy() {
    if (at >= 4) return false;
    byte(bytes[at++]);
    return true;
  }
  // It never answers: nobody knows.
  static bool holds() { return true; }
  static Configured again() { return Configured::Well; }
};
template <class P, uint8_t bit_us, uint8_t hello, uint8_t command> uint8_t SerialExpander<P, bit_us, hello, command>::bytes[4];
template <class P, uint8_t bit_us, uint8_t hello, uint8_t command> uint8_t SerialExpander<P, bit_us, hello, command>::at = 4;

// What is wanted of its outputs, and what it was told: 0 is no pulse. Four times a second it is asked whether it is as it was set: what has
// lost its supply meanwhile, or does not answer, is set anew as soon as it does, and told all that is wanted.
template <class Bus, uint8_t count> struct Expander {
  uint16_t wanted[count], told[count];
  uint8_t turn, watch, lost;  // lost: it did not answer the last time, or was not as it was set
  void want(uint8_t output, uint16_t counts) { wanted[output] = counts; }
  void tick() {
    if (Bus::busy()) return;
    ++watch;
    if (lost) {
      if ((watch & 63) != 0 || Bus::again() != Configured::Well) return;
      for (uint8_t k = 0; k < count; ++k) told[k] = 0;
      lost = 0;
      return;
    }
    if (watch == 0 && !Bus::holds()) {
      lost = 1;
      return;
    }
    // What is to stop goes before everything else.
    for (uint8_t k = 0; k < count; ++k)
      if (wanted[k] == 0 && told[k] != 0) return say(k);
    for (uint8_t k = 0; k < count; ++k) {
      turn = static_cast<uint8_t>(turn + 1) < count ? static_cast<uint8_t>(turn + 1) : 0;
      if (wanted[turn] != told[turn]) return say(turn);
    }
  }
  void say(uint8_t output) {
    lost = !Bus::send(output, wanted[output]);
    if (!lost) told[output] = wanted[output];
  }
};

// Where such a chip has what: two registers of each, the lower eight lines first.
template <uint8_t direction_at, uint8_t pull_up_at, uint8_t port_at, uint8_t latch_at> struct LineRegisters {
  enum { direction = direction_at, pull_up = pull_up_at, port = port_at, latch = latch_at };
};
// Sixteen lines that are on or off, a bit each. All that is wanted goes at once; those of `reads` are looked at every fourth tick. What
// does not answer reads as if its wires were cut: pulled up.
template <class Bus, class At, uint16_t outputs, uint16_t pulled, uint16_t reads> struct LineExpander : Bus {
  using Bus::get;
  using Bus::put;
  uint16_t wanted, told, is;
  uint8_t lost, turn;  // lost: it did not answer the last time, or was not as it was set
  static bool lines(uint8_t at, uint16_t bits) {
    const uint8_t bytes[2] = {static_cast<uint8_t>(bits), static_cast<uint8_t>(bits >> 8)};
    return put(at, bytes, 2);
  }
  static bool get16(uint8_t at, uint16_t& bits) {
    uint8_t bytes[2];
    if (!get(at, bytes, 2)) return false;
    bits = static_cast<uint16_t>(bytes[0] | bytes[1] << 8);
    return true;
  }
  static bool holds() {
    uint16_t said = 0;
    return get16(At::direction, said) && said == static_cast<uint16_t>(~outputs);
  }
  void miss() {
    lost = 1;
    is = 0xFFFF;
  }
  // Off before it drives.
  Configured configure() {
    is = 0xFFFF;
    told = 0;
    if (!lines(At::latch, 0)) return Configured::Silent;
    uint16_t held = 0;
    if (!lines(At::pull_up, pulled) || !lines(At::direction, static_cast<uint16_t>(~outputs)) || !holds() || !get16(At::latch, held) ||
        held != 0 || !get16(At::port, is))
      return Configured::Forgets;
    return Configured::Well;
  }
  void want(uint8_t line, bool on) {
    const uint16_t bit = static_cast<uint16_t>(1u << line);
    wanted = static_cast<uint16_t>(on ? wanted | bit : wanted & ~bit);
  }
  void tick() {
    ++turn;
    if (lost) {
      if ((turn & 63) == 0) lost = configure() != Configured::Well;
    } else if (turn == 0 && !holds()) {
      miss();
    } else if (wanted != told) {
      if (lines(At::latch, wanted)) told = wanted;
      else miss();
    } else if (reads != 0 && (turn & 3) == 1 && !get16(At::port, is)) {
      miss();
    }
  }
};

// A converter of its own: one input after the other is converted, and read some ticks later. What does not answer reads nothing.
template <class Bus, uint8_t reading, uint8_t settings> struct AdcExpander {
  const uint8_t* list;  // its inputs that are read
  uint8_t count;
  uint16_t set;     // what its settings hold besides the input
  uint8_t shift;    // where that stands
  uint8_t ticks;    // of a conversion
  uint32_t to_ten;  // its counts in ten bits of the logic supply, times 2 to the 20th
  int16_t value[4];
  uint8_t at, left, lost;
  bool begin() {
    const uint16_t bits = static_cast<uint16_t>(set | list[at] << shift);
    const uint8_t bytes[2] = {static_cast<uint8_t>(bits >> 8), static_cast<uint8_t>(bits)};
    left = ticks;
    return Bus::put(settings, bytes, 2);
  }
  // Its settings are read back, but for the bit that says whether it is at work.
  Configured configure() {
    uint8_t bytes[2];
    if (!begin()) return Configured::Silent;
    const uint16_t bits = static_cast<uint16_t>(set | list[at] << shift);
    return Bus::get(settings, bytes, 2) && ((bytes[0] << 8 | bytes[1]) & 0x7FFF) == (bits & 0x7FFF) ? Configured::Well
                                                                                                    : Configured::Forgets;
  }
  int16_t of(uint8_t input) const { return value[input]; }
  void tick() {
    if (--left > 0) return;
    uint8_t bytes[2];
    lost = !Bus::get(reading, bytes, 2);
    const int16_t counts = lost ? 0 : static_cast<int16_t>(bytes[0] << 8 | bytes[1]);
    const uint32_t ten = counts < 0 ? 0 : (static_cast<uint32_t>(counts) * to_ten + 524288UL) >> 20;
    value[list[at]] = static_cast<int16_t>(ten > 1023 ? 1023 : ten);
    if (++at >= count) at = 0;
    begin();
  }
};

}  // namespace spark
#endif
