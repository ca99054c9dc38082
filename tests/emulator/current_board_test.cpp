// The current that a bridge shows, on the emulated board with its motor, and in ngspice from the maker's deck.
#include <regex>
#include "emulator/driven_board.hpp"
#include "plan/deck.hpp"
#include "plan/machines.hpp"
#include "support/oracles.hpp"
#include "support/strained.hpp"

namespace hinge {
namespace {

class CurrentBoard : public driven::DrivenBoard {
protected:
    project::Project cured(const char* bridge) const {
        const auto as_it_comes = test::strained(bridge);
        const auto plan = plan::evaluate(as_it_comes, parts_);
        const auto* never = test::finding(plan, "current-never-told");
        EXPECT_NE(never, nullptr);
        return never != nullptr ? *project::with(as_it_comes, never->remedies.front().edits) : as_it_comes;
    }
};

// By hand: half a second to start, a tenth that its level must last, and what the bench's noise and a tick do. Held fast, its motor draws
// its stall current; the sketch reads it at the pin, and what has put it off keeps it off until its minute is over.
TEST_F(CurrentBoard, aMotorHeldFastIsPutOffOnInterpreterAndChip) {
    auto project = cured("bridge_3a");
    // Four seconds for its minute: what put it off holds until that is over, and half a second more.
    for (auto& cue : project.routine.cues)
        for (auto& move : cue.moves)
            if (move.action == routine::Action::Run) move.time = of<Duration>(4.0);
    auto both = test::bothOf(project);
    ASSERT_TRUE(both.board);
    const int start = both.input(project::InputKind::Button);
    for (auto* one : both.all) {
        SCOPED_TRACE(one->what());
        one->fit(plant::Bench(plan::machinesOf(both.project, parts_, both.plan).couplings));
        const auto duty = [&] { return one->observe().duty.front(); };
        one->advance(0.3);
        one->setInput(start, true);
        one->advance(0.2);
        one->setInput(start, false);
        one->advance(1.2);
        EXPECT_GT(duty(), 0.0) << "it runs";
        one->disturb(0, 1.0);
        double held = 0.0;
        while (duty() > 0.0 && held < 1.0) one->advance(0.005), held += 0.005;
        EXPECT_NEAR(held, 0.11, 0.02) << "a tenth of a second, and what it takes to be read";
        one->disturb(0, 0.0);
        one->advance(1.5);
        EXPECT_EQ(duty(), 0.0) << "freed, it does not start by itself";
        one->advance(2.0);
        one->setInput(start, true);
        one->advance(0.5);
        EXPECT_GT(duty(), 0.0) << "its time over and half a second more, a press starts it again";
        one->setInput(start, false);
    }
}

// Its current stands at the pin as volts: the deck's bridge is fed through a meter, and the two have to agree.
TEST_F(CurrentBoard, inTheDeckItsOutputFollowsItsSupply) {
    if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    for (const char* bridge : {"bridge_3a", "bridge_5a"}) {
        SCOPED_TRACE(bridge);
        const auto project = cured(bridge);
        auto deck = plan::spiceDeck(project, parts_, plan::evaluate(project, parts_));
        ASSERT_TRUE(deck) << sentence(deck.error());
        static const std::regex asked(R"(\.meas tran pin_v_strains AVG v\(\S+\)(.*)\n)");
        std::smatch window;
        ASSERT_TRUE(std::regex_search(*deck, window, asked)) << *deck;
        deck->insert(deck->rfind(".end"), ".meas tran fed AVG i(Vi_it)" + window[1].str() + "\n");
        const auto said = test::ngspice(*deck);
        ASSERT_TRUE(said.contains("fed") && said.contains("pin_v_strains")) << *deck;
        const double scale = si(*project::findDriver(parts_, bridge)->current_output);
        EXPECT_GT(said.at("fed"), 0.02) << "it draws something";
        EXPECT_NEAR(said.at("pin_v_strains"), scale * said.at("fed"), 0.1 * scale * said.at("fed")) << *deck;
    }
}

}  // namespace
}  // namespace hinge
