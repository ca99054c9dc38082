// Servos behind a board that makes their pulses: what is sent to it, what becomes of one that does not answer, and where its wires go.
#include <gtest/gtest.h>
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
using Bus = spark::TwoWireExpander<Lines, 0x40, 6>;
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

// One output a tick, each in its turn; what has not changed is not sent again, and what was lost is.
struct Told {
    static std::vector<std::pair<int, int>> all;
    static bool answers;
    static bool busy() { return false; }
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
    for (int t = 0; t < 5; ++t) expander.tick();
    EXPECT_EQ(expander.lost, 1);
    EXPECT_EQ(Told::all.size(), 48U) << "it is tried again";
    Told::answers = true;
    expander.tick(), expander.tick();
    EXPECT_EQ(expander.lost, 0);
    EXPECT_EQ(Told::all.size(), 49U);
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
        EXPECT_EQ(plan::sharedLines(plan, project.board).size(), serial ? 1U : 2U);
        EXPECT_FALSE(plan::beats(plan)) << "the board's own timer has no pulses to make";
        const auto wires = plan::wiring(project, parts, plan);
        const std::string it = serial ? "serial servo expander " : "I²C servo expander ";
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

}  // namespace
}  // namespace hinge
