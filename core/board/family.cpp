#include "board/family.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>
#include "board/pin_tables.hpp"
#include "board/pwm_pool.hpp"
#include "quantity/text.hpp"
#include "working/worked.hpp"

namespace hinge::board {
namespace {

using timing::Mcu;

// AVR speed grades: 2.7 V to 10 MHz, rising straight to 4.5 V at 20 MHz: 3.78 V at 16 MHz (ATmega2560 and 32U4:
// 4.5 V at 16 MHz). RP2040 boards convert 1.8 to 5.5 V; ESP32 boards drop 1.1 V at most above 3.0 V.
// Pin currents: recommended ones where the data sheet has them, else half of the absolute maximum.
const std::array<Family, 8>& families() {
    static const std::array<Family, 8> list{Family{BoardForm::Uno16,
                                                   "ATmega328P board, 16 MHz, 5 V",
                                                   Mcu::Atmega328p,
                                                   16e6,
                                                   5.0,
                                                   0.020,
                                                   0.200,
                                                   0.045,
                                                   3.78,
                                                   2.7,
                                                   3,
                                                   32256,
                                                   2048,
                                                   pinsOfAtmega328p(),
                                                   "5 V pin",
                                                   5.5,
                                                   10,
                                                   5.0,
                                                   0,
                                                   2,
                                                   0,
                                                   true,
                                                   true,
                                                   14},
                                            Family{BoardForm::Mini8,
                                                   "ATmega328P board, 8 MHz, 3.3 V",
                                                   Mcu::Atmega328p,
                                                   8e6,
                                                   3.3,
                                                   0.020,
                                                   0.200,
                                                   0.012,
                                                   2.7,
                                                   2.7,
                                                   2,
                                                   30720,
                                                   2048,
                                                   pinsOfAtmega328p(),
                                                   "VCC pin",
                                                   5.5,
                                                   10,
                                                   3.3,
                                                   0,
                                                   2,
                                                   0,
                                                   true,
                                                   true,
                                                   14},
                                            Family{BoardForm::Mega16,
                                                   "ATmega2560 board, 16 MHz, 5 V",
                                                   Mcu::Atmega2560,
                                                   16e6,
                                                   5.0,
                                                   0.020,
                                                   0.200,
                                                   0.070,
                                                   4.5,
                                                   2.7,
                                                   5,
                                                   253952,
                                                   8192,
                                                   pinsOfAtmega2560(),
                                                   "5 V pin",
                                                   5.5,
                                                   10,
                                                   5.0,
                                                   0,
                                                   2,
                                                   0,
                                                   true,
                                                   true,
                                                   36},
                                            Family{BoardForm::Native16,
                                                   "ATmega32U4 board, 16 MHz, 5 V",
                                                   Mcu::Atmega32u4,
                                                   16e6,
                                                   5.0,
                                                   0.020,
                                                   0.200,
                                                   0.045,
                                                   4.5,
                                                   2.7,
                                                   3,
                                                   28672,
                                                   2560,
                                                   pinsOfAtmega32u4(),
                                                   "5 V pin",
                                                   5.5,
                                                   10,
                                                   5.0,
                                                   0,
                                                   3,
                                                   0,
                                                   true,
                                                   true,
                                                   14},
                                            Family{BoardForm::Tiny8,
                                                   "ATtiny85 chip, 8 MHz, 5 V",
                                                   Mcu::Attiny85,
                                                   8e6,
                                                   5.0,
                                                   0.020,
                                                   0.060,
                                                   0.006,
                                                   2.7,
                                                   2.7,
                                                   1,
                                                   8192,
                                                   512,
                                                   pinsOfAttiny85(),
                                                   "VCC pin",
                                                   5.5,
                                                   10,
                                                   5.0,
                                                   0,
                                                   1,
                                                   0,
                                                   true,
                                                   true,
                                                   3},
                                            Family{BoardForm::Rp2040,
                                                   "RP2040 board, 125 MHz, 3.3 V",
                                                   Mcu::Rp2040,
                                                   125e6,
                                                   3.3,
                                                   0.012,
                                                   0.050,
                                                   0.030,
                                                   1.8,
                                                   1.8,
                                                   8,
                                                   2093056,
                                                   270336,
                                                   pinsOfRp2040(),
                                                   "VSYS pin",
                                                   5.5,
                                                   12,
                                                   3.3,
                                                   -1,
                                                   -1,
                                                   0,
                                                   true,
                                                   false,
                                                   16,
                                                   true},
                                            Family{BoardForm::Esp32,
                                                   "ESP32 board, 240 MHz, 3.3 V",
                                                   Mcu::Esp32,
                                                   80e6,
                                                   3.3,
                                                   0.020,
                                                   0.600,
                                                   0.080,
                                                   4.1,
                                                   3.5,
                                                   3,
                                                   1310720,
                                                   327680,
                                                   pinsOfEsp32(),
                                                   "5 V pin",
                                                   5.5,
                                                   12,
                                                   1.1,
                                                   -1,
                                                   -1,
                                                   8,
                                                   true,
                                                   false,
                                                   13,
                                                   true},
                                            Family{BoardForm::Header,
                                                   "single-board computer's header, 3.3 V",
                                                   Mcu::Rp2040,
                                                   19.2e6,
                                                   3.3,
                                                   0.008,
                                                   0.050,
                                                   0.600,
                                                   4.75,
                                                   4.63,
                                                   8,
                                                   0,
                                                   0,
                                                   pinsOfHeader(),
                                                   "5 V pin",
                                                   5.25,
                                                   0,
                                                   3.3,
                                                   -1,
                                                   -1,
                                                   0,
                                                   false,
                                                   false,
                                                   13,
                                                   true}};
    return list;
}

}  // namespace

const Family& family(BoardForm form) {
    return families().at(static_cast<std::size_t>(form));
}

std::optional<Pin> pinNamed(const Family& of_family, std::string_view name) {
    const auto found = std::find_if(of_family.pins.begin(), of_family.pins.end(), [&](const Pin& pin) { return pin.name == name; });
    if (found == of_family.pins.end()) return std::nullopt;
    return *found;
}

std::vector<std::pair<std::string_view, std::string_view>> busPins(const Family& family) {
    switch (family.form) {
        case BoardForm::Uno16:
        case BoardForm::Mini8: return {{"data", "A4"}, {"clock", "A5"}};
        case BoardForm::Mega16: return {{"data", "D20"}, {"clock", "D21"}};
        case BoardForm::Native16: return {{"data", "D2"}, {"clock", "D3"}};
        default: return {};
    }
}

std::string_view timerServes(const Family& family, int timer) {
    return timer >= 0 && timer == family.clock_timer ? "the sketch's clock: micros(), millis()" : "";
}

std::optional<double> clockTimerFrequency(const Family& family) {
    if (family.clock_timer < 0) return std::nullopt;
    return family.clock / (64.0 * 256.0);
}

Result<Worked<timing::PwmTimerResult>> pwmOf(const Family& family, const Pin& pin, Frequency frequency) {
    if (pin.pwm_timer < 0) return fail(ErrorCode::OutOfRange, "pin", std::string{pin.name}, "a pin with PWM");
    if (family.form == BoardForm::Header) {
        const double counts = std::round(family.clock / si(frequency));
        if (!(counts >= 16.0 && counts <= 4294967295.0))
            return fail(ErrorCode::OutOfRange, "frequency", displayPlain(frequency), "5 mHz to 1.2 MHz on this header");
        Worked<timing::PwmTimerResult> out;
        auto& r = out.result;
        r.timer = of<Count>(pin.pwm_timer);
        r.prescaler = of<Ratio>(1.0);
        r.top = of<Count>(counts - 1.0);
        r.actual_frequency = of<Frequency>(family.clock / counts);
        r.frequency_error = of<Fraction>(family.clock / counts / si(frequency) - 1.0);
        r.resolution_bits = of<Ratio>(std::log2(counts));
        r.steps = of<Count>(counts);
        addStep(out.steps, "f", "real frequency", "{osc}/{n}", {{"osc", family.clock}, {"n", counts}}, r.actual_frequency, "sbc-header");
        return out;
    }
    timing::PwmTimer in;
    in.mcu = family.mcu;
    in.clock = of<Frequency>(family.clock);
    in.frequency = frequency;
    if (pin.pwm_timer != pooled_timer) in.timer = of<Count>(pin.pwm_timer);
    if (pin.pwm_timer == family.clock_timer) in.mode = timing::PwmMode::Fast;
    return timing::pwmTimer(in);
}

std::optional<double> servoPwm(const Family& family) {
    if (family.form == BoardForm::Rp2040 || family.form == BoardForm::Esp32) return servo_rate;
    return std::nullopt;
}

int untimed(const Family& family) {
    if (family.form == BoardForm::Native16) return 4;
    if (family.form == BoardForm::Tiny8) return 1;
    return -1;
}

std::optional<int> converterChannel(const Family& family, const Pin& pin) {
    if (!pin.analog) return std::nullopt;
    using Row = std::pair<std::string_view, int>;
    static constexpr std::array native{Row{"A0", 7}, Row{"A1", 6},  Row{"A2", 5},  Row{"A3", 4},  Row{"A4", 1},   Row{"A5", 0},
                                       Row{"D4", 8}, Row{"D6", 10}, Row{"D8", 11}, Row{"D9", 12}, Row{"D10", 13}, Row{"D12", 9}};
    static constexpr std::array tiny{Row{"PB5", 0}, Row{"PB2", 1}, Row{"PB4", 2}, Row{"PB3", 3}};
    const auto in = [&](const auto& rows) -> std::optional<int> {
        for (const auto& [name, channel] : rows)
            if (name == pin.name) return channel;
        return std::nullopt;
    };
    if (family.form == BoardForm::Native16) return in(native);
    if (family.form == BoardForm::Tiny8) return in(tiny);
    if (family.form == BoardForm::Rp2040) return pin.number - 26;
    if (pin.name.front() == 'A') return std::atoi(std::string{pin.name.substr(1)}.c_str());
    return std::nullopt;
}

bool hasLink(const Family& family) {
    return family.form != BoardForm::Tiny8;
}

std::string timerName(const Family& family, int timer) {
    if (timer == pooled_timer) return "any of its timers";
    return fmt::format("{} {}",
                       family.form == BoardForm::Rp2040   ? "slice"
                       : family.form == BoardForm::Header ? "PWM channel"
                                                          : "timer",
                       timer);
}

}  // namespace hinge::board
