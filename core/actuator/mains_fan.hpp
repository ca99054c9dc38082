#pragma once
// A fan with an induction motor on the mains, slowed by its volts.
#include "working/form.hpp"

namespace hinge::actuator {

struct MainsFan {
    Fraction volts = of<Fraction>(1.0);  ///< rms, of the mains' own
    RotationSpeed rated_speed{};         ///< at all of them, its blades on it
    Frequency mains_frequency = of<Frequency>(50.0);
};
struct MainsFanResult {
    RotationSpeed synchronous_speed{};  ///< of the least poles that are faster than it turns
    Fraction slip{};                    ///< at all of its volts
    Fraction speed_fraction{};
    RotationSpeed speed{};
};
/// @error OutOfRange  volts not from 0 to 1.2, or no number of poles up to 12 turns just faster than the rated speed
/// @source induction-slip: at little slip torque ∝ V²·s; affinity-laws: its blades take n²
[[nodiscard]] Result<Worked<MainsFanResult>> mainsFan(const MainsFan& in);
[[nodiscard]] FormPtr mainsFanForm();

/// The same without words: share of its full speed. @param slip  at all of its volts, above 0 and below 1
[[nodiscard]] double mainsFanShare(double volts, double slip) noexcept;

}  // namespace hinge::actuator
