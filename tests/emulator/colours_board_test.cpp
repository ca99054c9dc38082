// A lamp of three colours on the emulated board: the light at each of its pins.
#include "emulator/driven_board.hpp"
#include "support/rgb.hpp"

namespace hinge {
namespace {

class ColoursBoard : public driven::CuedBoard {};

// By hand from the cue: #ff8000 is all of its red, 0.2159 of its green and none of its blue; half way to #0000ff half of the red and the
// green are left, and half of the blue is there; then blue alone; then none. A timer of eight bits rounds to a 255th, of full power.
TEST_F(ColoursBoard, shineAsTheCueSays) {
    for (const char* form : {"atmega328p-16mhz", "atmega2560-16mhz"}) {
        auto project = test::glowing({{"board/form", form}});
        auto plan = plan::evaluate(project, parts_);
        const auto board = driven::boardOf(project, plan, parts_);
        ASSERT_TRUE(board) << form;
        board->advance(0.1);
        EXPECT_EQ(board->observe().duty, (std::vector<double>{0.0, 0.0, 0.0})) << form;
        board->setInput(0, true);
        // The mean over a tenth of a second: a millisecond is no whole number of pulses.
        const auto shares = [&](double seconds) {
            std::vector<double> mean(3, 0.0);
            const int count = static_cast<int>(1000.0 * seconds);
            for (int k = 0; k < count; ++k) {
                board->advance(1e-3);
                for (std::size_t o = 0; o < 3; ++o) mean[o] += board->observe().duty[o] / count;
            }
            return mean;
        };
        board->advance(0.05);  // it has been steady, and the cue has begun
        const auto orange = shares(0.1);
        EXPECT_NEAR(orange[0], 1.0, 0.003) << form;
        EXPECT_NEAR(orange[1], 0.21586, 0.005) << form;
        EXPECT_EQ(orange[2], 0.0) << form;
        // From 0.2 to 0.6 s after its beginning, some 20 ms after the press: the mean over 0.3 to 0.5 s is the middle of the fade.
        board->advance(0.17);
        const auto between = shares(0.2);
        EXPECT_NEAR(between[0], 0.5, 0.04) << form;
        EXPECT_NEAR(between[1], 0.5 * 0.21586, 0.02) << form;
        EXPECT_NEAR(between[2], 0.5, 0.04) << form;
        board->advance(0.15);
        const auto blue = shares(0.1);
        EXPECT_EQ(blue[0], 0.0) << form;
        EXPECT_EQ(blue[1], 0.0) << form;
        EXPECT_NEAR(blue[2], 1.0, 0.003) << form;
        board->advance(0.3);
        EXPECT_EQ(shares(0.05), (std::vector<double>{0.0, 0.0, 0.0})) << form;
    }
}

// The interpreter and the chip: the same edges of all three.
TEST_F(ColoursBoard, goOnAndOffAsInTheInterpreter) {
    const auto project = test::glowing();
    const auto plan = plan::evaluate(project, parts_);
    const auto both = bothOf(project, plan);
    ASSERT_TRUE(both);
    for (plant::StandIn* each : {static_cast<plant::StandIn*>(both->interpreter.get()), static_cast<plant::StandIn*>(both->board.get())}) {
        each->advance(0.1);
        each->setInput(0, true);
        each->advance(1.2);
        std::map<int, double> first, last;
        for (const auto& edge : each->edges())
            if (edge.output >= 0) first.emplace(edge.output, edge.time), last[edge.output] = edge.time;
        EXPECT_EQ(first.size(), 3U) << each->what();
        EXPECT_NEAR(first[0], 0.12, 0.03) << each->what();
        EXPECT_NEAR(first[2], first[0] + 0.2, 0.01) << each->what() << ": blue only fades in";
        EXPECT_NEAR(last[2], first[0] + 0.8, 0.01) << each->what();
    }
}

}  // namespace
}  // namespace hinge
