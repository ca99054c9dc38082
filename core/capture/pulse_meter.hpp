#pragma once
// What one digital line did, measured edge by edge: nothing of the capture need be kept.
#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace hinge::capture {

/// Lengths of one sort: periods, high or low times.
struct Widths {
    std::uint64_t count = 0;
    double mean = 0.0;       ///< s, of all
    double shortest = 0.0;   ///< s
    double longest = 0.0;    ///< s
    double deviation = 0.0;  ///< s, standard deviation
    double typical = 0.0;    ///< s, mean of those within a quarter of the median
};

/// Pulses without a pause: a pause is an interval over four times the one before it. (The first
/// intervals of a ramp from rest stand as 1 to 0.41, so a ramp is one burst.)
struct Burst {
    double start = 0.0;  ///< s, its first rising edge
    double end = 0.0;    ///< s, its last rising edge
    std::uint64_t pulses = 0;
    double peak_rate = 0.0;       ///< 1/s, over its fastest run of eight intervals (a quarter of them in short bursts); 0 for one pulse
    double first_interval = 0.0;  ///< s
    std::optional<double> acceleration;  ///< 1/s², where it starts slowly
    std::optional<double> deceleration;  ///< 1/s², where it ends slowly
};

/// What the line looks like; a guess from its figures, not a verdict.
enum class Looks { Still, Switched, EvenPulses, ServoPulses, RampedPulses };

struct SignalMeasure {
    std::string name;
    int first_level = -1;  ///< 0 or 1; -1 never known
    std::uint64_t rises = 0, falls = 0;
    std::uint64_t unknowns = 0;                   ///< times at which the level was not known (x, z)
    std::optional<double> first_edge, last_edge;  ///< s
    Widths period, high, low;                     ///< pauses left out of the periods and low times
    std::optional<double> frequency;              ///< Hz, of the typical period
    std::optional<double> duty;                   ///< high share of all whole periods
    double jitter = 0.0;                          ///< s, farthest that a period lies from the mean of its neighbours
    double jitter_rms = 0.0;                      ///< s, the same, root mean square
    std::uint64_t missing = 0;                    ///< pulses that seem left out: an interval over 1.5 of both its neighbours
    std::uint64_t short_pulses = 0;               ///< high under half of both its neighbours
    std::uint64_t pauses = 0;
    std::vector<Burst> bursts;  ///< the first 1000
    std::uint64_t burst_count = 0;
    Looks looks = Looks::Still;
};

/// Sums up lengths; keeps a coarse table of them for the median.
class WidthMeter {
public:
    void add(double width);
    [[nodiscard]] Widths result() const;

private:
    static constexpr int octaves = 64, parts = 64;  // from 2^-40 s; a 64th of an octave each
    struct Bin {
        std::uint64_t count = 0;
        double sum = 0.0;
    };
    std::vector<Bin> bins_;
    std::uint64_t count_ = 0;
    double sum_ = 0.0, squares_ = 0.0, first_ = 0.0, shortest_ = 0.0, longest_ = 0.0;
};

/// Takes a line's edges in order.
class PulseMeter {
public:
    /// @param level  0, 1, or -1 for unknown; a level it already has is no edge
    void level(double time, int level);
    [[nodiscard]] SignalMeasure finish(std::string name);

private:
    struct Interval {
        double period, high;
    };
    void rise(double time);
    void commit(const Interval& interval, const double* next);
    void closeBurst(double end);

    int now_ = -1, first_level_ = -1;
    std::uint64_t rises_ = 0, falls_ = 0, unknowns_ = 0, missing_ = 0, shorts_ = 0, pauses_ = 0, bursts_seen_ = 0;
    std::optional<double> first_edge_, last_edge_, last_rise_, last_fall_;
    double high_ = 0.0;              // of the pulse that ran last
    std::array<double, 3> highs_{};  // the last three, for short ones
    int highs_known_ = 0;
    double burst_start_ = 0.0;
    std::uint64_t in_burst_ = 0;       // intervals
    std::optional<Interval> current_;  // not judged yet
    std::optional<double> previous_;
    std::vector<double> intervals_;  // of this burst, as far as kept
    WidthMeter periods_, highs_all_, lows_;
    double period_sum_ = 0.0, high_sum_ = 0.0, jitter_ = 0.0, jitter_squares_ = 0.0;
    std::uint64_t jitter_count_ = 0;
    std::vector<Burst> bursts_;
};

}  // namespace hinge::capture
