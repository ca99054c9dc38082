// Loops that drive both ways, on the emulated board: a motor that holds an angle from either side, a plate that warms and cools.
#include "emulator/driven_board.hpp"
#include "plan/machines.hpp"
#include "support/both_ways.hpp"

namespace hinge {
namespace {

class BothWaysBoard : public driven::DrivenBoard {};

// One short way and back: by hand 300 − 100 counts are 70° of 1023 counts a turn, and a proportional law stops short of it by the counts
// whose drive its friction bears. It comes there, and after the wish has changed back to
// where it began; on the chip as in the interpreter, and for both kinds of bridge.
TEST_F(BothWaysBoard, aMotorGoesToItsAngleFromEitherSide) {
    for (const char* bridge : {"bridge_3a", "bridge_inputs_4a"}) {
        SCOPED_TRACE(bridge);
        auto both = test::bothOf(test::angleBothWays(bridge));
        ASSERT_TRUE(both.board);
        ASSERT_EQ(plan::findChannel(both.plan, "it")->not_driven, "");
        const int start = both.input(project::InputKind::Button);
        const auto machines = plan::machinesOf(both.project, parts_, both.plan).couplings;
        ASSERT_EQ(machines.size(), 1U);
        const auto& f = std::get<plant::Rotor>(machines.front().machine).figures();
        const double short_of = 1.0 + f.stiction * f.resistance / (f.torque * f.supply) / (6.0 / 1000.0);
        ASSERT_LT(short_of, 25.0);
        std::vector<std::vector<double>> angles;
        for (auto* one : both.all) {
            SCOPED_TRACE(one->what());
            angles.emplace_back();
            one->fit(plant::Bench(machines));
            const auto reading = [&] { return one->observe().machines.front().reading; };
            one->advance(0.3);
            one->setInput(start, true), one->advance(0.2), one->setInput(start, false);
            one->advance(2.5);
            EXPECT_NEAR(reading(), 300.0, short_of);
            angles.back().push_back(one->observe().machines.front().angle);
            one->write(link::encode(link::SetParameter{"hold_wanted", 150}) + "\n");
            one->advance(2.5);
            EXPECT_NEAR(reading(), 150.0, short_of) << "and back";
            angles.back().push_back(one->observe().machines.front().angle);
        }
        for (std::size_t k = 0; k < 2; ++k) EXPECT_NEAR(angles[0][k], angles[1][k], 0.05) << "the same place, within 3°";
    }
}

// The same scene of a plate on both: it cools to 5 K under the air's.
TEST_F(BothWaysBoard, aPlateCoolsOnTheChipAsInTheInterpreter) {
    auto both = test::bothOf(test::plateBothWays(300.0));
    ASSERT_TRUE(both.board);
    const int start = both.input(project::InputKind::Button);
    std::vector<double> readings;
    for (auto* one : both.all) {
        one->fit(plant::Bench(plan::machinesOf(both.project, parts_, both.plan).couplings));
        one->advance(0.3);
        one->setInput(start, true), one->advance(0.2), one->setInput(start, false);
        one->advance(25.0);
        readings.push_back(one->observe().machines.front().reading);
    }
    EXPECT_LT(readings[1], 380.0) << "it cools";
    EXPECT_NEAR(readings[0], readings[1], 6.0);
}

}  // namespace
}  // namespace hinge
