#pragma once
#include "timing/pwm_timer.hpp"
#include <optional>
#include <span>
#include <string_view>

namespace hinge::board {

/// A form in which a controller is bought: its chip, clock and logic voltage.
enum class BoardForm { Uno16, Mini8 };

/// One pin of a board form.
struct Pin {
    std::string_view name;       ///< as printed on the board: "D5", "A0"
    char port = 'B';
    int bit = 0;
    int pwm_timer = -1;          ///< timer of its PWM output, -1 without
    char pwm_output = ' ';       ///< 'A' or 'B'
    bool interrupt = false;      ///< external interrupt; all have pin-change
    bool analog = false;
    std::string_view shares;     ///< what it serves besides: "serial in", "SPI clock, LED"
    int number = 0;              ///< in the sketch API
};

/// A board form's figures.
struct Family {
    BoardForm form = BoardForm::Uno16;
    std::string_view name;
    timing::Mcu mcu = timing::Mcu::Atmega328p;
    double clock = 16e6;              ///< Hz
    double logic = 5.0;               ///< V at a pin that is high
    double pin_current = 0.020;       ///< A a pin, recommended
    double total_current = 0.200;     ///< A, all pins together
    double own_current = 0.045;       ///< A the bare board draws (common practice, no published source)
    double guaranteed_floor = 3.78;   ///< V at this clock (data sheet, speed grades)
    double brown_out = 2.7;           ///< V of the usual fuse
    int ground_pins = 3;
    int flash = 32256;                ///< bytes free beside the boot loader
    int ram = 2048;
    std::span<const Pin> pins;
};
/// @source atmega328p-datasheet
[[nodiscard]] const Family& family(BoardForm form);
[[nodiscard]] std::optional<Pin> pinNamed(const Family& family, std::string_view name);
/// What the sketch API's core already does with a timer ("millis() and delay()"), or empty.
[[nodiscard]] std::string_view timerServes(int timer);

}  // namespace hinge::board

template <>
struct hinge::Names<hinge::board::BoardForm> {
    using F = hinge::board::BoardForm;
    static constexpr std::array all{hinge::Name<F>{F::Uno16, "atmega328p-16mhz", "ATmega328P board, 16 MHz, 5 V"}, hinge::Name<F>{F::Mini8, "atmega328p-8mhz", "ATmega328P board, 8 MHz, 3.3 V"}};
};
