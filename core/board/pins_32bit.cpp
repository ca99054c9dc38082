#include <array>
#include "board/pin_tables.hpp"

// Which port, timer output, interrupt and analogue channel stands behind each printed name.
// @source rp2040-datasheet, esp32-trm, sbc-header (from memory)
namespace hinge::board {
namespace {

constexpr std::array rp2040{Pin{"GP0", '0', 0, 0, 'A', true, false, "serial out", 0},
                            Pin{"GP1", '0', 1, 0, 'B', true, false, "serial in", 1},
                            Pin{"GP2", '0', 2, 1, 'A', true, false, "", 2},
                            Pin{"GP3", '0', 3, 1, 'B', true, false, "", 3},
                            Pin{"GP4", '0', 4, 2, 'A', true, false, "I²C data", 4},
                            Pin{"GP5", '0', 5, 2, 'B', true, false, "I²C clock", 5},
                            Pin{"GP6", '0', 6, 3, 'A', true, false, "", 6},
                            Pin{"GP7", '0', 7, 3, 'B', true, false, "", 7},
                            Pin{"GP8", '0', 8, 4, 'A', true, false, "", 8},
                            Pin{"GP9", '0', 9, 4, 'B', true, false, "", 9},
                            Pin{"GP10", '0', 10, 5, 'A', true, false, "", 10},
                            Pin{"GP11", '0', 11, 5, 'B', true, false, "", 11},
                            Pin{"GP12", '0', 12, 6, 'A', true, false, "", 12},
                            Pin{"GP13", '0', 13, 6, 'B', true, false, "", 13},
                            Pin{"GP14", '0', 14, 7, 'A', true, false, "", 14},
                            Pin{"GP15", '0', 15, 7, 'B', true, false, "", 15},
                            Pin{"GP16", '0', 16, 0, 'A', true, false, "SPI in", 16},
                            Pin{"GP17", '0', 17, 0, 'B', true, false, "SPI select", 17},
                            Pin{"GP18", '0', 18, 1, 'A', true, false, "SPI clock", 18},
                            Pin{"GP19", '0', 19, 1, 'B', true, false, "SPI out", 19},
                            Pin{"GP20", '0', 20, 2, 'A', true, false, "", 20},
                            Pin{"GP21", '0', 21, 2, 'B', true, false, "", 21},
                            Pin{"GP22", '0', 22, 3, 'A', true, false, "", 22},
                            Pin{"GP26", '0', 26, 5, 'A', true, true, "", 26},
                            Pin{"GP27", '0', 27, 5, 'B', true, true, "", 27},
                            Pin{"GP28", '0', 28, 6, 'A', true, true, "", 28}};
constexpr std::array esp32{Pin{"IO36", '0', 36, -1, ' ', true, true, "input only, no pull-up", 36, false, true},
                           Pin{"IO39", '0', 39, -1, ' ', true, true, "input only, no pull-up", 39, false, true},
                           Pin{"IO34", '0', 34, -1, ' ', true, true, "input only, no pull-up", 34, false, true},
                           Pin{"IO35", '0', 35, -1, ' ', true, true, "input only, no pull-up", 35, false, true},
                           Pin{"IO32", '0', 32, 100, '*', true, true, "", 32},
                           Pin{"IO33", '0', 33, 100, '*', true, true, "", 33},
                           Pin{"IO25", '0', 25, 100, '*', true, false, "", 25},
                           Pin{"IO26", '0', 26, 100, '*', true, false, "", 26},
                           Pin{"IO27", '0', 27, 100, '*', true, false, "", 27},
                           Pin{"IO14", '0', 14, 100, '*', true, false, "", 14},
                           Pin{"IO12", '0', 12, 100, '*', true, false, "strap: low at reset", 12, false, false, true},
                           Pin{"IO13", '0', 13, 100, '*', true, false, "", 13},
                           Pin{"IO15", '0', 15, 100, '*', true, false, "strap: high at reset", 15, false, false, true},
                           Pin{"IO2", '0', 2, 100, '*', true, false, "strap: low at reset, LED", 2, false, false, true},
                           Pin{"IO0", '0', 0, 100, '*', true, false, "strap: high at reset", 0, false, false, true},
                           Pin{"IO4", '0', 4, 100, '*', true, false, "", 4},
                           Pin{"IO16", '0', 16, 100, '*', true, false, "", 16},
                           Pin{"IO17", '0', 17, 100, '*', true, false, "", 17},
                           Pin{"IO5", '0', 5, 100, '*', true, false, "strap: high at reset", 5, false, false, true},
                           Pin{"IO18", '0', 18, 100, '*', true, false, "SPI clock", 18},
                           Pin{"IO19", '0', 19, 100, '*', true, false, "SPI in", 19},
                           Pin{"IO21", '0', 21, 100, '*', true, false, "I²C data", 21},
                           Pin{"IO3", '0', 3, 100, '*', true, false, "serial in", 3, true},
                           Pin{"IO1", '0', 1, 100, '*', true, false, "serial out", 1, true},
                           Pin{"IO22", '0', 22, 100, '*', true, false, "I²C clock", 22},
                           Pin{"IO23", '0', 23, 100, '*', true, false, "SPI out", 23}};
constexpr std::array header{Pin{"GPIO2", '0', 2, -1, ' ', true, false, "I²C data, 1.8 kΩ up", 2},
                            Pin{"GPIO3", '0', 3, -1, ' ', true, false, "I²C clock, 1.8 kΩ up", 3},
                            Pin{"GPIO4", '0', 4, -1, ' ', true, false, "", 4},
                            Pin{"GPIO14", '0', 14, -1, ' ', true, false, "serial out", 14, true},
                            Pin{"GPIO15", '0', 15, -1, ' ', true, false, "serial in", 15, true},
                            Pin{"GPIO17", '0', 17, -1, ' ', true, false, "", 17},
                            Pin{"GPIO18", '0', 18, 0, 'A', true, false, "", 18},
                            Pin{"GPIO27", '0', 27, -1, ' ', true, false, "", 27},
                            Pin{"GPIO22", '0', 22, -1, ' ', true, false, "", 22},
                            Pin{"GPIO23", '0', 23, -1, ' ', true, false, "", 23},
                            Pin{"GPIO24", '0', 24, -1, ' ', true, false, "", 24},
                            Pin{"GPIO10", '0', 10, -1, ' ', true, false, "SPI out", 10},
                            Pin{"GPIO9", '0', 9, -1, ' ', true, false, "SPI in", 9},
                            Pin{"GPIO25", '0', 25, -1, ' ', true, false, "", 25},
                            Pin{"GPIO11", '0', 11, -1, ' ', true, false, "SPI clock", 11},
                            Pin{"GPIO8", '0', 8, -1, ' ', true, false, "SPI select 0", 8},
                            Pin{"GPIO7", '0', 7, -1, ' ', true, false, "SPI select 1", 7},
                            Pin{"GPIO5", '0', 5, -1, ' ', true, false, "", 5},
                            Pin{"GPIO6", '0', 6, -1, ' ', true, false, "", 6},
                            Pin{"GPIO12", '0', 12, 0, 'A', true, false, "", 12},
                            Pin{"GPIO13", '0', 13, 1, 'A', true, false, "", 13},
                            Pin{"GPIO19", '0', 19, 1, 'A', true, false, "", 19},
                            Pin{"GPIO16", '0', 16, -1, ' ', true, false, "", 16},
                            Pin{"GPIO26", '0', 26, -1, ' ', true, false, "", 26},
                            Pin{"GPIO20", '0', 20, -1, ' ', true, false, "", 20},
                            Pin{"GPIO21", '0', 21, -1, ' ', true, false, "", 21}};

}  // namespace

std::span<const Pin> pinsOfRp2040() {
    return rp2040;
}
std::span<const Pin> pinsOfEsp32() {
    return esp32;
}
std::span<const Pin> pinsOfHeader() {
    return header;
}

}  // namespace hinge::board
