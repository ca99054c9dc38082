// Part of the mains' power in whole cycles, for a relay that switches at the crossings: cycles on and off, spread evenly, so that the load
// gets its share and the mains no direct current. The share that is owed is summed up from block to block; a block is on when a whole one
// is owed. A block is the fewest cycles that take whole ticks of 1 ms: one at 50 Hz, three at 60 Hz.
// The same file runs on the desk, in the tests and on the board.
#ifndef SPARK_DRIVE_CYCLES_H
#define SPARK_DRIVE_CYCLES_H
#include <stdint.h>

namespace spark {

struct WholeCycles {
  int16_t owed;  // permille of a block that the load has not had yet
  uint8_t tick;  // into the block
  uint8_t lit;

  // Once a tick: whether the relay is on. share: permille; block: its ticks.
  bool lets(int32_t share, uint8_t block) {
    if (share <= 0) {
      owed = tick = lit = 0;
      return false;
    }
    if (tick == 0) {
      owed = static_cast<int16_t>(owed + share);
      lit = owed >= 1000;
      if (lit) owed = static_cast<int16_t>(owed - 1000);
    }
    if (++tick >= block) tick = 0;
    return lit;
  }
};

}  // namespace spark
#endif
