#pragma once
#include <cstdint>
#include <vector>
#include "plant/stand_in.hpp"

namespace hinge::plant {

/// What was seen of a firmware while it ran.
struct FirmwareSeen {
    std::vector<Edge> edges;      ///< as the pins stood
    std::vector<Edge> latchings;  ///< of what latches: on and off, by the way of its pulses
    double length = 0.0;          ///< s
    bool cut = false;             ///< it switched its pins so often that it was watched no further
    bool loop_known = false;      ///< only of what was compiled here
    std::uint64_t loops = 0;
    double longest_loop = 0.0;                              ///< s between two calls of loop()
    double longest_at = 0.0;                                ///< s after power-up
    double mean_loop = 0.0;                                 ///< s
    double interrupt_share = 0.0, longest_interrupt = 0.0;  ///< of the processor; s
    int resets = 0;
    std::uint64_t ticks_due = 0, ticks_served = 0;  ///< of the timer behind millis(), where it runs as usual
    std::vector<int> on_at_start;                   ///< outputs that were high within the first tenth of a second
    std::vector<int> never_output;                  ///< outputs whose pin never became one
};

}  // namespace hinge::plant
