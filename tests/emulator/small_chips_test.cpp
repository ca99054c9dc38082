// The smaller AVRs, emitted for, compiled and run with their plants: the ATmega32U4, whose beat is timer 3, and the ATtiny85, whose sketch
// brings its own part of the API and has no link.
#include "emulator/gadget.hpp"
#include "plan/machines.hpp"
#include "proof/capture_check.hpp"
#include "support/both_boards.hpp"
#include "support/expanders.hpp"
#include "support/played_drives.hpp"

namespace hinge {
namespace {

// The emulated chip heard as the other boards are: pins by the sketch API's number.
test::Board chip(const char* form) {
    return [form](const firmware::Sketch& sketch, const test::Outside& outside, double seconds) -> test::Heard {
        const auto& family = board::family(*named<board::BoardForm>(form));
        const auto built = emulator::build(test::marked(sketch), family, emulator::usualCache());
        if (!built) return {.trouble = sentence(built.error())};
        if (!built->ok) return {.trouble = built->log.substr(0, 3000)};
        return test::onAvr(built->elf, family, outside, seconds);
    };
}

// Other interrupts may hold a servo's up by 4 us at each end, in half microseconds.
constexpr double late_pulse = 8.0;

class SmallChips : public testing::Test {
protected:
    void SetUp() override {
        if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    }
};

TEST_F(SmallChips, theStageOnAnAtmega32u4) {
    const auto project = test::moved(test::exampleProject("paper-moon-stage"), "atmega32u4-16mhz");
    const auto seen = test::agree(project, chip("atmega32u4-16mhz"), {{500, "start", 200}, {700, "scene", 300}, {4000, "tank_empty", 500}},
                                  9.0, {}, 1e-3, late_pulse);
    EXPECT_GT(seen.steps, 10'000);
    EXPECT_GT(seen.servo_pulses, 60);
}

// Its serial port is a USB, spoken to by a small host of our own.
TEST_F(SmallChips, theLinkOfAnAtmega32u4) {
    (void)test::expectConversation("atmega32u4-16mhz", chip("atmega32u4-16mhz"));
}
TEST_F(SmallChips, everyVerbOnAnAtmega32u4) {
    const auto [classes, played] = test::playMatrix("atmega32u4-16mhz", chip("atmega32u4-16mhz"), 1e-3, late_pulse);
    std::printf("%zu classes, %zu verbs\n", classes, played);
    EXPECT_GT(classes, 8U);
    EXPECT_GT(played, 35U);
}
TEST_F(SmallChips, everyVerbOnAnAtmega328pAt8MHz) {
    const auto [classes, played] = test::playMatrix("atmega328p-8mhz", chip("atmega328p-8mhz"), 1.5e-3, late_pulse);
    std::printf("%zu classes, %zu verbs\n", classes, played);
    EXPECT_GT(classes, 5U);
    EXPECT_GT(played, 16U);
}
// The line that says which way changes only at rest, after the pause; whoever asks for the other way meanwhile gives up.
TEST_F(SmallChips, aBridgeGoesBothWays) {
    for (const char* form : {"atmega328p-16mhz", "atmega328p-8mhz", "atmega2560-16mhz", "atmega32u4-16mhz"}) {
        SCOPED_TRACE(form);
        test::playBothWays(form, chip(form), 1.5e-3);
        test::playTwoInputs(form, chip(form), 1.5e-3);
    }
}
TEST_F(SmallChips, aServoTurnsOnBothWays) {
    for (const char* form : {"atmega328p-16mhz", "atmega2560-16mhz", "atmega32u4-16mhz"}) {
        SCOPED_TRACE(form);
        test::playTurningServo(form, chip(form), 1.5e-3, late_pulse);
    }
}
TEST_F(SmallChips, whatStandsIsLetGo) {
    for (const char* form : {"atmega328p-16mhz", "atmega2560-16mhz", "atmega32u4-16mhz"}) {
        SCOPED_TRACE(form);
        test::playLetGo(form, chip(form), 1.5e-3, late_pulse);
    }
}
TEST_F(SmallChips, aCoilIsLatched) {
    for (const char* form : {"atmega328p-16mhz", "atmega328p-8mhz", "atmega2560-16mhz", "atmega32u4-16mhz", "attiny85-8mhz"}) {
        SCOPED_TRACE(form);
        test::playLatchingCoil(form, chip(form), 1.5e-3);
    }
}
TEST_F(SmallChips, aStepperGoesOnBothWays) {
    for (const char* form : {"atmega328p-16mhz", "atmega2560-16mhz", "atmega32u4-16mhz"}) {
        SCOPED_TRACE(form);
        test::playTurningStepper(form, chip(form), 1.5e-3);
    }
    test::playStopOfATurningStepper("atmega328p-16mhz", chip("atmega328p-16mhz"), 1.5e-3);
}
// What the sketch itself does at its pins holds against its own plan, for each drive: the window and the terminal lay it there.
TEST_F(SmallChips, itsOwnPinsHoldAgainstThePlan) {
    const auto parts = test::shippedParts();
    auto bolt = test::running(test::alone(project::ChannelKind::Press, "latching_12v", "bridge_3a",
                                          {{"channels/it/demand/way", "plunger"},
                                           {"channels/it/demand/force", "2 N"},
                                           {"channels/it/demand/stroke", "4 mm"},
                                           {"channels/it/direction_pin", "D4"}}),
                              0.3);
    auto servo = test::bothWays("atmega328p-16mhz", "servo_micro_turning", driver::DriverClass::Pin),
         stepper = test::bothWays("atmega328p-16mhz", "stepper_42mm_short", driver::DriverClass::Chopper);
    servo.channels.front().rail = "servo";
    for (const auto& project : {bolt, servo, stepper}) {
        SCOPED_TRACE(project.channels.front().actuator);
        const auto both = test::bothOf(project);
        ASSERT_NE(both.board, nullptr);
        both.board->advance(0.5);
        both.board->write("start 0\n");
        both.board->advance(2.5);
        const auto checks =
            proof::checkCapture(proof::captureOf(both.board->edges(), project, both.plan, 3.0, 2'000'000), project, both.plan);
        EXPECT_FALSE(checks.empty());
        for (const auto& check : checks) EXPECT_EQ(check.verdict, Verdict::Holds) << check.what << ": " << check.text;
    }
}
// The machine beside the board goes the way that the pins say, on the chip as on the interpreter: −1 of full drive is as fast as 1.
TEST_F(SmallChips, whatIsTurnedRoundTurnsItsMachineBackwards) {
    for (const auto& [actuator, driver] :
         {std::pair{"small_12v_g100", driver::DriverClass::HBridge}, std::pair{"servo_micro_turning", driver::DriverClass::Pin},
          std::pair{"stepper_42mm_short", driver::DriverClass::Chopper}}) {
        SCOPED_TRACE(actuator);
        const bool servo = driver == driver::DriverClass::Pin, stepper = driver == driver::DriverClass::Chopper;
        auto project = test::bothWays("atmega328p-16mhz", actuator, driver);
        if (servo) project.channels.front().rail = "servo";
        const auto both = test::bothOf(std::move(project));
        ASSERT_EQ(both.all.size(), 2U);
        std::vector<double> forwards, backwards;
        for (auto* board : both.all) {
            const auto machines = plan::machinesOf(both.project, test::shippedParts(), both.plan);
            ASSERT_EQ(machines.couplings.size(), 1U);
            board->fit(plant::Bench{machines.couplings, 1});
            board->advance(0.2);
            EXPECT_NEAR(board->observe().machines.front().value, 0.0, 1e-9);
            board->write("start 0\n");
            board->advance(0.19);
            forwards.push_back(board->observe().machines.front().value);
            board->advance(0.20);
            backwards.push_back(board->observe().machines.front().value);
            board->advance(1.0);
            EXPECT_GT(forwards.back(), 0.5);
            if (stepper) {  // where it stands, not how fast: 140 ms back, of which a ramp, at half a turn a second
                EXPECT_NEAR(backwards.back(), forwards.back() - 0.34, 0.03);
                continue;
            }
            EXPECT_NEAR(board->observe().machines.front().value, 0.0, 0.02 * forwards.back());
            EXPECT_LT(backwards.back(), -0.5);
        }
        EXPECT_NEAR(forwards[1], forwards[0], 0.15 * forwards[0]) << "a frame of 20 ms later at the most";
        EXPECT_NEAR(backwards[1], backwards[0], 0.15 * std::abs(backwards[0]));
    }
}
// Minutes, so left to ./check --long.
TEST_F(SmallChips, DISABLED_everyVerbOfEveryClass) {
    for (const char* form : {"atmega328p-16mhz", "atmega328p-8mhz", "atmega2560-16mhz", "atmega32u4-16mhz"}) {
        const auto [classes, played] = test::playMatrix(form, chip(form), 1.5e-3, late_pulse, true);
        std::printf("%s: %zu classes, %zu verbs\n", form, classes, played);
        EXPECT_GT(played, 70U);
    }
}
TEST_F(SmallChips, whatAnAtmega32u4Reads) {
    test::expectReadings("atmega32u4-16mhz", chip("atmega32u4-16mhz"));
}
TEST_F(SmallChips, rubbishOnTheUsbMovesNoPulse) {
    test::expectSteadyUnderRubbish("atmega32u4-16mhz", chip("atmega32u4-16mhz"), 1e-3, late_pulse);
}

// Its timer 4 is of another make; the plan offers no pin of it, and refuses one that is chosen by hand.
TEST_F(SmallChips, noPwmOnTheTimerThatIsNotWrittenFor) {
    const auto parts = test::shippedParts();
    for (const auto& [form, pin, frequency] : {std::tuple{"atmega32u4-16mhz", "D13", "2 kHz"}, {"attiny85-8mhz", "PB4", "488.28125 Hz"}}) {
        auto project =
            test::alone(project::ChannelKind::Blow, "fan_40_12v", "mosfet_logic_30v",
                        {{"board/form", form}, {"channels/it/signal/frequency", frequency}, {"channels/it/signal/duty", "60 %"}});
        project.inputs.clear();
        project.channels.front().pin = pin;
        const auto plan = plan::evaluate(project, parts);
        const auto* stop = test::finding(plan, "pin-cannot");
        ASSERT_NE(stop, nullptr) << form;
        EXPECT_NE(stop->text.find("of another make"), std::string::npos) << stop->text;
        ASSERT_FALSE(stop->remedies.empty()) << form;
        EXPECT_EQ(test::finding(plan::evaluate(test::edited(project, stop->remedies.front().edits), parts), "pin-cannot"), nullptr) << form;
    }
}

// A pump behind a button and a float switch, in 8 kB of flash and 512 bytes: with a soft start, by PWM of 488 Hz.
TEST_F(SmallChips, aPumpOnAnAttiny85) {
    auto project = test::demoProject();
    for (auto& cue : project.routine.cues) cue.times.clear();
    project = test::moved(test::edited(project, {{"channels/rain/signal/frequency", "488.28125 Hz"},
                                                 {"channels/rain/signal/duty", "60 %"},
                                                 {"channels/rain/demand/lift", "0.1 m"},
                                                 {"channels/rain/demand/run_time_limit", "30 s"}}),
                          "attiny85-8mhz");
    const auto seen =
        test::agree(project, chip("attiny85-8mhz"), {{500, "start", 200}, {6000, "start", 100}, {7000, "tank_empty", 400}}, 9.0, {}, 1e-3);
    EXPECT_GT(seen.pwm, 0);
}

project::Project onTiny() {
    auto project = test::alone(project::ChannelKind::Switch, "led_string_12v_6w", "mosfet_logic_30v",
                               {{"channels/it/demand/power", "6 W"},
                                {"board/form", "attiny85-8mhz"},
                                {"channels/it/pin", "PB0"},
                                {"channels/it/signal/soft_start", "0 s"}});
    project.inputs.front().pin = "PB2";
    project.routine.cues.front().moves.front().action = routine::Action::Toggle;
    project.routine.cues.front().moves.front().time.reset();
    return project;
}
// Without a link a cue is started by its button: each verb that the plan does not refuse, as on the other boards.
std::pair<std::size_t, int> playTiny(bool all) {
    const auto parts = test::shippedParts();
    std::set<std::string> seen;
    std::set<plan::SignalKind> signals;
    int played = 0;
    for (const auto& [what, driver, project] : test::matrix(parts, {"attiny85-8mhz"})) {
        auto at_its_timer = project;
        at_its_timer.channels.front().pin = "PB0";
        at_its_timer.inputs.front().pin = "PB2";
        at_its_timer = test::edited(at_its_timer, {{"channels/it/signal/frequency", "488.28125 Hz"}});
        const auto first = plan::evaluate(at_its_timer, parts);
        const auto& it = first.channels.front();
        if (!plan::isDriven(it) || !plan::sketchOf(at_its_timer, first)) continue;
        if (!seen.insert(fmt::format("{} {} {} {}", static_cast<int>(driver), static_cast<int>(it.signal), it.inverted, it.pwm.has_value()))
                 .second)
            continue;
        const bool leads = signals.insert(it.signal).second || all;
        bool first_verb = true;
        for (const auto& verb : test::verbs()) {
            if (!leads && !first_verb) break;
            auto more = at_its_timer;
            more.routine.cues.clear();
            more = test::withVerb(more, verb, 0);
            more.routine.cues.front().input = more.inputs.front().id;
            if (!plan::sketchOf(more, plan::evaluate(more, parts))) continue;
            SCOPED_TRACE(what + ", " + verb.name);
            (void)test::agree(more, chip("attiny85-8mhz"), {{300, more.inputs.front().id, 200}}, 2.5, {}, 1e-3);
            ++played;
            first_verb = false;
        }
    }
    return {seen.size(), played};
}
TEST_F(SmallChips, everyVerbOnAnAttiny85) {
    const auto [classes, played] = playTiny(false);
    EXPECT_GT(classes, 3U);
    EXPECT_GT(played, 12);
}
TEST_F(SmallChips, DISABLED_everyVerbOfEveryClassOnAnAttiny85) {
    EXPECT_GT(playTiny(true).second, 70);
}
// A button turns a lamp on and off; what hangs is reset, and starts with its outputs off.
TEST_F(SmallChips, anAttiny85TogglesAndHasItsWatchdog) {
    auto project = onTiny();
    const auto seen =
        test::agree(project, chip("attiny85-8mhz"),
                    {{300, project.inputs.front().id, 100}, {900, project.inputs.front().id, 100}, {1500, project.inputs.front().id, 100}},
                    2.0, {}, 1e-3);
    EXPECT_EQ(seen.switched, 3);
    project.board.watchdog = true;
    const auto plan = plan::evaluate(project, test::shippedParts());
    const auto sketch = plan::sketchOf(project, plan);
    ASSERT_TRUE(sketch) << sentence(sketch.error());
    test::Outside outside;
    outside.pin(0.0, 2, true);
    outside.pin(0.3, 2, false);
    outside.pin(0.4, 2, true);
    const auto heard = chip("attiny85-8mhz")(test::hanging(*sketch), outside, 2.0);
    EXPECT_EQ(heard.trouble, "");
    const auto& lamp = heard.pins.at(0);
    ASSERT_EQ(lamp.size(), 2U) << "off, on by the button; after the reset it is off and stays off";
    EXPECT_NEAR(lamp[1].time, 0.32, 2e-3);
    ASSERT_EQ(heard.watchdog.size(), 1U);
    EXPECT_NEAR(heard.watchdog.front(), 1.25, 0.03) << "a quarter of a second after it began to hang; its oscillator is its own";
}
// A lamp shines for half a second when a level rises above 60 % of the supply. By hand: 500 of 1023 is below, 620 above.
TEST_F(SmallChips, anAttiny85ReadsALevel) {
    auto project = onTiny();
    project.inputs.clear();
    project.routine.cues.clear();
    project = project::addInput(project, project::InputKind::Level, "light");
    project = test::edited(project, {{"inputs/light/upper", "60 %"}, {"inputs/light/lower", "40 %"}});
    project.inputs.front().pin = "PB3";
    project = project::addCue(project, "shine");
    project.routine.cues.front().input = "light";
    project = project::addMove(project, "shine", routine::Action::Run, "it");
    project.routine.cues.front().moves.front().time = of<Duration>(0.5);
    const auto sketch = plan::sketchOf(project, plan::evaluate(project, test::shippedParts()));
    ASSERT_TRUE(sketch) << sentence(sketch.error());
    test::Outside outside;
    outside.reading(0.0, 3, 500);
    outside.reading(0.5, 3, 620);
    const auto heard = chip("attiny85-8mhz")(*sketch, outside, 1.5);
    EXPECT_EQ(heard.trouble, "");
    const auto& lamp = heard.pins.at(0);
    ASSERT_EQ(lamp.size(), 3U);
    EXPECT_NEAR(lamp[1].time, 0.5 + si(project.inputs.front().debounce), 5e-3);
    EXPECT_NEAR(lamp[2].time - lamp[1].time, 0.5, 1e-3);
}
// Words, numbers and times of day cannot reach it, and the plan says so.
TEST_F(SmallChips, whatAnAttiny85CannotHearIsAStop) {
    const auto parts = test::shippedParts();
    EXPECT_NE(test::finding(plan::evaluate(onTiny(), parts), "no-link"), nullptr);
    EXPECT_EQ(test::finding(plan::evaluate(onTiny(), parts), "not-read"), nullptr);
    for (const auto kind : {project::InputKind::Word, project::InputKind::Number}) {
        auto project = project::addInput(onTiny(), kind, "sent");
        if (kind == project::InputKind::Word) project.inputs.back().word = "opensesame";
        const auto stop = test::finding(plan::evaluate(project, parts), "not-read");
        ASSERT_NE(stop, nullptr);
        EXPECT_EQ(stop->severity, Severity::Stop);
        EXPECT_FALSE(plan::sketchOf(project, plan::evaluate(project, parts)));
    }
    auto project = onTiny();
    project.routine.cues.front().times = "14:30";
    const auto plan = plan::evaluate(project, parts);
    EXPECT_NE(test::finding(plan, "not-read"), nullptr);
    ASSERT_FALSE(plan::sketchOf(project, plan));
    EXPECT_EQ(plan::sketchOf(project, plan).error().code, ErrorCode::NotDriven);
}

// Boards of more lines are spoken to by the smallest too, which has no link to say what came of it: a lamp on a relay, its button there.
TEST_F(SmallChips, anExpanderOnAnAttiny85) {
    auto project = test::lampsOnExpanders();
    project.channels.erase(project.channels.begin());
    project.routine.cues.front().moves = {{"on", routine::Action::On, "other"}};
    project = test::edited(project, {{"board/form", "attiny85-8mhz"}, {"board/expander_clock_pin", ""}, {"board/expander_data_pin", ""}});
    const auto parts = test::shippedParts();
    for (const auto& open : plan::evaluate(project, parts).findings)
        if (open.id == "pins-open" && !open.remedies.empty()) project = test::edited(project, open.remedies.front().edits);
    const auto plan = plan::evaluate(project, parts);
    ASSERT_EQ(plan.channels.front().not_driven, "");
    const auto started = emulator::startGadget(project, parts, plan, emulator::usualCache());
    ASSERT_TRUE(started) << sentence(started.error());
    auto& board = **started;
    board.advance(0.5);
    EXPECT_LT(board.observe().duty[0], 0.5);
    board.setInput(0, true);
    board.advance(0.2);
    EXPECT_GT(board.observe().duty[0], 0.5);
}

}  // namespace
}  // namespace hinge
