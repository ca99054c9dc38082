// What a word is found in: the examples' own facts, by hand.
#include "report/find.hpp"
#include <gtest/gtest.h>
#include "support/demo.hpp"

namespace hinge::report {
namespace {

const auto& stage() {
    static const auto project = test::exampleProject("paper-moon-stage");
    return project;
}
std::vector<Hit> found(std::string_view text, std::size_t most = 8) {
    static const auto parts = test::shippedParts();
    static const auto plan = plan::evaluate(stage(), parts);
    return find(stage(), parts, plan, text, most);
}
bool has(const std::vector<Hit>& hits, Found what, std::string_view name) {
    return std::any_of(hits.begin(), hits.end(), [&](const Hit& hit) { return hit.what == what && hit.name == name; });
}

TEST(Find, aChannelByItsNameWhateverTheCase) {
    for (const char* text : {"rain", "RAIN", "Rai"}) {
        const auto hits = found(text);
        ASSERT_FALSE(hits.empty()) << text;
        EXPECT_EQ(hits.front().what, Found::Channel) << text;
        EXPECT_EQ(hits.front().channel, "rain") << text;
    }
}
TEST(Find, aFactWithItsPathAndWhatItIsNow) {
    const auto hits = found("lift");
    const auto at = std::find_if(hits.begin(), hits.end(), [](const Hit& hit) { return hit.path == "channels/rain/demand/lift"; });
    ASSERT_NE(at, hits.end());
    EXPECT_EQ(at->stage, project::Stage::Need);
    EXPECT_EQ(at->channel, "rain");
    EXPECT_NE(at->detail.find("450 mm"), std::string::npos) << at->detail;
}
TEST(Find, aWireByWhereItEndsAPartAndAFinding) {
    const auto wires = found("D9");
    EXPECT_TRUE(std::any_of(wires.begin(), wires.end(), [](const Hit& hit) { return hit.what == Found::Wire; }));
    EXPECT_TRUE(has(found("stepper 42"), Found::Part, "Stepper 42 mm · 0.16 N·m · 1.0 A"));
    const auto findings = found("sample-first");
    ASSERT_FALSE(findings.empty());
    EXPECT_EQ(findings.front().what, Found::Finding);
    EXPECT_NE(findings.front().name.find("is marked as tested"), std::string::npos) << "it is shown by its words";
}
TEST(Find, allWordsInAnyOrder) {
    EXPECT_TRUE(has(found("42 stepper"), Found::Part, "Stepper 42 mm · 0.16 N·m · 1.0 A"));
    EXPECT_TRUE(found("stepper nowhere-to-be-found").empty());
    EXPECT_TRUE(found("").empty());
    EXPECT_TRUE(found("   ").empty());
}
TEST(Find, noMoreOfASortThanAsked) {
    std::map<Found, std::size_t> counts;
    for (const auto& hit : found("e", 3)) ++counts[hit.what];
    EXPECT_GE(counts.size(), 4U);
    for (const auto& [what, count] : counts) EXPECT_LE(count, 3U);
}
TEST(Find, lettersWithMarksToo) {
    EXPECT_TRUE(hasWords("Über der Bühne", "über bühne"));
    EXPECT_TRUE(hasWords("ÀÉÎ", "àéî"));
    EXPECT_FALSE(hasWords("a×b", "a÷b"));
    EXPECT_FALSE(hasWords("anything", " "));
}

}  // namespace
}  // namespace hinge::report
