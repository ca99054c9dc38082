// A driver whose settings are registers: they are written when the gadget starts, and read back. Until that has come out well nothing
// moves it. Later it is asked again whether it still keeps them: one whose own supply was gone for a moment has forgotten all of them.
// Everything is timed by the sketch itself, on any pins, and everything ends: a chip that does not answer is given up. The same file runs
// on the desk, in the tests and on the board.
//
// P is its pins:
//   clock, data in, data out, select:  select(bool now), clock(bool high), out(bool high), bool in(), pause()       half a clock, a µs or
//   so one wire both ways:                take(), drive(bool high), release(), bool in(), wait(uint8_t us)            take: high
#ifndef SPARK_DRIVE_REGISTERS_H
#define SPARK_DRIVE_REGISTERS_H
#include <stdint.h>
#include "spark_program.h"

namespace spark {

struct RegisterWrite {
  uint32_t value;
  uint8_t address, read_back;
};
// What the chip says of itself, and where.
struct Identity {
  uint8_t address, low, mask, value;
};
enum class Configured : uint8_t { Well, Silent, Another, Forgets };

// Frames of 40 bits in mode 3: the address, its first bit set to write, then 32 bits, the highest first. The answer to each comes with the
// next: what was read, or what was written.
template <class P> struct SpiRegisters {
  static uint8_t byte(uint8_t out) {
    uint8_t in = 0;
    for (uint8_t k = 0; k < 8; ++k) {
      P::clock(false);
      P::out(out & 0x80);
      P::pause();
      P::clock(true);
      in = static_cast<uint8_t>(in << 1 | (P::in() ? 1 : 0));
      P::pause();
      out = static_cast<uint8_t>(out << 1);
    }
    return in;
  }
  static uint32_t frame(uint8_t address, uint32_t value) {
    P::select(true);
    P::pause();
    byte(address);
    uint32_t in = 0;
    for (int8_t shift = 24; shift >= 0; shift = static_cast<int8_t>(shift - 8)) in = in << 8 | byte(static_cast<uint8_t>(value >> shift));
    P::select(false);
    P::pause();
    return in;
  }
  // False: nothing hangs there, whose line stays low or high.
  static bool read(uint8_t address, uint32_t& value) {
    frame(address, 0);
    value = frame(address, 0);
    return value != 0 && value != UINT32_MAX;
  }
  static bool readBack(uint8_t address, uint32_t value) {
    frame(address, 0);
    return frame(address, 0) == value;
  }
  // False: what came was something else. The frame that brings the answer reads what does no harm.
  static bool write(uint8_t address, uint32_t value) {
    frame(static_cast<uint8_t>(address | 0x80), value);
    return frame(0, 0) == value;
  }
};

// CRC-8 of x^8 + x^2 + x + 1, each byte with its lowest bit first.
inline uint8_t checkOf(uint8_t check, uint8_t byte) {
  for (uint8_t k = 0; k < 8; ++k) {
    const bool odd = ((check >> 7) ^ byte) & 1;
    check = static_cast<uint8_t>(check << 1);
    if (odd) check ^= 0x07;
    byte = static_cast<uint8_t>(byte >> 1);
  }
  return check;
}

// Datagrams at 9600 baud: 0x05, the node, the address, and, to write it, its first bit set and four bytes, the highest first; then the
// check. What is read comes back as 0x05, 0xFF, the address, four bytes, the check. What was written well is counted by the chip.
template <class P, uint8_t counter> struct WireRegisters {
  enum : uint8_t { bit_us = 104, sync = 0x05, master = 0xFF, node = 0 };  // the node is what the chip's address straps say
  static void send(uint8_t byte) {
    P::drive(false);
    P::wait(bit_us);
    for (uint8_t k = 0; k < 8; ++k, byte = static_cast<uint8_t>(byte >> 1)) {
      P::drive(byte & 1);
      P::wait(bit_us);
    }
    P::drive(true);
    P::wait(bit_us);
  }
  // False: nothing came within 20 ms, or it had no end.
  static bool hear(uint8_t& byte) {
    for (uint16_t k = 0; P::in(); ++k) {
      if (k == 4000) return false;
      P::wait(5);
    }
    P::wait(bit_us / 2);
    byte = 0;
    for (uint8_t k = 0; k < 8; ++k) {
      P::wait(bit_us);
      byte = static_cast<uint8_t>(byte >> 1 | (P::in() ? 0x80 : 0));
    }
    P::wait(bit_us);
    return P::in();
  }
  static void sendAll(uint8_t address, const uint32_t* value) {
    const uint8_t head[3] = {sync, node, address};
    uint8_t check = 0;
    P::take();
    P::wait(bit_us);
    P::wait(bit_us);
    for (uint8_t each : head) check = checkOf(check, each), send(each);
    for (int8_t shift = 24; value && shift >= 0; shift = static_cast<int8_t>(shift - 8)) {
      const uint8_t each = static_cast<uint8_t>(*value >> shift);
      check = checkOf(check, each);
      send(each);
    }
    send(check);
  }
  // False: it does not answer, or what came was no answer.
  static bool read(uint8_t address, uint32_t& value) {
    sendAll(address, nullptr);
    P::release();
    uint8_t check = 0, byte = 0;
    bool well = true;
    value = 0;
    for (uint8_t k = 0; k < 8 && well; ++k) {
      well = hear(byte);
      if (k == 0) well = well && byte == sync;
      if (k == 1) well = well && byte == master;
      if (k == 2) well = well && byte == address;
      if (k >= 3 && k < 7) value = value << 8 | byte;
      if (k == 7) well = well && byte == check;
      else check = checkOf(check, byte);
    }
    P::take();
    for (uint8_t k = 0; k < 8; ++k) P::wait(bit_us);  // it has let go of the wire by then
    return well;
  }
  static bool readBack(uint8_t address, uint32_t value) {
    uint32_t said = 0;
    return read(address, said) && said == value;
  }
  // False: it has not counted it.
  static bool write(uint8_t address, uint32_t value) {
    uint32_t before = 0, after = 0;
    if (!read(counter, before)) return false;
    sendAll(static_cast<uint8_t>(address | 0x80), &value);
    return read(counter, after) && static_cast<uint8_t>(after) == static_cast<uint8_t>(before + 1);
  }
};

// Writes all of them, in their order, each read back where it can be. `rows` lies in flash.
template <class Port> Configured configure(const Identity& who, const RegisterWrite* rows, uint8_t count) {
  uint32_t said = 0;
  if (!Port::read(who.address, said)) return Configured::Silent;
  if (static_cast<uint8_t>(said >> who.low & who.mask) != who.value) return Configured::Another;
  for (; count > 0; --count, ++rows) {
    const uint32_t value = SPARK_READ(rows->value);
    const uint8_t address = SPARK_READ(rows->address);
    if (!Port::write(address, value)) return Configured::Forgets;
    if (SPARK_READ(rows->read_back) && !Port::readBack(address, value)) return Configured::Forgets;
  }
  return Configured::Well;
}

// Whether the first of them that can be read back stands as it was written.
template <class Port> Configured stillKept(const Identity& who, const RegisterWrite* rows, uint8_t count) {
  while (count > 0 && !SPARK_READ(rows->read_back)) --count, ++rows;
  if (count == 0 || Port::readBack(SPARK_READ(rows->address), SPARK_READ(rows->value))) return Configured::Well;
  uint32_t said = 0;
  return Port::read(who.address, said) ? Configured::Forgets : Configured::Silent;
}

}  // namespace spark
#endif
