#pragma once
#include "working/form.hpp"

namespace hinge::demand {

/// A luggage scale pulled at an arm: the torque at the hinge.
struct PullTorque {
    Force pull{};                   ///< reading of the scale, at right angles to the arm
    Length arm{};                   ///< hinge to hook
    Ratio factor = of<Ratio>(2.0);  ///< margin wanted, at least 1
};
struct PullTorqueResult {
    Torque torque{};         ///< pull·arm
    Torque needed_torque{};  ///< factor·torque; never judged again against half of stall
};
/// @error OutOfRange  factor below 1
/// @source newton-rotation
[[nodiscard]] Result<Worked<PullTorqueResult>> pullTorque(const PullTorque& in);
[[nodiscard]] FormPtr pullTorqueForm();

}  // namespace hinge::demand
