#pragma once
// The verbs, one function each; each gives an exit status.
#include <string>
#include <vector>
#include "project/project.hpp"
#include "timing/calendar.hpp"

namespace hinge::cli {

/// `work`: a working by name with its inputs k=v; without words the list.
int work(const std::vector<std::string>& words, bool json, bool strict);
/// `plan`
int showPlan(const std::string& project, const std::string& catalogue, bool json, bool strict);
/// `match`; with a swap its differences.
int showMatch(const std::string& project, const std::string& channel, const std::string& catalogue, const std::string& swap, bool json);
/// `parts`: what of a catalogue was read.
int checkParts(const std::string& folder, const std::string& csv, bool json);
/// `simulate`: the gadget over time.
int simulate(const std::string& project, const std::string& catalogue, const std::string& length, const std::string& events,
             const std::string& csv, bool json);
/// `prove-interlocks`
int proveInterlocks(const std::string& project, const std::string& catalogue, bool json);
/// `emit`: the sketch and its lists into a folder.
int emit(const std::string& project, const std::string& catalogue, const std::vector<std::string>& without, const std::string& folder,
         bool single_file);
/// `run-log`: by a CSV of its runs.
int runLog(const std::string& file, bool json);
/// `calendar`: the schedule as iCalendar.
int calendar(const project::Project& project, const timing::Date& from, const std::string& out);
/// `run`: the emitted sketch on the emulated board.
int run(const std::string& project, const std::string& catalogue, const std::vector<std::string>& without, const std::string& length,
        const std::string& events, const std::string& vcd, bool json);
/// `measure`: a capture.
int measure(const std::string& path, const std::string& against, const std::string& catalogue, const std::string& threshold, bool json,
            bool strict);

}  // namespace hinge::cli
