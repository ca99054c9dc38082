#pragma once
// One run of a loop or a sweep, as it is kept: what was set, what came of it, and a word about it.
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>
#include "quantity/result.hpp"

namespace hinge::journal {

/// One moment of a trial. Plain SI, readings in counts.
struct TrialRow {
    double time = 0.0;     ///< s of the board's own time
    double wanted = 0.0;   ///< counts
    double reading = 0.0;  ///< counts
    double drive = 0.0;    ///< share of full power, or steps a second
    double value = 0.0;    ///< what the stand-in's machine really did; 0 on a real board
    friend bool operator==(const TrialRow&, const TrialRow&) = default;
};
struct TrialSetting {
    std::string name;
    std::int32_t value = 0;
    std::string unit;
    friend bool operator==(const TrialSetting&, const TrialSetting&) = default;
};
struct Trial {
    std::string id;    ///< "trial-7"; also its file's name
    std::string date;  ///< ISO 8601
    std::string channel, loop;
    std::string kind = "step";  ///< step, sweep, relay, free
    std::string on;             ///< what it ran on
    std::string plan;           ///< mark of the plan whose sketch ran
    std::string comment;
    std::vector<TrialSetting> settings;
    std::vector<TrialRow> rows;
    friend bool operator==(const Trial&, const Trial&) = default;
};

/// "# key: value" lines, then the header of the columns. A line break in a value becomes a blank.
[[nodiscard]] std::string trialHead(const Trial& trial);
/// One row and its line break; numbers read back as the same doubles.
[[nodiscard]] std::string trialLine(const TrialRow& row);
/// Reads it back. A last line without its line break is left out: the run was cut short in the middle of it.
/// @error BadFormat  no header, or a row that is none; naming the line
[[nodiscard]] Result<Trial> parseTrial(std::string_view text);
/// What differs between the settings of two trials, "P 12.7 → 10.0".
[[nodiscard]] std::vector<std::string> settingsChanged(const Trial& from, const Trial& to);

}  // namespace hinge::journal
