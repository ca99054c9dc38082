// What the plan says of polarity, rest, letting go and memory, on the emulated chip.
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

using project::ChannelKind;

project::Project withPump(project::Project project, const std::string& name, const std::string& pin) {
    project = project::addChannel(project, ChannelKind::Pump, name);
    auto& channel = project.channels.back();
    channel.actuator = "centrifugal_12v_small";
    channel.drive.part = "mosfet_logic_30v";
    channel.rail = "movers";
    channel.pin = pin;
    return test::edited(project, {{"channels/" + channel.id + "/demand/volume", "50 mL"},
                                  {"channels/" + channel.id + "/demand/lift", "0.3 m"},
                                  {"channels/" + channel.id + "/demand/tube_length", "1 m"},
                                  {"channels/" + channel.id + "/demand/tube_diameter", "6 mm"}});
}
std::unique_ptr<emulator::EmulatedBoard> boardOf(const project::Project& project, const plan::Plan& plan, const project::Parts& parts) {
    auto board = emulator::startGadget(project, parts, plan, emulator::usualCache());
    EXPECT_TRUE(board) << (board ? "" : sentence(board.error()));
    return board ? std::move(*board) : nullptr;
}

class DrivenBoard : public testing::Test {
protected:
    void SetUp() override {
        if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    }
    const project::Parts parts_ = test::shippedParts();
};

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
    const auto plants = plan::plantsOf(project, parts_, plan);
    ASSERT_TRUE(plants);
    simulation::InterpretedBoard interpreter(*plan.program, *plants, "it", "test");
    const auto board = boardOf(project, plan, parts_);
    ASSERT_TRUE(board);
    for (plant::StandIn* one : {static_cast<plant::StandIn*>(&interpreter), static_cast<plant::StandIn*>(board.get())}) {
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
    const auto plants = plan::plantsOf(project, parts_, plan);
    ASSERT_TRUE(plants);
    simulation::InterpretedBoard interpreter(*plan.program, *plants, "it", "test");
    const auto board = boardOf(project, plan, parts_);
    ASSERT_TRUE(board);
    for (plant::StandIn* one : {static_cast<plant::StandIn*>(&interpreter), static_cast<plant::StandIn*>(board.get())}) {
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
// memory). Power within a hundredth of the wish, as many half-waves up as down: no direct current.
TEST_F(DrivenBoard, aHeaterOnAZeroCrossingRelayGetsWholeCycles) {
    for (const auto& [hertz, percent] : {std::pair{50, 6}, {50, 62}, {60, 30}, {60, 94}}) {
        SCOPED_TRACE(fmt::format("{} % at {} Hz", percent, hertz));
        const auto project =
            test::edited(test::alone(ChannelKind::Heat, "mat_230v_40w", "ssr_zero_2a", {{"channels/it/demand/feeding", "mains"}}),
                         {{"channels/it/demand/mains_frequency", fmt::format("{} Hz", hertz)},
                          {"channels/it/signal/duty", fmt::format("{} %", percent)},
                          {"routine/cues/run_it/moves/runs/time", "60 s"}});
        const auto plan = plan::evaluate(project, parts_);
        ASSERT_EQ(plan.channels.front().not_driven, "");
        ASSERT_TRUE(plan.channels.front().mains);
        const auto& pattern = plan.channels.front().mains->pattern;
        const auto board = boardOf(project, plan, parts_);
        ASSERT_TRUE(board);
        board->advance(0.2);
        board->setInput(0, true);
        board->advance(0.3);
        board->setInput(0, false);
        const double length = 10.2;
        board->advance(length);
        std::vector<std::pair<double, bool>> pin{{0.0, false}};
        for (const auto& edge : board->edges())
            if (edge.output == 0) pin.emplace_back(edge.time, edge.level == 1);
        const auto at = [&](double time) {
            const auto after = std::upper_bound(pin.begin(), pin.end(), time, [](double t, const auto& edge) { return t < edge.first; });
            return std::prev(after)->second;
        };
        ASSERT_GT(pin.size(), 3U);
        // It begins with the pattern's first cycle; the first that is on is known by its edge.
        const auto first = pattern.find('1');
        ASSERT_NE(first, std::string::npos);
        const double cycle = 1.0 / hertz, begins = pin[1].first - static_cast<double>(first) * cycle;
        for (std::size_t k = 0; k < pattern.size(); ++k)
            ASSERT_EQ(at(begins + (static_cast<double>(k) + 0.5) * cycle), pattern[k] == '1') << "cycle " << k;
        for (const double phase : {0.13, 0.5, 0.87}) {
            int up = 0, down = 0, crossings = 0;
            for (int k = 0; begins + (k + phase) * cycle / 2.0 < begins + 10.0; ++k, ++crossings)
                if (at(begins + (k + phase) * cycle / 2.0)) ++(k % 2 == 0 ? up : down);
            EXPECT_NEAR(static_cast<double>(up + down) / crossings, percent / 100.0, 0.01);
            EXPECT_LE(std::abs(up - down), 1);
        }
    }
}
// And its power may be what a loop makes of a reading.
TEST_F(DrivenBoard, aLoopHoldsAHeaterOnAZeroCrossingRelay) {
    auto project = test::exampleProject("proofing-box");
    project.routine.followers.clear();
    routine::Loop loop;
    loop.id = "warmth", loop.channel = "heater", loop.input = "warm_enough";
    loop.wanted = of<Count>(560.0), loop.proportional = of<Ratio>(8.0), loop.period = of<Duration>(0.5), loop.most = of<Count>(1000.0);
    project.routine.loops.push_back(loop);
    routine::Cue warm;
    warm.id = "warms", warm.name = "Warms", warm.input = "start";
    warm.moves.push_back({"on", routine::Action::On, "heater", std::nullopt});
    project.routine.cues = {warm};
    const auto plan = plan::evaluate(project, parts_);
    ASSERT_TRUE(plan.program) << sentence(*plan.program_error);
    ASSERT_EQ(plan::findChannel(plan, "heater")->not_driven, "");
    EXPECT_EQ(plan::findChannel(plan, "heater")->signal, plan::SignalKind::WholeCycles);
    auto both = test::bothOf(project);
    ASSERT_TRUE(both.board);
    for (auto* one : both.all)
        one->setReading(2, 520), one->advance(0.5), one->setInput(0, true), one->advance(0.3), one->setInput(0, false), one->advance(1.0);
    std::vector<double> means;
    for (auto* one : both.all) {
        double sum = 0.0;
        for (int k = 0; k < 5000; ++k) one->advance(0.001), sum += one->observe().duty.front() / 5000.0;
        means.push_back(sum);
    }
    // 8 permille for each of the 40 counts that are missing.
    for (const double mean : means) EXPECT_NEAR(mean, 0.320, 0.005);
}

// The matrix of parts, drivers and boards: of what is driven, each class of driver with each kind of signal has its edges on the
// emulated chip, as the interpreter has them, and none before it is asked.
TEST_F(DrivenBoard, whatTheMatrixCallsDrivenHasItsEdges) {
    std::set<std::string> seen;
    for (const auto& [what, driver, project] : test::matrix(parts_, {"atmega328p-16mhz", "atmega2560-16mhz"})) {
        const auto plan = plan::evaluate(project, parts_);
        const auto& it = plan.channels.front();
        if (!plan::isDriven(it) || !plan::sketchOf(project, plan)) continue;
        const auto key = fmt::format("{} {} {} {}", static_cast<int>(project.board.form), static_cast<int>(driver),
                                     static_cast<int>(it.signal), it.inverted);
        if (!seen.insert(key).second) continue;
        auto both = test::bothOf(project);
        ASSERT_TRUE(both.board) << what;
        const bool placed = plan::isPlaced(it);
        std::vector<double> means;
        for (auto* one : both.all) {
            one->advance(0.5);
            double sum = 0.0;
            const auto count = [&] {
                long rises = 0;
                for (const auto& edge : one->edges()) rises += edge.output == 0 && edge.level == 1 ? 1 : 0;
                return rises;
            };
            if (one == both.board.get()) EXPECT_EQ(count(), 0) << what << ": nothing before it is asked";
            one->setInput(0, true);
            one->advance(0.2);
            one->setInput(0, false);
            for (int k = 0; k < 6000; ++k) one->advance(0.001), sum += one->observe().duty.front() / 6000.0;
            means.push_back(sum);
            if (one != both.board.get()) continue;
            const long rises = count();
            EXPECT_GT(rises, 0) << what;
            // There and back, by hand: every step of the move twice; a pulse every 20 ms while the servo has a place.
            if (it.signal == plan::SignalKind::Steps) EXPECT_EQ(rises, 2 * std::lround(si(*it.motion.steps))) << what;
            if (it.signal == plan::SignalKind::ServoPulse) EXPECT_NEAR(static_cast<double>(rises), 6.2 / 0.020, 4.0) << what;
        }
        ASSERT_EQ(means.size(), 2U);
        if (!placed) {
            EXPECT_GT(means[0], 0.0) << what;
            EXPECT_NEAR(means[0], means[1], 0.01 + 0.02 * means[0]) << what << ": the same drive on interpreter and board";
        }
    }
    EXPECT_GT(seen.size(), 12U);
    RecordProperty("cases", static_cast<int>(seen.size()));
}
// The same classes, asked for the verbs that the plan does not refuse: started over the link one after the other, edges and drive are
// the interpreter's. The first of each kind of signal is asked for every verb on the smaller board, and for three on the larger one;
// the other classes have had their edges above.
TEST_F(DrivenBoard, everyVerbOfTheMatrixHasItsEdges) {
    const auto verbs = test::verbs();
    std::set<std::string> seen;
    std::set<plan::SignalKind> signals, signals_of_mega;
    int played = 0;
    for (const auto& [what, driver, project] : test::matrix(parts_, {"atmega328p-16mhz", "atmega2560-16mhz"})) {
        const auto first = plan::evaluate(project, parts_);
        if (!plan::isDriven(first.channels.front()) || !plan::sketchOf(project, first)) continue;
        // A class whose shares are asked for has PWM, another only switches: both are looked at.
        auto able = project;
        able.routine.cues.clear();
        std::vector<std::string> names;
        for (std::size_t v = 0; v < verbs.size(); ++v) {
            auto more = test::withVerb(able, verbs[v], v);
            const auto plan = plan::evaluate(more, parts_);
            if (plan::sketchOf(more, plan)) able = std::move(more), names.push_back(verbs[v].name);
        }
        const auto plan = plan::evaluate(able, parts_);
        const auto& it = plan.channels.front();
        const bool mega = project.board.form == board::BoardForm::Mega16, leads = !mega && signals.insert(it.signal).second;
        if (names.empty() || (mega ? !signals_of_mega.insert(it.signal).second : !leads)) continue;
        if (!seen.insert(fmt::format("{} {} {} {}", mega, static_cast<int>(driver), static_cast<int>(it.signal), it.inverted)).second)
            continue;
        auto both = test::bothOf(able);
        ASSERT_TRUE(both.board) << what;
        // Steps: at the pin, and as the interpreter's place changes.
        std::int32_t place = 0;
        const auto stepsOf = [&](const plant::StandIn& one) {
            if (&one == both.board.get())
                return static_cast<long>(
                    std::count_if(one.edges().begin(), one.edges().end(), [](const auto& e) { return e.output == 0 && e.level == 1; }));
            const auto now = both.interpreter->state().output(0).level;
            return static_cast<long>(std::abs(now - std::exchange(place, now)));
        };
        for (auto* one : both.all) one->setInput(0, true), one->advance(0.1);
        // A stepper is looked for first: its switch is closed, so that it is found where it stands.
        std::vector<std::size_t> order;
        for (std::size_t v = 0; v < names.size(); ++v)
            if (names[v] == "home") order.insert(order.begin(), v);
            else if (leads || order.size() < 3) order.push_back(v);
        for (const auto v : order) {
            SCOPED_TRACE(what + ", " + names[v]);
            ++played;
            std::vector<double> means;
            std::vector<long> steps;
            for (auto* one : both.all) {
                long count = one == both.board.get() ? -stepsOf(*one) : 0;
                if (one != both.board.get()) (void)stepsOf(*one);
                double sum = 0.0;
                one->write(link::encode(link::StartCue{static_cast<int>(v)}) + "\n");
                for (int k = 0; k < 2200; ++k) {
                    one->advance(0.001);
                    sum += one->observe().duty.front() / 2200.0;
                    if (one != both.board.get()) count += stepsOf(*one);
                }
                if (one == both.board.get()) count += stepsOf(*one);
                one->write("stop\n");
                one->advance(0.1);
                if (one == both.all.back())
                    for (auto* each : both.all) each->setInput(0, false), each->advance(0.05);
                means.push_back(sum);
                steps.push_back(count);
            }
            ASSERT_EQ(means.size(), 2U);
            if (it.signal == plan::SignalKind::Steps) {
                EXPECT_NEAR(static_cast<double>(steps[1]), static_cast<double>(steps[0]), 2.0);
                EXPECT_EQ(steps[1] > 0, names[v] != "home") << "it is found where it stands";
            } else if (!plan::isPlaced(it)) {
                EXPECT_NEAR(means[0], means[1], 0.01 + 0.02 * means[0]);
                EXPECT_GT(means[0], 0.0);
            } else {
                EXPECT_GT(steps[1], 0) << "pulses while it has a place";
            }
        }
    }
    EXPECT_EQ(signals.size(), 6U) << "switched, PWM, a fan's wire, a servo's pulse, steps, whole cycles of the mains";
    EXPECT_GT(played, 35);
    std::printf("%d verbs played on %zu kinds of drive\n", played, seen.size());
}

}  // namespace
}  // namespace hinge
