#pragma once
#include "working/form.hpp"

namespace hinge::timing {

/// Steps, rate and interval of a stepper's move.
struct StepTiming {
    Count steps_per_turn = of<Count>(200.0);
    Count microsteps = of<Count>(16.0);
    LengthOrAngle travel_per_turn;
    LengthOrAngle distance;  ///< the same kind
    Duration duration{};
    Duration pulse_width = of<Duration>(2e-6);
    std::optional<Frequency> largest_rate;  ///< steps/s
};
struct StepTimingResult {
    Count steps{};
    Ratio steps_per_unit{};  ///< per metre or radian
    Frequency step_rate{};
    std::optional<Duration> step_interval;  ///< null without a step
};
/// @error WrongUnit  distance and travel are not of one kind
/// @source definition
[[nodiscard]] Result<Worked<StepTimingResult>> stepTiming(const StepTiming& in);
[[nodiscard]] FormPtr stepTimingForm();

/// A move with a straight ramp up and down.
struct StepProfile {
    Count steps{};
    Frequency rate{};                 ///< steps/s
    StepAcceleration acceleration{};  ///< steps/s²
};
struct StepProfileResult {
    Ratio accel_steps{};  ///< not rounded
    Ratio cruise_steps{};
    Frequency peak_rate{};
    Duration duration{};
    Duration first_interval{};
};
/// Trapezoid when v²/a ≤ n, else triangle. @source derived: s = v²/2a
[[nodiscard]] Result<Worked<StepProfileResult>> stepProfile(const StepProfile& in);
[[nodiscard]] FormPtr stepProfileForm();

/// Covering a part of a track in a time, by the time for all of it.
struct PartialRun {
    Length full_length{};
    Length section{};
    Duration section_time{};
};
struct PartialRunResult {
    Duration full_time{};
    Speed speed{};
};
/// @source definition
[[nodiscard]] Result<Worked<PartialRunResult>> partialRun(const PartialRun& in);
[[nodiscard]] FormPtr partialRunForm();

/// Way that a wheel goes with one step.
struct WheelStep {
    Length wheel_diameter{};
    Count steps_per_turn = of<Count>(200.0);
    Count microsteps = of<Count>(16.0);
    Ratio gear_ratio = of<Ratio>(1.0);
};
struct WheelStepResult {
    Length distance_per_step{};
};
/// @source definition
[[nodiscard]] Result<Worked<WheelStepResult>> wheelStep(const WheelStep& in);
[[nodiscard]] FormPtr wheelStepForm();

}  // namespace hinge::timing
