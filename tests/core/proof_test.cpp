#include <algorithm>
#include "proof/bring_up.hpp"
#include "proof/lessons.hpp"
#include "support/alone.hpp"
#include "support/demo.hpp"

namespace hinge::proof {
namespace {

class BringUp : public testing::Test {
protected:
    BringUp()
        : project_{test::demoProject()},
          parts_{test::shippedParts()},
          plan_{plan::evaluate(project_, parts_)},
          steps_{bringUp(project_, parts_, plan_)} {}
    const Step& step(const std::string& id) {
        const auto found = std::find_if(steps_.begin(), steps_.end(), [&](const Step& s) { return s.id == id; });
        EXPECT_NE(found, steps_.end()) << id;
        return *found;
    }
    project::Project project_;
    project::Parts parts_;
    plan::Plan plan_;
    std::vector<Step> steps_;
};

TEST_F(BringUp, goesFromPowerOffToTheWholeDose) {
    const auto place = [&](const std::string& id) { return &step(id) - steps_.data(); };
    EXPECT_LT(place("rain.winding"), place("rail.movers"));
    EXPECT_LT(place("rail.logic"), place("rest"));
    EXPECT_LT(place("rest"), place("rain.gate_off"));
    EXPECT_LT(place("rain.gate_on"), place("rain.running"));
    EXPECT_LT(place("rain.running"), place("rain.time"));
    // The phases come in their order, each once.
    std::vector<std::string> phases;
    for (const auto& s : steps_)
        if (phases.empty() || phases.back() != s.phase) phases.push_back(s.phase);
    EXPECT_EQ(phases, (std::vector<std::string>{"Power off", "Supplies alone", "Logic alone", "One at a time", "All together"}));
}

TEST_F(BringUp, expectsWhatThePlanComputes) {
    EXPECT_NEAR(*step("rain.winding").expected, 12.0 / 0.70, 1e-9) << "R = Vn/Is";
    EXPECT_NEAR(*step("rain.time").expected, si(*plan_.channels.front().dose_time), 1e-12);
    EXPECT_NEAR(*step("rail.movers").expected, 12.0, 1e-12);
    EXPECT_NEAR(*step("rain.running").expected, si(*plan_.channels.front().chosen->running), 1e-12);
    for (const auto& s : steps_) {
        EXPECT_FALSE(s.what.empty());
        EXPECT_FALSE(s.instrument.empty());
        if (s.expected) EXPECT_TRUE(*s.least <= *s.expected && *s.expected <= *s.most) << s.id;
    }
}

TEST_F(BringUp, judgesAReadingAtOnce) {
    const auto& winding = step("rain.winding");
    EXPECT_EQ(judge(winding, "17 ohm").value(), Verdict::Holds);
    EXPECT_EQ(judge(winding, "0.2 ohm").value(), Verdict::Breaks);
    EXPECT_EQ(judge(winding, "3k").value(), Verdict::Breaks);
    EXPECT_FALSE(judge(winding, "17 V")) << "a reading in the wrong unit is no reading";
    EXPECT_FALSE(judge(winding, "warm"));
}

TEST_F(BringUp, recordingWritesTheCheckAndTheJournal) {
    const auto project = record(project_, step("rail.movers"), "12.1 V", "", "2026-11-25T10:00");
    const auto steps = bringUp(project, parts_, plan_);
    const auto found = std::find_if(steps.begin(), steps.end(), [](const Step& s) { return s.id == "rail.movers"; });
    EXPECT_EQ(found->verdict, Verdict::Holds);
    EXPECT_EQ(project.journal.entries.size(), project_.journal.entries.size() + 1);
    const auto plan = withProof(plan_, steps);
    const auto mine = std::count_if(steps.begin(), steps.end(),
                                    [&](const Step& s) { return s.channel.empty() || s.channel == plan.channels.front().id; });
    EXPECT_EQ(plan.channels.front().cells[static_cast<std::size_t>(project::Stage::Prove)].figure, "1 of " + std::to_string(mine));
}

TEST_F(BringUp, aReadingOutsideIsAFinding) {
    const auto project = record(project_, step("rail.movers"), "9 V", "", "2026-11-25T10:00");
    const auto plan = withProof(plan_, bringUp(project, parts_, plan_));
    EXPECT_NE(test::finding(plan, "reading-off"), nullptr);
    EXPECT_EQ(plan.verdict, Verdict::Breaks);
}

TEST_F(BringUp, aSkipCountsWithItsReason) {
    const auto project = record(project_, step("rain.volume"), "", "no scale at hand", "2026-11-25T10:00");
    const auto steps = bringUp(project, parts_, plan_);
    const auto found = std::find_if(steps.begin(), steps.end(), [](const Step& s) { return s.id == "rain.volume"; });
    EXPECT_EQ(found->skipped, "no scale at hand");
}

TEST_F(BringUp, theScaleShowsRangeAndReading) {
    const auto& movers = step("rail.movers");
    const auto scale = scaleOf(movers, 15.0);
    EXPECT_LT(scale.low, *movers.least);
    EXPECT_GT(scale.high, 15.0);
}

TEST(Lessons, comeUpInTheNextGadgetWhereTheyBelong) {
    auto first = test::demoProject();
    first.brief.name = "The first one";
    first.journal.entries = {
        {"a", "2026-11-20T10:00", journal::EntryKind::Lesson, "rain", "prime the pump", "", "", "", "", "", std::nullopt},
        {"b", "2026-11-21T10:00", journal::EntryKind::Failure, "rain", "it ran dry", "", "a float switch costs less than a pump", "match",
         "", "", std::nullopt},
        {"c", "2026-11-22T10:00", journal::EntryKind::Lesson, "", "label every wire", "", "", "", "", "", std::nullopt},
        {"d", "2026-11-23T10:00", journal::EntryKind::Lesson, "", "label every wire", "", "", "", "", "", std::nullopt},
        {"e", "2026-11-23T11:00", journal::EntryKind::Note, "rain", "painted it", "", "", "", "", "", std::nullopt}};
    const auto lessons = lessonsOf(first);
    ASSERT_EQ(lessons.size(), 3U) << "each once, and a note is none";
    EXPECT_EQ(lessons[0].text, "label every wire");
    EXPECT_FALSE(lessons[0].kind);
    EXPECT_EQ(lessons[1].kind, project::ChannelKind::Pump);
    const auto parts = test::shippedParts();
    const auto told = [&](const project::Project& project) {
        std::vector<std::string> list;
        for (const auto& finding : withLessons(plan::evaluate(project, parts), project, lessons).findings)
            if (finding.id == "lesson") list.push_back(finding.channel + ": " + finding.text);
        return list;
    };
    auto next = test::demoProject();
    EXPECT_EQ(told(next).size(), 3U);
    EXPECT_EQ(told(next)[1], "rain: Learnt on The first one: a float switch costs less than a pump");
    EXPECT_EQ(told(first).size(), 0U) << "not its own";
    auto without = project::addChannel(project::newProject(), project::ChannelKind::Turn, "Arm");
    EXPECT_EQ(told(without).size(), 1U) << "no pump here: only what is about every gadget";
}

// A bridge that cues turn round is measured the other way round as well, with nothing on it. The wiring oracle has the same volts from the
// wiring list in ngspice (tests/oracle/wiring_oracle_test.cpp).
TEST(Turned, isMeasuredTheOtherWayRound) {
    const auto parts = test::shippedParts();
    for (const bool backwards : {false, true}) {
        const auto project = test::alone(project::ChannelKind::Turn, "small_12v_g100", "bridge_3a",
                                         {{"channels/it/demand/way", "disc"},
                                          {"channels/it/demand/speed", "30 rpm"},
                                          {"channels/it/demand/friction", "0.02 N m"},
                                          {"channels/it/direction_pin", "D4"},
                                          {"channels/it/signal/duty", "50 %"},
                                          {"routine/cues/run_it/moves/goes/action", "run"},
                                          {"routine/cues/run_it/moves/goes/time", "2 s"},
                                          {"routine/cues/run_it/moves/goes/backwards", backwards ? "yes" : "no"},
                                          {"routine/cues/run_it/moves/comes_back/action", "off"}});
        const auto steps = proof::bringUp(project, parts, plan::evaluate(project, parts));
        const auto way = std::find_if(steps.begin(), steps.end(), [](const auto& step) { return step.id == "it.way"; });
        ASSERT_EQ(way != steps.end(), backwards);
        if (!backwards) continue;
        EXPECT_NEAR(*way->expected, -6.0, 1e-9) << "12 V by half of the time";
        EXPECT_EQ(proof::judge(*way, "-5.8 V"), Verdict::Holds);
        EXPECT_EQ(proof::judge(*way, "5.8 V"), Verdict::Breaks) << "the direction wire is not where it belongs";
        EXPECT_EQ(proof::judge(*way, "0 V"), Verdict::Breaks);
        const auto alone = std::find_if(steps.begin(), steps.end(), [](const auto& step) { return step.id == "it.bridge"; });
        EXPECT_TRUE(alone < way) << "first the way that it always goes";
    }
}

}  // namespace
}  // namespace hinge::proof
