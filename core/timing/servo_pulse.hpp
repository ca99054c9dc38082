#pragma once
#include "working/form.hpp"

namespace hinge::timing {

/// Pulse width and angle of a servo.
struct ServoPulse {
    Duration pulse_min{};
    Duration pulse_max{};
    Angle angle_range{};
    std::optional<Angle> angle;  ///< from the pulse_min end, one of these
    std::optional<Duration> pulse;
    Duration tick = of<Duration>(0.5e-6);
    Duration frame = of<Duration>(20e-3);
};
struct ServoPulseResult {
    Duration pulse{};
    Angle angle{};
    Count ticks{};
    Angle angle_per_tick{};
};
/// Linear between the ends. Outside them the result is given, and breaks.
/// @error OutOfRange  pulse_min is not below pulse_max
/// @source servo-linear
[[nodiscard]] Result<Worked<ServoPulseResult>> servoPulse(const ServoPulse& in);
[[nodiscard]] FormPtr servoPulseForm();

/// One servo's part in a move.
struct ServoMove {
    int channel = 0;
    double angle = 0.0;           ///< rad
    double time_per_60deg = 0.0;  ///< s
};
/// Several servos that are to arrive together.
struct ServoTogether {
    std::string moves;  ///< "0:40deg@0.12,1:90deg@0.17": channel:angle@time per 60°
};
struct ServoTogetherResult {
    Duration time{};                   ///< of the slowest
    std::vector<RotationSpeed> speed;  ///< in input order
};
/// @error BadFormat, Conflict  naming `moves`
/// @source derived: all take the time of the slowest
[[nodiscard]] Result<Worked<ServoTogetherResult>> servoTogether(const ServoTogether& in);
[[nodiscard]] FormPtr servoTogetherForm();
/// Reads "0:40deg@0.12,1:90deg@0.17". @error BadFormat, Conflict
[[nodiscard]] Result<std::vector<ServoMove>> parseServoMoves(std::string_view text);

}  // namespace hinge::timing
