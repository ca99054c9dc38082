#pragma once
#include "working/form.hpp"

namespace hinge::timing {

/// The intervals of a stepper's ramp from rest, in a timer's ticks.
struct StepIntervals {
    StepAcceleration acceleration{};       ///< steps/s²
    Count steps{};                         ///< of the ramp, at most 100 000
    Frequency clock = of<Frequency>(2e6);  ///< of the timer that counts them
};
struct StepIntervalsResult {
    Count first_interval{};               ///< ticks
    Count last_interval{};                ///< ticks
    Frequency last_rate{};                ///< steps/s after the last of them
    std::vector<Count> intervals;         ///< ticks, the first 64
    Duration accumulated_error{};         ///< of the whole ramp, rounding carried along
    Duration rounded_error{};             ///< the same, each interval rounded by itself
    Duration recurrence_error{};          ///< of the whole ramp by the published recurrence c − 2c/(4n + 1)
    std::vector<Ratio> recurrence_ratio;  ///< of neighbouring intervals by the recurrence, the first 64
};
/// Exact: step n falls at √(2n/a), so interval n is c0·(√(n + 1) − √n) with c0 = √(2/a).
/// @error OutOfRange  more than 100 000 steps
/// @source austin-2005
[[nodiscard]] Result<Worked<StepIntervalsResult>> stepIntervals(const StepIntervals& in);
[[nodiscard]] FormPtr stepIntervalsForm();

/// A move whose acceleration itself rises and falls evenly, so that nothing is jerked.
struct SCurve {
    Count steps{};
    Frequency rate{};                 ///< steps/s at most
    StepAcceleration acceleration{};  ///< steps/s² at most
    Ratio jerk{};                     ///< steps/s³
};
struct SCurveResult {
    Frequency peak_rate{};
    StepAcceleration peak_acceleration{};
    Duration ramp_time{};  ///< from rest to the peak rate
    Ratio ramp_steps{};    ///< not rounded
    Duration duration{};   ///< of the whole move
    Duration longer_by{};  ///< than with a straight ramp of the same rate and acceleration
};
/// Seven stretches, symmetric. The peak rate is lowered until both ramps fit into the steps.
/// @source derived: with tj = a/j and ta = v/a − tj (or tj = √(v/j), ta = 0): ramp = v·(2tj + ta)/2
[[nodiscard]] Result<Worked<SCurveResult>> sCurve(const SCurve& in);
[[nodiscard]] FormPtr sCurveForm();

/// What is left of a stepper's torque from one micro-step to the next, and how far it lags under load.
struct MicrostepTorque {
    Torque holding_torque{};
    Count microsteps = of<Count>(16.0);
    Torque load_torque{};  ///< friction and load
    Count steps_per_turn = of<Count>(200.0);
};
struct MicrostepTorqueResult {
    Torque step_torque{};  ///< of one micro-step: holding·sin(90°/microsteps)
    Angle step_angle{};
    std::optional<Angle> lag;  ///< behind its place under the load; null when it slips
    Count lost{};              ///< micro-steps that pass before the load follows
};
/// @source microstep-sine
[[nodiscard]] Result<Worked<MicrostepTorqueResult>> microstepTorque(const MicrostepTorque& in);
[[nodiscard]] FormPtr microstepTorqueForm();

/// The speed at which a stepper rattles.
struct StepResonance {
    Torque holding_torque{};
    Inertia inertia{};  ///< of rotor and load, at the shaft
    Count steps_per_turn = of<Count>(200.0);
    Count microsteps = of<Count>(1.0);
    std::optional<Frequency> step_rate;  ///< asked of the driver, micro-steps a second
};
struct StepResonanceResult {
    Frequency natural_frequency{};
    Frequency low{}, high{};                  ///< full steps a second to avoid
    std::optional<Frequency> full_step_rate;  ///< that is asked
};
/// f = √(p·T/J)/2π with p = steps/4 pole pairs; avoid a third around it. With eight micro-steps or
/// more it does not build up (common practice, no published source).
/// @source stepper-natural-frequency
[[nodiscard]] Result<Worked<StepResonanceResult>> stepResonance(const StepResonance& in);
[[nodiscard]] FormPtr stepResonanceForm();

/// How well a move to an end switch finds the same place again.
struct Homing {
    Speed speed{};                          ///< towards the switch
    Speed backoff_speed{};                  ///< off it again, slowly
    Duration delay = of<Duration>(0.021);   ///< from the contact to the halt: debounce and a tick
    Length step_length{};                   ///< way of one step
    Duration jitter = of<Duration>(0.001);  ///< how much the delay differs from time to time
};
struct HomingResult {
    Length overrun{};        ///< past the contact, before it halts
    Length repeatability{};  ///< of the place where it lets go again
};
/// @source definition
[[nodiscard]] Result<Worked<HomingResult>> homing(const Homing& in);
[[nodiscard]] FormPtr homingForm();

/// A slow move with a camera on it: way for each picture, and its blur.
struct Creep {
    Length length{};
    Duration duration{};
    Count pictures = of<Count>(1.0);
    Duration exposure{};  ///< 0: between the moves
    Length distance_per_step{};
};
struct CreepResult {
    Speed speed{};
    Duration step_interval{};
    Duration picture_interval{};
    Length way_per_picture{};
    Length blur{};  ///< way during one exposure
};
/// @source definition
[[nodiscard]] Result<Worked<CreepResult>> creep(const Creep& in);
[[nodiscard]] FormPtr creepForm();

}  // namespace hinge::timing
