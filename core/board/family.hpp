#pragma once
#include <algorithm>
#include <array>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <utility>
#include <vector>
#include "timing/pwm_timer.hpp"

namespace hinge::board {

/// A form in which a controller is bought: its chip, clock and logic voltage.
enum class BoardForm { Uno16, Mini8, Mega16, Native16, Tiny8, Rp2040, Esp32, Header };

/// The sketch's calls: what its sketch is written for.
enum class Target {
    Avr,     ///< ATmega328P, ATmega2560, ATmega32U4, ATtiny85: compiled, and run on the emulated board
    Rp2040,  ///< compiled by arm-none-eabi-gcc over a layer of our own, and run on rp2040js in the tests
    Esp32,   ///< compiled against declarations of its core's calls; what it does is run on the desk's stand-in for them
    Linux,   ///< a single-board computer: compiled by g++ against libgpiod 1.6, and run on the desk's stand-in for it
};

/// A PWM "timer" that any pin may take from a pool (ESP32's LEDC).
inline constexpr int pooled_timer = 100;

/// One pin of a board form.
struct Pin {
    std::string_view name;  ///< as printed on the board: "D5", "A0", "GP2"
    char port = '0';        ///< AVR port letter; '0' where a number is enough
    int bit = 0;
    int number = 0;          ///< in the sketch API
    int pwm_timer = -1;      ///< timer, slice or channel of its PWM output, -1 without
    char pwm_output = ' ';   ///< 'A', 'B', 'C'; '*' from a pool
    bool interrupt = false;  ///< external interrupt; all have pin-change
    bool analog = false;
    int analog_channel = -1;  ///< of the converter behind an analogue pin; -1: the sketch API knows it by the pin's number
    std::string_view shares;  ///< what it serves besides: "serial in", "SPI clock, LED"
    bool console = false;     ///< a line over which it is programmed and spoken to
    bool input_only = false;
    bool strap = false;      ///< its level at reset decides how the chip starts
    int serial_port = 0;     ///< of the chip's own, beside the one that is its console; 0: of none
    bool serial_in = false;  ///< the line of that port on which it hears
};

/// How a board takes its program over its own port: chip and protocol as avrdude names them.
struct Programmer {
    std::string_view chip, protocol;
    int baud = 0;
};

/// A board form's figures, as its file in parts/boards has them (form_file.hpp).
struct Family {
    BoardForm form = BoardForm::Uno16;
    std::string_view name;
    Target target = Target::Avr;
    timing::Mcu mcu = timing::Mcu::Rp2040;  ///< not for the header, whose PWM is its own
    double clock = 0.0;                     ///< Hz: of the chip, or of what its PWM counts
    double logic = 0.0;                     ///< V at a pin that is high
    double pin_current = 0.0;               ///< A a pin, recommended
    double total_current = 0.0;             ///< A, all pins together
    double own_current = 0.0;               ///< A the bare board draws (common practice, no published source)
    double guaranteed_floor = 0.0;          ///< V at its supply pin, at this clock
    double brown_out = 0.0;                 ///< V there at which it resets, with the usual fuse
    int ground_pins = 0;
    int flash = 0;  ///< bytes free beside the boot loader; 0: no matter
    int ram = 0;
    std::span<const Pin> pins;
    std::string_view supply_pin;         ///< where a rail is fed in
    double supply_most = 0.0;            ///< V there
    int adc_bits = 0;                    ///< 0: none
    double adc_reference = 0.0;          ///< V
    int clock_timer = -1;                ///< timer that keeps the sketch's clock; -1: none of the PWM timers
    int beat_timer = -1;                 ///< timer that would beat for servos and steps; -1: none of the PWM timers
    int phase_timer = -1;                ///< timer of 16 bits that would time the firing into half-waves of the mains; -1: none
    bool phase_alarm = false;            ///< an alarm of the chip's clock would time it, and takes no PWM timer
    int untimed_timer = -1;              ///< one whose pulses the sketch does not make, though the chip could; -1: none
    int pool = 0;                        ///< timers in the pool of pooled_timer
    bool real_time = true;               ///< false: an operating system may hold it up for milliseconds
    bool link = true;                    ///< the sketch has a link there: a serial port, or the room for one
    bool emulated = false;               ///< an AVR: its sketch is compiled, and runs on the emulated board
    bool pwm_counts_oscillator = false;  ///< the header's PWM: `clock` in whole counts, without a prescaler
    int on_left = 0;                     ///< pins drawn on the left side, the rest on the right
    bool own_regulator = false;  ///< between the supply pin and the chip: the pin takes up to supply_most, whatever the logic's volts
    /// Hz at which a servo's pulses take the pin's own PWM timer: so the sketch makes them where every pin has PWM; nullopt where it times
    /// them itself.
    std::optional<double> servo_pwm;
    /// The pins of the two-wire bus that a sketch can use, "data" and "clock"; none for boards that it is not written for.
    std::vector<std::pair<std::string_view, std::string_view>> bus;
    std::string_view timer_word = "timer";  ///< as its data sheet calls it
    std::string_view core_variant;          ///< of the sketch API's core; empty on an AVR: the sketch brings what it needs of the API
    std::string_view signature;             ///< by which a programmer knows the chip; @source avr-signatures
    std::optional<Programmer> programmer;   ///< nullopt: it is not reached over its own port
    std::vector<std::string_view> by_hand;  ///< what to do where no programmer fits: three steps
};
/// Highest volts at which the pins still give what `logic` says; above it, up to supply_most, they give the supply's.
[[nodiscard]] constexpr double supplyAsRated(const Family& family) {
    return family.own_regulator ? family.supply_most : std::min(family.supply_most, 1.1 * family.logic);
}
/// Whether the sketch can fire into half-waves of the mains there.
[[nodiscard]] constexpr bool firesHalfWaves(const Family& family) {
    return family.phase_timer >= 0 || family.phase_alarm;
}
/// Volts that it is usually fed with.
[[nodiscard]] constexpr double supplyUsual(const Family& family) {
    return family.own_regulator ? 5.0 : family.logic;
}
/// @source atmega328p-datasheet, atmega2560-datasheet, atmega32u4-datasheet, attiny85-datasheet, rp2040-datasheet, esp32-trm, sbc-header
[[nodiscard]] const Family& family(BoardForm form);
[[nodiscard]] std::optional<Pin> pinNamed(const Family& family, std::string_view name);
/// The chip's own serial port whose two lines these are: 1 for the sketch API's Serial1; 0: they are of none, or of two.
[[nodiscard]] int serialPortAt(const Family& family, std::string_view in, std::string_view out);
/// By how much such a port misses a rate, in shares of it; nullopt: no divider of it comes near. An AVR divides its clock by whole numbers;
/// the others divide theirs so finely that it does not matter.
/// @source atmega2560-datasheet, atmega32u4-datasheet
[[nodiscard]] std::optional<double> serialMiss(const Family& family, double baud);
/// What a timer already does in the sketch ("the sketch's clock"), or empty.
[[nodiscard]] std::string_view timerServes(const Family& family, int timer);
/// The one PWM frequency of the timer that keeps the clock [Hz]; nullopt without such a timer.
[[nodiscard]] std::optional<double> clockTimerFrequency(const Family& family);
/// The pulses of a pin's PWM at a frequency, in the best mode or a given one. The header counts its 19.2 MHz oscillator; the others by
/// pwmTimer().
/// @error OutOfRange  the pin has no PWM, or the frequency is out of its reach
/// @source atmega328p-datasheet, rp2040-datasheet, esp32-trm, sbc-header
[[nodiscard]] Result<Worked<timing::PwmTimerResult>> pwmOf(const Family& family, const Pin& pin, Frequency frequency,
                                                           std::optional<timing::PwmMode> mode = std::nullopt);
/// The outputs beside a pin's on the same timer that could be the other one of a pair with a pause between; empty: it has none, or the
/// sketch makes no such pairs there: only an AVR's timers and an RP2040's slices run up and down.
[[nodiscard]] std::vector<Pin> pairsOf(const Family& family, const Pin& pin);
/// "timer 1", "slice 3", "a timer of the pool": as its data sheet calls it.
[[nodiscard]] std::string timerName(const Family& family, int timer);

}  // namespace hinge::board

template <>
struct hinge::Names<hinge::board::BoardForm> {
    using F = hinge::board::BoardForm;
    static constexpr std::array all{hinge::Name<F>{F::Uno16, "atmega328p-16mhz", "ATmega328P board, 16 MHz, 5 V"},
                                    hinge::Name<F>{F::Mini8, "atmega328p-8mhz", "ATmega328P board, 8 MHz, 3.3 V"},
                                    hinge::Name<F>{F::Mega16, "atmega2560-16mhz", "ATmega2560 board, 16 MHz, 5 V"},
                                    hinge::Name<F>{F::Native16, "atmega32u4-16mhz", "ATmega32U4 board, 16 MHz, 5 V"},
                                    hinge::Name<F>{F::Tiny8, "attiny85-8mhz", "ATtiny85 chip, 8 MHz, 5 V"},
                                    hinge::Name<F>{F::Rp2040, "rp2040", "RP2040 board, 125 MHz, 3.3 V"},
                                    hinge::Name<F>{F::Esp32, "esp32", "ESP32 board, 240 MHz, 3.3 V"},
                                    hinge::Name<F>{F::Header, "sbc-header", "single-board computer's header, 3.3 V"}};
};

template <>
struct hinge::Names<hinge::board::Target> {
    using T = hinge::board::Target;
    static constexpr std::array all{hinge::Name<T>{T::Avr, "avr", "AVR"}, hinge::Name<T>{T::Rp2040, "rp2040", "RP2040"},
                                    hinge::Name<T>{T::Esp32, "esp32", "ESP32"}, hinge::Name<T>{T::Linux, "linux", "Linux"}};
};
