// What outlives a power cut, in a memory that is written a byte at a time and takes milliseconds for each: a record is the mark of the plan
// that wrote it, its bytes, and a check over both (spark_link.h). The same file runs in tests on the desk and on the board.
//
// Memory is anything with  uint8_t read(uint16_t at)  and  void update(uint16_t at, uint8_t byte)  (which leaves alone what is the same).
#ifndef SPARK_STORE_H
#define SPARK_STORE_H
#include <stdint.h>
#include "spark_link.h"

namespace spark {

constexpr uint8_t mark_bytes = 5;

constexpr uint16_t recordRoom(uint16_t bytes) { return static_cast<uint16_t>(mark_bytes + bytes + 1); }

// Whether a whole record of this plan stands there: another plan's, half a one, or a memory that was never written is none.
template <class Memory> bool recordHolds(Memory& memory, uint16_t at, const uint8_t* mark, uint16_t bytes) {
  uint8_t crc = 0;
  for (uint16_t k = 0; k < mark_bytes + bytes; ++k) {
    const uint8_t byte = memory.read(static_cast<uint16_t>(at + k));
    if (k < mark_bytes && byte != mark[k]) return false;
    crc = crc8(crc, byte);
  }
  return crc == memory.read(static_cast<uint16_t>(at + mark_bytes + bytes));
}

// Writes a record one byte a call, so that nothing waits for the memory.
struct RecordWriter {
  uint16_t next;
  uint8_t crc;

  // byteAt(k): byte k of the record's own, as it is now. True when the whole has been written; the next call begins anew.
  template <class Memory, class Byte> bool step(Memory& memory, uint16_t at, const uint8_t* mark, uint16_t bytes, Byte byteAt) {
    if (next == 0) crc = 0;
    const uint8_t byte = next < mark_bytes           ? mark[next]
                         : next < mark_bytes + bytes ? byteAt(static_cast<uint16_t>(next - mark_bytes))
                                                     : crc;
    crc = crc8(crc, byte);
    memory.update(static_cast<uint16_t>(at + next), byte);
    if (++next < recordRoom(bytes)) return false;
    next = 0;
    return true;
  }
};

}  // namespace spark
#endif
