#include "emulator/patterns.hpp"

namespace hinge {
namespace {

using namespace by_hand;

double meanDuty(plant::StandIn& one, std::size_t output = 0) {
    double sum = 0.0;
    for (int k = 0; k < 20; ++k) one.advance(0.001), sum += one.observe().duty[output];
    return sum / 20;
}
constexpr double pwm_step = 0.02 + 1.0 / 255;  // a period in twenty, and a step of the register

TEST(PatternAsBefore, thePowerComesBackAndItIsOnAgain) {
    auto inserted = project::insertPattern(bare(), "as-before", "rain");
    ASSERT_TRUE(inserted);
    givePins(*inserted);
    auto both = test::bothOf(*inserted);
    const int start = both.input(project::InputKind::Button);
    for (auto* one : both.all) {
        const auto press = [&] {
            one->setInput(start, true);
            one->advance(0.1);
            one->setInput(start, false);
            one->advance(0.4);
        };
        const auto cut = [&] {
            if (one == both.interpreter.get()) both.interpreter->cutPower();
            else both.board->cutPower();
            one->advance(0.5);
        };
        one->advance(0.2);
        press();
        EXPECT_NEAR(meanDuty(*one), 1.0, pwm_step) << one->what();
        cut();
        EXPECT_NEAR(meanDuty(*one), 1.0, pwm_step) << one->what() << ": as before";
        press();
        EXPECT_NEAR(meanDuty(*one), 0.0, pwm_step) << one->what();
        cut();
        EXPECT_NEAR(meanDuty(*one), 0.0, pwm_step) << one->what() << ": off as before";
    }
    if (both.board == nullptr) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
}

TEST(PatternPortion, slowlyOffTheTabAndFastToTheNext) {
    auto inserted = project::insertPattern(bare(), "portion", "rain");
    ASSERT_TRUE(inserted);
    givePins(*inserted);
    auto both = test::bothOf(*inserted);
    const int start = both.input(project::InputKind::Button), tab = both.input(project::InputKind::Sensor);
    for (auto* one : both.all) {
        one->setInput(tab, true);
        one->advance(0.3);
        one->setInput(start, true);
        one->advance(0.2);
        EXPECT_NEAR(meanDuty(*one), 0.6, pwm_step) << one->what() << ": on the tab";
        one->setInput(tab, false);
        one->advance(0.1);
        EXPECT_NEAR(meanDuty(*one), 1.0, pwm_step) << one->what() << ": off it";
        one->setInput(tab, true);
        one->advance(0.1);
        EXPECT_NEAR(meanDuty(*one), 0.0, 1e-9) << one->what() << ": on the next";
    }
    if (both.board == nullptr) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
}

TEST(PatternNumber, theDutyFollowsUntilItFallsSilent) {
    auto inserted = project::insertPattern(bare(), "number", "rain");
    ASSERT_TRUE(inserted);
    givePins(*inserted);
    auto both = test::bothOf(*inserted);
    const int number = both.input(project::InputKind::Number);
    for (auto* one : both.all) {
        one->advance(0.2);
        EXPECT_NEAR(meanDuty(*one), 0.0, 1e-9) << "never sent: off";
        one->write(fmt::format("number {} 512\n", number));
        one->advance(0.1);
        // By hand: 25 % just above a reading of 20, full at 1023.
        EXPECT_NEAR(meanDuty(*one), std::floor(250 + 750.0 * (512 - 20) / 1003) / 1000.0, pwm_step) << one->what();
        one->advance(1.8);
        EXPECT_GT(meanDuty(*one), 0.5) << one->what() << ": within its two seconds";
        one->advance(0.3);
        EXPECT_NEAR(meanDuty(*one), 0.0, 1e-9) << one->what() << ": after them";
    }
    if (both.board == nullptr) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
}

TEST(PatternFlame, fadesFlickersAndDies) {
    auto inserted = project::insertPattern(bare(), "flame", "rain");
    ASSERT_TRUE(inserted);
    givePins(*inserted);
    auto both = test::bothOf(*inserted);
    const int start = both.input(project::InputKind::Button);
    std::vector<std::vector<double>> flickers;
    for (auto* one : both.all) {
        one->advance(0.5);
        one->setInput(start, true);
        one->advance(1.51 - 0.5);  // lit at 0.520 s; its window of 20 ms stands around one second later
        EXPECT_NEAR(meanDuty(*one), 0.4, pwm_step) << one->what() << ": half of two seconds to 80 %";
        one->advance(1.0 - 0.02 + 0.025);  // the first flicker began at 2.521 s and lasts 50 ms
        flickers.emplace_back();
        for (int k = 0; k < 8; ++k) {
            flickers.back().push_back(meanDuty(*one));
            EXPECT_GT(flickers.back().back(), 0.3 - pwm_step);
            EXPECT_LT(flickers.back().back(), 1.0 + 1e-9);
            one->advance(0.03);
        }
        one->advance(12.522 + 0.101 + 1.5 - 0.01 - (2.535 + 0.4));  // ten seconds later to 60 % in 0.1 s, then down in 3 s
        EXPECT_NEAR(meanDuty(*one), 0.3, pwm_step) << one->what() << ": half of the way down";
        one->advance(2.0);
        EXPECT_NEAR(meanDuty(*one), 0.0, 1e-9);
    }
    for (std::size_t k = 0; k < flickers.front().size(); ++k)
        EXPECT_NEAR(flickers.front()[k], flickers.back()[k], pwm_step) << "the same flame on both, " << k;
    std::set<int> different;
    for (const double share : flickers.front()) different.insert(static_cast<int>(share * 50));
    EXPECT_GE(different.size(), 4U);
    if (both.board == nullptr) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
}

// With a tach that turns at a constant rate, the loop's share is a sum that a hand can make.
TEST(PatternHoldSpeed, theShareIsTheSumByHand) {
    auto inserted = project::insertPattern(bare(), "hold-speed", "rain");
    ASSERT_TRUE(inserted);
    givePins(*inserted);
    auto both = test::bothOf(*inserted);
    const int start = both.input(project::InputKind::Button), tach = both.input(project::InputKind::Tach);
    for (auto* one : both.all) {
        one->setRate(tach, 100.0);  // five pulses in 50 ms where ten are wanted: an error of 5
        one->advance(0.5);
        one->setInput(start, true);
        one->advance(0.520 + 0.05 * 10 + 0.015 - 0.5);
        // 20 permille a count: 100; and 5 a count, added ten times: 250.
        EXPECT_NEAR(meanDuty(*one), 0.350, pwm_step) << one->what();
        one->setRate(tach, 200.0);  // as wanted: no error, the sum stays
        one->advance(0.2);
        EXPECT_NEAR(meanDuty(*one), 0.275, 0.05 + pwm_step) << one->what() << ": the sum alone, within two periods' worth";
        one->setRate(tach, 20.0);  // stalled: the sum winds up to full and no further
        one->advance(3.0);
        EXPECT_NEAR(meanDuty(*one), 1.0, pwm_step);
        one->setRate(tach, 400.0);  // twice as fast as wanted: from full, at once down by 10·20 permille, and 50 each period
        one->advance(0.5);
        EXPECT_LT(meanDuty(*one), 0.5) << "no wind-up: it comes down at once";
    }
    if (both.board == nullptr) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
}

// By hand: ten pulses a second or fewer are standing still, counted second by second, and believed after two seconds of running.
TEST(PatternWatched, isPutOffWhenItStandsStill) {
    auto inserted = project::insertPattern(bare(), "watched", "rain");
    ASSERT_TRUE(inserted);
    givePins(*inserted);
    ASSERT_EQ(inserted->routine.cues.back().guards.size(), 1U) << "guarded once";
    auto both = test::bothOf(*inserted);
    const int start = both.input(project::InputKind::Button), tach = both.input(project::InputKind::Tach);
    for (auto* one : both.all) {
        one->setRate(tach, 100.0);
        one->advance(0.5);
        one->setInput(start, true);
        one->advance(0.1);
        one->setInput(start, false);
        one->advance(5.0);
        EXPECT_NEAR(meanDuty(*one), 1.0, pwm_step) << one->what() << ": it turns";
        one->setRate(tach, 5.0);
        one->advance(2.1);
        EXPECT_EQ(meanDuty(*one), 0.0) << one->what();
        one->advance(5.0);
        EXPECT_EQ(meanDuty(*one), 0.0) << one->what() << ": and stays off, though its minute is not over";
    }
    if (both.board == nullptr) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
}

TEST(PatternKnob, theDutyFollowsOnBoth) {
    auto inserted =
        project::insertPattern(test::edited(test::demoProject(), {{"channels/rain/signal/soft_start", "1 ms"}}), "knob", "rain");
    ASSERT_TRUE(inserted);
    inserted->routine.cues.clear();
    inserted->routine.interlocks.clear();
    givePins(*inserted);
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(*inserted, parts);
    ASSERT_TRUE(plan.program) << sentence(plan.program_error.value_or(Error{}));
    const auto plants = plan::plantsOf(*inserted, parts, plan);
    simulation::InterpretedBoard interpreter(*plan.program, *plants, "demo", "test");
    const bool compiler = emulator::compilerFound();
    auto board = compiler ? emulator::startGadget(*inserted, parts, plan, emulator::usualCache())
                          : Result<std::unique_ptr<emulator::EmulatedBoard>>{nullptr};
    ASSERT_TRUE(board);
    int knob = 0;
    for (std::size_t i = 0; i < inserted->inputs.size(); ++i)
        if (inserted->inputs[i].kind == project::InputKind::Knob) knob = static_cast<int>(i);
    for (const int reading : {10, 21, 300, 512, 1023, 0}) {
        // By hand: off to 2 % (a reading of 20), 25 % just above it, straight up to full at 1023; cut to whole permille.
        const double expected = reading <= 20 ? 0.0 : std::floor(250 + 750.0 * (reading - 20) / 1003) / 1000.0;
        for (plant::StandIn* one : {static_cast<plant::StandIn*>(&interpreter), static_cast<plant::StandIn*>(board->get())}) {
            if (one == nullptr) continue;
            one->setReading(knob, reading);
            one->advance(0.2);
            // Over twenty milliseconds, so that whole periods of the PWM count.
            double sum = 0.0;
            for (int k = 0; k < 20; ++k) one->advance(0.001), sum += one->observe().duty[0];
            EXPECT_NEAR(sum / 20, expected, 0.02 + 1.0 / 255)
                << one->what() << " at " << reading << ": a step of the PWM, and a period in twenty";
        }
    }
    if (!compiler) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
}

// What is sent to places, on the stage's own curtain and moon.
project::Project bareStage() {
    auto document = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage");
    EXPECT_TRUE(document);
    auto project = document->project;
    project.routine = {};
    return project;
}
TEST(PatternHome, afterItEveryMoveHasItsFullSteps) {
    auto project = *project::insertPattern(bareStage(), "home", "curtain");
    project = project::addCue(project, "open");
    project = project::addMove(project, project.routine.cues.back().id, routine::Action::Go, "curtain");
    for (auto& input : project.inputs)
        if (input.pin.empty()) input.pin = "D12";
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    ASSERT_TRUE(plan.program) << sentence(plan.program_error.value_or(Error{}));
    EXPECT_TRUE(std::none_of(plan.findings.begin(), plan.findings.end(),
                             [](const auto& f) { return f.id == "no-homing" && f.channel == "curtain"; }));
    const auto plants = plan::plantsOf(project, parts, plan);
    simulation::InterpretedBoard interpreter(*plan.program, *plants, "demo", "test");
    const bool compiler = emulator::compilerFound();
    auto board = compiler ? emulator::startGadget(project, parts, plan, emulator::usualCache())
                          : Result<std::unique_ptr<emulator::EmulatedBoard>>{nullptr};
    ASSERT_TRUE(board);
    int end_switch = -1, output = -1;
    for (std::size_t i = 0; i < project.inputs.size(); ++i)
        if (project.inputs[i].kind == project::InputKind::EndSwitch) end_switch = static_cast<int>(i);
    for (std::size_t o = 0; o < plan.program->outputs.size(); ++o)
        if (plan.program->outputs[o].id == "curtain") output = static_cast<int>(o);
    ASSERT_GE(end_switch, 0);
    for (plant::StandIn* one : {static_cast<plant::StandIn*>(&interpreter), static_cast<plant::StandIn*>(board->get())}) {
        if (one == nullptr) continue;
        one->advance(3.0);
        one->setInput(end_switch, true);  // there it is, somewhere on the way
        one->advance(0.5);
        const auto before = one->edges().size();
        one->write("start 1\n");
        one->advance(8.0);
        if (one != board->get()) continue;
        long steps = 0;
        for (std::size_t i = before; i < one->edges().size(); ++i)
            steps += one->edges()[i].output == output && one->edges()[i].level == 1 ? 1 : 0;
        EXPECT_EQ(steps, 12400) << "by hand: 620 mm over 40 mm a turn (20 teeth of 2 mm), 800 micro-steps a turn";
        EXPECT_EQ(static_cast<double>(steps), si(*plan::findChannel(plan, "curtain")->motion.steps));
    }
    if (!compiler) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
}
TEST(PatternHome, anEndSwitchThatNeverComesEndsItAsAFault) {
    auto project = *project::insertPattern(bareStage(), "home", "curtain");
    for (auto& input : project.inputs)
        if (input.pin.empty()) input.pin = "D12";
    project = test::edited(project, {{"routine/cues/" + project.routine.cues.back().id + "/moves/home_curtain/time", "2 s"}});
    const auto plan = plan::evaluate(project, test::shippedParts());
    ASSERT_TRUE(plan.program);
    auto state = routine::powerUp(*plan.program);
    const routine::Machine machine{*plan.program};
    const std::vector<std::uint8_t> pins(plan.program->inputs.size(), 0);
    routine::Happening nothing;
    nothing.pin_active = pins;
    for (int i = 0; i < 5000; ++i) machine.tick(state, nothing);
    EXPECT_EQ(state.cue(0).faulted, 1);
    EXPECT_LT(state.cue(0).place, 0);
}
TEST(PatternMoves, goThereAndComeBackByHand) {
    for (const auto* name : {"press-and-return", "open-by-itself", "sweep"}) {
        auto project = *project::insertPattern(bareStage(), name, "moon");
        int free_pin = 11;
        for (auto& input : project.inputs)
            if (input.pin.empty()) input.pin = "D" + std::to_string(free_pin--);
        const auto plan = plan::evaluate(project, test::shippedParts());
        ASSERT_TRUE(plan.program) << name << ": " << sentence(plan.program_error.value_or(Error{}));
        std::size_t moon = 0;
        while (plan.program->outputs[moon].id != "moon") ++moon;
        auto state = routine::powerUp(*plan.program);
        const routine::Machine machine{*plan.program};
        std::vector<std::uint8_t> pins(plan.program->inputs.size(), 0);
        routine::Happening happening;
        happening.pin_active = pins;
        for (int i = 0; i < 100; ++i) machine.tick(state, happening);
        happening.start_cues = {0};
        machine.tick(state, happening);
        happening.start_cues.clear();
        // By hand: Need says 75° in 0.9 s. After 0.95 s it is there; it comes back after its pause.
        for (int i = 0; i < 950; ++i) machine.tick(state, happening);
        const auto& output = plan.program->outputs[moon];
        const std::string which = name;
        if (which == "sweep") {
            EXPECT_LT(std::abs(state.output(moon).level - output.furthest), std::abs(output.furthest - output.start) / 8)
                << "just turned round";
            for (int i = 0; i < 900; ++i) machine.tick(state, happening);
            EXPECT_LT(std::abs(state.output(moon).level - output.start), std::abs(output.furthest - output.start) / 8);
            EXPECT_GE(state.cue(0).place, 0) << "it goes on";
            continue;
        }
        EXPECT_EQ(state.output(moon).level, output.furthest) << name;
        const int pause = which == "press-and-return" ? 1000 : 10'000;
        for (int i = 0; i < pause + 1000; ++i) machine.tick(state, happening);
        EXPECT_EQ(state.output(moon).level, output.start) << name;
        EXPECT_LT(state.cue(0).place, 0) << name;
    }
}

// The moon's pulses on the board against the interpreter's places, through each of the patterns that send it to and fro.
TEST(PatternMoves, theBoardsPulsesFollow) {
    for (const auto* name : {"press-and-return", "open-by-itself", "sweep"}) {
        auto project = *project::insertPattern(bareStage(), name, "moon");
        int free_pin = 11;
        for (auto& input : project.inputs)
            if (input.pin.empty() && project::hasPin(input.kind)) input.pin = "D" + std::to_string(free_pin--);
        auto both = test::bothOf(project);
        if (both.board == nullptr) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
        std::size_t moon = 0;
        while (both.plan.program->outputs[moon].id != "moon") ++moon;
        std::size_t cue = 0;
        while (both.plan.program->cues[cue].id != project.routine.cues.back().id) ++cue;
        for (auto* one : both.all) {
            one->advance(0.5);
            one->write(fmt::format("start {}\n", cue));
        }
        // Half microseconds: standing still to 4 µs. The pulse's end is an interrupt, asked for 2 µs early; where another one has just
        // begun it comes 3.75 µs late: seen in 4 of 960 pulses, or in none, as the phases of the timers fall. Moving, the last pulse is up
        // to a frame old and the board began some milliseconds later, at up to twice the mean speed of 0.9 s for its whole way (Need).
        const auto& arm = both.plan.program->outputs[moon];
        const double lag = 2.0 * std::abs(arm.furthest - arm.start) / 0.9 * 0.030;
        std::int32_t before = both.interpreter->state().output(moon).level;
        int moved = 0;
        for (int k = 0; k < 70; ++k) {
            for (auto* one : both.all) one->advance(0.2);
            const std::int32_t place = both.interpreter->state().output(moon).level;
            double rise = -1.0, width = -1.0;
            for (const auto& edge : both.board->edges()) {
                if (edge.output != static_cast<int>(moon)) continue;
                if (edge.level == 1) rise = edge.time;
                else if (rise >= 0.0) width = edge.time - rise;
            }
            const bool still = place == before && !routine::isOn(*both.plan.program, both.interpreter->state(), moon);
            EXPECT_NEAR(width * 2e6, place, still ? 8.0 : lag) << name << " after " << 0.2 * (k + 1) << " s";
            moved += place != before ? 1 : 0;
            before = place;
        }
        EXPECT_GE(moved, 6) << name;
    }
}

// A tilt that does not change makes a rate that grows evenly: steps that a hand can sum.
TEST(PatternBalance, theStepsAreTheSumByHand) {
    auto made = bareStage();
    auto inserted = project::insertPattern(made, "balance", "curtain");
    ASSERT_TRUE(inserted);
    auto project = *inserted;
    for (auto& input : project.inputs)
        if (input.kind == project::InputKind::Level) input.pin = "A5";
        else if (input.pin.empty() && project::hasPin(input.kind)) input.pin = "D12";
    auto both = test::bothOf(project);
    const int tilt = both.input(project::InputKind::Level);
    std::size_t curtain = 0;
    while (both.plan.program->outputs[curtain].id != "curtain") ++curtain;
    const auto& program = *both.plan.program;
    std::size_t cue = 0;
    while (program.cues[cue].name != "Curtain stands up" && cue + 1 < program.cues.size()) ++cue;
    for (auto* one : both.all) {
        one->setReading(tilt, 512 - 10);
        one->advance(0.5);
        const auto before = one->edges().size();
        one->write(fmt::format("start {}\n", cue));
        one->advance(1.0);
        if (one != both.board.get()) {
            // 8 steps a second for each of 10 counts, and 0.2·10 more every 4 ms: after a second 80 + 2·250 = 580; in the
            // mean, from the end of the first period, 80 + 2·125.5: 330 steps.
            EXPECT_NEAR(both.interpreter->state().output(curtain).level - 32767, 330, 330 * 0.02);
            continue;
        }
        long steps = 0;
        for (std::size_t i = before; i < one->edges().size(); ++i)
            steps += one->edges()[i].output == static_cast<int>(curtain) && one->edges()[i].level == 1 ? 1 : 0;
        EXPECT_NEAR(static_cast<double>(steps), 330, 330 * 0.02);
    }
    if (both.board == nullptr) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
}

// A creep of more than a minute goes at an even speed: by hand 12 400 steps in 80 s with ramps of 2.048 s are 159.07 a second, one every
// 6.287 ms; 3018 after 20 s, half after half of the time, and every step there at the end.
TEST(PatternCreep, itsStepsComeEvenly) {
    auto project = *project::insertPattern(bareStage(), "creep", "curtain");
    const auto& cue = project.routine.cues.back();
    project = test::edited(project, {{"routine/cues/" + cue.id + "/moves/" + cue.moves.front().id + "/time", "80 s"}});
    for (auto& input : project.inputs)
        if (input.pin.empty() && project::hasPin(input.kind)) input.pin = "D12";
    auto both = test::bothOf(project);
    std::size_t curtain = 0;
    while (both.plan.program->outputs[curtain].id != "curtain") ++curtain;
    for (auto* one : both.all) {
        one->advance(0.5);
        one->write("start 0\n");
        std::vector<long> places;
        std::vector<double> times;
        long steps = 0;
        std::size_t seen = one->edges().size();
        for (const double further : {20.0, 20.0, 40.5}) {
            one->advance(further);
            for (; seen < one->edges().size(); ++seen)
                if (one->edges()[seen].output == static_cast<int>(curtain) && one->edges()[seen].level == 1)
                    ++steps, times.push_back(one->edges()[seen].time);
            places.push_back(one == both.board.get() ? steps : both.interpreter->state().output(curtain).level);
        }
        EXPECT_NEAR(static_cast<double>(places[0]), 3018, 4) << one->what();
        EXPECT_NEAR(static_cast<double>(places[1]), 12400 / 2.0, 4);
        EXPECT_EQ(places[2], 12400);
        if (one != both.board.get()) continue;
        // A beat of 62.5 us is the finest that a step can be early or late.
        for (std::size_t k = 500; k + 1 < 11'900; ++k) ASSERT_NEAR(times[k + 1] - times[k], 6.287e-3, 0.07e-3) << k;
    }
    if (both.board == nullptr) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
}

// The Proofing Box as it ships: its mat follows a level, unless the lid is open.
TEST(ProofingBox, itsMatFollowsOnBoth) {
    auto document = store::load(HINGE_SOURCE_DIR "/demos/proofing-box");
    ASSERT_TRUE(document);
    const auto& project = document->project;
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    ASSERT_TRUE(plan.program) << sentence(plan.program_error.value_or(Error{}));
    ASSERT_EQ(plan.program->outputs.front().id, "heater");
    const auto plants = plan::plantsOf(project, parts, plan);
    ASSERT_TRUE(plants);
    simulation::InterpretedBoard interpreter(*plan.program, *plants, "box", "test");
    const Case script{"",
                      {},
                      {{1.0, "warm_enough", 600},
                       {2.0, "warm_enough", 560},
                       {3.0, "warm_enough", 500},
                       {4.0, "lid_open", 1},
                       {5.0, "lid_open", 0},
                       {6.0, "warm_enough", 1000}},
                      7.0,
                      {},
                      ""};
    play(interpreter, project, script);
    const auto interpreted = changesOf(interpreter);
    // By hand: on once the lid is known shut (50 ms) and the level is known; 56 % is a reading of 573, 54 % of 553; 50 ms each.
    const std::vector<Change> expected{{0.050, true}, {1.050, false}, {3.050, true}, {4.050, false}, {5.050, true}, {6.050, false}};
    ASSERT_EQ(interpreted.size(), expected.size());
    for (std::size_t i = 0; i < expected.size(); ++i) {
        EXPECT_EQ(interpreted[i].on, expected[i].on) << i;
        EXPECT_NEAR(interpreted[i].time, expected[i].time, 1.001e-3) << i;
    }
    if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    auto board = emulator::startGadget(project, parts, plan, emulator::usualCache());
    ASSERT_TRUE(board) << sentence(board.error());
    play(**board, project, script);
    const auto sketch = changesOf(**board);
    ASSERT_EQ(sketch.size(), interpreted.size());
    for (std::size_t i = 0; i < sketch.size(); ++i) {
        EXPECT_EQ(sketch[i].on, interpreted[i].on) << i;
        EXPECT_NEAR(sketch[i].time, interpreted[i].time, 5e-3) << i;
    }
}

// Random routines of the new kinds under random inputs: interpreter and sketch, edge for edge.

}  // namespace
}  // namespace hinge
