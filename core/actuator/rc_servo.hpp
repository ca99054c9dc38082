#pragma once
#include "working/form.hpp"

namespace hinge::actuator {

/// A hobby servo by the two torques of its data sheet.
struct RcServo {
    Torque torque_low{};
    Voltage voltage_low{};
    Torque torque_high{};
    Voltage voltage_high{};
    Duration time_per_60deg{};  ///< without load, at this supply
    Voltage supply{};
    Torque load_torque{};
    Angle move_angle{};
};
struct RcServoResult {
    std::optional<Torque> stall_torque;
    std::optional<Ratio> load_fraction;
    std::optional<Duration> move_time;  ///< null from a load of the whole stall torque on
};
/// Stall torque linear between the two voltages; speed falls straight with the load.
/// @error OutOfRange  voltage_high is not above voltage_low
/// @source servo-linear
[[nodiscard]] Result<Worked<RcServoResult>> rcServo(const RcServo& in);
[[nodiscard]] FormPtr rcServoForm();

}  // namespace hinge::actuator
