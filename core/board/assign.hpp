#pragma once
// Pins as a solved assignment: every line gets a pin that can do what it asks, or the smallest set of
// wishes that clash is named.
#include "board/family.hpp"
#include <string>
#include <variant>
#include <vector>

namespace hinge::board {

/// What a line asks of its pin.
struct PinWish {
    std::string id;                       ///< of the caller's own
    std::string name;                     ///< in words: "Rain, PWM"
    std::optional<double> pwm;            ///< Hz; absent: digital only
    bool interrupt = false;               ///< an external interrupt
    bool analog = false;
    std::string fixed;                    ///< pinned by hand, and kept; empty: free
};
struct PinChoice {
    std::string id;
    std::string pin;
    std::string why;
};
/// Wishes that cannot all be met; without any one of them the rest can.
struct PinClash {
    std::vector<std::string> ids;
    std::string why;
};
/// What the sketch already takes.
struct PinRules {
    double clock_frequency = 976.5625;    ///< Hz: PWM of timer 0, which keeps the sketch's clock
    bool beat = false;                    ///< timer 2 beats for servos and steps
    double tolerance = 0.01;              ///< of a PWM frequency
};
/// Depth first, the most constrained wish first, cheapest pins first; best of all unless the search
/// runs into its limit of nodes, then the best found. Serial pins are given only by hand. Pins with another
/// duty and PWM pins for plain lines cost a little. Wishes that share a timer must ask one frequency.
[[nodiscard]] std::variant<std::vector<PinChoice>, PinClash> assignPins(const Family& family, const PinRules& rules, const std::vector<PinWish>& wishes);
/// What a wish costs on a pin: 0 is best; nullopt when the pin cannot do it.
[[nodiscard]] std::optional<double> pinCost(const Family& family, const PinRules& rules, const PinWish& wish, const Pin& pin);

}  // namespace hinge::board
