#pragma once
// Short guided runs that measure what no data sheet says; what they find goes into the project.
#include "plan/plan.hpp"

namespace hinge::plan {

/// What a step of a run asks of the desk, the board or the maker.
enum class Does {
    Tell,          ///< read and do; then go on
    Nudge,         ///< a slider drives the channel by hand between `from` and `to`; the maker stops where it matters
    Sweep,         ///< the desk steps the share up and down and keeps what the tach says
    ThereAndBack,  ///< the stepper goes out and back at rising rates; the maker, or an end switch, says whether it came back to its mark
    RunFor,        ///< on at its duty for `from` seconds
    TakeReading,   ///< the reading of an input as it stands now
    Type,          ///< a number with its unit, read off an instrument
};
struct CalibrationStep {
    Does does = Does::Tell;
    std::string words;
    double from = 0.0, to = 0.0;  ///< Nudge: half µs or permille; RunFor: s
    std::string input;            ///< TakeReading: id
    std::string path;             ///< of the fact that it gives; empty: none
    Kind kind = Kind::Ratio;      ///< of what is typed, or of what the path takes
    double per_unit = 1.0;        ///< SI for each unit of the slider
};
struct CalibrationRun {
    std::string id, title, why, caution;
    std::vector<CalibrationStep> steps;
};
/// The runs that suit a channel as it is built; in the order in which to do them.
[[nodiscard]] std::vector<CalibrationRun> calibrationsFor(const project::Project& project, const project::Parts& parts, const Plan& plan,
                                                          std::string_view channel);

/// A sweep of the share, up and down again.
struct SweepPoint {
    double share = 0.0;
    double reading = 0.0;  ///< counts, or Hz
    bool rising = true;
};
struct SweepResult {
    std::optional<double> start;  ///< least share at which it turns, going up
    std::optional<double> keep;   ///< least share at which it still turns, going down
    double most = 0.0;            ///< reading at full
    double bend = 0.0;            ///< largest distance of the curve from a straight line between start and full, share of `most`
};
/// It turns where the reading is above a twentieth of the most.
[[nodiscard]] SweepResult readSweep(const std::vector<SweepPoint>& points);
/// "0.2:0,0.4:14", as the calibration keeps it: the way up.
[[nodiscard]] std::string sweepText(const std::vector<SweepPoint>& points);
[[nodiscard]] std::vector<SweepPoint> sweepPoints(const std::string& text);

}  // namespace hinge::plan
