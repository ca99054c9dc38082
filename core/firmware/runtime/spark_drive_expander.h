// A board of its own that makes the pulses of many servos. It is told over two wires, where it answers, or over a serial line, where it
// doesn't. Each tick sends the news of one output at most, in turn: nothing waits for the others. The same file runs on the desk, in the
// tests and on the board.
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
  // The last byte of what is read, and so not acknowledged.
  static uint8_t read() {
    uint8_t byte = 0;
    for (uint8_t k = 0; k < 8; ++k) byte = static_cast<uint8_t>(byte << 1 | (shift(true) ? 1 : 0));
    shift(true);
    return byte;
  }
};

// Outputs of 4096 counts a period from registers: on and off as two bytes each, the lower first.
template <class P, uint8_t address, uint8_t first> struct TwoWireExpander {
  using Wire = TwoWire<P>;
  static bool put(uint8_t at, const uint8_t* bytes, uint8_t count) {
    Wire::start();
    bool well = Wire::write(address << 1) && Wire::write(at);
    for (; well && count > 0; --count) well = Wire::write(*bytes++);
    Wire::stop();
    return well;
  }
  static bool get(uint8_t at, uint8_t& byte) {
    Wire::start();
    bool well = Wire::write(address << 1) && Wire::write(at);
    if (well) {
      Wire::start();
      well = Wire::write(address << 1 | 1);
      if (well) byte = Wire::read();
    }
    Wire::stop();
    return well;
  }
  static bool send(uint8_t output, uint16_t counts) {
    const uint8_t bytes[4] = {0, 0, static_cast<uint8_t>(counts), static_cast<uint8_t>(counts >> 8)};
    return put(static_cast<uint8_t>(first + 4 * output), bytes, 4);
  }
  static bool busy() { return false; }
  // Its rate is taken while it sleeps; then all outputs off, and awake. `mode`, `rate`: registers; `runs`: the mode awake; `asleep`: the
  // bit that sleeps.
  static Configured configure(uint8_t mode, uint8_t runs, uint8_t asleep, uint8_t rate, uint8_t prescale, uint8_t outputs) {
    const uint8_t sleeps = static_cast<uint8_t>(runs | asleep);
    if (!put(mode, &sleeps, 1)) return Configured::Silent;
    if (!put(rate, &prescale, 1)) return Configured::Forgets;
    for (uint8_t k = 0; k < outputs; ++k)
      if (!send(k, 0)) return Configured::Forgets;
    uint8_t said = 0;
    if (!put(mode, &runs, 1) || !get(rate, said) || said != prescale) return Configured::Forgets;
    return get(mode, said) && said == runs ? Configured::Well : Configured::Forgets;
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
};
template <class P, uint8_t bit_us, uint8_t hello, uint8_t command> uint8_t SerialExpander<P, bit_us, hello, command>::bytes[4];
template <class P, uint8_t bit_us, uint8_t hello, uint8_t command> uint8_t SerialExpander<P, bit_us, hello, command>::at = 4;

// What is wanted of its outputs, and what it was told: 0 is no pulse.
template <class Bus, uint8_t count> struct Expander {
  uint16_t wanted[count], told[count];
  uint8_t turn, lost;  // lost: it did not answer the last time
  void want(uint8_t output, uint16_t counts) { wanted[output] = counts; }
  void tick() {
    if (Bus::busy()) return;
    for (uint8_t k = 0; k < count; ++k) {
      turn = static_cast<uint8_t>(turn + 1) < count ? static_cast<uint8_t>(turn + 1) : 0;
      if (wanted[turn] == told[turn]) continue;
      lost = !Bus::send(turn, wanted[turn]);
      if (!lost) told[turn] = wanted[turn];
      return;
    }
  }
};

}  // namespace spark
#endif
