#include <array>
#include "board/pin_tables.hpp"

// Which port, timer output, interrupt and analogue channel stands behind each printed name.
// @source atmega328p-datasheet, atmega2560-datasheet, atmega32u4-datasheet, attiny85-datasheet (from memory; tests hold them against the
// sketch API's own tables)
namespace hinge::board {
namespace {

constexpr std::array atmega328p{Pin{"D0", 'D', 0, -1, ' ', false, false, "serial in", 0, true},
                                Pin{"D1", 'D', 1, -1, ' ', false, false, "serial out", 1, true},
                                Pin{"D2", 'D', 2, -1, ' ', true, false, "", 2},
                                Pin{"D3", 'D', 3, 2, 'B', true, false, "", 3},
                                Pin{"D4", 'D', 4, -1, ' ', false, false, "", 4},
                                Pin{"D5", 'D', 5, 0, 'B', false, false, "", 5},
                                Pin{"D6", 'D', 6, 0, 'A', false, false, "", 6},
                                Pin{"D7", 'D', 7, -1, ' ', false, false, "", 7},
                                Pin{"D8", 'B', 0, -1, ' ', false, false, "", 8},
                                Pin{"D9", 'B', 1, 1, 'A', false, false, "", 9},
                                Pin{"D10", 'B', 2, 1, 'B', false, false, "SPI select", 10},
                                Pin{"D11", 'B', 3, 2, 'A', false, false, "SPI out", 11},
                                Pin{"D12", 'B', 4, -1, ' ', false, false, "SPI in", 12},
                                Pin{"D13", 'B', 5, -1, ' ', false, false, "SPI clock, LED", 13},
                                Pin{"A0", 'C', 0, -1, ' ', false, true, "", 14},
                                Pin{"A1", 'C', 1, -1, ' ', false, true, "", 15},
                                Pin{"A2", 'C', 2, -1, ' ', false, true, "", 16},
                                Pin{"A3", 'C', 3, -1, ' ', false, true, "", 17},
                                Pin{"A4", 'C', 4, -1, ' ', false, true, "I²C data", 18},
                                Pin{"A5", 'C', 5, -1, ' ', false, true, "I²C clock", 19}};
constexpr std::array atmega2560{Pin{"D0", 'E', 0, -1, ' ', false, false, "serial in", 0, true},
                                Pin{"D1", 'E', 1, -1, ' ', false, false, "serial out", 1, true},
                                Pin{"D2", 'E', 4, 3, 'B', true, false, "", 2},
                                Pin{"D3", 'E', 5, 3, 'C', true, false, "", 3},
                                Pin{"D4", 'G', 5, 0, 'B', false, false, "", 4},
                                Pin{"D5", 'E', 3, 3, 'A', false, false, "", 5},
                                Pin{"D6", 'H', 3, 4, 'A', false, false, "", 6},
                                Pin{"D7", 'H', 4, 4, 'B', false, false, "", 7},
                                Pin{"D8", 'H', 5, 4, 'C', false, false, "", 8},
                                Pin{"D9", 'H', 6, 2, 'B', false, false, "", 9},
                                Pin{"D10", 'B', 4, 2, 'A', false, false, "", 10},
                                Pin{"D11", 'B', 5, 1, 'A', false, false, "", 11},
                                Pin{"D12", 'B', 6, 1, 'B', false, false, "", 12},
                                Pin{"D13", 'B', 7, 0, 'A', false, false, "LED", 13},
                                Pin{"D14", 'J', 1, -1, ' ', false, false, "serial 3 out", 14},
                                Pin{"D15", 'J', 0, -1, ' ', false, false, "serial 3 in", 15},
                                Pin{"D16", 'H', 1, -1, ' ', false, false, "serial 2 out", 16},
                                Pin{"D17", 'H', 0, -1, ' ', false, false, "serial 2 in", 17},
                                Pin{"D18", 'D', 3, -1, ' ', true, false, "serial 1 out", 18},
                                Pin{"D19", 'D', 2, -1, ' ', true, false, "serial 1 in", 19},
                                Pin{"D20", 'D', 1, -1, ' ', true, false, "I²C data", 20},
                                Pin{"D21", 'D', 0, -1, ' ', true, false, "I²C clock", 21},
                                Pin{"D22", 'A', 0, -1, ' ', false, false, "", 22},
                                Pin{"D23", 'A', 1, -1, ' ', false, false, "", 23},
                                Pin{"D24", 'A', 2, -1, ' ', false, false, "", 24},
                                Pin{"D25", 'A', 3, -1, ' ', false, false, "", 25},
                                Pin{"D26", 'A', 4, -1, ' ', false, false, "", 26},
                                Pin{"D27", 'A', 5, -1, ' ', false, false, "", 27},
                                Pin{"D28", 'A', 6, -1, ' ', false, false, "", 28},
                                Pin{"D29", 'A', 7, -1, ' ', false, false, "", 29},
                                Pin{"D30", 'C', 7, -1, ' ', false, false, "", 30},
                                Pin{"D31", 'C', 6, -1, ' ', false, false, "", 31},
                                Pin{"D32", 'C', 5, -1, ' ', false, false, "", 32},
                                Pin{"D33", 'C', 4, -1, ' ', false, false, "", 33},
                                Pin{"D34", 'C', 3, -1, ' ', false, false, "", 34},
                                Pin{"D35", 'C', 2, -1, ' ', false, false, "", 35},
                                Pin{"D36", 'C', 1, -1, ' ', false, false, "", 36},
                                Pin{"D37", 'C', 0, -1, ' ', false, false, "", 37},
                                Pin{"D38", 'D', 7, -1, ' ', false, false, "", 38},
                                Pin{"D39", 'G', 2, -1, ' ', false, false, "", 39},
                                Pin{"D40", 'G', 1, -1, ' ', false, false, "", 40},
                                Pin{"D41", 'G', 0, -1, ' ', false, false, "", 41},
                                Pin{"D42", 'L', 7, -1, ' ', false, false, "", 42},
                                Pin{"D43", 'L', 6, -1, ' ', false, false, "", 43},
                                Pin{"D44", 'L', 5, 5, 'C', false, false, "", 44},
                                Pin{"D45", 'L', 4, 5, 'B', false, false, "", 45},
                                Pin{"D46", 'L', 3, 5, 'A', false, false, "", 46},
                                Pin{"D47", 'L', 2, -1, ' ', false, false, "", 47},
                                Pin{"D48", 'L', 1, -1, ' ', false, false, "", 48},
                                Pin{"D49", 'L', 0, -1, ' ', false, false, "", 49},
                                Pin{"D50", 'B', 3, -1, ' ', false, false, "SPI in", 50},
                                Pin{"D51", 'B', 2, -1, ' ', false, false, "SPI out", 51},
                                Pin{"D52", 'B', 1, -1, ' ', false, false, "SPI clock", 52},
                                Pin{"D53", 'B', 0, -1, ' ', false, false, "SPI select", 53},
                                Pin{"A0", 'F', 0, -1, ' ', false, true, "", 54},
                                Pin{"A1", 'F', 1, -1, ' ', false, true, "", 55},
                                Pin{"A2", 'F', 2, -1, ' ', false, true, "", 56},
                                Pin{"A3", 'F', 3, -1, ' ', false, true, "", 57},
                                Pin{"A4", 'F', 4, -1, ' ', false, true, "", 58},
                                Pin{"A5", 'F', 5, -1, ' ', false, true, "", 59},
                                Pin{"A6", 'F', 6, -1, ' ', false, true, "", 60},
                                Pin{"A7", 'F', 7, -1, ' ', false, true, "", 61},
                                Pin{"A8", 'K', 0, -1, ' ', false, true, "", 62},
                                Pin{"A9", 'K', 1, -1, ' ', false, true, "", 63},
                                Pin{"A10", 'K', 2, -1, ' ', false, true, "", 64},
                                Pin{"A11", 'K', 3, -1, ' ', false, true, "", 65},
                                Pin{"A12", 'K', 4, -1, ' ', false, true, "", 66},
                                Pin{"A13", 'K', 5, -1, ' ', false, true, "", 67},
                                Pin{"A14", 'K', 6, -1, ' ', false, true, "", 68},
                                Pin{"A15", 'K', 7, -1, ' ', false, true, "", 69}};
constexpr std::array atmega32u4{Pin{"D0", 'D', 2, -1, ' ', true, false, "serial 1 in", 0},
                                Pin{"D1", 'D', 3, -1, ' ', true, false, "serial 1 out", 1},
                                Pin{"D2", 'D', 1, -1, ' ', true, false, "I²C data", 2},
                                Pin{"D3", 'D', 0, 0, 'B', true, false, "I²C clock", 3},
                                Pin{"D4", 'D', 4, -1, ' ', false, true, "", 4},
                                Pin{"D5", 'C', 6, 3, 'A', false, false, "", 5},
                                Pin{"D6", 'D', 7, 4, 'D', false, true, "", 6},
                                Pin{"D7", 'E', 6, -1, ' ', true, false, "", 7},
                                Pin{"D8", 'B', 4, -1, ' ', false, true, "", 8},
                                Pin{"D9", 'B', 5, 1, 'A', false, true, "", 9},
                                Pin{"D10", 'B', 6, 1, 'B', false, true, "", 10},
                                Pin{"D11", 'B', 7, 0, 'A', false, false, "", 11},
                                Pin{"D12", 'D', 6, -1, ' ', false, true, "", 12},
                                Pin{"D13", 'C', 7, 4, 'A', false, false, "LED", 13},
                                Pin{"A0", 'F', 7, -1, ' ', false, true, "", 18},
                                Pin{"A1", 'F', 6, -1, ' ', false, true, "", 19},
                                Pin{"A2", 'F', 5, -1, ' ', false, true, "", 20},
                                Pin{"A3", 'F', 4, -1, ' ', false, true, "", 21},
                                Pin{"A4", 'F', 1, -1, ' ', false, true, "", 22},
                                Pin{"A5", 'F', 0, -1, ' ', false, true, "", 23}};
constexpr std::array attiny85{Pin{"PB0", 'B', 0, 0, 'A', false, false, "SPI in, programming", 0},
                              Pin{"PB1", 'B', 1, 0, 'B', false, false, "SPI out, programming", 1},
                              Pin{"PB2", 'B', 2, -1, ' ', true, true, "SPI clock, programming", 2},
                              Pin{"PB3", 'B', 3, -1, ' ', false, true, "", 3},
                              Pin{"PB4", 'B', 4, 1, 'B', false, true, "", 4},
                              Pin{"PB5", 'B', 5, -1, ' ', false, true, "reset: as a pin it can no longer be programmed", 5, true}};

}  // namespace

std::span<const Pin> pinsOfAtmega328p() {
    return atmega328p;
}
std::span<const Pin> pinsOfAtmega2560() {
    return atmega2560;
}
std::span<const Pin> pinsOfAtmega32u4() {
    return atmega32u4;
}
std::span<const Pin> pinsOfAttiny85() {
    return attiny85;
}

}  // namespace hinge::board
