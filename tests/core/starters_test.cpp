// What a newcomer begins with: it holds, and its sketch runs.
#include "project/starters.hpp"
#include <gtest/gtest.h>
#include "plan/firmware_model.hpp"
#include "support/demo.hpp"

namespace hinge::starting {
namespace {

TEST(Starters, holdAsTheyAre) {
    const auto parts = test::shippedParts();
    EXPECT_EQ(project::starters().size(), 3U);
    for (const auto& starter : project::starters()) {
        const auto project = project::started(starter.id);
        ASSERT_EQ(project.channels.size(), 1U) << starter.id;
        const auto& channel = project.channels.front();
        EXPECT_NE(project::findActuator(parts, channel.actuator), nullptr) << starter.id;
        EXPECT_NE(project::findDriver(parts, channel.drive.part), nullptr) << starter.id;
        const auto plan = plan::evaluate(project, parts);
        EXPECT_EQ(plan.headline.breaks, 0) << starter.id;
        for (const auto& finding : plan.findings)
            if (finding.severity != Severity::Note) ADD_FAILURE() << starter.id << ": " << finding.id << ": " << finding.text;
        // What is only found by measuring the built gadget stays to be found out.
        for (const auto& missing : plan.missing)
            if (missing.path.find("/calibration/") == std::string::npos)
                ADD_FAILURE() << starter.id << ": " << missing.path << ": " << missing.label;
        EXPECT_TRUE(plan::sketchOf(project, plan)) << starter.id;
    }
    EXPECT_TRUE(project::started("no such").channels.empty());
}

}  // namespace
}  // namespace hinge::starting
