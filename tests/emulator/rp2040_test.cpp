// The emitted sketch on an emulated RP2040 (rp2040js), against the desk's interpreter of the same routine and against figures by hand.
#include "firmware/target.hpp"
#include "support/played_drives.hpp"
#include "support/played_mains.hpp"

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
