// What the plan says of polarity, rest, letting go and memory, on the emulated chip.
#include "emulator/driven_board.hpp"
#include <gtest/gtest.h>
#include <cmath>
#include <set>
#include "emulator/gadget.hpp"
#include "emulator/pin_bus.hpp"
#include "link/protocol.hpp"
#include "simulation/interpreted_board.hpp"
#include "support/alone.hpp"
#include "support/both_boards.hpp"
#include "support/demo.hpp"
#include "support/matrix.hpp"

namespace hinge {
namespace {

using namespace driven;

// The pin is high, and so the wire held down, from the first moment on; half is half of the time low; stop is high.
TEST_F(DrivenBoard, aFourWireFanIsOffAtResetAndAtStopAndHalfAtHalf) {
    for (const char* pin : {"D9", "D3", "D5"}) {  // 16-bit timer, timer 2, and one that shares timer 0
        auto project = test::bareStage();
        project = project::addRunningChannel(project, ChannelKind::Blow, "mist");
        auto& channel = project.channels.back();
        channel.actuator = "fan_80_pwm_70";
        channel.drive.part = "straight_from_pin";
        channel.rail = "movers";
        channel.pin = pin;
        project.inputs.front().pin = "D7";
        project.routine.cues.front().moves.front().level = of<Fraction>(0.5);
        const auto plan = plan::evaluate(project, parts_);
        if (!plan.channels.front().pwm) continue;  // that timer cannot make 25 kHz
        const auto board = boardOf(project, plan, parts_);
        ASSERT_TRUE(board);
        const auto place = *board::pinNamed(board::family(project.board.form), pin);
        const auto low = [&](double seconds) {  // share of that time at which the pin is low
            int lows = 0, looks = 0;
            for (double at = 0.0; at < seconds; at += 1e-3, ++looks) {
                board->advance(1e-3);
                lows += board->chip().pins().level(place.port, place.bit) ? 0 : 1;
            }
            return static_cast<double>(lows) / looks;
        };
        board->advance(0.01);
        EXPECT_EQ(low(0.2), 0.0) << pin << ": the sketch's own start holds the wire down";
        board->setInput(0, true);
        board->advance(0.2);
        board->setInput(0, false);
        board->advance(0.3);
        double sum = 0.0;
        for (int k = 0; k < 1024; ++k) board->advance(1e-3), sum += board->observe().duty.front();
        EXPECT_NEAR(sum / 1024.0, 0.5, 0.005) << pin << ": half of the time the wire is let go";
        board->write("drive 0 1000\n");
        board->advance(0.1);
        EXPECT_NEAR(board->observe().duty.front(), 1.0, 1e-9) << pin;
        EXPECT_EQ(low(0.05), 1.0) << pin << ": full is low all the time";
        board->write("stop\n");
        board->advance(0.1);
        EXPECT_EQ(low(0.2), 0.0) << pin << ": stop holds the wire down";
    }
}

// By hand: with the safe state 'on' it runs from the start, follows once its input was true, and goes off with it.
TEST_F(DrivenBoard, aFollowerEndsTheRestOnTheBoardToo) {
    auto project = withPump(test::bareStage(), "it", "D5");
    project = project::addInput(project, project::InputKind::Button, "tab");
    project.inputs.back().pin = "D7";
    project = project::addFollower(project, "it", "tab");
    project.channels.front().safe = project::SafeState::On;
    project.channels.front().off_delay = of<Duration>(0.0);
    project.channels.front().signal.soft_start = of<Duration>(0.0);
    project.channels.front().signal.duty = of<Fraction>(1.0);
    const auto plan = plan::evaluate(project, parts_);
    ASSERT_TRUE(plan.program);
    const auto both = bothOf(project, plan);
    ASSERT_TRUE(both);
    for (const auto& one : both->boards) {
        one->advance(0.5);
        EXPECT_GT(one->observe().duty.front(), 0.99) << one->what() << ": safe is on";
        one->setInput(0, true);
        one->advance(0.5);
        EXPECT_GT(one->observe().duty.front(), 0.99) << one->what();
        one->setInput(0, false);
        one->advance(0.5);
        EXPECT_EQ(one->observe().duty.front(), 0.0) << one->what() << ": it follows, and so it is off";
    }
}

// One cue only waits and is cut short; another has turned the pump on for three seconds. By hand: on from 0.52 to 3.52 s.
TEST_F(DrivenBoard, aCueThatOnlyWaitsTakesNothingFromAnotherWhenItIsCut) {
    auto project = withPump(test::bareStage(), "it", "D5");
    project.channels.front().off_delay = of<Duration>(0.0);
    project.channels.front().signal.soft_start = of<Duration>(0.0);
    project.channels.front().signal.duty = of<Fraction>(1.0);
    for (const char* name : {"a", "b", "tab"}) project = project::addInput(project, project::InputKind::Button, name);
    int pin = 7;
    for (auto& input : project.inputs) input.pin = "D" + std::to_string(pin++);
    project = project::addCue(project, "waits");
    project.routine.cues.back().input = "a";
    const auto waits = project.routine.cues.back().id;
    project = project::addMove(project, waits, routine::Action::Wait, "");
    project.routine.cues.back().moves.back().time = of<Duration>(5.0);
    project = project::addMove(project, waits, routine::Action::Run, "it");
    project.routine.cues.back().moves.back().time = of<Duration>(1.0);
    routine::Guard guard;
    guard.id = "unless_tab";
    guard.input = "tab";
    guard.throughout = true;
    project.routine.cues.back().guards.push_back(guard);
    project = project::addCue(project, "pours");
    project.routine.cues.back().input = "b";
    project = project::addMove(project, project.routine.cues.back().id, routine::Action::Run, "it");
    project.routine.cues.back().moves.back().time = of<Duration>(3.0);
    const auto plan = plan::evaluate(project, parts_);
    ASSERT_TRUE(plan.program) << sentence(plan.program_error.value_or(Error{}));
    const auto both = bothOf(project, plan);
    ASSERT_TRUE(both);
    for (const auto& one : both->boards) {
        one->advance(0.3);
        one->setInput(0, true);  // the waiting cue begins
        one->advance(0.2);
        one->setInput(1, true);  // the pouring one at 0.5 s
        one->advance(0.5);
        one->setInput(2, true);  // and the waiting one is cut at 1 s
        one->advance(3.0);
        std::vector<plant::Edge> of_it;
        for (const auto& edge : one->edges())
            if (edge.output == 0) of_it.push_back(edge);
        ASSERT_EQ(of_it.size(), 2U) << one->what();
        EXPECT_NEAR(of_it[0].time, 0.52, 6e-3) << one->what() << ": 20 ms of debounce";
        EXPECT_NEAR(of_it[1].time, 3.52, 6e-3) << one->what() << ": its three seconds are its own";
    }
}

// A tach that no loop reads is counted by the second: 87 pulses a second read 87, one more or less at the edge.
TEST_F(DrivenBoard, aTachThatNoLoopReadsIsReadAllTheSame) {
    auto project = withPump(test::bareStage(), "it", "D5");
    project = project::addInput(project, project::InputKind::Tach, "spin");
    project.inputs.back().pin = "D2";
    project = project::addCue(project, "pours");
    project.routine.cues.back().every = of<Duration>(10.0);
    project = project::addMove(project, project.routine.cues.back().id, routine::Action::Run, "it");
    project.routine.cues.back().moves.back().time = of<Duration>(1.0);
    const auto plan = plan::evaluate(project, parts_);
    ASSERT_TRUE(plan.program) << sentence(plan.program_error.value_or(Error{}));
    const auto board = boardOf(project, plan, parts_);
    ASSERT_TRUE(board);
    board->setRate(0, 87.0);
    board->advance(0.1);
    board->write("stream 1\n");
    board->advance(2.5);
    (void)board->read();
    board->advance(0.5);
    link::Decoder decoder;
    std::optional<link::Telemetry> last;
    for (const auto& message : decoder.feed(board->read()))
        if (const auto* frame = std::get_if<link::Telemetry>(&message)) last = *frame;
    ASSERT_TRUE(last);
    ASSERT_EQ(last->levels.size(), 2U) << "the pump's level, then the reading";
    EXPECT_NEAR(last->levels[1], 87.0, 1.0);
}

// A level that is true when it is low, and a number likewise: as the interpreter has them, to the tick and a conversion.
TEST_F(DrivenBoard, aReadingThatIsTrueWhenItIsLow) {
    auto project = withPump(withPump(test::bareStage(), "it", "D5"), "other", "D6");
    project = project::addInput(project, project::InputKind::Level, "water");
    project.inputs.back().pin = "A0";
    project = project::addInput(project, project::InputKind::Number, "sent");
    project = test::edited(project, {{"inputs/water/active_high", "no"}, {"inputs/water/upper", "60 %"}, {"inputs/water/lower", "40 %"}});
    project = test::edited(project, {{"inputs/sent/active_high", "no"}, {"inputs/sent/upper", "60 %"}, {"inputs/sent/lower", "40 %"}});
    project.routine.followers.push_back({"f", "it", "water"});
    project.routine.followers.push_back({"g", "other", "sent"});
    auto both = test::bothOf(project);
    ASSERT_TRUE(both.board);
    for (auto* one : both.all) {
        std::string text;
        for (const int reading : {1000, 500, 300, 500, 700, 300}) {
            one->setReading(0, reading);
            one->write(link::encode(link::SendNumber{1, reading}) + "\n");
            one->advance(0.6);
            for (const double duty : one->observe().duty) text += duty > 0.2 ? '1' : '0';
            text += ' ';
        }
        // By hand: nothing at 1000 and 500, on at 300, still on at 500, off at 700, on at 300.
        EXPECT_EQ(text, "00 00 11 11 00 11 ") << one->what();
    }
}

// Eighteen outputs: a frame has room for sixteen values, and is whole all the same.
TEST_F(DrivenBoard, moreOutputsThanAFrameHasRoomForLeaveItWhole) {
    auto project = test::edited(test::bareStage(), {{"board/form", "atmega2560-16mhz"}});
    for (int k = 0; k < 18; ++k) project = withPump(project, fmt::format("p{}", k), fmt::format("D{}", 22 + k));
    project = project::addCue(project, "pours");
    project.routine.cues.back().every = of<Duration>(10.0);
    project = project::addMove(project, project.routine.cues.back().id, routine::Action::Run, "p0");
    project.routine.cues.back().moves.back().time = of<Duration>(1.0);
    auto both = test::bothOf(project);
    ASSERT_TRUE(both.board);
    for (auto* one : both.all) {
        one->advance(0.1);
        one->write("stream 1\n");
        one->advance(0.3);
        link::Decoder decoder;
        int frames = 0;
        for (const auto& message : decoder.feed(one->read()))
            if (const auto* frame = std::get_if<link::Telemetry>(&message)) {
                ++frames;
                EXPECT_EQ(frame->levels.size(), link::most_values) << one->what();
            }
        EXPECT_GT(frames, 20) << one->what();
        EXPECT_EQ(decoder.garbage(), 0U) << one->what();
    }
}

// Ten outputs come back, also the ninth and the tenth.
TEST_F(DrivenBoard, moreThanEightOutputsAreRemembered) {
    auto project = test::bareStage();
    for (int k = 0; k < 10; ++k) {
        project = withPump(project, "p" + std::to_string(k), "D" + std::to_string(k + 3));
        project.channels.back().remembers = true;
        project.channels.back().signal.soft_start = of<Duration>(0.0);
        project.channels.back().signal.duty = of<Fraction>(1.0);
    }
    project = project::addInput(project, project::InputKind::Button, "start");
    project.inputs.back().pin = "A0";
    project = project::addCue(project, "odd ones");
    project.routine.cues.back().input = "start";
    for (int k = 1; k < 10; k += 2)
        project = project::addMove(project, project.routine.cues.back().id, routine::Action::On, "p" + std::to_string(k));
    const auto plan = plan::evaluate(project, parts_);
    ASSERT_TRUE(plan.program) << sentence(plan.program_error.value_or(Error{}));
    const auto board = boardOf(project, plan, parts_);
    ASSERT_TRUE(board);
    board->advance(0.2);
    board->setInput(0, true);
    board->advance(0.2);
    board->setInput(0, false);
    board->advance(0.5);  // a byte takes 3.4 ms
    board->cutPower();
    board->advance(0.5);
    const auto duty = board->observe().duty;
    ASSERT_EQ(duty.size(), 10U);
    for (std::size_t k = 0; k < 10; ++k) EXPECT_EQ(duty[k] > 0.5, k % 2 == 1) << k;
    // Switched off, they stay off.
    board->write("stop\n");
    board->advance(0.5);
    board->cutPower();
    board->advance(0.5);
    for (const double each : board->observe().duty) EXPECT_EQ(each, 0.0);
}

// On the chip as in the interpreter. By hand, from the press at 0.5 s and its 20 ms: lamps 0.7 s and rain 1.2 s together with the moon's
// second; the next move waits for the longest, so the lamps come again at 1.72 s for 0.3.
TEST_F(DrivenBoard, movesThatStartTogetherDoSoOnTheChip) {
    auto project = test::exampleProject("paper-moon-stage");
    project.routine = {};
    project = project::addCue(project, "show");
    auto& cue = project.routine.cues.back();
    cue.input = project.inputs.front().id;
    const auto move = [&](const char* id, routine::Action action, const char* channel, double time, bool together) {
        routine::Move made{id, action, channel, of<Duration>(time)};
        made.together = together;
        cue.moves.push_back(made);
    };
    move("rises", routine::Action::Go, "moon", 1.0, false);
    move("glow", routine::Action::Run, "lamps", 0.7, true);
    move("rain", routine::Action::Run, "rain", 1.2, true);
    move("again", routine::Action::Run, "lamps", 0.3, false);
    auto both = test::bothOf(project);
    ASSERT_TRUE(both.board);
    std::size_t lamps = 0, rain = 0;
    while (both.plan.program->outputs[lamps].id != "lamps") ++lamps;
    while (both.plan.program->outputs[rain].id != "rain") ++rain;
    for (auto* one : both.all) {
        std::vector<double> lamp_changes, rain_changes;
        bool lit = false, pours = false;
        for (int ms = 0; ms < 2600; ++ms) {
            if (ms == 500) one->setInput(0, true);
            if (ms == 700) one->setInput(0, false);
            one->advance(0.001);
            const auto duty = one->observe().duty;
            if ((duty[lamps] > 0.0) != lit) lit = !lit, lamp_changes.push_back(ms / 1000.0);
            if ((duty[rain] > 0.0) != pours) pours = !pours, rain_changes.push_back(ms / 1000.0);
        }
        ASSERT_EQ(lamp_changes.size(), 4U) << one->what();
        for (const auto& [seen, by_hand] :
             {std::pair{lamp_changes[0], 0.52}, {lamp_changes[1], 1.22}, {lamp_changes[2], 1.72}, {lamp_changes[3], 2.02}})
            EXPECT_NEAR(seen, by_hand, 0.008) << one->what();
        ASSERT_GE(rain_changes.size(), 2U) << one->what();
        EXPECT_NEAR(rain_changes.front(), 0.52, 0.008) << one->what();
        EXPECT_NEAR(rain_changes.back(), 1.72, 0.02) << one->what();
    }
}

// The word on the chip: without it the link neither starts, drives nor sets what it opens.
TEST_F(DrivenBoard, theWordGuardsTheLinkOnTheChip) {
    auto project = test::exampleProject("paper-moon-stage");
    project.routine = {};
    project = project::addInput(project, project::InputKind::Word, "sesam");
    project.inputs.back().word = "kalomi42";
    project = project::addCue(project, "unlock");
    project.routine.cues.back().input = project.inputs.back().id;
    project = project::addMove(project, project.routine.cues.back().id, routine::Action::Run, "lamps");
    auto both = test::bothOf(project);
    ASSERT_TRUE(both.board);
    std::size_t lamps = 0;
    while (both.plan.program->outputs[lamps].id != "lamps") ++lamps;
    for (auto* one : both.all) {
        one->advance(0.3);
        const auto lit = [&](const std::string& line) {
            (void)one->read();
            one->write(line + "\n");
            one->advance(0.1);
            return one->observe().duty[lamps] > 0.0;
        };
        const auto o = std::to_string(lamps);
        for (const auto& line : {std::string{"start 0"}, std::string{"start 0 kalomi4"}, "drive " + o + " 1000",
                                 "drive " + o + " 1000 500 sesam", std::string{"set lamps_duty 500"}}) {
            EXPECT_FALSE(lit(line)) << one->what() << ": " << line;
            EXPECT_NE(one->read().find("error"), std::string::npos) << one->what() << ": " << line;
        }
        EXPECT_TRUE(lit("drive " + o + " 1000 500 kalomi42")) << one->what();
        EXPECT_FALSE(lit("stop")) << one->what() << ": a stop needs none";
        EXPECT_TRUE(lit("start 0 kalomi42")) << one->what();
    }
}

// The way to safety on the chip: with a hand in the way the arm's pulse stays what it was, without one it goes back to its start.
TEST_F(DrivenBoard, theSafeMoveIsGuardedOnTheChip) {
    for (const bool hand : {false, true}) {
        auto project = test::exampleProject("paper-moon-stage");
        project.routine = {};
        project = project::addInput(project, project::InputKind::Button, "hand");
        project.inputs.back().pin = "D11";
        project = project::addCue(project, "rise");
        auto& cue = project.routine.cues.back();
        cue.input = project.inputs.front().id;
        cue.guards.push_back({"hand", project.inputs.back().id, true});
        cue.moves.push_back({"rises", routine::Action::Go, "moon", of<Duration>(0.5)});
        for (auto& channel : project.channels)
            if (channel.id == "moon") channel.safe = project::SafeState::Start;
        auto both = test::bothOf(project);
        ASSERT_TRUE(both.board);
        std::size_t moon = 0;
        while (both.plan.program->outputs[moon].id != "moon") ++moon;
        const int hand_input = static_cast<int>(project.inputs.size()) - 1;
        const auto width = [&] {
            double rose = 0.0, last = 0.0;
            for (const auto& edge : both.board->edges())
                if (edge.output == static_cast<int>(moon)) edge.level == 1 ? rose = edge.time : last = edge.time - rose;
            return last;
        };
        both.board->advance(0.5);
        both.board->setInput(0, true);
        both.board->advance(1.0);
        const double up = width();
        const auto& motion = plan::findChannel(both.plan, "moon")->motion;
        EXPECT_NEAR(up, si(*motion.pulse_to), 5e-6);
        both.board->setInput(hand_input, hand);
        both.board->advance(0.1);
        both.board->write("stop\n");
        both.board->advance(3.0);
        EXPECT_NEAR(width(), hand ? up : si(*motion.pulse_from), 5e-6) << (hand ? "a hand is there" : "nothing in the way");
    }
}

// A heater behind a zero-crossing relay gets its share in whole cycles. The pin is held against the pattern that the plan shows; and
// against the mains, whatever their phase: a relay that is let at a crossing conducts the half-wave that begins there (IEC 62314, from
}  // namespace
}  // namespace hinge
