// Every pattern that can be inserted: the edges worked out by hand, the interpreter's, and those of the emitted
// sketch on the emulated board.
#include "emulator/patterns.hpp"
#include <fmt/format.h>
#include <cmath>
#include <random>
#include <set>
#include "emulator/gadget.hpp"
#include "project/routine_edits.hpp"
#include "simulation/interpreted_board.hpp"
#include "support/both_boards.hpp"

namespace hinge {
namespace {

using namespace by_hand;

class Patterns : public testing::TestWithParam<Case> {};
TEST_P(Patterns, handTableInterpreterAndSketchAgree) {
    const auto& c = GetParam();
    auto inserted = project::insertPattern(bare(), c.pattern, "rain");
    ASSERT_TRUE(inserted) << sentence(inserted.error());
    givePins(*inserted);
    const auto project = test::edited(*inserted, c.edits);
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    ASSERT_TRUE(plan.program) << sentence(plan.program_error.value_or(Error{}));
    const auto plants = plan::plantsOf(project, parts, plan);
    simulation::InterpretedBoard interpreter(*plan.program, *plants, "demo", "test");
    play(interpreter, project, c);
    const auto interpreted = changesOf(interpreter);
    ASSERT_EQ(interpreted.size(), c.edges.size()) << c.how;
    for (std::size_t i = 0; i < c.edges.size(); ++i) {
        EXPECT_EQ(interpreted[i].on, c.edges[i].on) << "edge " << i;
        EXPECT_NEAR(interpreted[i].time, c.edges[i].time, 1.001e-3) << "edge " << i << ": a tick; " << c.how;
    }
    if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    auto board = emulator::startGadget(project, parts, plan, emulator::usualCache());
    ASSERT_TRUE(board) << sentence(board.error());
    play(**board, project, c);
    const auto sketch = changesOf(**board);
    ASSERT_EQ(sketch.size(), interpreted.size());
    // The board's start-up takes some milliseconds before its first tick; a converter in turn one more.
    for (std::size_t i = 0; i < sketch.size(); ++i) {
        EXPECT_EQ(sketch[i].on, interpreted[i].on) << "edge " << i;
        EXPECT_NEAR(sketch[i].time, interpreted[i].time, 5e-3) << "edge " << i;
        // From edge to edge a tick apart at most; a reading comes one conversion, a tick more, later.
        const bool reads = std::string_view{c.pattern} == "thermostat";
        if (i > 0)
            EXPECT_NEAR(sketch[i].time - sketch[i - 1].time, interpreted[i].time - interpreted[i - 1].time, reads ? 2.1e-3 : 1.1e-3)
                << "edge " << i;
    }
}
INSTANTIATE_TEST_SUITE_P(
    Table, Patterns,
    testing::Values(
        Case{"toggle",
             {},
             {{0.5, "start", 1}, {0.7, "start", 0}, {1.5, "start", 1}, {1.7, "start", 0}},
             2.5,
             {{0.520, true}, {1.520, false}},
             "20 ms of debounce after each press"},
        Case{"every",
             {{"routine/cues/rain_every_so_often/every", "1 s"}, {"routine/cues/rain_every_so_often/moves/run_rain/time", "0.2 s"}},
             {},
             3.5,
             {{1.0, true}, {1.2, false}, {2.0, true}, {2.2, false}, {3.0, true}, {3.2, false}},
             "each second from power-up, for a fifth"},
        Case{"while-sensed",
             {{"channels/rain/off_delay", "0.4 s"}},
             {{0.5, "machine_runs", 1},
              {1.0, "machine_runs", 0},
              {2.0, "machine_runs", 1},
              {2.2, "machine_runs", 0},
              {2.3, "machine_runs", 1},
              {3.0, "machine_runs", 0}},
             4.0,
             {{0.520, true}, {1.420, false}, {2.020, true}, {3.420, false}},
             "debounce, then 0.4 s after; a second start inside the off-delay keeps it on"},
        Case{
            "portion",
            {{"routine/cues/rain_one_portion/moves/on_rain/level", "100 %"}},
            {{0.1, "tab", 1}, {0.5, "start", 1}, {0.7, "start", 0}, {0.9, "tab", 0}, {1.6, "tab", 1}, {3.0, "start", 1}, {3.2, "start", 0}},
            6.0,
            {{0.520, true}, {1.620, false}, {3.020, true}, {5.020, false}},
            "off the tab at 0.9 s, on the next at 1.6 s; then stuck on it: 2 s, and it ends"},
        // A bridge in the place of its switch; the pump only stands for a motor here.
        Case{"to-and-fro",
             {{"channels/rain/drive/part", "bridge_3a"}, {"channels/rain/direction_pin", "D4"}},
             {{0.5, "open", 1},
              {0.7, "open", 0},
              {1.5, "open_end", 1},
              {2.0, "shut", 1},
              {2.2, "shut", 0},
              {2.7, "open_end", 0},
              {3.5, "shut_end", 1},
              {4.0, "shut", 1},
              {4.2, "shut", 0},
              {5.0, "open", 1},
              {5.2, "open", 0},
              {5.8, "shut_end", 0}},
             17.0,
             {{0.520, true}, {1.520, false}, {2.520, true}, {3.520, false}, {5.520, true}, {15.520, false}},
             "20 ms to believe a switch; half a second before it turns round; shut, it is not pushed further; and ten seconds at most"},
        Case{"hold-to-open",
             {},
             {{0.2, "start", 1}, {0.9, "start", 0}, {1.5, "start", 1}, {4.5, "start", 0}},
             9.5,
             {{3.519, true}, {8.519, false}},
             "too short a press does nothing; then 20 ms and 2 s, the first tick counting"},
        Case{"blink",
             {{"routine/cues/rain_blinks/moves/again/times", "3"}},
             {{0.5, "start", 1}, {0.7, "start", 0}},
             5.0,
             {{0.520, true}, {1.020, false}, {1.520, true}, {2.020, false}, {2.520, true}, {3.020, false}},
             "half a second each"},
        Case{"timed",
             {{"routine/cues/rain_at_its_hours/moves/run_rain/time", "0.5 s"}},
             {{0.5, "clock", 6 * 3600 + 39 * 60 + 58}},
             5.0,
             {{2.5, true}, {3.0, false}},
             "two seconds to 06:40"},
        Case{"timed",
             {{"routine/cues/rain_at_its_hours/moves/run_rain/time", "0.5 s"}},
             {{0.5, "clock", 6 * 3600 + 39 * 60 + 58}, {1.5, "clock", 6 * 3600 + 40 * 60 + 1}},
             5.0,
             {{1.5, true}, {2.0, false}},
             "corrected from 06:39:59 to 06:40:01: what lies between comes, once"},
        Case{"timed",
             {{"routine/cues/rain_at_its_hours/moves/run_rain/time", "0.5 s"}},
             {{0.5, "clock", 6 * 3600 + 39 * 60 + 58}, {2.0, "clock", 6 * 3600 + 39 * 60 + 58}, {3.0, "clock", 6 * 3600 + 40 * 60 + 3}},
             6.0,
             {{3.0, true}, {3.5, false}},
             "put back by a second and a half before it, then on past it"},
        Case{"timed",
             {{"routine/cues/rain_at_its_hours/moves/run_rain/time", "0.5 s"}},
             {{0.5, "clock", 6 * 3600 + 39 * 60 + 58}, {1.5, "clock", 6 * 3600 + 46 * 60}},
             4.0,
             {},
             "put on by more than five minutes it is set anew: missed, and not made up for here"},
        Case{"thermostat",
             {},
             {{1.0, "warm_enough", 600}, {2.0, "warm_enough", 500}, {3.0, "warm_enough", 400}},
             4.0,
             {{0.050, true}, {1.050, false}, {3.050, true}},
             "55 % is a reading of 563, 45 % is 461; 50 ms of debounce; between the two nothing changes"},
        Case{"unlock",
             {{"inputs/rain_opens/word", "velvet-otter-9"}, {"routine/cues/rain_unlocks/moves/run_rain/time", "0.5 s"}},
             {{0.5, "link", 0, "say velvet-otter-9"}, {2.0, "link", 0, "say open"}, {2.5, "link", 0, "say velvet-otter-99"}},
             3.5,
             {{0.5, true}, {1.0, false}},
             "the word, and no other, opens it for half a second"},
        Case{"shared",
             {{"channels/rain/off_delay", "0.4 s"}},
             {{0.5, "first_machine", 1}, {1.0, "first_machine", 0}, {1.2, "second_machine", 1}, {2.0, "second_machine", 0}},
             3.5,
             {{0.520, true}, {2.420, false}},
             "the second starts inside the first one's off-delay: it keeps running, and 0.4 s after the last"},
        Case{"mode",
             {},
             {{0.3, "start", 1}, {0.4, "start", 0}, {1.0, "by_hand", 1}, {1.5, "start", 1}, {1.7, "start", 0}, {3.0, "by_hand", 0}},
             4.0,
             {{1.520, true}, {3.020, false}},
             "not in another mode; leaving the mode ends it"},
        Case{"every-third",
             {},
             {{0.5, "start", 1},
              {0.6, "start", 0},
              {1.0, "start", 1},
              {1.1, "start", 0},
              {1.5, "start", 1},
              {1.6, "start", 0},
              {3.0, "start", 1},
              {3.1, "start", 0}},
             4.0,
             {{1.521, true}, {2.521, false}},
             "the count is seen in the tick after; then it begins again"},
        Case{"season",
             {{"routine/cues/rain_in_summer/moves/run_rain/time", "0.5 s"}},
             {{0.5, "link", 0, "clock 06:39:58 2026-07-01"}, {4.0, "link", 0, "clock 06:39:58 2026-07-01"}},
             7.0,
             {{2.5, true}, {3.0, false}},
             "a Wednesday in July; put back two seconds before it, the same hour does not come again"},
        Case{"season", {}, {{0.5, "link", 0, "clock 06:39:58 2026-07-04"}}, 4.0, {}, "a Saturday"},
        Case{"season", {}, {{0.5, "link", 0, "clock 06:39:58 2026-12-02"}}, 4.0, {}, "a Wednesday in December"},
        Case{"season", {}, {{0.5, "link", 0, "clock 06:39:58"}}, 4.0, {}, "a time without a date is no day of the season"},
        Case{"season",
             {{"routine/cues/rain_in_summer/times", "00:00:01"}, {"routine/cues/rain_in_summer/moves/run_rain/time", "0.5 s"}},
             {{0.5, "link", 0, "clock 23:59:58 2028-03-31"}},
             5.0,
             {},
             "over midnight from Friday, the last of March, is Saturday the first of April"},
        Case{"season",
             {{"routine/cues/rain_in_summer/times", "00:00:01"}, {"routine/cues/rain_in_summer/moves/run_rain/time", "0.5 s"}},
             {{0.5, "link", 0, "clock 23:59:58 2027-03-31"}},
             5.0,
             {{3.5, true}, {4.0, false}},
             "over midnight from Wednesday, the last of March, is Thursday the first of April"},
        Case{"season",
             {{"routine/cues/rain_in_summer/times", "06:30"},
              {"routine/cues/rain_in_summer/late", "600 s"},
              {"routine/cues/rain_in_summer/moves/run_rain/time", "0.5 s"}},
             {{0.5, "link", 0, "clock 06:39:58 2026-07-01"}, {2.0, "link", 0, "clock 06:39:59 2026-07-01"}},
             4.0,
             {{0.5, true}, {1.0, false}},
             "missed by not quite ten minutes it is made up for, once"},
        Case{"lost-link",
             {},
             {{0.3, "link", 0, "hello"}, {0.5, "start", 1}},
             4.0,
             {{0.520, true}, {2.3, false}},
             "two seconds after the link last spoke"},
        Case{"lost-link",
             {},
             {{0.5, "start", 1}, {3.5, "start", 0}},
             4.5,
             {{0.520, true}, {3.520, false}},
             "a link that never spoke is not lost"},
        Case{"as-before",
             {},
             {{0.5, "start", 1}, {0.7, "start", 0}, {1.5, "start", 1}, {1.7, "start", 0}},
             2.5,
             {{0.520, true}, {1.520, false}},
             "as toggle"}),
    [](const auto& each) {
        std::string name = each.param.pattern + std::string("_") + std::to_string(each.index);
        std::replace(name.begin(), name.end(), '-', '_');
        return name;
    });

// Mean share over twenty milliseconds, so that whole periods of the PWM count.
TEST(RandomRoutines, agreeOnTheBoard) {
    if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    const auto parts = test::shippedParts();
    for (unsigned seed = 1; seed <= 4; ++seed) {
        std::mt19937 random(seed);
        const auto pick = [&](int n) { return static_cast<int>(random() % static_cast<unsigned>(n)); };
        auto project = bare();
        project = project::addInput(project, project::InputKind::Sensor, "tab");
        givePins(project);
        for (int k = 0; k < 3; ++k) {
            project = project::addCue(project, "cue " + std::to_string(k));
            const auto id = project.routine.cues.back().id;
            auto& cue = project.routine.cues.back();
            switch (pick(5)) {
                case 0: cue.input = "start"; break;
                case 1: cue.input = "start", cue.on_release = true; break;
                case 2: cue.input = "start", cue.held = of<Duration>(0.05 + pick(5) * 0.01); break;
                case 3: cue.every = of<Duration>(0.7 + pick(4) * 0.1); break;
                default: cue.input = "tab";
            }
            if (k > 0 && pick(3) == 0) cue.after = project.routine.cues[0].id;
            for (int m = 0; m < 3; ++m) {
                switch (pick(5)) {
                    case 0: project = project::addMove(project, id, routine::Action::Run, "rain"); break;
                    case 1: project = project::addMove(project, id, routine::Action::Toggle, "rain"); break;
                    case 2: project = project::addMove(project, id, routine::Action::Until, "", "tab"); break;
                    case 3: project = project::addMove(project, id, routine::Action::On, "rain"); break;
                    default: project = project::addMove(project, id, routine::Action::Wait, "");
                }
                project.routine.cues.back().moves.back().time = of<Duration>(0.05 + pick(8) * 0.03);
            }
            project = project::addMove(project, id, routine::Action::Off, "rain");
        }
        if (pick(2) == 0) project = project::addFollower(project, "rain", "tab");
        const auto plan = plan::evaluate(project, parts);
        ASSERT_TRUE(plan.program) << seed << ": " << sentence(plan.program_error.value_or(Error{}));
        const auto plants = plan::plantsOf(project, parts, plan);
        simulation::InterpretedBoard interpreter(*plan.program, *plants, "demo", "test");
        auto board = emulator::startGadget(project, parts, plan, emulator::usualCache());
        ASSERT_TRUE(board) << sentence(board.error());
        // The board's first tick comes about 2 ms late: inputs change 12 ms away from what is being counted.
        for (int step = 0; step < 60; ++step) {
            const int what = pick(4), value = pick(2);
            for (plant::StandIn* one : {static_cast<plant::StandIn*>(&interpreter), static_cast<plant::StandIn*>(board->get())}) {
                if (what == 0) one->setInput(0, value != 0);
                if (what == 1) one->setInput(2, value != 0);
                one->advance(0.137);
            }
        }
        const auto a = changesOf(interpreter), b = changesOf(**board);

        ASSERT_EQ(a.size(), b.size()) << "seed " << seed;
        for (std::size_t i = 0; i < a.size(); ++i) {
            EXPECT_EQ(a[i].on, b[i].on) << "seed " << seed << ", edge " << i;
            EXPECT_NEAR(a[i].time, b[i].time, 5e-3) << "seed " << seed << ", edge " << i;
        }
    }
}

}  // namespace
}  // namespace hinge
