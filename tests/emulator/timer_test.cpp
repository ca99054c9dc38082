// The timer model against the data sheet's formulas: small sketches set the registers, the pin's
// edges are measured.
#include <gtest/gtest.h>
#include <array>
#include <cmath>
#include "emulator/build.hpp"
#include "emulator/chip.hpp"
#include "emulator/pin_bus.hpp"

namespace hinge {
namespace {

struct TimerCase {
    const char* name;
    const char* setup;  // register lines
    char port;
    int bit;
    double period;  // clock cycles, by the data sheet's formula
    double high;    // clock cycles
    const char* source;
    board::BoardForm form = board::BoardForm::Uno16;
};
constexpr auto mega = board::BoardForm::Mega16;
// ATmega328P data sheet, chapters 15 to 18: fast N·(TOP+1), high N·(OCR+1); phase-correct 2·N·TOP, high 2·N·OCR.
const TimerCase cases[] = {
    {"Timer0Fast", "TCCR0A=_BV(COM0B1)|_BV(WGM01)|_BV(WGM00); TCCR0B=_BV(CS01)|_BV(CS00); OCR0B=99;", 'D', 5, 64 * 256, 64 * 100,
     "fast, TOP 255"},
    {"Timer0Phase", "TCCR0A=_BV(COM0A1)|_BV(WGM00); TCCR0B=_BV(CS01); OCR0A=64;", 'D', 6, 8 * 510, 8 * 128, "phase-correct, TOP 255"},
    {"Timer0PhaseOwnTop", "TCCR0A=_BV(COM0B1)|_BV(WGM00); TCCR0B=_BV(WGM02)|_BV(CS01); OCR0A=100; OCR0B=25;", 'D', 5, 8 * 200, 8 * 50,
     "phase-correct, TOP OCR0A"},
    {"Timer1Fan", "TCCR1A=_BV(COM1A1)|_BV(WGM11); TCCR1B=_BV(WGM13)|_BV(CS10); ICR1=320; OCR1A=80;", 'B', 1, 2 * 320, 160,
     "phase-correct, TOP ICR1: 25 kHz"},
    {"Timer1Fast", "TCCR1A=_BV(COM1B1)|_BV(WGM11); TCCR1B=_BV(WGM13)|_BV(WGM12)|_BV(CS11); ICR1=1999; OCR1B=499;", 'B', 2, 8 * 2000,
     8 * 500, "fast, TOP ICR1: 1 kHz"},
    {"Timer1Phase8", "TCCR1A=_BV(COM1A1)|_BV(WGM10); TCCR1B=_BV(CS11); OCR1A=128;", 'B', 1, 8 * 510, 8 * 256, "phase-correct, 8 bits"},
    {"Timer2Fast", "TCCR2A=_BV(COM2B1)|_BV(WGM21)|_BV(WGM20); TCCR2B=_BV(WGM22)|_BV(CS21); OCR2A=199; OCR2B=49;", 'D', 3, 8 * 200, 8 * 50,
     "fast, TOP OCR2A: 10 kHz"},
    {"Timer2Phase", "TCCR2A=_BV(COM2A1)|_BV(WGM20); TCCR2B=_BV(CS20); OCR2A=200;", 'B', 3, 510, 400, "phase-correct, TOP 255: 31.4 kHz"},
    {"Timer2PhaseOwnTop", "TCCR2A=_BV(COM2B1)|_BV(WGM20); TCCR2B=_BV(WGM22)|_BV(CS21); OCR2A=160; OCR2B=40;", 'D', 3, 8 * 320, 8 * 80,
     "phase-correct, TOP OCR2A: 6.25 kHz"},
    {"Timer0FastOwnTop", "TCCR0A=_BV(COM0B1)|_BV(WGM01)|_BV(WGM00); TCCR0B=_BV(WGM02)|_BV(CS01); OCR0A=199; OCR0B=49;", 'D', 5, 8 * 200,
     8 * 50, "fast, TOP OCR0A: 10 kHz"},
    {"Timer1Fast9Bits", "TCCR1A=_BV(COM1A1)|_BV(WGM11); TCCR1B=_BV(WGM12)|_BV(CS10); OCR1A=127;", 'B', 1, 512, 128, "fast, 9 bits"},
    {"Timer1PhaseFrequency", "TCCR1A=_BV(COM1B1); TCCR1B=_BV(WGM13)|_BV(CS10); ICR1=400; OCR1B=100;", 'B', 2, 800, 200,
     "phase- and frequency-correct, TOP ICR1: 20 kHz"},
    // ATmega2560 data sheet, chapters 16 to 20: the same formulas; D13 is OC0A, D9 OC2B, D11 OC1A, D2 OC3B, D8 OC4C, D45 OC5B.
    {"MegaTimer0Fast", "DDRB=0x80; TCCR0A=_BV(COM0A1)|_BV(WGM01)|_BV(WGM00); TCCR0B=_BV(CS01)|_BV(CS00); OCR0A=99;", 'B', 7, 64 * 256,
     64 * 100, "fast, TOP 255", mega},
    {"MegaTimer1Fast", "DDRB=0x20; TCCR1A=_BV(COM1A1)|_BV(WGM11); TCCR1B=_BV(WGM13)|_BV(WGM12)|_BV(CS11); ICR1=1999; OCR1A=499;", 'B', 5,
     8 * 2000, 8 * 500, "fast, TOP ICR1: 1 kHz", mega},
    {"MegaTimer2Phase", "DDRH=0x40; TCCR2A=_BV(COM2B1)|_BV(WGM20); TCCR2B=_BV(CS20); OCR2B=200;", 'H', 6, 510, 400,
     "phase-correct, TOP 255", mega},
    {"MegaTimer3Fan", "DDRE=0x10; TCCR3A=_BV(COM3B1)|_BV(WGM31); TCCR3B=_BV(WGM33)|_BV(CS30); ICR3=320; OCR3B=80;", 'E', 4, 2 * 320, 160,
     "phase-correct, TOP ICR3: 25 kHz", mega},
    {"MegaTimer4C", "DDRH=0x20; TCCR4A=_BV(COM4C1)|_BV(WGM41); TCCR4B=_BV(WGM43)|_BV(WGM42)|_BV(CS40); ICR4=639; OCR4C=159;", 'H', 5, 640,
     160, "fast, TOP ICR4: 25 kHz", mega},
    {"MegaTimer5PhaseFrequency", "DDRL=0x10; TCCR5A=_BV(COM5B1); TCCR5B=_BV(WGM53)|_BV(CS51); ICR5=500; OCR5B=125;", 'L', 4, 8 * 1000,
     8 * 250, "phase- and frequency-correct", mega},
};

class Timers : public testing::TestWithParam<TimerCase> {};

TEST_P(Timers, edgesFollowTheDataSheet) {
    if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    const TimerCase& c = GetParam();
    firmware::Sketch sketch;
    sketch.name = "timer_test";
    sketch.text = "#include <Arduino.h>\nvoid setup() { DDRB = 0x0e; DDRD = 0x68; " + std::string{c.setup} + " }\nvoid loop() {}\n";
    const auto built = emulator::build(sketch, board::family(c.form), emulator::usualCache());
    ASSERT_TRUE(built) << sentence(built.error());
    ASSERT_TRUE(built->ok) << built->log;
    auto chip = emulator::Chip::load(built->elf, nameOf(board::family(c.form).mcu), 16'000'000);
    ASSERT_TRUE(chip) << sentence(chip.error());
    std::vector<std::uint64_t> rises, falls;
    (*chip)->pins().on_edge = [&](char port, int bit, bool level, std::uint64_t cycle) {
        if (port == c.port && bit == c.bit) (level ? rises : falls).push_back(cycle);
    };
    (*chip)->runTo(16'000'000 / 50);
    ASSERT_GT(rises.size(), 6U) << c.source;
    // The first pulse may be cut by the set-up; from the third on every period is exact.
    for (std::size_t i = 3; i < rises.size(); ++i)
        ASSERT_EQ(rises[i] - rises[i - 1], static_cast<std::uint64_t>(c.period)) << c.source << ", pulse " << i;
    const auto fall = std::upper_bound(falls.begin(), falls.end(), rises[3]);
    ASSERT_NE(fall, falls.end());
    EXPECT_EQ(*fall - rises[3], static_cast<std::uint64_t>(c.high)) << c.source;
}
INSTANTIATE_TEST_SUITE_P(DataSheet, Timers, testing::ValuesIn(cases), [](const auto& row) { return std::string{row.param.name}; });

}  // namespace
}  // namespace hinge
