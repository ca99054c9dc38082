#pragma once
// A run log written while the gadget runs: from what the link tells, a row for each time that an output was on.
#include <cstdint>
#include "journal/run_log.hpp"

namespace hinge::journal {

/// What one look at the gadget shows.
struct RunSight {
    double time = 0.0;              ///< s of the board since power-up; going back means that it has started anew
    std::vector<bool> on;           ///< each output
    std::vector<bool> cues;         ///< that run
    bool faulted = false;           ///< a cue ended because something did not come in time
    std::optional<double> current;  ///< A, where it is measured
};
class RunRecorder {
public:
    /// @param outputs, cues  their names, in the order of the sights
    RunRecorder(std::vector<std::string> outputs, std::vector<std::string> cues)
        : outputs_{std::move(outputs)}, cues_{std::move(cues)}, runs_(outputs_.size()) {}
    /// Takes a look and gives the rows that end with it: an output that has gone off, a fault, a board that has started anew.
    /// @param now  s since 2000-01-01, local time
    [[nodiscard]] std::vector<RunRow> take(const RunSight& sight, double now);
    /// The link has gone: what was on until now, as far as it was seen.
    [[nodiscard]] std::vector<RunRow> end();

private:
    struct Run {
        bool on = false;
        double since = 0.0;  ///< of the board
        double began = 0.0;  ///< on the desk's calendar
        std::string trigger;
        std::optional<double> current;  ///< the largest
    };
    [[nodiscard]] RunRow close(std::size_t output, double board_time);
    std::vector<std::string> outputs_, cues_;
    std::vector<Run> runs_;
    std::vector<bool> cues_before_;
    bool faulted_before_ = false, seen_ = false;
    double last_ = 0.0, now_ = 0.0;
};

/// The heading of a run log, and a row of it, each with its line break. As parseRunLog reads it.
[[nodiscard]] std::string runLogHead();
[[nodiscard]] std::string runLogLine(const RunRow& row);

}  // namespace hinge::journal
