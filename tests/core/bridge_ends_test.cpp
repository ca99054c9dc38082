// A bridge of separate switches: no instant at which both of an end are closed, whatever the timer and the program do between each other,
// and where their lines go.
#include <gtest/gtest.h>
#include <random>
#include "firmware/runtime/spark_drive_ends.h"
#include "plan/deck.hpp"
#include "plan/firmware_model.hpp"
#include "plan/wiring.hpp"
#include "proof/bring_up.hpp"
#include "support/demo.hpp"
#include "support/switch_ends.hpp"

namespace hinge::bridge_ends {
namespace {

// A timer that counts up and down with two outputs, by the data sheet of such a chip (atmega328p-datasheet, table 16-4 and section 16.9.4):
// compare values are taken over at TOP; the first output is high below its value, the second, inverted, from its value on.
struct UpAndDown {
    int top;
    int upper = 0, lower;            // that count
    int next_upper = 0, next_lower;  // that are written
    int at = 0, way = 1;
    int since_upper = 1 << 20, since_lower = 1 << 20, least = 1 << 20;
    bool both = false;
    explicit UpAndDown(int of) : top{of}, lower{of}, next_lower{of} {}
    void tick() {
        at += way;
        if (at == top) upper = next_upper, lower = next_lower, way = -1;
        if (at == 0) way = 1;
        // From a match on the way up to the one on the way down the level is the other.
        const bool high = way > 0 ? at < upper : at <= upper && upper > 0, low = lower < top && (way > 0 ? at >= lower : at > lower);
        if (high && low) both = true;
        if (high && since_upper > 0) least = std::min(least, since_lower);
        if (low && since_lower > 0) least = std::min(least, since_upper);
        since_upper = high ? 0 : since_upper + 1;
        since_lower = low ? 0 : since_lower + 1;
    }
};

TEST(EndCounts, areNeverBothOnWhereverTheTimerTurnsRoundBetweenTwoWrites) {
    std::mt19937 random(3);
    for (int round = 0; round < 400; ++round) {
        const int top = 60 + static_cast<int>(random() % 200), pause = 1 + static_cast<int>(random() % 9);
        UpAndDown timer(top);
        spark::EndCounts now = {0, static_cast<uint16_t>(top)};
        const auto run = [&](int ticks) {
            for (int k = 0; k < ticks; ++k) timer.tick();
        };
        for (int k = 0; k < 40; ++k) {
            const auto level = static_cast<uint16_t>(random() % 4 == 0 ? 0 : random() % static_cast<unsigned>(top + 20));
            const auto next = spark::endCounts(level, static_cast<uint16_t>(top), static_cast<uint16_t>(pause), random() % 2 == 0);
            spark::setEnd(
                now, next, [&](uint16_t counts) { timer.next_upper = counts, run(static_cast<int>(random() % 300)); },
                [&](uint16_t counts) { timer.next_lower = counts, run(static_cast<int>(random() % 300)); });
            run(static_cast<int>(random() % 700));
            ASSERT_FALSE(timer.both) << "round " << round << ", level " << level;
        }
        EXPECT_GE(timer.least, pause) << "counts between one that opens and the other that closes";
    }
}

// Written the other way about, the very same timer closes both: the check can fail.
TEST(EndCounts, writtenInTheWrongOrderWouldCloseBoth) {
    UpAndDown timer(100);
    timer.next_upper = 20, timer.next_lower = 25;
    for (int k = 0; k < 400; ++k) timer.tick();
    timer.next_upper = 80;  // and only after the turn the lower one
    for (int k = 0; k < 400; ++k) timer.tick();
    EXPECT_TRUE(timer.both);
}

// By hand: half of what is left beside two pauses; off it coasts, or is shorted below.
TEST(EndCounts, byHand) {
    const auto half = spark::endCounts(120, 255, 8, true);
    EXPECT_EQ(half.upper, 120);
    EXPECT_EQ(half.lower, 128);
    const auto most = spark::endCounts(255, 255, 8, true);
    EXPECT_EQ(most.upper, 239);
    EXPECT_EQ(most.lower, 247) << "eight counts each way for what feeds the upper gate";
    EXPECT_EQ(spark::endCounts(0, 255, 8, false).lower, 255);
    EXPECT_EQ(spark::endCounts(0, 255, 8, true).lower, 0);
}

TEST(BridgeOfSwitches, itsFourLinesGoToTwoTimers) {
    const auto parts = test::shippedParts();
    auto project = test::onSwitches("bridge_switches_8a");
    for (auto* pin : {&project.channels.front().pin, &project.channels.front().low_pin, &project.channels.front().direction_pin,
                      &project.channels.front().back_low_pin})
        pin->clear();
    const auto plan = plan::evaluate(project, parts);
    const auto offer = test::finding(plan, "pins-open");
    ASSERT_TRUE(offer);
    ASSERT_FALSE(offer->remedies.empty());
    const auto fitted = project::with(project, offer->remedies.front().edits);
    ASSERT_TRUE(fitted);
    const auto& channel = fitted->channels.front();
    const auto& family = board::family(project.board.form);
    const auto timer = [&](const std::string& pin) { return board::pinNamed(family, pin)->pwm_timer; };
    EXPECT_EQ(timer(channel.pin), timer(channel.low_pin));
    EXPECT_EQ(timer(channel.direction_pin), timer(channel.back_low_pin));
    EXPECT_NE(timer(channel.pin), timer(channel.direction_pin));
    const auto again = plan::evaluate(*fitted, parts);
    EXPECT_EQ(again.channels.front().not_driven, "");
    EXPECT_TRUE(plan::sketchOf(*fitted, again));
    // Each input has its pull-down: while the board starts, all four are open.
    const auto wires = plan::wiring(*fitted, parts, again);
    for (const auto* pin : {&channel.pin, &channel.low_pin, &channel.direction_pin, &channel.back_low_pin})
        EXPECT_EQ(
            std::count_if(wires.begin(), wires.end(),
                          [&](const auto& wire) { return wire.from == "board " + *pin && wire.to.find("10 kΩ") != std::string::npos; }) +
                std::count_if(
                    wires.begin(), wires.end(),
                    [&](const auto& wire) { return wire.from == "board " + *pin && wire.note.find("10 kΩ") != std::string::npos; }),
            1)
            << *pin;
}

// A servo's beat takes timer 2, and a smaller board has no other pair: said, not half driven.
TEST(BridgeOfSwitches, whereNoTimerIsLeftItSaysSo) {
    const auto parts = test::shippedParts();
    auto project = test::onSwitches("bridge_switches_8a");
    project = project::addChannel(project, project::ChannelKind::Turn, "Flag");
    auto& flag = project.channels.back();
    flag.actuator = "servo_micro_digital", flag.drive.part = "straight_from_pin", flag.rail = "movers", flag.pin = "D5";
    project = test::edited(project, {{"channels/" + flag.id + "/demand/mass", "5 g"},
                                     {"channels/" + flag.id + "/demand/arm", "20 mm"},
                                     {"channels/" + flag.id + "/demand/angle", "90 deg"},
                                     {"channels/" + flag.id + "/demand/time", "1 s"}});
    const auto plan = plan::evaluate(project, parts);
    EXPECT_TRUE(test::finding(plan, "timer-clash"));
}

TEST(BridgeOfSwitches, onOtherChipsIsRefusedWithItsReason) {
    const auto parts = test::shippedParts();
    for (const char* form : {"esp32", "sbc-header"}) {
        const auto project = test::edited(test::onSwitches("half_bridge_switches_12a"), {{"board/form", form}});
        const auto plan = plan::evaluate(project, parts);
        EXPECT_NE(plan.channels.front().not_driven.find("dead time"), std::string::npos)
            << form << ": " << plan.channels.front().not_driven;
        EXPECT_FALSE(plan::sketchOf(project, plan)) << form;
    }
}

// Of an RP2040's slice both values are taken over at once, wherever in the period: from driving to shorting, and back, only by way of a
// period with both open.
// @return the least counts between one switch that opens and the other that closes, over many rounds; below 0: both were closed
int leastAtOnce(bool at_top, bool careless, int& wanted) {
    std::mt19937 random(5);
    int least_over = 1 << 20;
    for (int round = 0; round < 300; ++round) {
        const int top = 60 + static_cast<int>(random() % 200), dead = 1 + static_cast<int>(random() % 9), period = 2 * (top + 1);
        const auto never = static_cast<uint16_t>(top + 1);
        spark::EndCounts now = {0, never}, taken = now, written = now;
        int at = 0, since_upper = 1 << 20, since_lower = 1 << 20, least = 1 << 20;
        // Each count comes twice; on below `upper`, on from `lower` on.
        const auto run = [&](int ticks) {
            for (; ticks > 0; --ticks) {
                if (at == (at_top ? top + 1 : 0)) taken = written;
                const int count = at <= top ? at : period - 1 - at;
                const bool high = count < taken.upper, low = count >= taken.lower;
                if (high && low) least = -1;
                if (high && since_upper > 0) least = std::min(least, since_lower);
                if (low && since_lower > 0) least = std::min(least, since_upper);
                since_upper = high ? 0 : since_upper + 1;
                since_lower = low ? 0 : since_lower + 1;
                at = (at + 1) % period;
            }
        };
        for (int k = 0; k < 60; ++k) {
            const auto level = static_cast<uint16_t>(random() % 3 == 0 ? 0 : random() % static_cast<unsigned>(top + 20));
            const auto next = spark::endCounts(level, never, static_cast<uint16_t>(dead), random() % 2 == 0);
            if (careless) written = now = next;
            else
                spark::setEndAtOnce(
                    now, next, never, [&](spark::EndCounts to) { written = to; }, [&] { run(period + 1); });
            run(static_cast<int>(random() % 700));
        }
        if (least - dead < least_over) least_over = least - dead, wanted = dead;
    }
    return least_over + wanted;
}
// Of an RP2040's slice both values are taken over at once, wherever in the period: from driving to shorting, and back, only by way of a
// period with both open. Without it the check would see it.
TEST(EndCounts, atOnceGoByWayOfBothOpen) {
    for (const bool at_top : {false, true}) {
        int wanted = 0;
        EXPECT_GE(leastAtOnce(at_top, false, wanted), wanted) << (at_top ? "taken over at the top" : "taken over at the bottom");
    }
    int wanted = 0;
    EXPECT_LT(leastAtOnce(false, true, wanted), wanted) << "written at once, the lower one closes as the upper one opens";
}

TEST(BridgeOfSwitches, withoutALowerPinThereIsNoSketch) {
    const auto parts = test::shippedParts();
    for (const char* field : {"low_pin", "direction_pin", "back_low_pin"}) {
        const auto project = test::edited(test::onSwitches("bridge_switches_8a"), {{std::string{"channels/it/"} + field, ""}});
        EXPECT_FALSE(plan::sketchOf(project, plan::evaluate(project, parts))) << field;
    }
}

// Pulses of two timers, or of a timer and none, close both switches at once: whatever the plan shows, there is no sketch.
TEST(BridgeOfSwitches, whatIsNotOfOneTimerHasNoSketch) {
    const auto parts = test::shippedParts();
    const auto whole = test::onSwitches("bridge_switches_8a");
    ASSERT_TRUE(plan::sketchOf(whole, plan::evaluate(whole, parts)));
    for (const char* field : {"low_pin", "back_low_pin"})
        for (const char* pin : {"D6", "D5", "D4", "A0"}) {
            const auto project = test::edited(whole, {{std::string{"channels/it/"} + field, pin}});
            const auto plan = plan::evaluate(project, parts);
            EXPECT_TRUE(test::finding(plan, "pair-apart")) << field << " " << pin;
            const auto sketch = plan::sketchOf(project, plan);
            ASSERT_FALSE(sketch) << field << " " << pin;
            EXPECT_EQ(sketch.error().field, std::string{"channels/it/"} + field);
        }
    // Both ends on timer 1: its two outputs are one end.
    const auto one = test::edited(whole, {{"channels/it/direction_pin", "D10"}, {"channels/it/back_low_pin", "D9"}});
    EXPECT_FALSE(plan::sketchOf(one, plan::evaluate(one, parts)));
}

// Two pumps at one timer: its dead time leaves it nothing else.
TEST(BridgeOfSwitches, itsTimerServesNothingElse) {
    const auto parts = test::shippedParts();
    auto project = test::edited(test::onSwitches("half_bridge_switches_12a"),
                                {{"board/form", "atmega2560-16mhz"}, {"channels/it/pin", "D5"}, {"channels/it/low_pin", "D2"}});
    ASSERT_TRUE(plan::sketchOf(project, plan::evaluate(project, parts)));
    project = project::addChannel(project, project::ChannelKind::Pump, "Rain");
    auto& rain = project.channels.back();
    rain.actuator = "centrifugal_12v_small", rain.drive.part = "mosfet_logic_30v", rain.rail = "movers", rain.pin = "D3";
    const auto at = [&](const char* frequency) {
        return test::edited(project, {{"channels/" + rain.id + "/signal/frequency", frequency}});
    };
    for (const char* frequency : {"3922 Hz", "490 Hz"})
        EXPECT_FALSE(plan::sketchOf(at(frequency), plan::evaluate(at(frequency), parts))) << frequency;
    project = at("3922 Hz");
    const auto clash = test::finding(plan::evaluate(project, parts), "timer-clash");
    ASSERT_TRUE(clash) << "D2, D3 and D5 are outputs of timer 3";
    ASSERT_FALSE(clash->remedies.empty());
    const auto apart = *project::with(project, clash->remedies.front().edits);
    const auto plan = plan::evaluate(apart, parts);
    EXPECT_FALSE(test::finding(plan, "timer-clash"));
    EXPECT_TRUE(plan::sketchOf(apart, plan));
}

// By hand: at 20 kHz timer 1 counts 400 up and 400 down; 8 counts before and 8 after are left out each way of 400, so at full power the
// upper switch is closed for 384/400, and at half of it for 192/400. What ngspice is given and what a voltmeter is to show say the same.
TEST(BridgeOfSwitches, deckAndBringUpKnowWhatTheDeadTimesTake) {
    const auto parts = test::shippedParts();
    const auto project = test::onSwitches("half_bridge_switches_12a", {test::moved("f", routine::Action::On, 0.0, false, 0.5)},
                                          {{"channels/it/signal/frequency", "20 kHz"}, {"channels/it/signal/duty", "50 %"}});
    const auto plan = plan::evaluate(project, parts);
    const auto& channel = plan.channels.front();
    ASSERT_TRUE(channel.dead_time);
    EXPECT_NEAR(si(channel.closedFor(of<Fraction>(0.5))), 0.48, 1e-9);
    const auto deck = plan::spiceDeck(project, parts, plan);
    ASSERT_TRUE(deck);
    EXPECT_NE(deck->find(" 2.4e-05 5e-05)"), std::string::npos) << "24 of 50 µs:\n" << *deck;
    const auto steps = proof::bringUp(project, parts, plan);
    const auto step = std::find_if(steps.begin(), steps.end(), [](const auto& each) { return each.id == "it.bridge"; });
    ASSERT_NE(step, steps.end());
    ASSERT_TRUE(step->expected);
    EXPECT_NEAR(*step->expected, 0.48 * 12.0, 1e-9);
}

}  // namespace
}  // namespace hinge::bridge_ends
