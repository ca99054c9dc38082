// Servos behind a board that makes their pulses: what is sent to it, what becomes of one that does not answer, and where its wires go.
#include <gtest/gtest.h>
#include "driver/expander_rate.hpp"
#include "emulator/expander_chip.hpp"
#include "firmware/runtime/spark_drive_expander.h"
#include "plan/firmware_model.hpp"
#include "plan/pin_plan.hpp"
#include "plan/wiring.hpp"
#include "support/expanders.hpp"
#include "support/wires.hpp"

namespace hinge {
namespace {

using driver::findRegisterMap;
using emulator::ExpanderChip;
using spark::Configured;

// The desk's pins with an expander at them; a clock of a megahertz, so that a cycle is a microsecond.
ExpanderChip* chip = nullptr;
std::optional<bool> shorted;  // the data line is tied to that level
bool clock_line = true, data_line = true, pulled = false;
std::uint64_t now = 0;
int sent = 0;  // bytes on the serial line

struct Lines {
    static void tell() {
        const bool data = shorted ? *shorted : data_line && !pulled;
        pulled = chip->heard(clock_line, data);
    }
    static void clock(bool high) {
        clock_line = high;
        tell();
    }
    static void data(bool high) {
        data_line = high;
        tell();
    }
    static bool in() { return shorted ? *shorted : data_line && !pulled; }
    static void pause() {}
};
struct Serial {
    static void drive(bool high) { chip->heard(now, high); }
    static void wait(std::uint8_t us) {
        now += us;
        chip->listen(now);
    }
};
using Bus = spark::TwoWireExpander<spark::OnTwoWires<Lines, 0x40>, 6>;
using SerialBus = spark::SerialExpander<Serial, 52, 0xAA, 0x84>;

Configured configured(ExpanderChip& at) {
    chip = &at;
    clock_line = data_line = true, pulled = false;
    return Bus::configure(0x00, 0x20, 0x10, 0xFE, 121, 16);
}

// By hand, from the data sheet of such a chip (from memory): 25 MHz in 4096 counts by the prescaler and one, 50 Hz at 121, so that 1.5 ms
// are 307 counts of 4.88 µs.
TEST(TwoWireExpander, isToldItsRateAndItsPulses) {
    ExpanderChip at(*findRegisterMap("servo_expander_two_wire"), 1e6);
    EXPECT_EQ(at.period(), 0.0) << "it sleeps when its power comes";
    ASSERT_EQ(configured(at), Configured::Well);
    EXPECT_NEAR(at.period(), 4096.0 * 122.0 / 25.0, 1e-6);
    for (int k = 0; k < 16; ++k) EXPECT_EQ(at.width(k), 0.0) << "and no pulse before it is asked";
    EXPECT_TRUE(Bus::send(3, 307));
    EXPECT_TRUE(Bus::send(15, 4095));
    EXPECT_NEAR(at.width(3), 307.0 * 122.0 / 25.0, 1e-6);
    EXPECT_NEAR(at.width(3), 1500.0, 2.5);
    EXPECT_NEAR(at.width(15), 4095.0 * 122.0 / 25.0, 1e-6);
    EXPECT_EQ(at.width(4), 0.0);
    EXPECT_EQ(configured(at), Configured::Well) << "once more, as after a reset of the board alone";
    EXPECT_EQ(at.width(3), 0.0);
}
TEST(TwoWireExpander, whatDoesNotAnswerAsItShouldIsToldApart) {
    const auto tried = [](Configured what, auto spoil) {
        ExpanderChip at(*findRegisterMap("servo_expander_two_wire"), 1e6);
        shorted.reset();
        spoil(at);
        EXPECT_EQ(configured(at), what);
        for (int k = 0; k < 16; ++k) EXPECT_EQ(at.width(k), 0.0);
        shorted.reset();
    };
    tried(Configured::Silent, [](ExpanderChip& c) { c.unplug(true); });
    tried(Configured::Silent, [](ExpanderChip& c) { c.moveTo(0x41); });
    tried(Configured::Forgets, [](ExpanderChip& c) { c.forget(true); });
    tried(Configured::Silent, [](ExpanderChip&) { shorted = true; });
    tried(Configured::Forgets, [](ExpanderChip&) { shorted = false; });
}
// From memory of such boards: 0x84, the output, then the target in quarter microseconds, seven bits a byte, the lower first.
TEST(SerialExpander, saysItsTargets) {
    ExpanderChip at(*findRegisterMap("servo_expander_serial"), 1e6);
    chip = &at;
    now = 1000;
    SerialBus::begin();
    SerialBus::send(2, 6000);
    int ticks = 0;
    while (SerialBus::busy()) ++ticks, now += 500;
    EXPECT_EQ(ticks, 4) << "a byte a tick";
    at.listen(now + 1000);
    EXPECT_NEAR(at.width(2), 1500.0, 1e-6);
    EXPECT_EQ(at.width(1), 0.0);
    EXPECT_NEAR(at.period(), 20'000.0, 1e-6);
}

struct Anew : Bus {
    static bool holds() { return is(0x00, 0x20); }
    static Configured again() { return configure(0x00, 0x20, 0x10, 0xFE, 121, 16); }
};
using Lined = spark::LineExpander<spark::OnTwoWires<Lines, 0x20>, spark::LineRegisters<0x00, 0x0C, 0x12, 0x14>, 0x0204, 0x8001, 0x8001>;

// One output a tick, each in its turn; what has not changed is not sent again, and what was lost is.
struct Told {
    static std::vector<std::pair<int, int>> all;
    static bool answers;
    static bool busy() { return false; }
    static bool holds() { return answers; }
    static Configured again() { return answers ? Configured::Well : Configured::Silent; }
    static bool send(std::uint8_t output, std::uint16_t counts) {
        all.emplace_back(output, counts);
        return answers;
    }
};
std::vector<std::pair<int, int>> Told::all;
bool Told::answers = true;
TEST(Expander, sendsOneOutputATickInTurn) {
    spark::Expander<Told, 4> expander{};
    Told::all.clear();
    expander.tick();
    EXPECT_TRUE(Told::all.empty()) << "no pulse is what it begins with";
    for (std::uint16_t t = 1; t <= 40; ++t) {
        for (std::uint8_t k = 0; k < 4; ++k) expander.want(k, static_cast<std::uint16_t>(100 * k + t));
        expander.tick();
        ASSERT_EQ(Told::all.size(), t);
    }
    for (std::size_t n = 4; n < Told::all.size(); ++n) EXPECT_EQ(Told::all[n].first, (Told::all[n - 1].first + 1) % 4);
    for (int t = 0; t < 10; ++t) expander.tick();
    EXPECT_EQ(Told::all.size(), 43U) << "the three that had not had their turn";
    Told::answers = false;
    expander.want(2, 9);
    for (int t = 0; t < 100; ++t) expander.tick();
    EXPECT_EQ(expander.lost, 1);
    EXPECT_EQ(Told::all.size(), 44U) << "nothing is sent to what does not answer";
    Told::answers = true;
    for (int t = 0; t < 64 + 4; ++t) expander.tick();
    EXPECT_EQ(expander.lost, 0);
    EXPECT_EQ(Told::all.size(), 48U) << "it is set anew, and told all that is wanted";
}
// What is to stop does not wait for its turn.
TEST(Expander, whatIsToStopGoesFirst) {
    spark::Expander<Told, 16> expander{};
    Told::answers = true;
    expander.want(9, 100);
    for (int t = 0; t < 20; ++t) expander.tick();
    Told::all.clear();
    for (std::uint8_t k = 0; k < 16; ++k) expander.want(k, 500);
    expander.want(9, 0);
    expander.tick();
    ASSERT_EQ(Told::all.size(), 1U);
    EXPECT_EQ(Told::all.front(), std::make_pair(9, 0));
}
// A board that lost its supply for a moment answers, and is not as it was set: that is found within a quarter of a second.
TEST(Expander, whatLostItsSupplyIsSetAnew) {
    ExpanderChip at(*findRegisterMap("servo_expander_two_wire"), 1e6);
    ASSERT_EQ(configured(at), Configured::Well);
    spark::Expander<Anew, 16> expander{};
    expander.want(3, 307);
    for (int t = 0; t < 20; ++t) expander.tick();
    const double width = at.width(3);
    EXPECT_GT(width, 1000.0);
    at.restart();
    clock_line = data_line = true, pulled = false;
    EXPECT_EQ(at.width(3), 0.0);
    bool said = false;
    for (int t = 0; t < 256 + 64 + 20; ++t) expander.tick(), said = said || expander.lost;
    EXPECT_TRUE(said);
    EXPECT_EQ(expander.lost, 0);
    EXPECT_EQ(at.width(3), width);

    ExpanderChip lines(*findRegisterMap("io_expander_two_wire"), 1e6);
    chip = &lines;
    clock_line = data_line = true, pulled = false;
    Lined lined{};
    ASSERT_EQ(lined.configure(), Configured::Well);
    lined.want(9, true);
    for (int t = 0; t < 8; ++t) lined.tick();
    ASSERT_TRUE(lines.level(9));
    lines.restart();
    clock_line = data_line = true, pulled = false;
    EXPECT_FALSE(lines.level(9));
    for (int t = 0; t < 256 + 64 + 8; ++t) lined.tick();
    EXPECT_EQ(lined.lost, 0);
    EXPECT_TRUE(lines.level(9));
}

// Many channels, one board: its own wires are listed once, its lines planned once; each channel has an output of its own.
TEST(ExpanderPlan, isPlannedOnceAndWiredOnce) {
    const auto parts = test::shippedParts();
    for (const char* part : {"servo_expander_i2c", "servo_expander_serial"}) {
        const bool serial = std::string_view{part} == "servo_expander_serial";
        auto project = test::onExpander(part);
        project = project::duplicateChannel(project, "it");
        project.channels.back().pin = "X5";
        project.channels.back().calibration = project.channels.front().calibration;
        const auto plan = plan::evaluate(project, parts);
        for (const auto& channel : plan.channels) EXPECT_EQ(channel.not_driven, "");
        EXPECT_EQ(plan::sharedLines(plan, project).size(), serial ? 1U : 2U);
        EXPECT_FALSE(plan::beats(plan)) << "the board's own timer has no pulses to make";
        const auto wires = plan::wiring(project, parts, plan);
        const std::string it = serial ? "serial servo expander " : "I²C PWM expander ";
        EXPECT_TRUE(test::has(wires, it + "X0", "it servo plug"));
        EXPECT_TRUE(test::has(wires, it + "X5", project.channels.back().name + " servo plug"));
        EXPECT_EQ(std::count_if(wires.begin(), wires.end(), [&](const auto& wire) { return wire.to == it + "servo supply"; }), 1);
        EXPECT_EQ(test::has(wires, "board A3", it + "clock, SCL"), !serial);
        EXPECT_EQ(test::has(wires, "board A1", it + "serial in, RX"), serial);
        ASSERT_TRUE(plan::sketchOf(project, plan)) << sentence(plan::sketchOf(project, plan).error());
        // The same output twice, none, or one that it has not.
        for (const auto& [pin, finding] :
             {std::pair{"X0", "pin-taken"}, {"", "pins-open"}, {serial ? "X6" : "X16", "pin-cannot"}, {"D5", "pin-cannot"}}) {
            project.channels.back().pin = pin;
            const auto bad = plan::evaluate(project, parts);
            const auto* found = test::finding(bad, finding);
            ASSERT_NE(found, nullptr) << pin;
            ASSERT_FALSE(found->remedies.empty());
            const auto cured = project::with(project, found->remedies.front().edits);
            ASSERT_TRUE(cured);
            EXPECT_EQ(cured->channels.back().pin, "X1");
            if (*pin != '\0' && std::string_view{pin} != "X0") EXPECT_FALSE(plan::sketchOf(project, bad)) << pin;
        }
        // Its lines have pins, or there is no sketch.
        auto loose = test::onExpander(part);
        loose.board.expander_clock_pin = loose.board.expander_serial_pin = "";
        EXPECT_FALSE(plan::sketchOf(loose, plan::evaluate(loose, parts)));
        EXPECT_NE(test::finding(plan::evaluate(loose, parts), "pins-open"), nullptr);
    }
}

// By hand, from the data sheet of such a chip (from memory), whose own worked example is 200 Hz: round(25 MHz/(4096 * 200)) - 1 = 30; from
// 24 Hz at 255 to 1526 Hz at 3.
TEST(ExpanderRate, isAsItsDataSheetHasIt) {
    const auto& map = *findRegisterMap("servo_expander_two_wire");
    const auto rate = [&](double hertz) { return driver::expanderRate(map, of<Frequency>(hertz)); };
    EXPECT_EQ(rate(200.0)->result.prescale, 30);
    EXPECT_EQ(rate(50.0)->result.prescale, 121);
    EXPECT_EQ(rate(24.0)->result.prescale, 253);
    EXPECT_EQ(rate(1526.0)->result.prescale, 3);
    EXPECT_NEAR(si(rate(50.0)->result.count), 4.88e-6, 1e-8);
    EXPECT_FALSE(rate(20.0));
    EXPECT_FALSE(rate(1700.0));
    EXPECT_FALSE(rate(std::nan("")));
    const auto serial = driver::expanderRate(*findRegisterMap("servo_expander_serial"), of<Frequency>(50.0));
    ASSERT_TRUE(serial);
    EXPECT_NEAR(si(serial->result.count), 0.25e-6, 1e-12);
    EXPECT_FALSE(driver::expanderRate(*findRegisterMap("servo_expander_serial"), of<Frequency>(1000.0)));
}

// A bit above the counts is on for good, and another, which counts for more, off (from memory of such a chip).
TEST(TwoWireExpander, isOnForGood) {
    ExpanderChip at(*findRegisterMap("servo_expander_two_wire"), 1e6);
    ASSERT_EQ(configured(at), Configured::Well);
    for (const int counts : {4095, 4096, 1, 0, 4096, 0}) {
        EXPECT_TRUE(Bus::send(7, static_cast<std::uint16_t>(counts)));
        EXPECT_NEAR(at.width(7), at.period() * counts / 4096.0, 1e-6) << counts;
    }
}

// Lines that are on or off: low before they drive, pulled up where an input hangs on them, and told all at once.
TEST(LineExpander, drivesAndReads) {
    ExpanderChip at(*findRegisterMap("io_expander_two_wire"), 1e6);
    chip = &at;
    clock_line = data_line = true, pulled = false;
    Lined lines{};
    ASSERT_EQ(lines.configure(), Configured::Well);
    EXPECT_EQ(lines.is & 0x8001, 0x8001) << "open contacts";
    for (int k = 0; k < 16; ++k) EXPECT_FALSE(at.level(k));
    lines.want(2, true), lines.want(9, true), lines.want(5, true);
    lines.tick();
    for (int k = 0; k < 16; ++k) EXPECT_EQ(at.level(k), k == 2 || k == 9) << k << ": 5 is no output of it";
    at.setLine(15, false);
    for (int t = 0; t < 4; ++t) lines.tick();
    EXPECT_EQ(lines.is & 0x8001, 0x0001);
    EXPECT_EQ(lines.is >> 9 & 1, 1) << "what it drives, it reads";
    at.unplug(true);
    for (int t = 0; t < 4; ++t) lines.tick();
    EXPECT_EQ(lines.lost, 1);
    EXPECT_EQ(lines.is, 0xFFFF) << "as with its wires cut";
    lines.want(2, false);
    lines.tick();
    at.unplug(false);
    for (int t = 0; t < 64 + 5; ++t) lines.tick();
    EXPECT_EQ(lines.lost, 0);
    EXPECT_FALSE(at.level(2));
    EXPECT_EQ(lines.is & 0x8001, 0x0001);
}
TEST(LineExpander, whatDoesNotAnswerAsItShouldIsToldApart) {
    for (const auto& [what, spoil] :
         std::vector<std::pair<Configured, void (*)(ExpanderChip&)>>{{Configured::Well, [](ExpanderChip&) {}},
                                                                     {Configured::Silent, [](ExpanderChip& c) { c.unplug(true); }},
                                                                     {Configured::Silent, [](ExpanderChip& c) { c.moveTo(0x21); }},
                                                                     {Configured::Forgets, [](ExpanderChip& c) { c.forget(true); }}}) {
        ExpanderChip at(*findRegisterMap("io_expander_two_wire"), 1e6);
        chip = &at;
        clock_line = data_line = true, pulled = false;
        spoil(at);
        Lined lines{};
        EXPECT_EQ(lines.configure(), what);
        for (int k = 0; k < 16; ++k) EXPECT_FALSE(at.level(k));
    }
}

// By hand: 6.144 V are 32768 counts, so 2.5 V 13333, which of 5 V in ten bits are 511.5. (Registers from memory of such a chip.)
TEST(AdcExpander, readsOneAfterTheOther) {
    ExpanderChip at(*findRegisterMap("adc_expander_two_wire"), 1e6);
    chip = &at;
    clock_line = data_line = true, pulled = false;
    const std::uint8_t list[] = {0, 3};
    spark::AdcExpander<spark::OnTwoWires<Lines, 0x48>, 0x00, 0x01> adc{list, 2, 0xC1E3, 12, 3, 40226};
    ASSERT_EQ(adc.configure(), Configured::Well);
    at.setVolts(0, 2.5), at.setVolts(1, 1.0), at.setVolts(3, 5.0);
    for (int t = 0; t < 12; ++t) adc.tick();
    EXPECT_NEAR(adc.of(0), 511.5, 0.5);
    EXPECT_EQ(adc.of(3), 1023);
    EXPECT_EQ(adc.of(1), 0) << "nobody asks for it";
    at.setVolts(0, -0.3), at.setVolts(3, 7.0);
    for (int t = 0; t < 12; ++t) adc.tick();
    EXPECT_EQ(adc.of(0), 0);
    EXPECT_EQ(adc.of(3), 1023);
    at.unplug(true);
    for (int t = 0; t < 12; ++t) adc.tick();
    EXPECT_EQ(adc.lost, 1);
    EXPECT_EQ(adc.of(3), 0);
}

// What hangs on such boards is wired once and planned once; what they cannot do is a stop with a cure that leaves none.
TEST(Expanders, carryDriversAndInputs) {
    const auto parts = test::shippedParts();
    auto project = test::lampsOnExpanders();
    const auto plan = plan::evaluate(project, parts);
    for (const auto& channel : plan.channels) EXPECT_EQ(channel.not_driven, "") << channel.name;
    for (const auto& finding : plan.findings) EXPECT_NE(finding.severity, Severity::Stop) << finding.id << ": " << finding.text;
    EXPECT_EQ(plan::sharedLines(plan, project).size(), 2U);
    const auto wires = plan::wiring(project, parts, plan);
    EXPECT_TRUE(test::has(wires, "I²C PWM expander X2", "it MOSFET gate"));
    EXPECT_TRUE(test::has(wires, "I²C I/O expander X0", project.inputs.front().name + " contact"));
    for (const char* box : {"I²C PWM expander ", "I²C I/O expander "})
        for (const char* end : {"clock, SCL", "data, SDA", "logic supply"})
            EXPECT_EQ(std::count_if(wires.begin(), wires.end(), [&](const auto& wire) { return wire.to == std::string{box} + end; }), 1)
                << box;
    EXPECT_TRUE(std::none_of(wires.begin(), wires.end(), [](const auto& wire) { return wire.to.ends_with("servo supply"); }));
    const auto sketch = plan::sketchOf(project, plan);
    ASSERT_TRUE(sketch) << sentence(sketch.error());
    const auto buys = plan::partsList(project, parts, plan);
    for (const char* what : {"PWM expander for servos and lights · 16 channels, I²C", "I/O expander · 16 lines, I²C"})
        EXPECT_EQ(std::count_if(buys.begin(), buys.end(), [&](const auto& line) { return line.name == what; }), 1) << what;

    struct Refused {
        std::vector<project::FactEdit> edits;
        const char* finding;
    };
    for (const auto& refused :
         {Refused{{{"channels/it/drive/expander", "io_expander_two_wire"}, {"channels/it/signal/soft_start", "1 s"}}, "not-driven"},
          Refused{{{"channels/it/drive/expander", "adc_expander_two_wire"}}, "not-driven"},
          Refused{{{"channels/it/drive/expander", "servo_expander_serial"}}, "not-driven"},
          Refused{{{"channels/it/drive/expander", "nothing"}}, "not-driven"},
          Refused{{{"channels/it/drive/part", "servo_expander_i2c"}, {"channels/it/drive/expander", "io_expander_two_wire"}}, "not-driven"},
          Refused{{{"channels/it/signal/frequency", "10 kHz"}, {"channels/it/signal/duty", "50 %"}}, "frequency-out-of-reach"},
          Refused{{{"channels/other/drive/expander", "servo_expander_two_wire"}, {"channels/other/pin", "X2"}}, "pin-taken"},
          Refused{{{"channels/other/pin", "X0"}}, "pin-taken"}, Refused{{{"channels/other/pin", "X16"}}, "pin-cannot"},
          Refused{{{"inputs/start/pin", "X16"}}, "pin-cannot"}, Refused{{{"inputs/start/expander", "adc_expander_two_wire"}}, "pin-cannot"},
          Refused{{{"inputs/start/kind", "level"}}, "pin-cannot"},
          Refused{{{"channels/it/drive/expander_board", "1"}, {"board/form", "sbc-header"}, {"board/expander_clock_pin", "GPIO17"}},
                  "pin-cannot"}}) {
        auto with = refused.edits;
        for (auto& edit : with)
            if (edit.path.starts_with("inputs/start")) edit.path = "inputs/" + project.inputs.front().id + edit.path.substr(12);
        const auto bad = plan::evaluate(test::edited(project, with), parts);
        const auto* found = test::finding(bad, refused.finding);
        ASSERT_NE(found, nullptr) << with.front().path << " = " << with.front().value;
        EXPECT_EQ(found->severity, Severity::Stop);
        if (with.front().path.find("expander") != std::string::npos && with.front().path.starts_with("inputs"))
            EXPECT_FALSE(plan::sketchOf(test::edited(project, with), bad)) << with.front().value;
    }
    // More of a kind than its bus has addresses for, and two on one serial line.
    auto fifth = project::addInput(project, project::InputKind::Level, "fifth");
    auto& far = fifth.inputs.back();
    far.expander = "adc_expander_two_wire", far.pin = "X0";
    for (const char* board : {"4", "5"}) {
        far.expander_board = of<Count>(std::atof(board));
        EXPECT_EQ(test::finding(plan::evaluate(fifth, parts), "pin-cannot") != nullptr, std::string_view{board} == "5");
    }
    const auto second = test::onExpander("servo_expander_serial", {{"channels/it/drive/expander_board", "2"}});
    const auto alike = test::finding(plan::evaluate(second, parts), "pin-cannot");
    ASSERT_NE(alike, nullptr);
    EXPECT_EQ(test::finding(plan::evaluate(test::edited(second, alike->remedies.front().edits), parts), "pin-cannot"), nullptr);
    // 50 Hz is a servo's: a lamp at 1 kHz wants a board of its own.
    auto arm = test::onExpander("servo_expander_i2c");
    auto lamp = test::lampsOnExpanders().channels.front();
    lamp.id = lamp.name = "lamp";
    lamp.signal.duty = of<Fraction>(0.5);
    arm.channels.push_back(lamp);
    const auto shared = plan::evaluate(arm, parts);
    const auto* clash = test::finding(shared, "timer-clash");
    ASSERT_NE(clash, nullptr);
    ASSERT_FALSE(clash->remedies.empty());
    const auto cured = project::with(arm, clash->remedies.front().edits);
    ASSERT_TRUE(cured);
    const auto apart = plan::evaluate(*cured, parts);
    EXPECT_EQ(test::finding(apart, "timer-clash"), nullptr);
    EXPECT_TRUE(test::has(plan::wiring(*cured, parts, apart), "I²C PWM expander 2 X2", "lamp MOSFET gate"));
    // A servo is not proposed for a board whose lamp runs at 1 kHz.
    auto lit = test::lampsOnExpanders();
    lit.channels.front().signal.duty = of<Fraction>(0.5);
    lit.channels.push_back(arm.channels.front());
    lit.channels.back().id = lit.channels.back().name = "arm";
    lit.channels.back().drive.part = "straight_from_pin";
    lit.channels.back().pin = "D5";
    for (const auto& choice : plan::withExpanders(lit, plan::evaluate(lit, parts)))
        if (choice.map->id == "servo_expander_two_wire") EXPECT_EQ(std::count(choice.takes.begin(), choice.takes.end(), "arm"), 0);
}

}  // namespace
}  // namespace hinge
