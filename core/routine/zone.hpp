#pragma once
#include <cstdint>
#include <string>
#include <vector>

namespace hinge::routine {

/// The ticks that some running timers still have to go, as bounds on each and on the differences of every two: all that can
/// be so at once, and nothing else. Every timer is at least 1.
///
/// @source dbm-1990
class Zone {
public:
    /// No timer.
    Zone() : bounds_{0} {}
    [[nodiscard]] std::size_t timers() const { return size_ - 1; }
    /// A timer that starts with that many ticks.
    void add(std::int32_t ticks);
    /// Keeps those of `kept`, in that order.
    void keep(const std::vector<std::size_t>& kept);
    /// Any whole number of quiet ticks may pass, as long as no timer gets below 1.
    void pass();
    /// Timer `t` is exactly 1. @return false when that cannot be
    [[nodiscard]] bool ends(std::size_t t);
    /// Timer `t` is 2 or more. @return false when that cannot be
    [[nodiscard]] bool goesOn(std::size_t t);
    /// One tick less on each.
    void tick();
    [[nodiscard]] bool mayEnd(std::size_t t) const { return -at(0, t + 1) <= 1; }
    [[nodiscard]] bool includes(const Zone& other) const;

private:
    [[nodiscard]] std::int32_t at(std::size_t i, std::size_t j) const { return bounds_[i * size_ + j]; }
    std::int32_t& at(std::size_t i, std::size_t j) { return bounds_[i * size_ + j]; }
    bool tighten(std::size_t i, std::size_t j, std::int32_t bound);
    // bounds_[i][j]: timer i − timer j is at most this; timer 0 stands for nought.
    std::vector<std::int32_t> bounds_;
    std::size_t size_ = 1;
};

}  // namespace hinge::routine
