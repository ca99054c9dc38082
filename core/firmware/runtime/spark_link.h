// The link's telemetry: a frame is 0xA5, the payload's length, the payload with the lowest byte of each number first, and a check over
// length and payload. The same file runs on the desk and on the board.
#ifndef SPARK_LINK_H
#define SPARK_LINK_H
#include <stdint.h>

namespace spark {

constexpr uint8_t frame_start = 0xA5;

// CRC-8 with polynomial x^8 + x^2 + x + 1 (0x07), from 0, a byte at a time.
inline uint8_t crc8(uint8_t crc, uint8_t byte) {
  crc ^= byte;
  for (uint8_t bit = 0; bit < 8; ++bit) crc = static_cast<uint8_t>((crc & 0x80) != 0 ? crc << 1 ^ 0x07 : crc << 1);
  return crc;
}

// A frame, as it is written: head, then each value in two bytes, then its check.
constexpr uint8_t frame_head = 12;  // bytes of the payload before its values
template <class Out> class Frame {
 public:
  // flags: 1 the clock is set, 2 stopped, 4 a cue gave up. inputs, cues: one bit for each of the first eight.
  Frame(Out& out, uint8_t values, uint8_t sequence, uint32_t time, uint8_t flags, uint32_t clock, uint8_t inputs, uint8_t cues)
      : out_(out), crc_(0) {
    out.write(frame_start);
    put(static_cast<uint8_t>(frame_head + 2 * values), 1);
    put(sequence, 1);
    put(time, 4);
    put(flags, 1);
    put(clock, 4);
    put(inputs, 1);
    put(cues, 1);
  }
  // What is outside 0 to 65535 is told as the nearer of the two.
  void value(int32_t is) { put(is < 0 ? 0 : is > 65535 ? 65535 : is, 2); }
  void end() { out_.write(crc_); }

 private:
  void put(uint32_t number, uint8_t bytes) {
    for (; bytes > 0; --bytes, number >>= 8) {
      out_.write(static_cast<uint8_t>(number));
      crc_ = crc8(crc_, static_cast<uint8_t>(number));
    }
  }
  Out& out_;
  uint8_t crc_;
};

}  // namespace spark
#endif
