// The timer model against the data sheet's formulas: small sketches set the registers, the pin's
// edges are measured.
#include "emulator/build.hpp"
#include "emulator/chip.hpp"
#include "emulator/pin_bus.hpp"
#include <array>
#include <cmath>
#include <gtest/gtest.h>

namespace hinge {
namespace {

struct Case {
    const char* name;
    const char* setup;       // register lines
    char port;
    int bit;
    double period;           // clock cycles, by the data sheet's formula
    double high;             // clock cycles
    const char* source;
};
// ATmega328P data sheet, chapters 15 to 18: fast N·(TOP+1), high N·(OCR+1); phase-correct 2·N·TOP, high 2·N·OCR.
const Case cases[] = {
    {"Timer0Fast", "TCCR0A=_BV(COM0B1)|_BV(WGM01)|_BV(WGM00); TCCR0B=_BV(CS01)|_BV(CS00); OCR0B=99;", 'D', 5, 64 * 256, 64 * 100, "fast, TOP 255"},
    {"Timer0Phase", "TCCR0A=_BV(COM0A1)|_BV(WGM00); TCCR0B=_BV(CS01); OCR0A=64;", 'D', 6, 8 * 510, 8 * 128, "phase-correct, TOP 255"},
    {"Timer0PhaseOwnTop", "TCCR0A=_BV(COM0B1)|_BV(WGM00); TCCR0B=_BV(WGM02)|_BV(CS01); OCR0A=100; OCR0B=25;", 'D', 5, 8 * 200, 8 * 50, "phase-correct, TOP OCR0A"},
    {"Timer1Fan", "TCCR1A=_BV(COM1A1)|_BV(WGM11); TCCR1B=_BV(WGM13)|_BV(CS10); ICR1=320; OCR1A=80;", 'B', 1, 2 * 320, 160, "phase-correct, TOP ICR1: 25 kHz"},
    {"Timer1Fast", "TCCR1A=_BV(COM1B1)|_BV(WGM11); TCCR1B=_BV(WGM13)|_BV(WGM12)|_BV(CS11); ICR1=1999; OCR1B=499;", 'B', 2, 8 * 2000, 8 * 500, "fast, TOP ICR1: 1 kHz"},
    {"Timer1Phase8", "TCCR1A=_BV(COM1A1)|_BV(WGM10); TCCR1B=_BV(CS11); OCR1A=128;", 'B', 1, 8 * 510, 8 * 256, "phase-correct, 8 bits"},
    {"Timer2Fast", "TCCR2A=_BV(COM2B1)|_BV(WGM21)|_BV(WGM20); TCCR2B=_BV(WGM22)|_BV(CS21); OCR2A=199; OCR2B=49;", 'D', 3, 8 * 200, 8 * 50, "fast, TOP OCR2A: 10 kHz"},
    {"Timer2Phase", "TCCR2A=_BV(COM2A1)|_BV(WGM20); TCCR2B=_BV(CS20); OCR2A=200;", 'B', 3, 510, 400, "phase-correct, TOP 255: 31.4 kHz"},
};

class Timers : public testing::TestWithParam<Case> {};

TEST_P(Timers, edgesFollowTheDataSheet) {
    if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    const Case& c = GetParam();
    firmware::Sketch sketch;
    sketch.name = "timer_test";
    sketch.text = "#include <Arduino.h>\nvoid setup() { DDRB = 0x0e; DDRD = 0x68; " + std::string{c.setup} + " }\nvoid loop() {}\n";
    const auto built = emulator::build(sketch, board::family(board::BoardForm::Uno16), emulator::usualCache());
    ASSERT_TRUE(built) << sentence(built.error());
    ASSERT_TRUE(built->ok) << built->log;
    auto chip = emulator::Chip::load(built->elf, "atmega328p", 16'000'000);
    ASSERT_TRUE(chip) << sentence(chip.error());
    std::vector<std::uint64_t> rises, falls;
    (*chip)->pins().on_edge = [&](char port, int bit, bool level, std::uint64_t cycle) {
        if (port == c.port && bit == c.bit) (level ? rises : falls).push_back(cycle);
    };
    (*chip)->runTo(16'000'000 / 50);
    ASSERT_GT(rises.size(), 6U) << c.source;
    // The first pulse may be cut by the set-up; from the third on every period is exact.
    for (std::size_t i = 3; i < rises.size(); ++i) ASSERT_EQ(rises[i] - rises[i - 1], static_cast<std::uint64_t>(c.period)) << c.source << ", pulse " << i;
    const auto fall = std::upper_bound(falls.begin(), falls.end(), rises[3]);
    ASSERT_NE(fall, falls.end());
    EXPECT_EQ(*fall - rises[3], static_cast<std::uint64_t>(c.high)) << c.source;
}
INSTANTIATE_TEST_SUITE_P(DataSheet, Timers, testing::ValuesIn(cases), [](const auto& row) { return std::string{row.param.name}; });

}  // namespace
}  // namespace hinge
