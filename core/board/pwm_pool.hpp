#pragma once
#include <cstddef>
#include <optional>
#include <vector>

namespace hinge::board {

/// Outputs that one timer of a pool serves, at one frequency (the sketch API of the ESP32, core 2.x, from memory).
inline constexpr int outputs_of_a_pooled_timer = 2;

/// A servo's pulses where a PWM makes them: their rate [Hz], and the bits of a pooled timer's period.
inline constexpr double servo_rate = 50.0;
inline constexpr int servo_bits = 16;

/// Gives out the channels of a pool of PWM timers (pooled_timer): two that follow one another share a timer, and so a frequency and its
/// bits. How many fit does not depend on the order in which they are taken.
class PwmPool {
public:
    /// @param timers  of the board: Family::pool
    explicit PwmPool(int timers) : most_{static_cast<std::size_t>(timers)} {}
    /// The channel, 0 and up; nullopt when no timer is left that could serve. @param frequency  [Hz]
    [[nodiscard]] std::optional<int> take(double frequency, int bits);

private:
    struct Timer {
        double frequency = 0.0;
        int bits = 0, outputs = 0;
    };
    std::size_t most_;
    std::vector<Timer> timers_;
};

}  // namespace hinge::board
