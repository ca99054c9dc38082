#include "capture/recording.hpp"
#include <algorithm>
#include <cmath>

namespace hinge::capture {

void MinMaxPyramid::add(float value) {
    values_.push_back(value);
    // A level's entry is begun with the first value under it and widened by the others.
    std::size_t span = factor;
    for (std::size_t level = 0; values_.size() > span / factor || level == 0; ++level, span *= factor) {
        if (level == levels_.size()) {
            levels_.emplace_back();
            // All that came before this level was needed.
            std::pair<float, float> all{value, value};
            for (const float each : values_) all = {std::min(all.first, each), std::max(all.second, each)};
            levels_.back().push_back(all);
            continue;
        }
        const std::size_t entry = (values_.size() - 1) / span;
        auto& row = levels_[level];
        if (entry == row.size()) row.emplace_back(value, value);
        else row[entry] = {std::min(row[entry].first, value), std::max(row[entry].second, value)};
    }
}

std::pair<float, float> MinMaxPyramid::over(std::size_t from, std::size_t to) const {
    std::pair<float, float> all{values_[from], values_[from]};
    const auto take = [&all](float least, float greatest) { all = {std::min(all.first, least), std::max(all.second, greatest)}; };
    while (from < to) {
        // The largest entry that begins here and ends in time.
        std::size_t span = 1, level = 0;
        while (level < levels_.size() && from % (span * factor) == 0 && from + span * factor <= to) span *= factor, ++level;
        if (level == 0) take(values_[from], values_[from]);
        else take(levels_[level - 1][from / span].first, levels_[level - 1][from / span].second);
        from += span;
    }
    return all;
}

void Recording::clear(std::size_t signals) {
    times_.clear();
    signals_.assign(signals, MinMaxPyramid{});
}

void Recording::add(std::uint32_t time, std::span<const float> values) {
    times_.push_back(times_.empty() ? time : std::max(time, times_.back()));
    for (std::size_t s = 0; s < signals_.size(); ++s) signals_[s].add(s < values.size() ? values[s] : 0.0F);
}

std::size_t Recording::from(double time) const {
    const auto ms = static_cast<std::uint32_t>(std::clamp(std::ceil(time * 1e3 - 1e-6), 0.0, 4294967295.0));
    return static_cast<std::size_t>(std::lower_bound(times_.begin(), times_.end(), ms) - times_.begin());
}

std::vector<Recording::Column> Recording::columns(std::size_t signal, double t0, double t1, int columns) const {
    std::vector<Column> list;
    std::size_t at = from(t0);
    const double width = (t1 - t0) / columns;
    for (int c = 0; c < columns && at < times_.size(); ++c) {
        const std::size_t next = from(t0 + width * (c + 1));
        if (next <= at) continue;
        const auto [least, greatest] = signals_[signal].over(at, next);
        list.push_back({c, least, greatest});
        at = next;
    }
    return list;
}

}  // namespace hinge::capture
