#pragma once
// A capture of digital lines, read in one pass: VCD (IEEE 1364-2005, clause 18) or CSV.
#include <functional>
#include <iosfwd>
#include <string>
#include <vector>
#include "capture/pulse_meter.hpp"
#include "quantity/names.hpp"
#include "quantity/result.hpp"

namespace hinge::capture {

enum class Format { Vcd, Csv };

struct Options {
    double threshold = 1.5;      ///< V: analogue columns and reals are high above it
    double hysteresis = 0.1;     ///< V, to both sides of it
    std::size_t keep_edges = 0;  ///< edges kept for a picture, all lines together; the first so many
    /// Told the bytes read so far, about every megabyte; false stops.
    std::function<bool(std::uint64_t)> progress;
};

/// A line's edges: the level before the first one, and the times at which it turns.
struct Line {
    int first_level = -1;
    std::vector<double> edges;  ///< s
};

/// What was worth saying about the capture itself.
struct Remark {
    std::string id;  ///< "capture-cut", "capture-coarse", "capture-alias"
    std::string text;
};

struct Capture {
    Format format = Format::Vcd;
    std::uint64_t bytes = 0;
    double length = 0.0;     ///< s from its first instant to its last
    double time_step = 0.0;  ///< s, the finest it can tell apart; 0 when it has one instant only
    std::vector<SignalMeasure> signals;
    std::vector<Line> lines;  ///< as `signals`, when edges are kept
    bool edges_cut = false;   ///< more edges came than were kept
    std::vector<Remark> remarks;
};

/// Reads and measures. Times count from the capture's first instant. What a cut-off end leaves whole
/// is measured and remarked on.
/// @param name  of the file, for messages
/// @error BadFormat   no capture: empty, not text, no time column, time running backwards, a cell that
///                    is no number; names the line or byte
/// @error Cancelled   progress said stop
/// @source ieee-1364
[[nodiscard]] Result<Capture> read(std::istream& in, const std::string& name, const Options& options = {});
/// @error NotFound    there is no such file, or it cannot be read
[[nodiscard]] Result<Capture> readFile(const std::string& path, const Options& options = {});

/// Used by the two readers: gathers the lines' edges and measures them.
class Gatherer {
public:
    explicit Gatherer(const Options& options) : options_{options} {}
    std::size_t addSignal(std::string name);
    void level(std::size_t signal, double time, int level);
    /// An analogue value: above or below the threshold, with hysteresis.
    void volts(std::size_t signal, double time, double volts);
    [[nodiscard]] std::size_t signals() const { return names_.size(); }
    void finish(Capture& capture);

private:
    const Options& options_;
    std::vector<std::string> names_;
    std::vector<PulseMeter> meters_;
    std::vector<int> levels_;
    std::vector<Line> lines_;
    std::size_t kept_ = 0;
    bool cut_ = false;
};

}  // namespace hinge::capture

template <>
struct hinge::Names<hinge::capture::Format> {
    using F = hinge::capture::Format;
    static constexpr std::array all{hinge::Name<F>{F::Vcd, "vcd", "VCD"}, hinge::Name<F>{F::Csv, "csv", "CSV"}};
};
template <>
struct hinge::Names<hinge::capture::Looks> {
    using L = hinge::capture::Looks;
    static constexpr std::array all{hinge::Name<L>{L::Still, "still", "still"}, hinge::Name<L>{L::Switched, "switched", "switched"},
                                    hinge::Name<L>{L::EvenPulses, "even-pulses", "even pulses"},
                                    hinge::Name<L>{L::ServoPulses, "servo-pulses", "servo pulses"},
                                    hinge::Name<L>{L::RampedPulses, "ramped-pulses", "pulses with a ramp"}};
};
