#pragma once
#include "working/form.hpp"

namespace hinge::timing {

/// The pause between the two switches of one end of a bridge, in counts of a timer that runs up and down (phase-correct): the upper one is
/// on while it counts below its compare value, the lower one from a compare value on that lies the pause higher.
struct DeadTime {
    Frequency clock{};  ///< of the timer
    Ratio prescaler = of<Ratio>(1.0);
    Count top{};           ///< at which it turns round
    Duration dead_time{};  ///< least that the switches and their gate drivers want
};
struct DeadTimeResult {
    Count ticks{};
    Duration actual{};
    Fraction most{};  ///< greatest share of the time for which the upper switch is on
};
/// ticks = ⌈dead_time·clk/N⌉; actual = ticks·N/clk. Each period both pauses are kept, and the lower switch is on for as long again, so that
/// what feeds the upper gate is filled: most = 1 − 2·ticks/TOP.
/// @error OutOfRange  that leaves less than half of full power
/// @source atmega328p-datasheet
[[nodiscard]] Result<Worked<DeadTimeResult>> deadTime(const DeadTime& in);
[[nodiscard]] FormPtr deadTimeForm();

}  // namespace hinge::timing
