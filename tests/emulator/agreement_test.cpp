// The emitted sketch on the emulated board against the interpreter of the same routine, and both
// against edges worked out by hand.
#include "emulator/gadget.hpp"
#include "simulation/interpreted_board.hpp"
#include "support/demo.hpp"
#include <fmt/format.h>
#include <random>

namespace hinge {
namespace {

using test::demoProject;
using test::edited;
using test::shippedParts;

struct Pressed {
    double time;   // s
    int input;     // 0 start, 1 tank empty
    bool active;
};

// On and off of an output, PWM inside a run folded into it: a gap longer than three periods ends a run.
struct Span {
    double from = 0.0, to = 0.0;
};
std::vector<Span> runsOf(const std::vector<plant::Edge>& edges, double longest_gap) {
    std::vector<Span> runs;
    double up = -1.0;
    for (const auto& edge : edges) {
        if (edge.output != 0) continue;
        if (edge.level == 1) {
            up = edge.time;
            if (runs.empty() || edge.time - runs.back().to > longest_gap) runs.push_back({edge.time, edge.time});
        } else if (!runs.empty()) {
            runs.back().to = edge.time;
            up = -1.0;
        }
    }
    EXPECT_LT(up, 0.0) << "the pin is still high at the end";
    return runs;
}

class Agreement : public testing::Test {
protected:
    void SetUp() override {
        if (!emulator::compilerFound()) GTEST_SKIP() << "avr-gcc or arduino-core-avr is not installed";
    }
    // Plays the same presses on both; the board runs freely, the presses fall on whole slices.
    std::pair<std::vector<Span>, std::vector<Span>> both(const project::Project& project, const std::vector<Pressed>& presses, double length) {
        const auto parts = shippedParts();
        const auto plan = plan::evaluate(project, parts);
        auto board = emulator::startGadget(project, parts, plan, emulator::usualCache());
        EXPECT_TRUE(board) << sentence(board.error());
        if (!board) return {};
        const auto plants = plan::plantsOf(project, parts, plan);
        simulation::InterpretedBoard interpreter(*plan.program, *plants, "demo", "test");
        for (plant::StandIn* one : {static_cast<plant::StandIn*>(board->get()), static_cast<plant::StandIn*>(&interpreter)}) {
            double now = 0.0;
            for (const auto& press : presses) {
                one->advance(press.time - now);
                now = press.time;
                one->setInput(press.input, press.active);
            }
            one->advance(length - now);
        }
        const double gap = 3.0 / si(project.channels.front().signal.frequency) + 1e-3;
        return {runsOf((*board)->edges(), gap), runsOf(interpreter.edges(), gap)};
    }
    // ± 1 ms for the tick and one period of the PWM.
    static constexpr double slack = 1e-3 + 1.024e-3;

    static void expectEqual(const std::vector<Span>& board, const std::vector<Span>& interpreted) {
        ASSERT_EQ(board.size(), interpreted.size());
        for (std::size_t i = 0; i < board.size(); ++i) {
            // The board's start-up takes some milliseconds before its first tick; the length is exact.
            EXPECT_NEAR(board[i].from, interpreted[i].from, 5e-3) << "run " << i;
            EXPECT_NEAR(board[i].to - board[i].from, interpreted[i].to - interpreted[i].from, slack) << "run " << i;
        }
    }
};

TEST_F(Agreement, aPressRunsThePumpForTheDoseTime) {
    const auto project = demoProject();
    const auto plan = plan::evaluate(project, shippedParts());
    const double dose = si(*plan.channels.front().dose_time);
    const auto [board, interpreted] = both(project, {{0.5, 0, true}, {0.7, 0, false}}, 6.0);
    ASSERT_EQ(board.size(), 1U);
    EXPECT_NEAR(board.front().to - board.front().from, dose, slack) << "from the first rising to the last falling edge of the pin";
    // By hand: pressed at 0.5 s, believed after 20 ms of debounce.
    EXPECT_NEAR(board.front().from, 0.520, 3e-3);
    expectEqual(board, interpreted);
}

TEST_F(Agreement, withTheFloatSwitchOpenItNeverTurnsOn) {
    const auto [board, interpreted] = both(demoProject(), {{0.2, 1, true}, {0.5, 0, true}, {0.7, 0, false}, {2.0, 0, true}, {2.2, 0, false}}, 4.0);
    EXPECT_TRUE(board.empty());
    EXPECT_TRUE(interpreted.empty());
}

TEST_F(Agreement, theFloatSwitchEndsADoseAtOnce) {
    const auto [board, interpreted] = both(demoProject(), {{0.5, 0, true}, {0.7, 0, false}, {1.5, 1, true}}, 5.0);
    ASSERT_EQ(board.size(), 1U);
    // By hand: true at 1.5 s, believed after 50 ms.
    EXPECT_NEAR(board.front().to, 1.550, 5e-3);
    expectEqual(board, interpreted);
}

TEST_F(Agreement, anOffDelayCountsInTheDose) {
    const auto project = edited(demoProject(), {{"channels/rain/off_delay", "0.4 s"}});
    const auto plan = plan::evaluate(project, shippedParts());
    const auto [board, interpreted] = both(project, {{0.5, 0, true}, {0.7, 0, false}}, 6.0);
    ASSERT_EQ(board.size(), 1U);
    EXPECT_NEAR(board.front().to - board.front().from, si(*plan.channels.front().dose_time), slack);
    expectEqual(board, interpreted);
}

TEST_F(Agreement, halfPowerOnTimerOneAgreesToo) {
    const auto project = edited(demoProject(), {{"channels/rain/pin", "D9"}, {"channels/rain/signal/frequency", "1 kHz"}, {"channels/rain/signal/duty", "50 %"}, {"channels/rain/demand/lift", "0.1 m"}, {"channels/rain/demand/run_time_limit", "30 s"}});
    const auto [board, interpreted] = both(project, {{0.5, 0, true}, {0.7, 0, false}}, 20.0);
    ASSERT_EQ(board.size(), 1U);
    expectEqual(board, interpreted);
}

TEST_F(Agreement, aBouncingButtonStartsOnce) {
    std::vector<Pressed> presses;
    for (int i = 0; i < 9; ++i) presses.push_back({0.5 + i * 0.003, 0, i % 2 == 0});
    presses.push_back({0.8, 0, false});
    const auto [board, interpreted] = both(demoProject(), presses, 6.0);
    EXPECT_EQ(board.size(), 1U);
    expectEqual(board, interpreted);
}

// Random scripts from fixed seeds: input storms of both contacts. Presses keep 3 ms away from the
// debounce limits, where a board that started 2 ms later may rightly decide the other way.
TEST_F(Agreement, randomScriptsGiveTheSameRuns) {
    for (unsigned seed = 1; seed <= 6; ++seed) {
        std::mt19937 random(seed);
        std::vector<Pressed> presses;
        double now = 0.3;
        bool start = false, empty = false;
        while (now < 9.0) {
            const bool which = random() % 4 == 0;
            bool& state = which ? empty : start;
            state = !state;
            presses.push_back({now, which ? 1 : 0, state});
            now += (random() % 3 == 0 ? 5 : 90 + static_cast<int>(random() % 700)) * 1e-3;
        }
        presses.push_back({9.2, 1, false});
        presses.push_back({9.2, 0, false});
        SCOPED_TRACE(fmt::format("seed {}", seed));
        const auto [board, interpreted] = both(demoProject(), presses, 14.0);
        expectEqual(board, interpreted);
    }
}

// The two times of day: set over the link, kept by the tick, lost after a reset.
TEST_F(Agreement, aTimeOfDayFiresOnceAndOnlyOnceTheClockIsSet) {
    const auto project = demoProject();
    const auto parts = shippedParts();
    const auto plan = plan::evaluate(project, parts);
    auto board = emulator::startGadget(project, parts, plan, emulator::usualCache());
    ASSERT_TRUE(board) << sentence(board.error());
    (*board)->advance(2.0);
    EXPECT_TRUE(runsOf((*board)->edges(), 5e-3).empty()) << "no clock, no start";
    (*board)->write("clock 14:29:58\n");
    (*board)->advance(8.0);
    const auto runs = runsOf((*board)->edges(), 5e-3);
    ASSERT_EQ(runs.size(), 1U);
    EXPECT_NEAR(runs.front().from, 4.0, 0.02) << "two seconds after the clock was set";
}

}  // namespace
}  // namespace hinge
