// A coil that latches: a pulse one way when it is switched on, one the other way when it is switched off, and nothing between. After a
// reset nobody knows how it stands, so the first pulse puts it where it should be; several take their turn, that the supply need not bear
// them all. Between two pulses there is a tick without current at least, in which the bridge is turned round. The same file runs on the
// desk, in the tests and on the board.
#ifndef SPARK_DRIVE_LATCH_H
#define SPARK_DRIVE_LATCH_H
#include <stdint.h>

namespace spark {

struct LatchPulse {
  uint8_t known, set;  // whether it was pulsed since power-up, and which way
  int32_t waited;      // ticks since power-up, until its turn has come
  int32_t left;        // ticks of the pulse that is under way

  // Once a tick: 1 forwards, -1 backwards, 0 no current. on: as it is wanted; pulse: ticks; turn: ticks after power-up before the first.
  int8_t next(bool on, int32_t pulse, int32_t turn) {
    if (left > 0) {
      if (--left > 0) return set ? 1 : -1;
      return 0;
    }
    if (!known && waited < turn) {
      ++waited;
      return 0;
    }
    if (known && set == on) return 0;
    known = 1;
    set = on;
    left = pulse;
    return set ? 1 : -1;
  }
};

}  // namespace spark
#endif
