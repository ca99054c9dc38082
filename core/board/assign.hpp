#pragma once
// Pins as a solved assignment: every line gets a pin that can do what it asks, or the smallest set of
// wishes that clash is named.
#include <string>
#include <variant>
#include <vector>
#include "board/family.hpp"

namespace hinge::board {

/// What a line asks of its pin.
struct PinWish {
    std::string id;             ///< of the caller's own
    std::string name;           ///< in words: "Rain, PWM"
    std::optional<double> pwm;  ///< Hz; absent: digital only
    bool interrupt = false;     ///< an external interrupt
    bool analog = false;
    bool output = true;
    std::string pair;       ///< one name for two PWM wishes that must sit on one timer, which then is theirs alone; empty: none
    std::string fixed;      ///< pinned by hand, and kept; empty: free
    std::string preferred;  ///< where it sits now: another pin costs a wire; empty: nowhere
    friend bool operator==(const PinWish&, const PinWish&) = default;
};
struct PinChoice {
    std::string id;
    std::string pin;
    std::string why;
};
/// Wishes that cannot all be met; without any one of them the rest can.
struct PinClash {
    std::vector<std::string> ids;
};
/// "A and B cannot all have a pin of this board", by the names that the wishes have.
[[nodiscard]] std::string clashText(const PinClash& clash, const std::vector<PinWish>& wishes);
/// What the sketch takes besides its clock, and how exact a frequency must be.
struct PinRules {
    bool beat = false;        ///< a timer beats for servos and steps (Family::beat_timer)
    bool phase = false;       ///< one times the firing into the mains' half-waves (Family::phase_timer)
    double tolerance = 0.01;  ///< of a PWM frequency
    friend bool operator==(const PinRules&, const PinRules&) = default;
};
/// Depth first, the most constrained wish first, cheapest pins first, bounded by what the pins alone would cost; best of all unless
/// the search runs into its limit of nodes, then any that fits. Lines of the console are given only by hand. Pins with
/// another duty, straps, and PWM pins for plain lines cost a little. Wishes that share a timer must ask one
/// frequency, and no two PWMs may be the same output of it.
[[nodiscard]] std::variant<std::vector<PinChoice>, PinClash> assignPins(const Family& family, const PinRules& rules,
                                                                        const std::vector<PinWish>& wishes);
/// Whether they all find a pin at all: sooner answered.
[[nodiscard]] bool fitsOn(const Family& family, const PinRules& rules, const std::vector<PinWish>& wishes);
/// What a wish costs on a pin: 0 is best; nullopt when the pin cannot do it.
[[nodiscard]] std::optional<double> pinCost(const Family& family, const PinRules& rules, const PinWish& wish, const Pin& pin);

}  // namespace hinge::board
