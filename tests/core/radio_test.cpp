// A radio's own line: bytes from edges, bytes out, what it may do, and where its wires go.
#include "support/radio.hpp"
#include <gtest/gtest.h>
#include <random>
#include "firmware/runtime/spark_radio.h"
#include "plan/firmware_model.hpp"
#include "plan/input_wiring.hpp"
#include "plan/pin_plan.hpp"
#include "plan/radio_line.hpp"
#include "support/wires.hpp"

namespace hinge {
namespace {

using Ear = spark::RadioEar<104, 64>;
using Fast = spark::RadioEar<52, 64>;
using Slow = spark::RadioEar<833, 64>;

// What an ear hears of edges [s], each taken a little late, and looked at once a millisecond.
template <class Any = Ear>
std::string heard(const std::vector<std::pair<double, bool>>& edges, double late = 0.0, std::uint32_t offset = 0) {
    Any ear{};
    ear.high = 1;
    std::string text;
    std::mt19937 dice(7);
    std::uint32_t us = 0, told = 0;
    const auto look = [&](std::uint32_t until) {
        for (; us < until; us += 1000) {
            ear.settle(offset + std::max(us, told));
            for (int byte = ear.next(); byte >= 0; byte = ear.next()) text += static_cast<char>(byte);
        }
    };
    for (const auto& [at, high] : edges) {
        const auto then = static_cast<std::uint32_t>(1e6 * (at + late * static_cast<double>(dice() % 1000) / 1000.0));
        look(then);
        told = std::max(told, then);
        ear.edge(offset + told, high);
    }
    look(us + 20'000);
    return text;
}

TEST(RadioEar, hearsEveryByte) {
    std::string all;
    for (int b = 0; b < 256; ++b) all += static_cast<char>(b);
    std::string got;
    for (std::size_t from = 0; from < 256; from += 32) got += heard(test::edgesOf(all.substr(from, 32), 0.01, 9600.0));
    EXPECT_EQ(got, all);
    EXPECT_EQ(heard(test::edgesOf("start 0\n", 0.01, 9600.0, 7.3)), "start 0\n") << "with pauses";
    EXPECT_EQ(heard(test::edgesOf("start 0\n", 0.01, 9600.0), 0.0, 0xFFFFF000U), "start 0\n") << "across the roll-over";
}
// A line of 9600 baud that is two hundredths fast or slow, its edges taken up to 25 us late: a quarter of a bit.
TEST(RadioEar, bearsWhatLinesAndInterruptsDo) {
    for (const double off : {0.98, 1.0, 1.02})
        for (const double late : {0.0, 10e-6, 25e-6})
            EXPECT_EQ(heard(test::edgesOf("drive 1 -2 500\n", 0.01, 9600.0 * off), late), "drive 1 -2 500\n") << off << ' ' << late;
    EXPECT_EQ(heard<Fast>(test::edgesOf("hello\n", 0.01, 19'200.0), 10e-6), "hello\n");
    EXPECT_EQ(heard<Slow>(test::edgesOf("hello\n", 0.01, 1200.0), 25e-6), "hello\n");
}
// Spikes, a line that is held low, and bytes whose stop bit fails: nothing of it is heard, and what comes after is.
TEST(RadioEar, isNotTakenInByNoise) {
    auto edges = test::edgesOf("A\n", 0.02, 9600.0);
    edges.insert(edges.begin(), {{0.001, false}, {0.001005, true}, {0.003, false}, {0.012, true}});
    EXPECT_EQ(heard(edges), "A\n");
    auto late = test::edgesOf("U", 0.001, 9600.0);
    late.back().first += 1.0;  // its last rise fails to come
    EXPECT_EQ(heard(late).find('U'), std::string::npos);
    std::mt19937 dice(3);
    Ear ear{};
    ear.high = 1;
    std::uint32_t us = 0;
    bool level = true;
    for (int k = 0; k < 200'000; ++k) {
        us += dice() % 400;
        ear.edge(us, level = !level);
        if (k % 50 == 0) ear.settle(us);
        ASSERT_LT(ear.in, 64);
        ASSERT_LE(ear.count, 10);
        if (dice() % 3 == 0) (void)ear.next();
    }
}

// Each edge of what goes out at its time from the first, whatever shifts one of them.
struct Pins {
    static std::vector<std::pair<double, bool>> edges;
    static std::uint32_t us;
    static int slow;
    static void drive(bool high) {
        if (edges.empty() ? !high : edges.back().second != high) edges.emplace_back(1e-6 * us, high);
    }
    static std::uint32_t now() { return us += slow > 0 && us % 97 == 0 ? 12U : 1U; }
};
std::vector<std::pair<double, bool>> Pins::edges;
std::uint32_t Pins::us = 0;
int Pins::slow = 0;
struct Seen {
    double time;
    bool level;
};
TEST(RadioMouth, saysOneByteACall) {
    for (const int slow : {0, 1}) {
        Pins::edges.clear();
        Pins::slow = slow;
        spark::RadioMouth<Pins, 26'667, 48> mouth{};
        for (const char c : std::string{"ok start\r\n"}) mouth.write(static_cast<std::uint8_t>(c));
        int calls = 0;
        for (; mouth.in != mouth.out; ++calls) {
            mouth.speak();
            Pins::us += 900;
        }
        EXPECT_EQ(calls, 10);
        std::vector<Seen> seen;
        for (const auto& [at, high] : Pins::edges) seen.push_back({at, high});
        EXPECT_EQ(test::textIn(seen, 9600.0), "ok start\r\n");
    }
    spark::RadioMouth<Pins, 26'667, 8> small{};
    for (int k = 0; k < 100; ++k) small.write('x');
    int said = 0;
    for (; small.in != small.out; ++said) small.speak();
    EXPECT_EQ(said, 7) << "what does not fit is lost, and nothing else";
}

// Planned, wired and bought; what a board cannot hear is a stop with its cure.
TEST(Radio, hasALineOfItsOwn) {
    const auto parts = test::shippedParts();
    const auto project = test::withRadio();
    const auto plan = plan::evaluate(project, parts);
    for (const auto& finding : plan.findings) EXPECT_NE(finding.severity, Severity::Stop) << finding.text;
    const auto wires = plan::wiring(project, parts, plan);
    EXPECT_TRUE(test::has(wires, "Radio's TX", "board D3"));
    EXPECT_TRUE(test::has(wires, "board D4", "Radio's RX"));
    // By hand: 5 V through 1 kOhm over 2 kOhm are 3.33 V.
    const auto divider = std::count_if(wires.begin(), wires.end(), [](const auto& wire) {
        return wire.through && (wire.from == "Radio's RX" || wire.to == "Radio's RX");
    });
    EXPECT_EQ(divider, 2);
    const auto sketch = plan::sketchOf(project, plan);
    ASSERT_TRUE(sketch) << sentence(sketch.error());
    EXPECT_NE(sketch->text.find("RADIO_GRANTS = 1 }"), std::string::npos);
    const auto none = plan::sketchOf(test::edited(project, {{"board/radio_apart", "no"}}),
                                     plan::evaluate(test::edited(project, {{"board/radio_apart", "no"}}), parts));
    ASSERT_TRUE(none);
    EXPECT_EQ(none->text.find("adio"), std::string::npos) << "the link itself goes by it: nothing else in the sketch";

    struct Refused {
        std::vector<project::FactEdit> edits;
        const char* finding;
    };
    for (const auto& [edits, id] :
         {Refused{{{"board/form", "sbc-header"}, {"board/radio_in_pin", "GPIO5"}, {"board/radio_out_pin", "GPIO6"}}, "radio-not-heard"},
          Refused{{{"board/form", "attiny85-8mhz"}}, "radio-not-heard"}, Refused{{{"board/radio_rate", "38400"}}, "radio-rate"},
          Refused{{{"board/radio_in_pin", "D7"}}, "no-interrupt"},
          Refused{{{"board/form", "esp32"}, {"board/radio_supply", "5 V"}}, "level-mismatch"},
          Refused{{{"board/radio_in_pin", "D9"}}, "pin-taken"}}) {
        const auto bad = plan::evaluate(test::edited(project, edits), parts);
        const auto* found = test::finding(bad, id);
        ASSERT_NE(found, nullptr) << id;
        EXPECT_EQ(found->severity, Severity::Stop);
    }
    EXPECT_EQ(test::finding(plan::evaluate(test::edited(project, {{"board/radio_rate", "19200"}}), parts), "radio-rate"), nullptr);
    const auto open = plan::evaluate(test::edited(project, {{"board/radio_in_pin", ""}}), parts);
    EXPECT_NE(test::finding(open, "pins-open"), nullptr);
    EXPECT_FALSE(plan::sketchOf(test::edited(project, {{"board/radio_in_pin", ""}}), open));
}
// The ports that the chips have beside their console's. @source atmega2560-datasheet, figure 1-1; atmega32u4-datasheet, figure 1-1;
// rp2040-datasheet, table 2; esp32-trm
TEST(RadioPorts, areTheChipsOwn) {
    const auto at = [](const char* form, const char* in, const char* out) {
        return board::serialPortAt(board::family(*named<board::BoardForm>(form)), in, out);
    };
    EXPECT_EQ(at("atmega2560-16mhz", "D19", "D18"), 1);
    EXPECT_EQ(at("atmega2560-16mhz", "D17", "D16"), 2);
    EXPECT_EQ(at("atmega2560-16mhz", "D15", "D14"), 3);
    EXPECT_EQ(at("atmega2560-16mhz", "D19", "D16"), 0) << "of two ports";
    EXPECT_EQ(at("atmega2560-16mhz", "D18", "D19"), 0) << "crossed";
    EXPECT_EQ(at("atmega2560-16mhz", "D0", "D1"), 0) << "its console";
    EXPECT_EQ(at("atmega32u4-16mhz", "D0", "D1"), 1) << "its console is USB";
    EXPECT_EQ(at("rp2040", "GP1", "GP0"), 1);
    EXPECT_EQ(at("esp32", "IO16", "IO17"), 2);
    for (const auto& pin : board::family(board::BoardForm::Uno16).pins) EXPECT_EQ(pin.serial_port, 0) << pin.name;
}
// @source atmega2560-datasheet, table 22-12 (16 MHz, U2X; from memory). 57 600 baud is at single speed there, as the sketch API has it.
TEST(RadioPorts, missTheirRatesByWhatTheTableSays) {
    const auto& mega = board::family(board::BoardForm::Mega16);
    for (const auto& [baud, percent] : {std::pair{2400.0, 0.0},
                                        {4800.0, -0.1},
                                        {9600.0, 0.2},
                                        {14400.0, -0.1},
                                        {19200.0, 0.2},
                                        {28800.0, 0.6},
                                        {38400.0, 0.2},
                                        {57600.0, 2.1},
                                        {76800.0, 0.2},
                                        {115200.0, 2.1},
                                        {230400.0, -3.5},
                                        {250000.0, 0.0},
                                        {500000.0, 0.0},
                                        {1e6, 0.0}})
        EXPECT_NEAR(100.0 * board::serialMiss(mega, baud).value(), percent, 0.06) << baud;
    EXPECT_FALSE(board::serialMiss(mega, 0.0));
    EXPECT_FALSE(board::serialMiss(mega, 5e6));
    EXPECT_FALSE(board::serialMiss(mega, 300.0 / 2.0));
}
TEST(RadioPorts, bearRatesThatEdgesDoNot) {
    const auto parts = test::shippedParts();
    const auto on = [&](const char* baud, const char* in, const char* out) {
        return test::withRadio(
            {{"board/form", "atmega2560-16mhz"}, {"board/radio_rate", baud}, {"board/radio_in_pin", in}, {"board/radio_out_pin", out}});
    };
    for (const char* baud : {"1200", "9600", "38400", "57600", "115200", "250000"})
        EXPECT_EQ(test::finding(plan::evaluate(on(baud, "D17", "D16"), parts), "radio-rate"), nullptr) << baud;
    EXPECT_EQ(test::finding(plan::evaluate(on("9600", "D17", "D16"), parts), "no-interrupt"), nullptr);
    const auto misses = plan::evaluate(on("230400", "D17", "D16"), parts);
    const auto* said = test::finding(misses, "radio-rate");
    ASSERT_NE(said, nullptr);
    EXPECT_NE(said->text.find("3.5 %"), std::string::npos) << said->text;
    // By edges 38 400 baud is too fast; the port is offered, and cures it.
    const auto by_edges = plan::evaluate(on("38400", "D3", "D4"), parts);
    const auto* fast = test::finding(by_edges, "radio-rate");
    ASSERT_NE(fast, nullptr);
    ASSERT_EQ(fast->remedies.size(), 2U);
    const auto cured = plan::evaluate(*project::with(on("38400", "D3", "D4"), fast->remedies[1].edits), parts);
    EXPECT_EQ(test::finding(cured, "radio-rate"), nullptr);
    EXPECT_EQ(test::finding(cured, "no-interrupt"), nullptr);
    // Left open, both lines go to one port.
    const auto open = on("115200", "", "");
    const auto offer = test::finding(plan::evaluate(open, parts), "pins-open");
    ASSERT_TRUE(offer);
    const auto fitted = *project::with(open, offer->remedies.front().edits);
    EXPECT_EQ(plan::radioPort(fitted.board), 1);
    // What sits on one of its two pins takes the port away.
    auto taken = test::edited(open, {{"channels/it/pin", "D18"}});
    EXPECT_EQ(plan::radioPortPin(taken, board::family(board::BoardForm::Mega16), true), "D17");
}

// What anybody near can do is said by what it was granted.
TEST(Radio, isOpenAsFarAsItIsGranted) {
    const auto parts = test::shippedParts();
    const auto said = [&](const char* starts, const char* drives, const char* sets) -> std::string {
        const auto plan = plan::evaluate(
            test::withRadio({{"board/radio_starts", starts}, {"board/radio_drives", drives}, {"board/radio_sets", sets}}), parts);
        const auto* found = test::finding(plan, "link-open");
        return found != nullptr ? found->text : "";
    };
    EXPECT_NE(said("yes", "no", "no").find("can start 'it'. Start"), std::string::npos) << said("yes", "no", "no");
    EXPECT_NE(said("yes", "yes", "yes").find("drive what they move and set their numbers"), std::string::npos);
    EXPECT_EQ(said("no", "no", "no"), "");
}

}  // namespace
}  // namespace hinge
