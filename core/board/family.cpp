#include "board/family.hpp"
#include <algorithm>
#include <array>

namespace hinge::board {
namespace {

constexpr std::array pins328{
    Pin{"D0", 'D', 0, -1, ' ', false, false, "serial in", 0}, Pin{"D1", 'D', 1, -1, ' ', false, false, "serial out", 1},
    Pin{"D2", 'D', 2, -1, ' ', true, false, "", 2},           Pin{"D3", 'D', 3, 2, 'B', true, false, "", 3},
    Pin{"D4", 'D', 4, -1, ' ', false, false, "", 4},          Pin{"D5", 'D', 5, 0, 'B', false, false, "", 5},
    Pin{"D6", 'D', 6, 0, 'A', false, false, "", 6},           Pin{"D7", 'D', 7, -1, ' ', false, false, "", 7},
    Pin{"D8", 'B', 0, -1, ' ', false, false, "", 8},          Pin{"D9", 'B', 1, 1, 'A', false, false, "", 9},
    Pin{"D10", 'B', 2, 1, 'B', false, false, "SPI select", 10}, Pin{"D11", 'B', 3, 2, 'A', false, false, "SPI out", 11},
    Pin{"D12", 'B', 4, -1, ' ', false, false, "SPI in", 12},  Pin{"D13", 'B', 5, -1, ' ', false, false, "SPI clock, LED", 13},
    Pin{"A0", 'C', 0, -1, ' ', false, true, "", 14},          Pin{"A1", 'C', 1, -1, ' ', false, true, "", 15},
    Pin{"A2", 'C', 2, -1, ' ', false, true, "", 16},          Pin{"A3", 'C', 3, -1, ' ', false, true, "", 17},
    Pin{"A4", 'C', 4, -1, ' ', false, true, "I²C data", 18},  Pin{"A5", 'C', 5, -1, ' ', false, true, "I²C clock", 19}};

// Speed grades: 2.7 V to 10 MHz, rising straight to 4.5 V at 20 MHz: 3.78 V at 16 MHz.
constexpr std::array families{
    Family{BoardForm::Uno16, "ATmega328P board, 16 MHz, 5 V", timing::Mcu::Atmega328p, 16e6, 5.0, 0.020, 0.200, 0.045, 3.78, 2.7, 3, 32256, 2048, pins328},
    Family{BoardForm::Mini8, "ATmega328P board, 8 MHz, 3.3 V", timing::Mcu::Atmega328p, 8e6, 3.3, 0.020, 0.200, 0.012, 2.7, 2.7, 2, 30720, 2048, pins328}};

}  // namespace

const Family& family(BoardForm form) { return families.at(static_cast<std::size_t>(form)); }

std::optional<Pin> pinNamed(const Family& of_family, std::string_view name) {
    const auto found = std::find_if(of_family.pins.begin(), of_family.pins.end(), [&](const Pin& pin) { return pin.name == name; });
    if (found == of_family.pins.end()) return std::nullopt;
    return *found;
}

std::string_view timerServes(int timer) { return timer == 0 ? "the sketch's clock: micros(), millis()" : ""; }

}  // namespace hinge::board
