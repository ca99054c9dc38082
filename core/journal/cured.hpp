#pragma once
#include "working/form.hpp"

namespace hinge::journal {

/// Whether a fault that used to come by chance is gone: by how long it has stayed away.
struct Cured {
    Duration old_interval{};                   ///< mean time from fault to fault before the cure
    Duration run_time{};                       ///< without a fault since; 0: not yet
    Fraction confidence = of<Fraction>(0.95);  ///< that is asked for; below 1
};
struct CuredResult {
    Fraction confidence_reached{};  ///< that an uncured gadget would have shown it by now: 1 − e^(−t/m)
    Duration needed_time{};         ///< for the confidence asked: −m·ln(1 − c)
};
/// Faults that come by chance at a steady rate.
/// @error OutOfRange  a confidence of 1: never
/// @source poisson-process
[[nodiscard]] Result<Worked<CuredResult>> cured(const Cured& in);
[[nodiscard]] FormPtr curedForm();

}  // namespace hinge::journal
