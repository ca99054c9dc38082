#pragma once
#include <array>
#include <span>
#include "working/form.hpp"

namespace hinge::timing {

enum class Mcu { Atmega328p, Atmega2560, Atmega32u4, Attiny85, Rp2040, Esp32 };
enum class PwmMode { Fast, PhaseCorrect };

/// One AVR timer as far as PWM needs it.
struct AvrTimer {
    int number = 0;
    int bits = 8;
    bool own_top = false;  ///< a TOP register of its own: output A is never lost
    bool phase_correct = true;
    std::span<const int> prescalers;
};
/// The timers of an AVR family, by number; empty for other families.
/// @source atmega328p-datasheet, atmega2560-datasheet, atmega32u4-datasheet, attiny85-datasheet (from memory)
[[nodiscard]] std::span<const AvrTimer> avrTimers(Mcu mcu);
/// The clock it usually runs at [Hz].
[[nodiscard]] double usualClock(Mcu mcu);

/// Prescaler and TOP for a PWM frequency.
struct PwmTimer {
    Mcu mcu = Mcu::Atmega328p;
    std::optional<Frequency> clock;  ///< its usual one
    std::optional<Count> timer;      ///< best
    Frequency frequency{};
    std::optional<PwmMode> mode;  ///< best
};
struct PwmTimerResult {
    Count timer{};
    PwmMode mode = PwmMode::Fast;
    Ratio prescaler{};
    Count top{};
    Frequency actual_frequency{};
    Fraction frequency_error{};  ///< actual/wanted − 1
    Ratio resolution_bits{};
    Count steps{};
};
/// AVR: fast f = clk/(N·(TOP+1)), phase-correct f = clk/(2·N·TOP). RP2040: f = clk/(div·(TOP+1)),
/// halved when phase-correct, div in sixteenths. ESP32 LEDC: f = clk/(div·2^bits), div in 256ths.
/// Smallest error first, then larger TOP, fast, smaller prescaler, lower timer.
/// @error OutOfRange  the frequency is out of reach, or there is no such timer or mode
/// @source atmega328p-datasheet, rp2040-datasheet, esp32-trm
[[nodiscard]] Result<Worked<PwmTimerResult>> pwmTimer(const PwmTimer& in);
[[nodiscard]] FormPtr pwmTimerForm();

}  // namespace hinge::timing

template <>
struct hinge::Names<hinge::timing::Mcu> {
    using M = hinge::timing::Mcu;
    static constexpr std::array all{hinge::Name<M>{M::Atmega328p, "atmega328p", "ATmega328P"},
                                    hinge::Name<M>{M::Atmega2560, "atmega2560", "ATmega2560"},
                                    hinge::Name<M>{M::Atmega32u4, "atmega32u4", "ATmega32U4"},
                                    hinge::Name<M>{M::Attiny85, "attiny85", "ATtiny85"},
                                    hinge::Name<M>{M::Rp2040, "rp2040", "RP2040"},
                                    hinge::Name<M>{M::Esp32, "esp32", "ESP32"}};
};
template <>
struct hinge::Names<hinge::timing::PwmMode> {
    using M = hinge::timing::PwmMode;
    static constexpr std::array all{hinge::Name<M>{M::Fast, "fast", "fast"},
                                    hinge::Name<M>{M::PhaseCorrect, "phase-correct", "phase-correct"}};
};
