#include "emulator/radio_end.hpp"
#include <algorithm>

namespace hinge::emulator {

std::vector<std::pair<std::uint64_t, bool>> RadioEnd::edgesOf(std::string_view text, std::uint64_t now) {
    std::vector<std::pair<std::uint64_t, bool>> edges;
    free_ = std::max(free_, static_cast<double>(now) + bit_);
    bool level = true;
    for (const char c : text) {
        const unsigned bits = static_cast<unsigned>(static_cast<unsigned char>(c)) << 1 | 0x200U;
        for (int k = 0; k < 10; ++k, free_ += bit_)
            if (const bool high = (bits >> k & 1) != 0; high != level) edges.emplace_back(static_cast<std::uint64_t>(free_), level = high);
    }
    return edges;
}

void RadioEnd::edge(std::uint64_t cycle, bool level) {
    end(static_cast<double>(cycle));
    if (!in_.empty() || !level) in_.emplace_back(cycle, level);
}

// The byte whose start bit came first, if half its stop bit has gone by.
void RadioEnd::end(double at) {
    if (in_.empty()) return;
    const double from = static_cast<double>(in_.front().first);
    if (at < from + 9.5 * bit_) return;
    const auto levelAt = [&](double time) {
        bool level = true;
        for (const auto& [cycle, now] : in_)
            if (static_cast<double>(cycle) <= time) level = now;
        return level;
    };
    int byte = 0;
    for (int k = 0; k < 8; ++k) byte |= (levelAt(from + (1.5 + k) * bit_) ? 1 : 0) << k;
    if (levelAt(from + 9.5 * bit_)) heard_ += static_cast<char>(byte);
    in_.clear();
}

std::string RadioEnd::heard(std::uint64_t now) {
    end(static_cast<double>(now));
    return std::exchange(heard_, {});
}

}  // namespace hinge::emulator
