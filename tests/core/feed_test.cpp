#include "plan/feed.hpp"
#include "support/demo.hpp"

namespace hinge::plan {
namespace {

const RailPlan* rail(const Plan& plan, std::string_view id) {
    for (const auto& entry : plan.rails)
        if (entry.id == id) return &entry;
    return nullptr;
}

// By hand from the demo's part: 12 V pump, 0.24 A running, 0.70 A stalled, behind 83 mΩ of wire.
TEST(Feed, currentsCanBeCheckedByHand) {
    const auto plan = evaluate(test::demoProject(), test::shippedParts());
    const auto* movers = rail(plan, "movers");
    ASSERT_NE(movers, nullptr);
    const double wire = 1.7241e-8 * 2 * 1.2 / 0.5e-6;
    EXPECT_NEAR(si(movers->wire), wire, 1e-9) << "IEC 60028: ρ·2·l/A";
    EXPECT_NEAR(si(*movers->running), 0.24, 0.002) << "the data sheet's figure, a little less for the wire";
    EXPECT_NEAR(si(*movers->stalled), 12.0 / (12.0 / 0.70 + wire + 1.5 * 0.035), 1e-6) << "Ohm through winding, wire and hot switch";
    EXPECT_EQ(si(*movers->rest), 0.0);
    EXPECT_GT(si(*movers->starting), si(*movers->running));
    EXPECT_LT(si(*movers->starting), si(*movers->stalled)) << "the soft start helps";
}

TEST(Feed, aBuckDrawsLessThanALinearRegulator) {
    const auto demo = test::demoProject();
    const auto linear = evaluate(demo, test::shippedParts());
    const auto buck = evaluate(test::edited(demo, {{"rails/logic/conversion", "buck"}}), test::shippedParts());
    const double own = 0.045;
    EXPECT_NEAR(si(*linear.headline.worst_current) - si(*buck.headline.worst_current), own * (1.0 - 5.0 / (12.0 * 0.88)), 1e-9)
        << "energy balance";
}

TEST(Feed, railsAddUpToTheSource) {
    const auto plan = evaluate(test::demoProject(), test::shippedParts());
    EXPECT_NEAR(si(*plan.headline.worst_current), si(*rail(plan, "movers")->starting) + si(*rail(plan, "logic")->starting), 1e-12);
}

TEST(Feed, aLoopNeitherHangsNorCrashes) {
    auto project = test::demoProject();
    project.rails[0].from = "logic";
    project.rails[1].from = "movers";
    const auto plan = evaluate(project, test::shippedParts());
    EXPECT_NE(test::finding(plan, "rail-loop"), nullptr);
    EXPECT_FALSE(railVoltage(project, "movers"));
}

TEST(Feed, aRailThatNothingFeedsIsNamed) {
    auto project = test::demoProject();
    project.rails[0].from = "ghost";
    EXPECT_NE(test::finding(evaluate(project, test::shippedParts()), "rail-unfed"), nullptr);
}

}  // namespace
}  // namespace hinge::plan
