#include "board/expander.hpp"

namespace hinge::board {

std::span<const Expander> expanders() {
    static constexpr std::array list{
        Expander{ExpanderClass::Pwm, "16-channel PWM expander", 16, ExpanderBus::I2c, 62, 24.0, 1526.0, 12, 0.010,
                 "one frequency for all sixteen; 50 Hz makes servo pulses in steps of 4.9 µs"},
        Expander{ExpanderClass::Servo, "12-channel serial servo controller", 12, ExpanderBus::Serial, 1, 50.0, 50.0, 12, 0.010,
                 "times the pulses by itself, in steps of a quarter microsecond; ramps speed too"},
        Expander{ExpanderClass::Io, "16-line I/O expander", 16, ExpanderBus::I2c, 8, 0.0, 0.0, 0, 0.025,
                 "on, off and buttons; too slow for steps, pulses and a tach"},
        Expander{ExpanderClass::Adc, "4-channel 16-bit ADC", 4, ExpanderBus::I2c, 4, 0.0, 0.0, 16, 0.0,
                 "up to 860 readings a second, with a gain of its own"},
    };
    return list;
}

}  // namespace hinge::board
