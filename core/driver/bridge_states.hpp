#pragma once
#include <string>
#include <vector>
#include "driver/driver_part.hpp"

namespace hinge::driver {

/// One combination of a bridge's input lines and what the motor does at it.
struct BridgeState {
    std::vector<std::string> levels;  ///< one a line: "low", "high", "PWM", "any", "floats"
    std::string motor;                ///< "drives", "reverses", "brakes", "coasts"
    std::string why;
    bool forbidden = false;
};
struct BridgeTable {
    std::vector<std::string> lines;   ///< names of the inputs, in the order of `levels`
    std::vector<BridgeState> states;  ///< the last one is the time of reset, before the sketch runs
};
/// The input states of a bridge as it is wired here: speed and direction lines, or the input and enable of a half-bridge that
/// makes its own dead time.
/// Empty for any other class of driver.
/// @param direction  a direction line is wired
/// @source common practice, no published source: check the part's own truth table
[[nodiscard]] BridgeTable bridgeStates(DriverClass driver_class, bool direction);

}  // namespace hinge::driver
