// What the plan says, in the order of its weight, and what is alike at once; what has to be found out apart from what is only still to do.
#include "plan/gathered.hpp"
#include <gtest/gtest.h>
#include "proof/bring_up.hpp"
#include "support/demo.hpp"

namespace hinge {
namespace {

plan::PlanFinding made(const char* id, Severity severity, const char* channel, const char* text) {
    return {id, severity, project::Stage::Match, channel, text, {}};
}

TEST(Gathered, theWorstComesFirstAndWhatIsAlikeSpeaksOnce) {
    const std::vector<plan::PlanFinding> all{
        made("b", Severity::Note, "one", "note of one"), made("a", Severity::Warn, "one", "tight one"),
        made("b", Severity::Note, "two", "note of two"), made("s", Severity::Stop, "", "stop"),
        made("a", Severity::Warn, "two", "tight two"),   made("b", Severity::Note, "one", "another of one")};
    std::vector<const plan::PlanFinding*> shown;
    for (const auto& each : all) shown.push_back(&each);
    const auto groups = plan::gathered(shown);
    ASSERT_EQ(groups.size(), 4U);
    EXPECT_EQ(groups[0].first().id, "s");
    EXPECT_EQ(groups[1].first().text, "tight one");
    EXPECT_EQ(groups[1].all.size(), 2U);
    EXPECT_EQ(groups[2].first().text, "note of one");
    EXPECT_EQ(groups[2].all.size(), 2U);
    EXPECT_EQ(groups[3].first().text, "another of one") << "a channel's second of a kind is another matter";
    std::size_t told = 0;
    for (const auto& group : groups) told += group.all.size();
    EXPECT_EQ(told, all.size()) << "none is left out";
}

// A gadget of which every fact is known, and that nobody has run: nothing is to be found out, and that is not hidden behind what is to do.
TEST(Gathered, stillToDoIsNoGapInWhatIsKnown) {
    const auto parts = test::shippedParts();
    const auto project = test::demoProject();
    const auto plan = proof::withProof(plan::evaluate(project, parts), proof::bringUp(project, parts, plan::evaluate(project, parts)));
    int unknown = 0, to_do = 0;
    for (const auto& channel : plan.channels)
        for (const auto& cell : channel.cells)
            if (cell.verdict == Verdict::Unknown) ++(cell.to_do ? to_do : unknown);
    EXPECT_EQ(plan.headline.unknown, unknown);
    EXPECT_EQ(plan.headline.to_do, to_do);
    EXPECT_EQ(unknown, 0) << "its facts are all there";
    EXPECT_GT(to_do, 0) << "and nobody has run it";
    EXPECT_NE(plan::worst(plan.channels.front()), Verdict::Unknown);
    // What breaks or is tight is the channel's mark, though the same cell has work left.
    auto tight = plan;
    auto& cell = tight.channels.front().cells[static_cast<std::size_t>(project::Stage::Prove)];
    ASSERT_TRUE(cell.to_do);
    cell.verdict = Verdict::Tight;
    EXPECT_EQ(plan::worst(tight.channels.front()), Verdict::Tight);
    // A fact is taken away: that is to be found out, whatever else is to be done.
    const auto gap = test::edited(project, {{"channels/rain/demand/lift", ""}});
    const auto with_gap = plan::evaluate(gap, parts);
    EXPECT_GT(with_gap.headline.unknown, 0);
    EXPECT_EQ(plan::worst(with_gap.channels.front()), Verdict::Unknown);
}

}  // namespace
}  // namespace hinge
