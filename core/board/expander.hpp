#pragma once
#include <array>
#include <span>
#include <string_view>
#include "quantity/names.hpp"

namespace hinge::board {

enum class ExpanderClass { Pwm, Servo, Io, Adc };
enum class ExpanderBus { I2c, Serial };

/// A board of more lines on a bus, by its class. @source expander-classes
struct Expander {
    ExpanderClass expander_class{};
    std::string_view name;  ///< "16-channel PWM expander"
    int channels = 0;
    ExpanderBus bus = ExpanderBus::I2c;
    int addresses = 1;                    ///< that can share one bus
    double slowest = 0.0, fastest = 0.0;  ///< Hz of its pulses, one for all its channels; 0: none
    int bits = 0;                         ///< of its pulses or readings
    double pin_current = 0.0;             ///< A a line
    std::string_view note;
};
/// The usual one of each class.
[[nodiscard]] std::span<const Expander> expanders();

}  // namespace hinge::board
