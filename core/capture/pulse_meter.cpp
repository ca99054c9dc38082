#include "capture/pulse_meter.hpp"
#include <algorithm>
#include <bit>
#include <cmath>

namespace hinge::capture {
namespace {

constexpr std::size_t most_intervals = 1'000'000;
constexpr std::size_t most_bursts = 1000;

/// Least-squares slope of the rate over time: the mean rate of an interval is the rate at its middle
/// when the acceleration is even, so the slope is the acceleration.
/// @source derived: position is quadratic in time
std::optional<double> slope(const std::vector<double>& times, const std::vector<double>& rates) {
    if (times.size() < 4) return std::nullopt;
    double t_mean = 0.0, v_mean = 0.0;
    for (std::size_t i = 0; i < times.size(); ++i) t_mean += times[i], v_mean += rates[i];
    t_mean /= static_cast<double>(times.size());
    v_mean /= static_cast<double>(times.size());
    double above = 0.0, below = 0.0;
    for (std::size_t i = 0; i < times.size(); ++i)
        above += (times[i] - t_mean) * (rates[i] - v_mean), below += (times[i] - t_mean) * (times[i] - t_mean);
    if (below <= 0.0) return std::nullopt;
    return above / below;
}

// The fastest run: one interval alone would show a pulse generator's grain instead of its speed.
double peakRate(const std::vector<double>& intervals) {
    const std::size_t run = std::clamp<std::size_t>(intervals.size() / 4, 1, 8);
    double sum = 0.0, least = INFINITY;
    for (std::size_t i = 0; i < intervals.size(); ++i) {
        sum += intervals[i];
        if (i >= run) sum -= intervals[i - run];
        if (i + 1 >= run) least = std::min(least, sum);
    }
    return static_cast<double>(run) / least;
}

// The ramp from one end of the burst to 95 % of its peak.
template <class Iterator>
std::optional<double> ramp(Iterator from, Iterator to, double peak) {
    if (from == to || 1.0 / *from > peak / 1.5) return std::nullopt;
    std::vector<double> times, rates;
    double t = 0.0;
    for (; from != to && 1.0 / *from < 0.95 * peak; ++from) {
        times.push_back(t + *from / 2.0);
        rates.push_back(1.0 / *from);
        t += *from;
    }
    return slope(times, rates);
}

}  // namespace

void WidthMeter::add(double width) {
    if (bins_.empty()) bins_.resize(octaves * parts);
    if (count_ == 0) first_ = shortest_ = longest_ = width;
    ++count_;
    sum_ += width;
    squares_ += (width - first_) * (width - first_);  // about the first, so that little is lost
    shortest_ = std::min(shortest_, width);
    longest_ = std::max(longest_, width);
    // The bin is the exponent and the first six bits of the mantissa.
    const auto bits = std::bit_cast<std::uint64_t>(width);
    const auto bin = static_cast<std::int64_t>(bits >> 46) - (static_cast<std::int64_t>(1023 - 40) << 6);
    auto& at = bins_[static_cast<std::size_t>(std::clamp<std::int64_t>(bin, 0, octaves * parts - 1))];
    ++at.count;
    at.sum += width;
}

Widths WidthMeter::result() const {
    Widths out;
    out.count = count_;
    if (count_ == 0) return out;
    const double n = static_cast<double>(count_);
    out.mean = sum_ / n;
    out.shortest = shortest_;
    out.longest = longest_;
    out.deviation = std::sqrt(std::max(0.0, squares_ / n - (out.mean - first_) * (out.mean - first_)));
    std::uint64_t passed = 0;
    double median = out.mean;
    for (const auto& bin : bins_)
        if ((passed += bin.count) * 2 >= count_) {
            median = bin.sum / static_cast<double>(bin.count);
            break;
        }
    double sum = 0.0;
    std::uint64_t count = 0;
    for (const auto& bin : bins_) {
        const double middle = bin.count == 0 ? 0.0 : bin.sum / static_cast<double>(bin.count);
        if (bin.count == 0 || middle < 0.75 * median || middle > 1.25 * median) continue;
        sum += bin.sum;
        count += bin.count;
    }
    out.typical = sum / static_cast<double>(count);
    return out;
}

void PulseMeter::commit(const Interval& interval, const double* next) {
    periods_.add(interval.period);
    period_sum_ += interval.period;
    high_sum_ += interval.high;
    lows_.add(interval.period - interval.high);
    if (intervals_.size() < most_intervals) intervals_.push_back(interval.period);
    if (previous_ && next != nullptr) {
        if (interval.period > 1.5 * *previous_ && interval.period > 1.5 * *next)
            missing_ += static_cast<std::uint64_t>(std::llround(interval.period / ((*previous_ + *next) / 2.0))) - 1;
        const double off = std::abs(interval.period - (*previous_ + *next) / 2.0);
        jitter_ = std::max(jitter_, off);
        jitter_squares_ += off * off;
        ++jitter_count_;
    }
    previous_ = interval.period;
}

void PulseMeter::closeBurst(double end) {
    ++bursts_seen_;
    if (bursts_.size() < most_bursts) {
        Burst burst;
        burst.start = burst_start_;
        burst.end = end;
        burst.pulses = in_burst_ + 1;
        if (!intervals_.empty()) {
            burst.first_interval = intervals_.front();
            burst.peak_rate = peakRate(intervals_);
            if (intervals_.size() >= 8 && intervals_.size() < most_intervals) {
                burst.acceleration = ramp(intervals_.begin(), intervals_.end(), burst.peak_rate);
                burst.deceleration = ramp(intervals_.rbegin(), intervals_.rend(), burst.peak_rate);
            }
        }
        bursts_.push_back(burst);
    }
    intervals_.clear();
    previous_.reset();
    in_burst_ = 0;
}

void PulseMeter::rise(double time) {
    if (!last_rise_) {
        burst_start_ = time;
        last_rise_ = time;
        return;
    }
    const Interval interval{time - *last_rise_, high_};
    if (!current_) {
        current_ = interval;
        in_burst_ = 1;
    } else if (in_burst_ == 1 && interval.period < current_->period / 4.0) {
        // The first interval turns out to have been a pause after a single pulse.
        const double paused_at = *last_rise_;
        in_burst_ = 0;
        closeBurst(burst_start_);
        ++pauses_;
        burst_start_ = paused_at;
        current_ = interval;
        in_burst_ = 1;
    } else if (interval.period > 4.0 * current_->period) {
        commit(*current_, nullptr);
        closeBurst(*last_rise_);
        current_.reset();
        ++pauses_;
        burst_start_ = time;
    } else {
        commit(*current_, &interval.period);
        current_ = interval;
        ++in_burst_;
    }
    last_rise_ = time;
}

void PulseMeter::level(double time, int level) {
    if (level == now_) return;
    if (level < 0) {
        // What follows an unknown level starts afresh.
        ++unknowns_;
        if (current_) commit(*current_, nullptr);
        if (last_rise_) closeBurst(*last_rise_);
        current_.reset();
        last_rise_.reset();
        last_fall_.reset();
        highs_known_ = 0;
        now_ = -1;
        return;
    }
    if (first_level_ < 0) first_level_ = level;
    if (now_ < 0) {
        now_ = level;
        return;
    }
    now_ = level;
    if (!first_edge_) first_edge_ = time;
    last_edge_ = time;
    if (level == 1) {
        ++rises_;
        rise(time);
        return;
    }
    ++falls_;
    last_fall_ = time;
    if (!last_rise_) return;
    high_ = time - *last_rise_;
    highs_all_.add(high_);
    highs_ = {highs_[1], highs_[2], high_};
    if (++highs_known_ >= 3 && highs_[1] < 0.5 * highs_[0] && highs_[1] < 0.5 * highs_[2]) ++shorts_;
}

SignalMeasure PulseMeter::finish(std::string name) {
    if (current_) commit(*current_, nullptr);
    current_.reset();
    if (last_rise_) closeBurst(*last_rise_);
    last_rise_.reset();
    SignalMeasure out;
    out.name = std::move(name);
    out.first_level = first_level_;
    out.rises = rises_;
    out.falls = falls_;
    out.unknowns = unknowns_;
    out.first_edge = first_edge_;
    out.last_edge = last_edge_;
    out.period = periods_.result();
    out.high = highs_all_.result();
    out.low = lows_.result();
    if (out.period.count > 0) {
        out.frequency = 1.0 / out.period.typical;
        out.duty = high_sum_ / period_sum_;
    }
    out.jitter = jitter_;
    out.jitter_rms = jitter_count_ > 0 ? std::sqrt(jitter_squares_ / static_cast<double>(jitter_count_)) : 0.0;
    out.missing = missing_;
    out.short_pulses = shorts_;
    out.pauses = pauses_;
    out.bursts = std::move(bursts_);
    out.burst_count = bursts_seen_;
    const bool ramped =
        std::any_of(out.bursts.begin(), out.bursts.end(), [](const Burst& burst) { return burst.acceleration || burst.deceleration; });
    const double period = out.period.typical, high = out.high.typical;
    if (rises_ + falls_ == 0) out.looks = Looks::Still;
    else if (out.period.count < 3) out.looks = Looks::Switched;
    else if (ramped) out.looks = Looks::RampedPulses;
    else if (period > 0.01 && period < 0.025 && high > 0.4e-3 && high < 2.6e-3) out.looks = Looks::ServoPulses;
    else if (period < 0.1 && out.jitter_rms < 0.05 * period) out.looks = Looks::EvenPulses;
    else out.looks = Looks::Switched;
    return out;
}

}  // namespace hinge::capture
