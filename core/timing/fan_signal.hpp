#pragma once
#include "working/form.hpp"

namespace hinge::timing {

/// Demand mapped onto the part of the duty in which a fan turns.
struct FanDuty {
    Fraction demand{};
    Fraction start_duty = of<Fraction>(0.25);
    Count top = of<Count>(320.0);
};
struct FanDutyResult {
    Fraction duty{};
    Count compare{};
};
/// 0 at 0, else start + demand·(1 − start); compare = ⌊duty·top + ½⌋.
/// @source common practice, no published source
[[nodiscard]] Result<Worked<FanDutyResult>> fanDuty(const FanDuty& in);
[[nodiscard]] FormPtr fanDutyForm();

/// Rotation from a tach's pulses.
struct Tach {
    Count pulses{};
    Duration window{};
    Count pulses_per_turn = of<Count>(2.0);
};
struct TachResult {
    RotationSpeed rotation_speed{};
    RotationSpeed rpm{};  ///< the same; shown in rpm
};
/// @source definition
[[nodiscard]] Result<Worked<TachResult>> tach(const Tach& in);
[[nodiscard]] FormPtr tachForm();

}  // namespace hinge::timing
