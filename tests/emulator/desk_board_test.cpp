// Emitted sketches for boards that nobody emulates, run on the desk's own stand-in for their API: what the sketch does, not what a chip
// does with it.
#include "support/played_drives.hpp"
#include "support/played_mains.hpp"

namespace hinge {
namespace {

test::Board desk(const char* which) {
    return [which](const firmware::Sketch& sketch, const test::Outside& outside, double seconds) {
        return test::onDesk(which, sketch, outside, seconds);
    };
}

TEST(DeskBoard, theStageOnAnEsp32) {
    const auto project = test::moved(test::exampleProject("paper-moon-stage"), "esp32");
    const auto seen = test::agree(project, desk("esp32"), {{500, "start", 200}, {700, "scene", 300}, {4000, "tank_empty", 500}}, 9.0);
    EXPECT_GT(seen.steps, 10'000);
    EXPECT_GT(seen.servo_pulses, 60);
}

// As many steps a millisecond as the plan allows: a move that peaks just under 16 000 a second.
TEST(DeskBoard, anEsp32StepsAsFastAsThePlanAllows) {
    auto project = test::alone(project::ChannelKind::Turn, "stepper_42mm_short", "chopper_1a_fine",
                               {{"channels/it/demand/mass", "1 g"},
                                {"channels/it/demand/arm", "10 mm"},
                                {"channels/it/demand/angle", "180 deg"},
                                {"channels/it/demand/time", "0.21 s"},
                                {"channels/it/signal/microsteps", "16"}});
    for (auto& move : project.routine.cues.front().moves) move.time = of<Duration>(0.21);
    project = test::moved(project, "esp32");
    const auto plan = plan::evaluate(project, test::shippedParts());
    ASSERT_TRUE(plan.channels.front().motion.peak_rate);
    EXPECT_GT(si(*plan.channels.front().motion.peak_rate), 14e3);
    EXPECT_EQ(test::finding(plan, "step-too-fast"), nullptr);
    const auto seen = test::agree(project, desk("esp32"), {{300, project.inputs.front().id, 100}}, 1.5);
    EXPECT_GT(seen.steps, 1500);
}
TEST(DeskBoard, theLinkAndTheWatchdogOnAnEsp32) {
    const auto sketch = test::expectConversation("esp32", desk("esp32"), true);
    const auto hung = test::onDesk("esp32", test::hanging(sketch, "for (;;) micros();"), {}, 2.5);
    ASSERT_EQ(hung.watchdog.size(), 1U) << hung.trouble;
    EXPECT_NEAR(hung.watchdog.front(), 2.0, 5e-3) << "it counts whole seconds";
}
TEST(DeskBoard, whatAnEsp32Reads) {
    test::expectReadings("esp32", desk("esp32"));
}
TEST(DeskBoard, rubbishOnTheLinkMovesNoPulseOfAnEsp32) {
    test::expectSteadyUnderRubbish("esp32", desk("esp32"));
}

TEST(DeskBoard, everyVerbOnAnEsp32) {
    const auto [classes, played] = test::playMatrix("esp32", desk("esp32"), 0.4e-3, 1.01, true);
    std::printf("%zu classes, %zu verbs\n", classes, played);
    EXPECT_GT(classes, 8U);
    EXPECT_GT(played, 80U);
}
TEST(DeskBoard, aBridgeGoesBothWaysOnAnEsp32) {
    test::playBothWays("esp32", desk("esp32"));
    test::playTwoInputs("esp32", desk("esp32"));
    test::playLetGo("esp32", desk("esp32"));
    test::playRegisters("esp32", desk("esp32"));
    test::playExpander("esp32", desk("esp32"));
    test::playRadio("esp32", desk("esp32"), "IO32", "IO33");
    test::playRadio("esp32", desk("esp32"));
}
TEST(DeskBoard, aServoTurnsOnBothWaysOnAnEsp32) {
    test::playTurningServo("esp32", desk("esp32"));
}
TEST(DeskBoard, aCoilIsLatched) {
    test::playLatchingCoil("esp32", desk("esp32"));
    test::playLatchingCoil("sbc-header", desk("linux"));
}
TEST(DeskBoard, aStepperGoesOnBothWaysOnAnEsp32) {
    test::playTurningStepper("esp32", desk("esp32"));
    test::playStopOfATurningStepper("esp32", desk("esp32"));
}
TEST(DeskBoard, aLampIsFiredIntoHalfWavesOnAnEsp32) {
    test::playPhaseControl("esp32", "IO25", "IO26", "IO27", desk("esp32"));
}
TEST(DeskBoard, aBridgeGoesBothWaysOnLinux) {
    test::playBothWays("sbc-header", desk("linux"));
    test::playTwoInputs("sbc-header", desk("linux"));
}
// On a Linux header boards of more lines hang on its own bus: servos, lights, relays, contacts and levels. By hand, from the tables: the
// lamp's output X2 is four registers from 6 + 8 on, whose second says on for good by 0x10; the relay's line X9 is bit 1 of the upper byte;
// a servo's 1.5 ms at 50.03 Hz are 307 counts.
TEST(DeskBoard, boardsOfMoreLinesOnLinux) {
    auto project = test::edited(test::lampsOnExpanders(), {{"board/form", "sbc-header"},
                                                           {"board/expander_clock_pin", "GPIO3"},
                                                           {"board/expander_data_pin", "GPIO2"},
                                                           {"inputs/start/expander", ""},
                                                           {"inputs/start/pin", "GPIO17"}});
    project.routine.cues.front().moves = {{"one", routine::Action::On, "it"}, {"two", routine::Action::On, "other"}};
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    for (const auto& channel : plan.channels) ASSERT_EQ(channel.not_driven, "") << channel.name;
    const auto sketch = plan::sketchOf(project, plan);
    ASSERT_TRUE(sketch) << sentence(sketch.error());
    test::Outside outside;
    outside.pin(0.0, 17, true);
    outside.pin(1.0, 17, false);
    const auto heard = test::onDesk("linux", *sketch, outside, 2.0);
    EXPECT_EQ(heard.trouble, "");
    for (const char* said :
         {"PWM expander: its driver is set", "I/O expander: its driver is set", "~i2c 40 0e 00 10 00 00", "~i2c 20 14 00 02"})
        EXPECT_NE(heard.sent.find(said), std::string::npos) << said << "\n" << heard.sent.substr(0, 600);
    EXPECT_GT(heard.sent.find("~i2c 40 0e 00 10 00 00"), heard.sent.find("~i2c 40 0e 00 00 00 00")) << "off at the start";

    auto arm = test::onExpander("servo_expander_i2c", {{"board/form", "sbc-header"},
                                                       {"board/expander_clock_pin", "GPIO3"},
                                                       {"board/expander_data_pin", "GPIO2"},
                                                       {"inputs/start/pin", "GPIO17"}});
    const auto planned = plan::evaluate(arm, parts);
    ASSERT_EQ(planned.channels.front().not_driven, "");
    const auto arms = plan::sketchOf(arm, planned);
    ASSERT_TRUE(arms) << sentence(arms.error());
    const auto moved = test::onDesk("linux", *arms, outside, 4.0);
    const int counts = static_cast<int>(std::lround(si(*planned.channels.front().motion.pulse_to) / 4.88e-6));
    EXPECT_NE(moved.sent.find(fmt::format("~i2c 40 06 00 00 {:02x} {:02x}", counts & 255, counts >> 8)), std::string::npos)
        << counts << "\n"
        << moved.sent.substr(0, 800);
}

TEST(DeskBoard, everyVerbOnLinux) {
    const auto [classes, played] = test::playMatrix("sbc-header", desk("linux"), 0.4e-3, 1.01, true);
    std::printf("%zu classes, %zu verbs\n", classes, played);
    EXPECT_GT(classes, 12U);
    EXPECT_GT(played, 70U);
}

}  // namespace
}  // namespace hinge
