#pragma once
// Signals over hours at their full rate, ready to be drawn at any width.
#include <cstdint>
#include <span>
#include <utility>
#include <vector>

namespace hinge::capture {

/// Values with the least and the greatest of every 8, 64, 512 … of them beside.
class MinMaxPyramid {
public:
    void add(float value);
    [[nodiscard]] std::size_t size() const noexcept { return values_.size(); }
    [[nodiscard]] float at(std::size_t index) const { return values_[index]; }
    /// Least and greatest of [from, to); from < to ≤ size().
    [[nodiscard]] std::pair<float, float> over(std::size_t from, std::size_t to) const;

private:
    static constexpr std::size_t factor = 8;
    std::vector<float> values_;
    std::vector<std::vector<std::pair<float, float>>> levels_;
};

/// Several signals that are sampled together.
class Recording {
public:
    explicit Recording(std::size_t signals = 0) : signals_(signals) {}
    /// @param time  ms, not before the last one
    /// @param values  one for each signal; missing ones are 0
    void add(std::uint32_t time, std::span<const float> values);
    void clear(std::size_t signals);
    [[nodiscard]] std::size_t size() const noexcept { return times_.size(); }
    [[nodiscard]] bool empty() const noexcept { return times_.empty(); }
    [[nodiscard]] std::size_t signals() const noexcept { return signals_.size(); }
    [[nodiscard]] double time(std::size_t index) const { return times_[index] * 1e-3; }  ///< s
    [[nodiscard]] float value(std::size_t signal, std::size_t index) const { return signals_[signal].at(index); }
    [[nodiscard]] const MinMaxPyramid& signal(std::size_t index) const { return signals_[index]; }
    /// The first sample at or after a time [s].
    [[nodiscard]] std::size_t from(double time) const;
    /// For each of `columns` stretches of [t0, t1) with samples in it: its number, and the least and greatest of a signal there.
    struct Column {
        int column = 0;
        float least = 0.0F, greatest = 0.0F;
    };
    [[nodiscard]] std::vector<Column> columns(std::size_t signal, double t0, double t1, int columns) const;

private:
    std::vector<std::uint32_t> times_;
    std::vector<MinMaxPyramid> signals_;
};

}  // namespace hinge::capture
