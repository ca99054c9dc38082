#pragma once
#include "working/form.hpp"

namespace hinge::demand {

/// How long a pump runs for a dose, and what that makes in a day.
struct Dose {
    Volume volume{};    ///< of one dose
    VolumeFlow flow{};  ///< at the working point, or by cup and clock
    Ratio doses_per_day = of<Ratio>(1.0);
    std::optional<Duration> run_time_limit;  ///< of one dose
};
struct DoseResult {
    Duration run_time{};  ///< volume/flow
    Duration daily_run_time{};
    Volume daily_volume{};
};
/// Breaks with `dose-over-time` when run_time is above the limit.
/// @source derived: t = V/Q
[[nodiscard]] Result<Worked<DoseResult>> dose(const Dose& in);
[[nodiscard]] FormPtr doseForm();

}  // namespace hinge::demand
