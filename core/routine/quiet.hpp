#pragma once
#include "routine/program.hpp"

namespace hinge::routine {

/// How many ticks pass in which, with the pins as they are, nothing happens but counters going on: no
/// instruction, no output switched on or off, no move or soft start at its end, no input believed. Readings of analogue inputs too are as
/// given. 0: the next tick may do something. At most ticks_per_day.
[[nodiscard]] std::int32_t quietTicks(const Program& program, const State& state, std::span<const std::uint8_t> pin_active,
                                      bool enforce = true, std::span<const std::int32_t> values = {});
/// The state after that many quiet ticks, as if each had been run.
/// @param ticks  0 … quietTicks()
void skip(const Program& program, State& state, std::int32_t ticks);

}  // namespace hinge::routine
