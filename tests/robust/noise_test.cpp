// Input storms and rubbish against the interpreted board: nothing hangs, the safe state holds.
#include <random>
#include "plan/firmware_model.hpp"
#include "simulation/interpreted_board.hpp"
#include "support/demo.hpp"

namespace hinge {
namespace {

TEST(Noise, neverRunsThePumpWithTheFloatSwitchOpen) {
    const auto project = test::demoProject();
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    std::mt19937 random(11);
    for (int round = 0; round < 20; ++round) {
        simulation::InterpretedBoard board(*plan.program, *plan::plantsOf(project, parts, plan), "demo", "test");
        double open_since = -1.0, now = 0.0;
        bool open = false;
        for (int i = 0; i < 400; ++i) {
            const double step = 0.001 * static_cast<double>(1 + random() % 60);
            board.advance(step);
            now += step;
            if (random() % 3 == 0) {
                open = !open;
                board.setInput(1, open);
                open_since = open ? now : -1.0;
            } else {
                board.setInput(0, random() % 2 == 0);
            }
            std::string rubbish;
            for (auto n = random() % 40; n > 0; --n) rubbish += static_cast<char>(random() % 256);
            board.write(random() % 4 == 0 ? "start 0\n" : rubbish);
            if (open_since >= 0.0 && now - open_since > 0.06)
                EXPECT_EQ(board.state().output(0).level, 0) << "50 ms of debounce after the tank ran empty";
        }
    }
}

TEST(Noise, anUnendingLineIsCutAndAnswered) {
    const auto project = test::demoProject();
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    simulation::InterpretedBoard board(*plan.program, *plan::plantsOf(project, parts, plan), "demo", "test");
    board.write(std::string(1000000, 'x') + "\nhello\n");
    EXPECT_NE(board.read().find("hello hinge-spark"), std::string::npos);
}

}  // namespace
}  // namespace hinge
