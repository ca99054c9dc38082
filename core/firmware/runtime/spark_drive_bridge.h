// A bridge with an input for each end of its motor. An input that is high puts its end to the supply, one that is low to ground: one high
// alone drives, forwards or backwards; both high short the motor, and it brakes; both low let it go, and it coasts. Part of full power is
// the share of the time for which one input is low while the other stays high: in the pauses the motor is shorted, and its speed follows
// the share. No level of the two closes both switches of one side: that is the part's own affair. The same file runs on the desk, in the
// tests and on the board.
#ifndef SPARK_DRIVE_BRIDGE_H
#define SPARK_DRIVE_BRIDGE_H
#include <stdint.h>

namespace spark {

struct BridgeInputs {
  uint16_t first, second;  // of `top`: the share of the time for which each is high
  uint8_t second_before;   // it is set before the first
};

// level: of `top`, which is full power. back: the second end is the one that is high. braked: what an output that is off does.
inline BridgeInputs bridgeInputs(uint16_t level, uint16_t top, bool back, bool braked) {
  if (level > top) level = top;
  const uint16_t steady = level > 0 || braked ? top : 0, chopped = level > 0 ? static_cast<uint16_t>(top - level) : steady;
  // The one that stays high goes up first and down last: between the two calls the bridge never stands the other way round.
  BridgeInputs inputs = {back ? chopped : steady, back ? steady : chopped, static_cast<uint8_t>((steady > 0) == back)};
  return inputs;
}

}  // namespace spark
#endif
