// Moves from where a stepper stands, two in a straight line, its start looked for twice, and a fan that says when it stands still: on the
// emulated chip, with what they move.
#include <gtest/gtest.h>
#include <array>
#include <map>
#include "emulator/driven_board.hpp"
#include "plan/machines.hpp"

namespace hinge {
namespace {

using namespace driven;

const char* chopper() {
    static const auto parts = test::shippedParts();
    for (const auto& driver : parts.drivers)
        if (driver.driver_class == driver::DriverClass::Chopper) return driver.id.c_str();
    return "";
}
// A slide of 100 mm on a belt, 40 mm a turn, 16 micro-steps: 8000 steps of its way.
project::Project slide() {
    auto project = test::alone(ChannelKind::Move, "stepper_42mm_short", chopper(),
                               {{"channels/it/demand/way", "belt"},
                                {"channels/it/demand/mass", "200 g"},
                                {"channels/it/demand/travel", "100 mm"},
                                {"channels/it/demand/time", "2 s"},
                                {"channels/it/demand/pulley_teeth", "20"},
                                {"channels/it/demand/belt_pitch", "2 mm"},
                                {"channels/it/demand/friction_coefficient", "0.1"},
                                {"channels/it/direction_pin", "D4"},
                                {"channels/it/enable_pin", "D7"}});
    project.routine.cues.clear();
    return project;
}
routine::Move moveOf(const char* id, routine::Action action, const char* channel, double time) {
    return {id, action, channel, of<Duration>(time)};
}
routine::Cue cueOf(const char* id, const std::string& input, std::vector<routine::Move> moves) {
    routine::Cue cue;
    cue.id = cue.name = id;
    cue.input = input;
    cue.moves = std::move(moves);
    return cue;
}

// What the board tells of itself for a while.
std::vector<link::Telemetry> framesOf(plant::StandIn& board) {
    (void)board.read();
    board.write("stream 1\n");
    board.advance(0.05);
    link::Decoder decoder;
    std::vector<link::Telemetry> frames;
    for (const auto& message : decoder.feed(board.read()))
        if (const auto* frame = std::get_if<link::Telemetry>(&message)) frames.push_back(*frame);
    board.write("stream 0\n");
    board.advance(0.02);
    return frames;
}
// The place of the first output, as the board itself tells it.
int placeOn(plant::StandIn& board) {
    const auto frames = framesOf(board);
    return frames.empty() ? -1 : frames.back().levels.front();
}

// By hand: 10 mm are 800 steps. Twelve presses of 'on by 10 mm' are ten moves and two that give up; one back is one back.
TEST_F(DrivenBoard, aPictureAtATimeAlongItsWayAndNotBeyond) {
    auto project = slide();
    auto step = moveOf("on", routine::Action::Go, "it", 0.4);
    step.from_here = true;
    step.place = of<Length>(0.010);
    auto back = step;
    back.id = "back";
    back.backwards = true;
    project.routine.cues = {cueOf("step", project.inputs.front().id, {step}), cueOf("return", "", {back})};
    const auto plan = plan::evaluate(project, parts_);
    ASSERT_TRUE(plan.program) << sentence(plan.program_error.value_or(Error{}));
    for (const auto& finding : plan.findings) EXPECT_NE(finding.id, "not-driven") << finding.text;
    const auto both = bothOf(project, plan);
    ASSERT_TRUE(both);
    for (auto* one : both->boards) {
        one->advance(0.2);
        one->write("tell 1\n");
        long faults = 0, steps = 0;
        std::size_t seen = 0;
        for (int press = 0; press < 12; ++press) {
            one->setInput(0, true);
            one->advance(0.1);
            one->setInput(0, false);
            one->advance(0.6);
            long of_it = 0;
            for (; seen < one->edges().size(); ++seen) of_it += one->edges()[seen].output == 0 && one->edges()[seen].level == 1 ? 1 : 0;
            if (one == both->board.get()) EXPECT_EQ(of_it, press < 10 ? 800 : 0) << press;
            steps += of_it;
            faults += one->read().find("gave up") != std::string::npos ? 1 : 0;
        }
        EXPECT_GE(faults, 1) << one->what() << ": and the link says so, once for what stays so";
        one->write("start 1\n");
        one->advance(0.8);
        if (one == both->board.get()) EXPECT_EQ(steps, 8000);
        EXPECT_EQ(placeOn(*one), 7200);
    }
}

// Two slides of one plotter: at every step of the one the other is where the straight line is, to a step.
TEST_F(DrivenBoard, twoSlidesDrawAStraightLine) {
    auto project = project::duplicateChannel(slide(), "it");
    const std::string other = project.channels[1].id;
    project = test::edited(project, {{"channels/" + other + "/pin", "D5"},
                                     {"channels/" + other + "/direction_pin", "D6"},
                                     {"channels/" + other + "/enable_pin", "D8"}});
    auto along = moveOf("along", routine::Action::Go, "it", 0.7), across = moveOf("across", routine::Action::Go, other.c_str(), 1.6);
    along.place = of<Length>(0.060), across.place = of<Length>(0.025);
    across.together = across.in_line = true;
    project.routine.cues = {cueOf("line", project.inputs.front().id, {along, across})};
    const auto plan = plan::evaluate(project, parts_);
    ASSERT_TRUE(plan.program) << sentence(plan.program_error.value_or(Error{}));
    const auto board = boardOf(project, plan, parts_);
    ASSERT_TRUE(board);
    board->advance(0.2);
    const auto first = board->edges().size();
    board->setInput(0, true);
    board->advance(2.5);
    // By hand: 4800 steps of the one and 2000 of the other, in 1.6 s; a step of the second for 2.4 of the first.
    std::array<long, 2> steps{};
    std::array<double, 2> last{};
    double began = 0.0, worst = 0.0;
    for (auto i = first; i < board->edges().size(); ++i) {
        const auto& edge = board->edges()[i];
        if (edge.level != 1 || edge.output > 1) continue;
        const auto o = static_cast<std::size_t>(edge.output);
        if (began == 0.0) began = edge.time;
        ++steps[o], last[o] = edge.time;
        worst = std::max(worst, std::abs(static_cast<double>(steps[1]) - static_cast<double>(steps[0]) / 2.4));
    }
    EXPECT_EQ(steps[0], 4800);
    EXPECT_EQ(steps[1], 2000);
    EXPECT_LE(worst, 1.5) << "a step of either, and half of one for which of them comes first in a beat";
    EXPECT_NEAR(last[0] - began, 1.6, 0.05);
    EXPECT_NEAR(last[1] - began, 1.6, 0.05);
}

// The carriage presses its end switch 3000 steps away. Found at speed, then left, then found again slowly: the count is right to a few
// steps, however long the switch is debounced.
TEST_F(DrivenBoard, aStartThatIsLookedForTwiceIsRightToAFewSteps) {
    std::map<bool, double> missed;
    for (const bool twice : {false, true}) {
        auto project = project::addInput(slide(), project::InputKind::EndSwitch, "end");
        project.inputs.back().pin = "D10";
        auto home = moveOf("home", routine::Action::Home, "it", 6.0);
        home.input = "end";
        if (twice) home.place = of<Length>(0.004);
        project.routine.cues = {cueOf("home", project.inputs.front().id, {home})};
        const auto plan = plan::evaluate(project, parts_);
        ASSERT_TRUE(plan.program) << sentence(plan.program_error.value_or(Error{}));
        const auto board = boardOf(project, plan, parts_);
        ASSERT_TRUE(board);
        const auto way = *board::pinNamed(board::family(project.board.form), "D4");
        board->advance(0.2);
        board->setInput(0, true);
        // Where the carriage is, by the pulses and the direction line at each; the first that it makes are back.
        long body = 3000;
        std::size_t seen = board->edges().size();
        std::optional<bool> back;
        bool done = false;
        for (int t = 0; t < 14'000 && !done; ++t) {
            board->advance(1e-3);
            const bool line = board->chip().pins().level(way.port, way.bit);
            for (; seen < board->edges().size(); ++seen) {
                if (board->edges()[seen].output != 0 || board->edges()[seen].level != 1) continue;
                if (!back) back = line;
                body += line == *back ? -1 : 1;
            }
            board->setInput(1, body <= 0);
            const auto said = board->read();
            done = said.find("end home") != std::string::npos || said.find("end 0") != std::string::npos;
        }
        EXPECT_EQ(placeOn(*board), 0);
        missed[twice] = static_cast<double>(body);
        EXPECT_LE(body, 0);
    }
    EXPECT_LT(missed[false], -30.0) << "twenty milliseconds of debounce at 2.3 steps each";
    EXPECT_GT(missed[true], -10.0);
}

// A fan with a tach, its interlock, and its rotor held fast: put off, told over the link, and not tried again until it is asked for anew.
TEST_F(DrivenBoard, aFanThatIsHeldFastIsPutOffAndSaysSo) {
    auto project = test::running(test::alone(ChannelKind::Blow, "fan_80_pwm_70", "straight_from_pin"), 12.0);
    project = test::withStallAlarm(std::move(project));
    project.inputs.front().pin = "D7";
    const auto plan = plan::evaluate(project, parts_);
    ASSERT_TRUE(plan.program) << sentence(plan.program_error.value_or(Error{}));
    const auto both = bothOf(project, plan);
    ASSERT_TRUE(both);
    for (auto* one : both->boards) {
        one->fit(plant::Bench(plan::machinesOf(project, parts_, plan).couplings));
        const auto press = [&] {
            one->setInput(0, true);
            one->advance(0.1);
            one->setInput(0, false);
        };
        one->advance(0.5);
        press();
        one->advance(6.0);
        EXPECT_GT(one->observe().duty.front(), 0.5) << one->what() << ": it turns, and goes on";
        one->disturb(0, 1.0);
        (void)one->read();
        one->advance(2.6);
        EXPECT_EQ(one->observe().duty.front(), 0.0) << one->what();
        const auto seen = framesOf(*one);
        ASSERT_FALSE(seen.empty());
        EXPECT_EQ(seen.back().inputs >> 1 & 1, 1) << one->what() << ": and the link shows why";
        one->advance(10.0);
        EXPECT_EQ(one->observe().duty.front(), 0.0) << one->what() << ": nobody has asked for it again";
        one->disturb(0, 0.0);
        press();
        one->advance(6.0);
        EXPECT_GT(one->observe().duty.front(), 0.5) << one->what() << ": freed";
    }
}

// The example: its start found twice when the power comes, then a picture every 5 mm, by hand 400 steps of 80 a millimetre each; the light
// stays on no longer than a picture takes; and where its way ends it gives up instead of pushing on.
TEST_F(DrivenBoard, theSnailsAreShotEveryFiveMillimetres) {
    auto project = test::exampleProject("snail-hour");
    for (auto& move : project.routine.cues[1].moves)
        if (move.id == "waits") move.time = of<Duration>(0.5);
    const auto plan = plan::evaluate(project, parts_);
    ASSERT_TRUE(plan.program) << sentence(plan.program_error.value_or(Error{}));
    const auto board = boardOf(project, plan, parts_);
    ASSERT_TRUE(board);
    const auto stepsSince = [&](std::size_t from) {
        long steps = 0;
        for (auto i = from; i < board->edges().size(); ++i) steps += board->edges()[i].output == 0 && board->edges()[i].level == 1 ? 1 : 0;
        return steps;
    };
    board->advance(3.0);
    EXPECT_GT(stepsSince(0), 1000) << "its driver is set, and it looks for its start";
    board->setInput(1, true);
    board->advance(0.1);
    board->setInput(1, false);  // it backs off, and comes again
    board->advance(2.0);
    board->setInput(1, true);
    board->advance(0.5);
    board->setInput(1, false);
    EXPECT_EQ(placeOn(*board), 0);
    const auto quiet = board->edges().size();
    board->advance(1.0);
    EXPECT_EQ(stepsSince(quiet), 0);
    board->setInput(0, true);
    board->advance(0.1);
    board->setInput(0, false);
    // One round: 1.5 s on, 1.5 settled, 0.5 lit, 0.3 + 0.3 pressed, 0.5 waited: 4.6 s.
    double lit = 0.0;
    for (int t = 0; t < 4600 * 4; ++t) {
        board->advance(1e-3);
        lit += board->observe().duty[2] > 0.05 ? 1e-3 : 0.0;
    }
    EXPECT_NEAR(static_cast<double>(stepsSince(quiet)), 1600.0, 400.0 * 0.2);
    EXPECT_LT(lit, 4 * 1.2);
    EXPECT_GT(lit, 4 * 1.0);
}

}  // namespace
}  // namespace hinge
