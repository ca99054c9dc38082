// The emitted sketch on an emulated RP2040 (rp2040js), against the desk's interpreter of the same routine and against figures by hand.
#include "firmware/target.hpp"
#include "support/played_drives.hpp"
#include "support/played_mains.hpp"
#include "support/switch_ends.hpp"

namespace hinge {
namespace {

class Rp2040 : public testing::Test {
protected:
    void SetUp() override {
        if (!std::filesystem::exists("/usr/bin/arm-none-eabi-g++")) GTEST_SKIP() << "gcc-arm-none-eabi is not installed";
        if (!test::hasRp2040()) GTEST_SKIP() << "rp2040js is not there: ./check fetches it from the npm registry into the build folder";
    }
};

// Servo, stepper, fan at 25 kHz, lamps, pump and a gearmotor by its loop, all in one sketch.
TEST_F(Rp2040, theStageAgreesWithTheInterpreter) {
    const auto project = test::moved(test::exampleProject("paper-moon-stage"), "rp2040");
    const auto seen = test::agree(project, test::onRp2040, {{500, "start", 200}, {700, "scene", 300}, {4000, "tank_empty", 500}}, 9.0);
    EXPECT_GT(seen.pwm, 2);
    EXPECT_GT(seen.steps, 10'000);
    EXPECT_GT(seen.servo_pulses, 60);
}
TEST_F(Rp2040, everyVerbOfTheMatrix) {
    const auto [classes, played] = test::playMatrix("rp2040", test::onRp2040);
    std::printf("%zu classes, %zu verbs\n", classes, played);
    EXPECT_GT(classes, 8U);
    EXPECT_GT(played, 35U);
}
TEST_F(Rp2040, aBridgeGoesBothWays) {
    test::playBothWays("rp2040", test::onRp2040);
    test::playTwoInputs("rp2040", test::onRp2040);
    test::playLetGo("rp2040", test::onRp2040);
    test::playRegisters("rp2040", test::onRp2040);
    test::playExpander("rp2040", test::onRp2040);
    test::playRadio("rp2040", test::onRp2040, "GP6", "GP7");
    test::playRadio("rp2040", test::onRp2040);
}

// Bridges of separate switches, both ends on slices that count up and down; the data sheet does not say where in a period new levels are
// taken over, so it may be either. By hand: 500 ns are 62.5 counts of 125 MHz, so 63, 504 ns; half power of 3125 counts less two dead
// times.
TEST_F(Rp2040, aDeadTimeLiesBetweenTheSwitchesOfAnEnd) {
    const auto parts = test::shippedParts();
    for (const char* latch : {"bottom", "top"})
        for (const char* driver : {"bridge_switches_8a", "half_bridge_switches_12a"}) {
            const bool whole = std::string_view{driver}.starts_with("bridge");
            auto moves = test::allThatABridgeDoes();
            if (!whole) moves.resize(4);
            const auto project = test::moved(
                test::onSwitches(driver, moves, {{"channels/it/signal/turn_pause", "20 ms"}, {"channels/it/signal/frequency", "20 kHz"}}),
                "rp2040");
            const auto plan = plan::evaluate(project, parts);
            const auto& channel = project.channels.front();
            EXPECT_EQ(plan.channels.front().not_driven, "");
            const auto sketch = plan::sketchOf(project, plan);
            ASSERT_TRUE(sketch) << sentence(sketch.error());
            const auto number = [&](const std::string& pin) { return board::pinNamed(board::family(project.board.form), pin)->number; };
            test::Outside outside;
            const int start = number(project.inputs.front().pin);
            outside.pin(0.0, start, true), outside.pin(0.2, start, false), outside.pin(0.3, start, true);
            const auto heard = test::onRp2040At(*sketch, outside, 0.8, latch);
            EXPECT_EQ(heard.trouble, "");
            const auto edges = [&](const std::string& pin) {
                test::SwitchEdges list;
                for (const auto& edge : heard.pins.at(number(pin))) list.emplace_back(edge.time, edge.level != 0);
                return list;
            };
            const auto upper = edges(channel.pin), lower = edges(channel.low_pin);
            EXPECT_GT(upper.size(), 1500U) << "20 pulses a millisecond for 40 ms";
            EXPECT_NEAR(test::leastDeadTime(upper, lower), 504e-9, 2e-9) << latch << ' ' << driver;
            if (whole) {
                const auto high = edges(channel.direction_pin), low = edges(channel.back_low_pin);
                EXPECT_GT(high.size(), 1000U);
                EXPECT_NEAR(test::leastDeadTime(high, low), 504e-9, 2e-9) << latch << ' ' << driver;
            }
            double on = 0.0, rose = -1.0;
            for (const auto& [time, level] : upper) {
                if (time < 0.23 || time > 0.255) continue;
                if (level) rose = time;
                else if (rose >= 0.0) on += time - rose;
            }
            EXPECT_NEAR(on / 0.025, 0.5 * (3125.0 - 126.0) / 3125.0, 0.01) << latch << ' ' << driver;
        }
}

TEST_F(Rp2040, aServoTurnsOnBothWays) {
    test::playTurningServo("rp2040", test::onRp2040);
}

TEST_F(Rp2040, aCoilIsLatched) {
    test::playLatchingCoil("rp2040", test::onRp2040);
}
TEST_F(Rp2040, aStepperGoesOnBothWays) {
    test::playTurningStepper("rp2040", test::onRp2040);
}
TEST_F(Rp2040, aLampIsFiredIntoHalfWaves) {
    test::playPhaseControl("rp2040", "GP6", "GP2", "GP3", test::onRp2040);
}
// Minutes, so left to ./check --long.
TEST_F(Rp2040, DISABLED_everyVerbOfEveryClass) {
    EXPECT_GT(test::playMatrix("rp2040", test::onRp2040, 0.4e-3, 1.01, true).second, 80U);
}
// Everything that comes over the link, and the watchdog with it.
TEST_F(Rp2040, theLinkAndTheWatchdog) {
    const auto sketch = test::expectConversation("rp2040", test::onRp2040, true);
    EXPECT_NE(sketch.text.find("not run on a board"), std::string::npos) << "it says so itself";
    // One that hangs after a second is reset a quarter of a second later.
    const auto hung = test::onRp2040(test::hanging(sketch), {}, 1.5);
    ASSERT_EQ(hung.watchdog.size(), 1U) << hung.trouble;
    EXPECT_NEAR(hung.watchdog.front(), 1.25, 2e-3);
}
TEST_F(Rp2040, whatItReads) {
    test::expectReadings("rp2040", test::onRp2040);
}
// The wire of a 4-wire fan is held down from the first moment on.
TEST_F(Rp2040, aFourWireFanIsOffWhileItStarts) {
    const auto project = test::edited(test::alone(project::ChannelKind::Blow, "fan_80_pwm_70", "straight_from_pin"),
                                      {{"board/form", "rp2040"}, {"channels/it/pin", "GP9"}, {"inputs/start/pin", "GP2"}});
    const auto plan = plan::evaluate(project, test::shippedParts());
    ASSERT_TRUE(plan.channels.front().inverted);
    const auto sketch = plan::sketchOf(project, plan);
    ASSERT_TRUE(sketch) << sentence(sketch.error());
    test::Outside outside;
    outside.pin(0.0, 2, true);
    const auto heard = test::onRp2040(*sketch, outside, 0.5);
    EXPECT_EQ(heard.trouble, "");
    ASSERT_EQ(heard.pins.at(9).size(), 1U) << "high, and never another level";
    EXPECT_EQ(heard.pins.at(9).front().level, 1);
}
// Rubbish at full rate while a servo moves: its pulses are as they were.
TEST_F(Rp2040, rubbishOnTheLinkMovesNoPulse) {
    test::expectSteadyUnderRubbish("rp2040", test::onRp2040);
}

}  // namespace
}  // namespace hinge
