#pragma once
// The far end of a radio's serial line: what is said there becomes edges at a pin of the chip, or bytes at a port of its own, and what the
// chip says becomes bytes again.
#include <cstdint>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace hinge::emulator {

class RadioEnd {
public:
    /// @param baud   of the line
    /// @param clock  of the chip [Hz]
    RadioEnd(double baud, double clock) : bit_{clock / baud} {}
    /// The edges of a text, behind what is still being said: cycle, level. A start bit, eight bits with the lowest first, a stop bit.
    [[nodiscard]] std::vector<std::pair<std::uint64_t, bool>> edgesOf(std::string_view text, std::uint64_t now);
    /// The chip's line has changed.
    void edge(std::uint64_t cycle, bool level);
    /// Whole bytes that came so far. @param now  a byte ends where half its stop bit has gone by
    [[nodiscard]] std::string heard(std::uint64_t now);

private:
    void end(double at);
    double bit_;                                      ///< cycles
    double free_ = 0.0;                               ///< the cycle at which what was said has gone out
    std::vector<std::pair<std::uint64_t, bool>> in_;  ///< edges of the byte that is coming, its start bit first
    std::string heard_;
};

}  // namespace hinge::emulator
