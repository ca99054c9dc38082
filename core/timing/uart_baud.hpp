#pragma once
#include <array>
#include "working/form.hpp"

namespace hinge::timing {

enum class DoubleSpeed { Best, On, Off };

/// The divisor of an AVR's serial port.
struct UartBaud {
    Frequency clock{};
    Frequency baud{};
    DoubleSpeed double_speed = DoubleSpeed::Best;
};
struct UartBaudResult {
    Count divisor{};  ///< UBRR, 0 to 4095
    bool double_speed = false;
    Frequency actual_baud{};
    Fraction error{};  ///< actual/wanted − 1
};
/// clk/16/(UBRR + 1), or clk/8 at double speed; smallest error, a tie goes to normal. To 1 % holds,
/// to 2 % tight, else breaks. @source atmega328p-datasheet
[[nodiscard]] Result<Worked<UartBaudResult>> uartBaud(const UartBaud& in);
[[nodiscard]] FormPtr uartBaudForm();

}  // namespace hinge::timing

template <>
struct hinge::Names<hinge::timing::DoubleSpeed> {
    using D = hinge::timing::DoubleSpeed;
    static constexpr std::array all{hinge::Name<D>{D::Best, "best", "best"}, hinge::Name<D>{D::On, "true", "double"},
                                    hinge::Name<D>{D::Off, "false", "normal"}, hinge::Name<D>{D::On, "yes", "double"},
                                    hinge::Name<D>{D::Off, "no", "normal"}};
};
