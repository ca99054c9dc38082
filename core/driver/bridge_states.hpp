#pragma once
#include <string>
#include <vector>

namespace hinge::driver {

/// One combination of a bridge's input lines and what the motor does at it.
struct BridgeState {
    std::vector<std::string> levels;  ///< one a line: "low", "high", "PWM", "any", "floats"
    std::string motor;                ///< "drives", "reverses", "brakes", "coasts"
    std::string why;
    bool forbidden = false;
};
/// The input states of a bridge as it is wired. @source common practice, no published source: check the part's own truth table
struct BridgeTable {
    std::vector<std::string> lines;   ///< names of the inputs, in the order of `levels`
    std::vector<BridgeState> states;  ///< the last one is the time of reset, before the sketch runs
};
}  // namespace hinge::driver
