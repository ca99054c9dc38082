// Drivers whose settings are registers: what is written into them, how, and what becomes of one that does not answer as its table says.
#include "support/registers.hpp"
#include <gtest/gtest.h>
#include "emulator/register_chip.hpp"
#include "firmware/runtime/spark_drive_registers.h"
#include "plan/firmware_model.hpp"
#include "plan/pin_plan.hpp"
#include "plan/wiring.hpp"
#include "proof/bring_up.hpp"
#include "simulation/interpreted_board.hpp"
#include "support/expanders.hpp"
#include "support/wires.hpp"

namespace hinge::registers {
namespace {

using driver::ChopperSettings;
using driver::findRegisterMap;
using emulator::RegisterChip;
using spark::Configured;

std::uint32_t bitsOf(const std::vector<driver::RegisterWrite>& writes, const driver::RegisterMap& map, const char* name) {
    const auto* field = map.field(name);
    for (const auto& write : writes)
        if (field != nullptr && write.address == field->address) return write.value >> field->low & field->most();
    ADD_FAILURE() << name << " is not written";
    return 0;
}

// By hand, from the data sheets of such drivers (from memory): I = (n + 1)/32 · V/(Rs + 20 mΩ), with V = 325 mV, or 180 mV fine;
// micro-steps are 256/2ⁿ. With 110 mΩ the whole current is 2.5 A, or 1.385 A fine.
TEST(ChopperRegisters, areTheFormulasOfTheirDataSheets) {
    for (const char* id : {"chopper_single_wire", "chopper_spi"}) {
        const auto& map = *findRegisterMap(id);
        const auto made = [&](double amps, double microsteps, std::optional<double> stall = std::nullopt) {
            ChopperSettings in;
            in.sense_resistor = of<Resistance>(0.11);
            in.peak = of<Current>(amps);
            in.microsteps = of<Count>(microsteps);
            if (stall) in.stall_level = of<Count>(*stall);
            return driver::chopperRegisters(map, in);
        };
        for (const auto& [amps, run, fine, set] : {std::tuple{1.2, 26U, 1U, 27.0 * 0.180 / 0.13 / 32.0},
                                                   {1.5, 18U, 0U, 19.0 * 2.5 / 32.0},
                                                   {2.5, 31U, 0U, 2.5},
                                                   {0.18 / 0.13, 31U, 1U, 0.18 / 0.13}}) {
            const auto worked = made(amps, 16);
            ASSERT_TRUE(worked) << id << amps;
            const auto& writes = worked->result.writes;
            EXPECT_EQ(bitsOf(writes, map, "run_current"), run) << amps;
            EXPECT_EQ(bitsOf(writes, map, "hold_current"), run) << amps;
            EXPECT_EQ(bitsOf(writes, map, "fine_current"), fine) << amps;
            EXPECT_NEAR(si(worked->result.peak), set, 1e-9);
            EXPECT_LE(si(worked->result.peak), amps + 1e-9) << "never more than is wanted";
            EXPECT_EQ(writes.back().address, map.field("off_time")->address) << "what lets current flow comes last";
        }
        for (const auto& [micro, bits] : {std::pair{256.0, 0U}, {16.0, 4U}, {1.0, 8U}})
            EXPECT_EQ(bitsOf(made(1.2, micro)->result.writes, map, "microsteps"), bits);
        EXPECT_FALSE(made(2.6, 16)) << "more than its resistor shows";
        EXPECT_FALSE(made(0.04, 16)) << "less than one thirty-second";
        EXPECT_FALSE(made(1.2, 12));
        EXPECT_FALSE(made(1.2, 512));
        EXPECT_EQ(bitsOf(made(1.2, 16)->result.writes, map, "slowest_for_stall"), 0U) << "it looks for none";
        EXPECT_EQ(bitsOf(made(1.2, 16, 10.0)->result.writes, map, "slowest_for_stall"), 0xFFFFFU) << "at any speed";
        EXPECT_EQ(bitsOf(made(1.2, 16, 10.0)->result.writes, map, "stall_level"), 10U);
    }
    const auto below = [](const char* id, double stall) {
        ChopperSettings in{of<Resistance>(0.11), of<Current>(1.2), of<Fraction>(1.0), of<Count>(16), of<Count>(stall)};
        return driver::chopperRegisters(*findRegisterMap(id), in);
    };
    EXPECT_EQ(bitsOf(below("chopper_spi", -1.0)->result.writes, *findRegisterMap("chopper_spi"), "stall_level"), 0x7FU)
        << "two's complement";
    EXPECT_FALSE(below("chopper_single_wire", -1.0));
    EXPECT_TRUE(below("chopper_single_wire", 255.0));
}

TEST(ChopperRegisters, tableIsReadOrRefusedByRow) {
    const std::string head = "map,register,address,access,low_bit,bits,field,value\n";
    const auto read = driver::parseRegisterMaps(head + "m,,,figure,,,bus,spi\nm,a,0x10,rw,4,3s,x,\n");
    ASSERT_TRUE(read);
    EXPECT_TRUE(read->front().field("x")->is_signed);
    for (const char* row : {"m,a,0x100,rw,0,8,x,", "m,a,16,rw,28,8,x,", "m,a,16,wr,0,8,x,", "m,a,16,rw,0,4,x,16", "m,a,16,rw,0,0,x,",
                            "m,a,g,r,0,1,x,", "m,,,figure,,,bus,parallel", "m,,,figure,,,weight,3", "m,a,16,rw,0,4,x"}) {
        const auto bad = driver::parseRegisterMaps(head + row + "\n");
        ASSERT_FALSE(bad) << row;
        EXPECT_NE(sentence(bad.error()).find("row 2"), std::string::npos) << sentence(bad.error());
    }
}

// From memory of such drivers' examples: to read register 0 of node 0 is 05 00 00 48, to read register 6 is 05 00 06 6F.
TEST(RegisterFrames, haveTheirCheck) {
    const auto check = [](std::initializer_list<std::uint8_t> bytes) {
        std::uint8_t check = 0;
        for (const auto byte : bytes) check = spark::checkOf(check, byte);
        return check;
    };
    EXPECT_EQ(check({0x05, 0x00, 0x00}), 0x48);
    EXPECT_EQ(check({0x05, 0x00, 0x06}), 0x6F);
}

// The pins of the desk, with a chip at them; a clock of a megahertz, so that a cycle is a microsecond.
RegisterChip* chip = nullptr;
std::uint64_t now = 0;
std::vector<emulator::LineLevel> answer;
std::optional<bool> shorted;  // the line is tied to that level
bool data = false, taken = true;
std::uint64_t waited = 0;

struct ClockedPins {
    static void select(bool on) { chip->select(on); }
    static void clock(bool high) { chip->clocked(high, data); }
    static void out(bool high) { data = high; }
    static bool in() { return shorted ? *shorted : !chip->answers() || chip->out(); }
    static void pause() { ++waited; }
};
struct WirePins {
    static void take() { taken = true; }
    static void drive(bool high) { chip->heard(now, high); }
    static void release() { taken = false; }
    static bool in() {
        if (shorted) return *shorted;
        for (const auto& level : chip->answer(now)) answer.push_back(level);
        bool high = true;
        for (const auto& level : answer)
            if (level.cycle <= now) high = level.high;
        return high;
    }
    static void wait(std::uint8_t us) {
        now += us;
        waited += us;
        (void)in();
    }
};

Configured configured(RegisterChip& hangs, const char* id) {
    chip = &hangs;
    now = 1'000'000, waited = 0;
    answer.clear();
    const auto& map = *findRegisterMap(id);
    ChopperSettings in{of<Resistance>(0.11), of<Current>(1.2), of<Fraction>(0.5), of<Count>(32), of<Count>(20)};
    const auto worked = driver::chopperRegisters(map, in);
    std::vector<spark::RegisterWrite> rows;
    for (const auto& write : worked->result.writes)
        rows.push_back({write.value, static_cast<std::uint8_t>(write.address), static_cast<std::uint8_t>(write.read_back)});
    const auto* version = map.field("version");
    const spark::Identity who{static_cast<std::uint8_t>(version->address), static_cast<std::uint8_t>(version->low),
                              static_cast<std::uint8_t>(version->most()), static_cast<std::uint8_t>(*version->value)};
    const auto count = static_cast<std::uint8_t>(rows.size());
    return map.bus == driver::RegisterBus::Spi ? spark::configure<spark::SpiRegisters<ClockedPins>>(who, rows.data(), count)
                                               : spark::configure<spark::WireRegisters<WirePins, 0x02>>(who, rows.data(), count);
}

class AtItsPins : public testing::TestWithParam<const char*> {
protected:
    void SetUp() override { shorted.reset(); }
    RegisterChip made() const { return {*findRegisterMap(GetParam()), 1e6}; }
};

TEST_P(AtItsPins, aDriverIsToldAndKeepsWhatItIsTold) {
    auto driver = made();
    EXPECT_FALSE(driver.awake());
    ASSERT_EQ(configured(driver, GetParam()), Configured::Well);
    EXPECT_TRUE(driver.awake());
    EXPECT_EQ(driver.field("run_current"), 26U);
    EXPECT_EQ(driver.field("hold_current"), 12U) << "half, rounded down";
    EXPECT_EQ(driver.microsteps(), 32.0);
    EXPECT_EQ(driver.field("stall_level"), 20U);
    // Told once more, as after a reset of the board alone.
    EXPECT_EQ(configured(driver, GetParam()), Configured::Well);
}
// What answers 0xFF or nothing, another chip, one that forgets, a line that is stuck: each is told apart, ends, and lets no current flow.
TEST_P(AtItsPins, whatAnswersOtherwiseIsLeftAlone) {
    const auto tried = [&](Configured what, auto spoil) {
        auto driver = made();
        spoil(driver);
        EXPECT_EQ(configured(driver, GetParam()), what);
        EXPECT_FALSE(driver.awake());
        EXPECT_LT(waited, 1'000'000U) << "it ends in a second";
        shorted.reset();
    };
    tried(Configured::Silent, [](RegisterChip& c) { c.unplug(true); });
    tried(Configured::Another, [](RegisterChip& c) { c.becomeAnother(); });
    tried(Configured::Forgets, [](RegisterChip& c) { c.forget(true); });
    for (const bool level : {false, true}) tried(Configured::Silent, [level](RegisterChip&) { shorted = level; });
}
INSTANTIATE_TEST_SUITE_P(Buses, AtItsPins, testing::Values("chopper_single_wire", "chopper_spi"));

// One fact, one home: lines, wires and sketch are those of the table that its part names.
TEST(RegisterPlan, hasItsLinesWiresAndSketch) {
    const auto parts = test::shippedParts();
    const auto wire = test::onRegisters("chopper_serial_quiet"), clocked = test::onRegisters("chopper_serial_strong");
    for (const auto* project : {&wire, &clocked}) {
        const bool bus = project == &clocked;
        const auto plan = plan::evaluate(*project, parts);
        const auto& it = plan.channels.front();
        ASSERT_EQ(it.not_driven, "");
        ASSERT_TRUE(it.registers);
        EXPECT_EQ(plan::sharedLines(plan, *project).size(), bus ? 3U : 0U);
        const auto sketch = plan::sketchOf(*project, plan);
        ASSERT_TRUE(sketch) << sentence(sketch.error());
        for (const auto& write : it.registers->writes)
            EXPECT_NE(sketch->text.find(fmt::format("0x{:08X}UL, 0x{:02X}", write.value, write.address)), std::string::npos);
        EXPECT_EQ(sketch->text.find("SpiRegisters") != std::string::npos, bus);
        const auto wires = plan::wiring(*project, parts, plan);
        EXPECT_EQ(test::has(wires, "board D13", "it carrier clock, SCK"), bus);
        EXPECT_EQ(test::has(wires, "it carrier data out, SDO", "board D12"), bus);
        EXPECT_EQ(test::has(wires, "board D10", bus ? "it carrier select, CS" : "it carrier serial line"), true);
        for (const auto& each : wires) EXPECT_EQ(each.from.find("micro-step straps"), std::string::npos) << "they are a register";
        // Without a pin it has no sketch, and the plan says which.
        const auto without = test::edited(*project, {{"channels/it/select_pin", ""}});
        const auto open = plan::evaluate(without, parts);
        EXPECT_NE(test::finding(open, "pins-open"), nullptr);
        EXPECT_FALSE(plan::sketchOf(without, open));
    }
    // Two on the bus share three lines; each has its own select line.
    auto two = project::duplicateChannel(clocked, "it");
    two.channels.back().pin = "D5", two.channels.back().direction_pin = "D6", two.channels.back().enable_pin = "A1";
    two.channels.back().select_pin = "A0";
    const auto plan = plan::evaluate(two, parts);
    EXPECT_EQ(test::finding(plan, "pin-taken"), nullptr);
    EXPECT_TRUE(plan::sketchOf(two, plan));
    two.channels.back().select_pin = "D10";
    EXPECT_NE(test::finding(plan::evaluate(two, parts), "pin-taken"), nullptr);
    EXPECT_EQ(test::finding(plan::evaluate(test::edited(clocked, {{"board/register_in_pin", "D11"}}), parts), "pin-taken") != nullptr,
              true);
}

// At rest it is held with a part of its current, where its driver can be told: its heat, and what it draws, go with the square.
TEST(RegisterPlan, holdsWithAPartOfItsCurrent) {
    const auto parts = test::shippedParts();
    const auto rest = [&](const char* driver, const char* share) {
        const auto project = test::onRegisters(driver, {{"channels/it/signal/hold_share", share}});
        return plan::evaluate(project, parts).channels.front();
    };
    const auto whole = rest("chopper_serial_quiet", "100 %"), half = rest("chopper_serial_quiet", "50 %");
    EXPECT_NEAR(half.chosen->numbers.rest, whole.chosen->numbers.rest / 4.0, 1e-9);
    EXPECT_EQ(half.chosen->numbers.running, whole.chosen->numbers.running);
    const auto& map = *half.registers->map;
    const auto run = bitsOf(half.registers->writes, map, "run_current"), hold = bitsOf(half.registers->writes, map, "hold_current");
    EXPECT_EQ(hold, (run + 1) / 2 - 1) << "in thirty-seconds, rounded down";
    EXPECT_EQ(bitsOf(whole.registers->writes, map, "hold_current"), run);
    EXPECT_NEAR(rest("chopper_2a", "50 %").chosen->numbers.rest, rest("chopper_2a", "100 %").chosen->numbers.rest, 1e-12)
        << "a trimmer sets one current";
}

// Before a motor hangs on it, it is asked whether it is set: a chopper each, an expander once for all its servos.
TEST(RegisterPlan, hasItsHoldPoint) {
    const auto parts = test::shippedParts();
    const auto expected = [&](const project::Project& project) {
        for (const auto& step : proof::bringUp(project, parts, plan::evaluate(project, parts)))
            if (step.id == "drivers") return step.expected.value_or(-1.0);
        return 0.0;
    };
    EXPECT_EQ(expected(test::onRegisters("chopper_serial_quiet")), 1.0);
    EXPECT_EQ(expected(test::onRegisters("chopper_2a")), 0.0) << "it has a trimmer";
    auto eyes = project::duplicateChannel(test::onExpander("servo_expander_i2c"), "it");
    eyes.channels[1].pin = "X1";
    eyes.channels[1].calibration = eyes.channels[0].calibration;
    EXPECT_EQ(expected(eyes), 1.0);
    EXPECT_EQ(expected(test::onExpander("servo_expander_serial")), 0.0) << "it cannot say so";
}

// A part that names no table, or one that is not there, is refused with the reason.
TEST(RegisterPlan, withoutATableThereIsNoSketch) {
    auto parts = test::shippedParts();
    for (auto& driver : parts.drivers)
        if (driver.id == "chopper_serial_quiet") driver.registers = "of_another";
    const auto project = test::onRegisters("chopper_serial_quiet");
    const auto plan = plan::evaluate(project, parts);
    EXPECT_NE(plan.channels.front().not_driven.find("no table says"), std::string::npos);
    EXPECT_FALSE(plan::sketchOf(project, plan));
}

// What was not told its settings moves by nothing: not by a cue, not by the desk's hand.
TEST(RegisterPlan, anUnreadyDriverIsMovedByNothing) {
    const auto parts = test::shippedParts();
    const auto arm = test::onRegisters("chopper_serial_quiet");
    const auto disc =
        test::turntable("stepper_42mm_short", "chopper_serial_quiet",
                        {{"channels/it/direction_pin", "D8"}, {"channels/it/enable_pin", "D7"}, {"channels/it/select_pin", "D10"}});
    for (const auto* project : {&arm, &disc}) {
        const auto plan = plan::evaluate(*project, parts);
        ASSERT_TRUE(plan.program);
        for (const bool silent : {false, true}) {
            simulation::InterpretedBoard board(*plan.program, {}, "it", "12345678");
            if (silent) board.silence(0);
            const auto start = board.state().output(0).level;
            bool moved = false, faulted = false;
            const auto play = [&] {
                for (int k = 0; k < 800; ++k) {
                    board.advance(1e-3);
                    moved = moved || board.state().output(0).level != start || board.state().output(0).on != 0;
                    faulted = faulted || board.state().cue(0).faulted != 0;
                }
            };
            board.advance(0.1);
            board.setInput(0, true);
            play();
            EXPECT_EQ(moved, !silent);
            EXPECT_EQ(faulted, silent) << "its cue ends, and says so";
            board.write(project == &arm ? "drive 0 100\n" : "drive 0 500\n");
            moved = false;
            play();
            if (silent) EXPECT_FALSE(moved) << "nor the desk's hand";
            if (silent) board.cutPower(), play(), board.setInput(0, false), play(), board.setInput(0, true), play();
            if (silent) EXPECT_FALSE(moved) << "nor after the power was away";
        }
    }
}

}  // namespace
}  // namespace hinge::registers
