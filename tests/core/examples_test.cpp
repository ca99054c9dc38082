// The example gadgets, each with figures that a maker can check by hand.
#include <algorithm>
#include "match/rank.hpp"
#include "plan/difference.hpp"
#include "plan/feed.hpp"
#include "proof/bring_up.hpp"
#include "quantity/constants.hpp"
#include "routine/prove.hpp"
#include "support/demo.hpp"

namespace hinge::plan {
namespace {

project::Project example(const std::string& name) {
    auto document = store::load(HINGE_SOURCE_DIR "/demos/" + name);
    EXPECT_TRUE(document) << sentence(document.error());
    return document->project;
}
const ChannelPlan& channel(const Plan& plan, std::string_view id) {
    const auto* found = findChannel(plan, id);
    EXPECT_NE(found, nullptr) << id;
    return *found;
}

class Examples : public testing::TestWithParam<const char*> {};
TEST_P(Examples, goThroughNeedAndMatchAndHold) {
    const auto project = example(GetParam());
    const auto plan = evaluate(project, test::shippedParts());
    for (const auto& each : plan.channels) {
        EXPECT_NE(each.cells[static_cast<std::size_t>(Stage::Need)].verdict, Verdict::Unknown) << each.name;
        EXPECT_EQ(each.cells[static_cast<std::size_t>(Stage::Match)].verdict, Verdict::Holds) << each.name;
        EXPECT_FALSE(match::candidates(each.context, test::shippedParts(), 40).empty()) << each.name;
        EXPECT_TRUE(each.context->ask.missing.empty()) << each.name;
    }
    for (const auto& finding : plan.findings) EXPECT_NE(finding.severity, Severity::Stop) << finding.text;
    EXPECT_TRUE(plan.program);
    EXPECT_TRUE(sketchOf(project, plan));
}
TEST_P(Examples, areProvedToTheEnd) {
    const auto plan = evaluate(example(GetParam()), test::shippedParts());
    ASSERT_TRUE(plan.program);
    for (const auto& proof : routine::prove(*plan.program)) EXPECT_EQ(proof.status, routine::ProofStatus::Proved) << proof.text;
}
INSTANTIATE_TEST_SUITE_P(All, Examples,
                         testing::Values("paper-moon-stage", "proofing-box", "tightrope-rider", "cloud-chamber-door", "greenhouse-kettle",
                                         "snail-hour"),
                         [](const auto& row) {
                             std::string name = row.param;
                             std::replace(name.begin(), name.end(), '-', '_');
                             return name;
                         });

// By hand, from the facts of the file.
TEST(CloudChamberDoor, asksWhatAHandSumAsks) {
    const auto plan = evaluate(example("cloud-chamber-door"), test::shippedParts());
    EXPECT_NEAR(si(*channel(plan, "door").context->ask.force), 0.4 * (9.80665 * 0.25 + 4 * 0.16 / (2.4 * 2.4)), 1e-9);
    // 160 mm on a pulley of 20 teeth of 2 mm, twice its mean speed at the fastest.
    EXPECT_NEAR(si(*channel(plan, "door").context->ask.speed), 2 * 3.141592653589793 * 2 * 0.16 / 2.4 / 0.04, 1e-9);
    const auto* lost = test::finding(plan, "no-position");
    ASSERT_NE(lost, nullptr);
    EXPECT_EQ(lost->severity, Severity::Note) << "its end switches say where it stands";
    // Without one of them that is not so.
    auto blind = example("cloud-chamber-door");
    std::erase_if(blind.routine.cues.front().moves, [](const auto& move) { return move.input == "shut_end"; });
    const auto warned = test::finding(evaluate(blind, test::shippedParts()), "no-position");
    ASSERT_NE(warned, nullptr);
    EXPECT_EQ(warned->severity, Severity::Warn);
}
TEST(PaperMoonStage, asksWhatAHandSumAsks) {
    const auto plan = evaluate(example("paper-moon-stage"), test::shippedParts());
    const double theta = 75.0 * constants::pi / 180.0;
    EXPECT_NEAR(si(*channel(plan, "moon").context->ask.torque), 0.09 * 9.80665 * 0.11 + 0.09 * 0.11 * 0.11 * 4 * theta / 0.81 + 0.004,
                1e-9);
    EXPECT_NEAR(si(*channel(plan, "mist").context->ask.flow), 0.006 * 1.2, 1e-12) << "60 cm² at 1.2 m/s";
    EXPECT_NEAR(si(*channel(plan, "curtain").context->ask.force), 0.42 * (9.80665 * 0.3 + 4 * 0.62 / 36), 1e-9);
    EXPECT_NEAR(si(*channel(plan, "turntable").context->ask.torque), 0.8 * 0.09 / 8 * 3.141592653589793 + 0.06, 1e-9);
    EXPECT_NEAR(si(*channel(plan, "lamps").chosen->motor), 0.5, 1e-9) << "6 W at 12 V";
    EXPECT_EQ(si(*channel(plan, "curtain").motion.steps), std::round(0.62 / 0.04 * 200 * 4)) << "15.5 turns of 800 micro-steps";
    // 90 ± 3 g and 110 ± 4 mm: of the torque, gravity's share carries them.
    EXPECT_NEAR(*channel(plan, "moon").context->ask.spread, std::hypot(3.0 / 90, 4.0 / 110), 0.01);
}

TEST(PaperMoonStage, fanPwmIsWhatFourWireFansTake) {
    const auto plan = evaluate(example("paper-moon-stage"), test::shippedParts());
    ASSERT_TRUE(channel(plan, "mist").pwm);
    // Common practice, no published source: 21 to 28 kHz.
    EXPECT_GE(si(channel(plan, "mist").pwm->actual_frequency), 21e3);
    EXPECT_LE(si(channel(plan, "mist").pwm->actual_frequency), 28e3);
    const auto wrong = evaluate(test::edited(example("paper-moon-stage"), {{"channels/mist/pin", "D5"}, {"channels/rain/pin", "D11"}}),
                                test::shippedParts());
    const auto* finding = test::finding(wrong, "fan-wrong-pwm");
    ASSERT_NE(finding, nullptr) << "timer 0 keeps the clock";
    ASSERT_FALSE(finding->remedies.empty());
    const auto cured = project::with(test::edited(example("paper-moon-stage"), {{"channels/mist/pin", "D5"}, {"channels/rain/pin", "D11"}}),
                                     finding->remedies.front().edits);
    ASSERT_TRUE(cured);
    EXPECT_EQ(test::finding(evaluate(*cured, test::shippedParts()), "fan-wrong-pwm"), nullptr);
}

TEST(ProofingBox, asksWhatAHandSumAsksAndSaysMains) {
    const auto plan = evaluate(example("proofing-box"), test::shippedParts());
    EXPECT_NEAR(si(*channel(plan, "heater").context->ask.power), 1.2 * 2700 * 8 / 1800 + 0.9 * 8, 1e-9);
    const auto* mains = test::finding(plan, "mains-present");
    ASSERT_NE(mains, nullptr);
    EXPECT_NE(mains->text.find("licensed electrician"), std::string::npos);
    // Without its cut-out the heater is stopped, and fitting one cures it.
    const auto bare = test::edited(example("proofing-box"), {{"channels/heater/demand/cutout", "no"}});
    const auto cutout = test::finding(evaluate(bare, test::shippedParts()), "heater-cutout");
    ASSERT_NE(cutout, nullptr);
    EXPECT_EQ(cutout->severity, Severity::Stop);
}

TEST(GreenhouseKettle, asksWhatAHandSumAsksAndSaysMainsNearWater) {
    const auto plan = evaluate(example("greenhouse-kettle"), test::shippedParts());
    EXPECT_NEAR(si(*channel(plan, "kettle").context->ask.power), 0.7 * 4186 * 33 / 2400 + 0.8 * 33, 1e-9);
    for (const char* id : {"kettle", "dawn"}) {
        EXPECT_EQ(channel(plan, id).signal, SignalKind::PartWaves) << id;
        EXPECT_EQ(channel(plan, id).not_driven, "") << id;
    }
    // 80 % of the power: 1 − α/π + sin 2α/2π is 0.8 at α = 1.0559 (by Newton's steps on a desk calculator), of 10 ms each half-wave.
    EXPECT_NEAR(si(*channel(plan, "dawn").mains->delay), 1.0559 / 3.14159265 * 10e-3, 5e-6);
    for (const char* id : {"mains-present", "mains-wet"}) {
        const auto* care = test::finding(plan, id);
        ASSERT_NE(care, nullptr) << id;
        EXPECT_NE(care->text.find("licensed electrician"), std::string::npos);
    }
    // The timer that fires gives no PWM: the fan's is another.
    const auto clash = evaluate(test::edited(example("greenhouse-kettle"), {{"channels/breeze/pin", "D9"}}), test::shippedParts());
    const auto* finding = test::finding(clash, "timer-clash");
    ASSERT_NE(finding, nullptr);
    EXPECT_NE(finding->text.find("half-waves"), std::string::npos);
    ASSERT_FALSE(finding->remedies.empty());
    const auto cured =
        test::edited(test::edited(example("greenhouse-kettle"), {{"channels/breeze/pin", "D9"}}), finding->remedies.front().edits);
    EXPECT_EQ(test::finding(evaluate(cured, test::shippedParts()), "timer-clash"), nullptr);
    // Its crossings need a pin with an interrupt, and a plan without one says so and gives one.
    const auto blind = test::edited(example("greenhouse-kettle"), {{"board/crossing_pin", "A4"}});
    EXPECT_NE(test::finding(evaluate(blind, test::shippedParts()), "no-interrupt"), nullptr);
    const auto open = test::edited(example("greenhouse-kettle"), {{"board/crossing_pin", ""}});
    const auto unpinned = evaluate(open, test::shippedParts());
    const auto* offer = test::finding(unpinned, "pins-open");
    ASSERT_TRUE(offer != nullptr && !offer->remedies.empty());
    EXPECT_EQ(test::edited(open, offer->remedies.front().edits).board.crossing_pin, "D2");
}

// No hold point lays a hand on the mains.
TEST(GreenhouseKettle, isProvedWithoutAHandOnTheMains) {
    for (const char* name : {"greenhouse-kettle", "proofing-box"}) {
        const auto project = example(name);
        const auto plan = evaluate(project, test::shippedParts());
        int of_mains = 0;
        for (const auto& step : proof::bringUp(project, test::shippedParts(), plan)) {
            const auto* decided = project::findChannel(project, step.channel);
            if (decided == nullptr || !onMains(*decided)) continue;
            ++of_mains;
            EXPECT_EQ(step.what.find("touch"), std::string::npos) << step.id;
            EXPECT_EQ(step.caution.find("drop of water"), std::string::npos) << step.id;
            EXPECT_NE(step.caution.find("licensed electrician"), std::string::npos) << step.id << ": " << step.caution;
            EXPECT_EQ(step.instrument.find("voltmeter"), std::string::npos) << step.id;
            EXPECT_EQ(step.instrument.find("ohmmeter"), std::string::npos) << step.id;
        }
        EXPECT_GT(of_mains, 0) << name;
    }
}

TEST(Swap, listsWhatChangesDownstreamAndNothingElse) {
    const auto parts = test::shippedParts();
    const auto before = example("paper-moon-stage");
    EXPECT_TRUE(difference(before, before, parts).empty());
    const auto after = test::edited(before, {{"channels/mist/actuator", "fan_80_12v"}, {"channels/mist/drive/part", "npn_medium"}});
    const auto changes = difference(before, after, parts);
    const auto has = [&](Stage stage, const std::string& what) {
        return std::any_of(changes.begin(), changes.end(),
                           [&](const Change& c) { return c.stage == stage && c.what.find(what) != std::string::npos; });
    };
    EXPECT_TRUE(has(Stage::Feed, "from the supply"));
    EXPECT_TRUE(has(Stage::Log, "known price"));
    EXPECT_TRUE(has(Stage::Match, "start duty")) << "a constant that hides in the part";
    EXPECT_TRUE(has(Stage::Pins, "wire goes"));
    EXPECT_TRUE(has(Stage::Pins, "wire comes"));
    EXPECT_TRUE(has(Stage::Code, "lines of the sketch"));
    for (const auto& change : changes) {
        EXPECT_NE(change.before, change.after) << change.what;
        EXPECT_TRUE(change.channel.empty() || change.channel == "mist")
            << change.channel << ": " << change.what << " (" << change.before << " -> " << change.after << ")";
    }
}

// A servo swapped for a motor that is switched: the routine's verb no longer fits, and one press mends it.
TEST(Swap, theRoutinesVerbFollowsThePart) {
    const auto parts = test::shippedParts();
    const auto after = test::edited(example("paper-moon-stage"), {{"channels/moon/actuator", "small_6v_g150"},
                                                                  {"channels/moon/drive/part", "bridge_1a_mini"},
                                                                  {"channels/moon/pin", "D11"},
                                                                  {"channels/moon/direction_pin", "A0"},
                                                                  {"channels/moon/demand/both_ways", "no"},
                                                                  {"routine/cues/moonrise/moves/sets/action", "run"},
                                                                  {"routine/cues/moonrise/moves/sets/time", "2 s"}});
    const auto plan = evaluate(after, parts);
    const auto* broken = test::finding(plan, "routine-broken");
    ASSERT_NE(broken, nullptr);
    ASSERT_EQ(broken->remedies.size(), 1U);
    const auto cured = project::with(after, broken->remedies.front().edits);
    ASSERT_TRUE(cured);
    EXPECT_EQ(test::finding(evaluate(*cured, parts), "routine-broken"), nullptr);
}

TEST(Spreads, areTypedIntoTheFigureTheyBelongTo) {
    auto project = example("paper-moon-stage");
    const std::string path = "channels/moon/demand/mass";
    const auto set = [&](const std::string& value) { return project::with(project, project::FactEdit{path, value}); };
    const auto text = [&](const project::Project& p) { return project::fact(p, path)->text; };
    EXPECT_EQ(text(*set("90 ± 3 g")), "90 ± 3 g");
    EXPECT_EQ(text(*set("0.2 kg ± 10 %")), "200 ± 20 g");
    EXPECT_EQ(text(*set("200 g +- 10")), "200 ± 10 g");
    EXPECT_EQ(text(*set("100 g ± 0")), "100 g");
    EXPECT_EQ(text(*set("180 g")), "180 ± 6 g") << "the share it had stays";
    for (const char* wrong : {"90 ± 3 V", "90 g ± ", "90 g ± -3 g", "90 g ± 200 g", "± 3 g", "90 g ± x %"})
        EXPECT_FALSE(set(wrong)) << wrong;
    EXPECT_FALSE(project::with(project, project::FactEdit{"channels/moon/demand/way", "lever ± 3"})) << "a choice has no spread";
}

}  // namespace
}  // namespace hinge::plan
