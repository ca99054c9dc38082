// A second serial line, for a radio: a start bit, eight bits with the lowest first, a stop bit; high at rest. By a serial port of the
// chip's own, or on any two pins of which one has an interrupt: what comes in is then taken from the times at which the line changes, so
// that nothing waits for it; what goes out is timed by the sketch, a byte every other tick at most. The same file runs on the desk, in the
// tests and on the board.
#ifndef SPARK_RADIO_H
#define SPARK_RADIO_H
#include <stdint.h>

namespace spark {

// Bytes from edges. Times in microseconds; they may roll over. bit: of one bit.
template <uint16_t bit, uint8_t room> struct RadioEar {
  uint8_t bytes[room];
  uint8_t in, out;      // where the next goes, and comes from
  uint8_t high, count;  // the line as it is; bits of the byte that is coming, its start bit among them: 0 none
  uint16_t bits;
  uint32_t since;
  // So many bits of the level that was, up to now.
  void take(uint32_t now) {
    uint32_t span = now - since;
    for (; count > 0 && span >= bit / 2; span = span > bit ? span - bit : 0) {
      bits = static_cast<uint16_t>(bits | static_cast<uint16_t>(high) << (count - 1));
      if (++count > 10) end();
    }
  }
  void end() {
    const bool well = (bits & 1) == 0 && (bits >> 9 & 1) != 0;
    const uint8_t next = static_cast<uint8_t>((in + 1) % room);
    if (well && next != out) {
      bytes[in] = static_cast<uint8_t>(bits >> 1);
      in = next;
    }
    count = 0;
  }
  // The line has changed.
  void edge(uint32_t now, bool is_high) {
    take(now);
    if (count == 0 && high && !is_high) {
      count = 1;
      bits = 0;
    }
    high = is_high;
    since = now;
  }
  // The last ones of a byte have no edge: once half its stop bit has gone by.
  void settle(uint32_t now) {
    if (count > 0 && high && now - since >= static_cast<uint32_t>(11 - count) * bit - bit / 2) take(now);
  }
  // The next byte; -1: none has come.
  int16_t next() {
    if (in == out) return -1;
    const uint8_t byte = bytes[out];
    out = static_cast<uint8_t>((out + 1) % room);
    return byte;
  }
};

// What waits to be said: the longest of the answers.
template <uint8_t room> struct RadioAnswer {
  uint8_t bytes[room];
  uint8_t in, out;
  void write(uint8_t byte) {
    const uint8_t next = static_cast<uint8_t>((in + 1) % room);
    if (next == out) return;  // full: what is left of the line is lost
    bytes[in] = byte;
    in = next;
  }
  bool waits() const { return in != out; }
  uint8_t next() {
    const uint8_t byte = bytes[out];
    out = static_cast<uint8_t>((out + 1) % room);
    return byte;
  }
};

// Bytes out by a port of the chip's own, as many as it has room for: nothing waits for the wire.
template <uint8_t room> struct RadioPort : RadioAnswer<room> {
  template <class S> void speak(S& port) {
    while (this->waits() && port.availableForWrite() > 0) port.write(this->next());
  }
};

// Bytes out by a pin. P: drive(bool high), now() in microseconds. bit_256: of one bit, in 256ths of a microsecond.
template <class P, uint32_t bit_256, uint8_t room> struct RadioMouth : RadioAnswer<room> {
  // One byte, if one waits: each edge at its own time from the first, so that an interrupt shifts one and not those after it.
  void speak() {
    if (!this->waits()) return;
    uint16_t bits = static_cast<uint16_t>(this->next() << 1 | 0x200);
    const uint32_t from = P::now();
    for (uint8_t k = 1; k <= 10; ++k, bits >>= 1) {
      P::drive(bits & 1);
      const uint16_t until = static_cast<uint16_t>((k * bit_256) >> 8);
      while (static_cast<uint16_t>(P::now() - from) < until) {
      }
    }
  }
};

}  // namespace spark
#endif
