#pragma once
#include <cstdint>
#include <vector>

namespace hinge::emulator {

/// A line's level from a cycle on.
struct LineLevel {
    std::uint64_t cycle = 0;
    bool high = false;
};
/// The level at a time, of a line that is high before the first; the levels in their order.
[[nodiscard]] inline bool levelAt(const std::vector<LineLevel>& levels, double cycle) {
    bool high = true;
    for (const auto& level : levels)
        if (static_cast<double>(level.cycle) <= cycle) high = level.high;
    return high;
}
/// A byte on a serial line: eight bits, the lowest first, behind the start bit that falls then.
[[nodiscard]] inline std::uint8_t byteFrom(const std::vector<LineLevel>& levels, double start, double bit) {
    unsigned byte = 0;
    for (int k = 0; k < 8; ++k) byte |= (levelAt(levels, start + (1.5 + k) * bit) ? 1U : 0U) << k;
    return static_cast<std::uint8_t>(byte);
}

}  // namespace hinge::emulator
