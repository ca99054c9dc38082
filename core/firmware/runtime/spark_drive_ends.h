// A bridge of separate switches, or half of one: the two switches of an end have an input each, and nothing but their pulses keeps them
// from being closed at once. A timer that counts up and down makes both: the upper switch is on while it counts below one value, the lower
// one while it counts from another on, and between the two lies the dead time. Both values are taken over together where the timer turns
// round: of an AVR at its top, where the upper switch is off; of others at its bottom, or nobody says where. The same file runs on the
// desk, in the tests and on the board.
#ifndef SPARK_DRIVE_ENDS_H
#define SPARK_DRIVE_ENDS_H
#include <stdint.h>

namespace spark {

struct EndCounts {
  uint16_t upper, lower;  // on below `upper`; on from `lower` on. 0 and TOP: neither; 0 and 0: the lower one for good
};

// level: counts of the timer's `top` for which the upper switch is on; 0: none. The lower one stays on for at least `dead_time` counts each
// way, so that what feeds the upper gate is filled. down: an end that is not driven has its lower switch closed, as where the other one
// drives.
inline EndCounts endCounts(uint16_t level, uint16_t top, uint16_t dead_time, bool down) {
  const EndCounts undriven = {0, static_cast<uint16_t>(down ? 0 : top)};
  if (level == 0) return undriven;
  const uint16_t most = static_cast<uint16_t>(top - 2 * dead_time);
  if (level > most) level = most;
  const EndCounts driven = {level, static_cast<uint16_t>(level + dead_time)};
  return driven;
}

// The timer may turn round between the two writes: what is written first is what makes the dead time longer.
template <class Upper, class Lower> void setEnd(EndCounts& now, EndCounts next, Upper upper, Lower lower) {
  if (next.upper <= now.upper) {
    upper(next.upper);
    lower(next.lower);
  } else {
    lower(next.lower);
    upper(next.upper);
  }
  now = next;
}

// Where both values are one register they are written as one, and taken over together, wherever in the period that is. Then a switch may
// close as the other one opens only where an end goes over to something else: driving, shorting its motor, open. So it goes by way of open,
// and waits for a whole period until that has surely been taken over; what comes next is taken over a period later at the earliest. wait:
// for so long.
template <class Both, class Wait> void setEndAtOnce(EndCounts& now, EndCounts next, uint16_t top, Both both, Wait wait) {
  if (next.upper == now.upper && next.lower == now.lower) return;
  const bool was_open = now.upper == 0 && now.lower == top, is_open = next.upper == 0 && next.lower == top;
  if (!was_open && (is_open || (now.upper > 0) != (next.upper > 0))) {
    const EndCounts open = {0, top};
    both(open);
    wait();
  }
  if (!is_open) both(next);
  now = next;
}

}  // namespace spark
#endif
