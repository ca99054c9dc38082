#pragma once
// Made-up machines to learn tuning on, each with a target.
#include <string_view>
#include "control/response.hpp"
#include "quantity/result.hpp"

namespace hinge::control {

struct Exercise {
    std::string id, title, task;
    LoopSetup setup;  ///< with the gains it begins with
    Target target;
    std::vector<std::string> hints;  ///< from the gentlest to the answer's neighbourhood
    std::string why;                 ///< what it teaches, told once it is solved
};
/// Blocks of "[id]" and "key = value" lines, plain SI; '#' begins a remark.
/// @error BadFormat  naming the line
[[nodiscard]] Result<std::vector<Exercise>> parseExercises(std::string_view text);
/// Those of practice/exercises.ini.
[[nodiscard]] const std::vector<Exercise>& exercises();

struct Score {
    int points = 0;  ///< of 100; from 60 on the target is met
    bool met = false;
    std::optional<Response> response;
    Standing standing;  ///< of what balances
    Words words;
};
/// @param hints  how many were asked for: five points each
[[nodiscard]] Score scoreOf(const Exercise& exercise, const LoopRun& run, const ParallelGains& gains, int hints);

}  // namespace hinge::control
