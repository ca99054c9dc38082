#pragma once
// What stands on the stand-in's bench, from Need and Match; and each loop as an experiment on it.
#include "control/closed_loop.hpp"
#include "control/margins.hpp"
#include "control/response.hpp"
#include "plan/plan.hpp"

namespace hinge::plan {

struct Machines {
    std::vector<plant::Coupling> couplings;
    std::vector<std::string> assumed;  ///< what no fact and no data sheet says, in words
};
/// A machine for each driven channel whose motion can be worked out; who reads it is taken from the loops.
[[nodiscard]] Machines machinesOf(const project::Project& project, const project::Parts& parts, const Plan& plan);

/// Only those that a loop holds, each once.
[[nodiscard]] std::vector<plant::Coupling> heldMachines(const project::Project& project, const project::Parts& parts, const Plan& plan);

/// What a reading stands for: value = zero + per_count·reading [SI].
struct ReadingScale {
    Kind kind = Kind::Count;
    double per_count = 1.0;
    double zero = 0.0;
    [[nodiscard]] double valueOf(double reading) const { return zero + per_count * reading; }
    [[nodiscard]] double readingOf(double value) const { return (value - zero) / per_count; }
};
/// @param period  s over which a tach is counted
[[nodiscard]] ReadingScale scaleOf(const project::Project& project, const project::Parts& parts, const project::Input& input,
                                   double period);

/// A loop of the routine with its machine. The experiment steps from rest to what is wanted; what balances is let go a little off and
/// shoved.
struct LoopCase {
    control::LoopSetup setup;
    control::Target target;  ///< from Need's time, where it says one
    ReadingScale scale;
    std::string output_unit;   ///< "permille" or "steps a second"
    double per_output = 1e-3;  ///< drive for each of them
};
/// @error Unknown  no such loop
/// @error Missing  its channel, input or part is not settled, or it is of a kind that has no model
[[nodiscard]] Result<LoopCase> loopCase(const project::Project& project, const project::Parts& parts, const Plan& plan,
                                        std::string_view loop);
/// The machine straightened where the loop works: at the share that holds what is wanted.
[[nodiscard]] std::optional<control::LinearPlant> straightenedFor(const LoopCase& loop);
/// The loop's gains as the controller's, and back: for each count and period in the project, for each count and second there.
[[nodiscard]] control::PidFigures pidOf(const routine::Loop& loop, bool rolls);
void takeGains(routine::Loop& loop, const control::ParallelGains& gains, bool rolls);

/// Findings of loops and calibrations: too long a period, a wanted reading that the machine cannot reach, a start duty above
/// what is asked, a rate beyond the measured one.
void judgeTuning(const project::Project& project, const project::Parts& parts, Plan& plan);

}  // namespace hinge::plan
