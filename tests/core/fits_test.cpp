// Lengths, strengths and shares against hand sums and closed forms; the source stands in each row.
#include <algorithm>
#include "core/working_cases.hpp"
#include "proof/fit_sheet.hpp"
#include "support/demo.hpp"

namespace hinge::fits {
namespace {

using test::Case;
using test::result;
using test::split;

// 2π mm from tooth to tooth makes a pulley's radius as many millimetres as it has teeth.
const char* const oneTurn = "6.283185307179586mm";

const Case cases[] = {
    {"BeltRoundTwoAlike", "belt-length", "driving_teeth=20;driven_teeth=20;tooth_pitch=2mm;centres=318mm", "length", 2 * 0.318 + 20 * 0.002,
     1e-12, Verdict::Holds, "geometry: two straights and one whole round of a pulley"},
    {"BeltOfWholeTeeth", "belt-length", "driving_teeth=20;driven_teeth=20;tooth_pitch=2mm;centres=318.7mm", "belt_centres", 0.319, 1e-9,
     Verdict::Holds, "geometry: 338.7 teeth are 339, 339 × 2 mm less one round, halved"},
    {"ScrewIntoANut", "screw-length", "clamped=9mm;diameter=3mm", "standard", 0.012, 1e-12, Verdict::Holds,
     "ISO 888 (from memory): 12 mm is a nominal length"},
    {"ScrewBetweenTwoLengths", "screw-length", "clamped=10mm;diameter=3mm", "standard", 0.016, 1e-12, Verdict::Holds,
     "ISO 888 (from memory): after 12 mm comes 16 mm"},
    {"ScrewIntoPlastic", "screw-length", "clamped=6mm;diameter=2mm;thread=plastic", "needed", 0.010, 1e-12, Verdict::Holds,
     "common practice, no published source: twice the diameter in plastic"},
    {"ArmFilledWhole", "printed-arm", "torque=0.33;arm=0.12;width=8mm;height=12mm;infill=1;material=petg", "stress",
     6 * 0.33 / (0.008 * 0.012 * 0.012), 1e-12, Verdict::Holds, "Euler-Bernoulli: 6·M/(b·h²)"},
    {"ArmGivesWay", "printed-arm", "torque=0.33;arm=0.12;width=8mm;height=12mm;infill=1;material=petg", "sag",
     (0.33 / 0.12) * std::pow(0.12, 3) / (3 * 2.0e9 * 0.008 * std::pow(0.012, 3) / 12), 1e-12, Verdict::Holds,
     "Euler-Bernoulli: F·l³/(3·E·I); E of PETG: common practice, no published source"},
    {"ArmHollow", "printed-arm", "torque=0.33;arm=0.12;width=8mm;height=12mm;wall=1mm;infill=0;material=petg", "stress",
     0.33 * 0.006 / ((0.008 * std::pow(0.012, 3) - 0.006 * std::pow(0.010, 3)) / 12), 1e-12, Verdict::Holds,
     "Euler-Bernoulli: a box section by hand"},
    {"ArmInTheSun", "printed-arm", "torque=0.05;arm=0.12;width=8mm;height=12mm;material=pla;air=60degC", "softens", 55 + 273.15, 1e-12,
     Verdict::Breaks, "common practice, no published source: PLA gives way at 55 °C"},
    {"ArmHeldFastByTooMuch", "printed-arm", "torque=5;arm=0.12;width=8mm;height=12mm;infill=1;material=pla", "used",
     6 * 5 / (0.008 * 0.012 * 0.012) / (50e6 / 3), 1e-12, Verdict::Breaks,
     "Euler-Bernoulli; 50 MPa for PLA over three: common practice, no published source"},
    {"CaseWithNothingWarm", "box-temperature", "heat=0;width=0.4;height=0.2;depth=0.3", "inside", 298.15, 1e-9, Verdict::Holds,
     "nothing given off, nothing warmer"},
    {"BagNoneOfTen", "bag-share", "tried=10;rejected=0", "at_most", 1 - std::pow(0.1, 0.1), 1e-9, Verdict::Holds,
     "closed form: (1 − p)^10 = 0.1"},
    {"BagNoneOfTwentyNine", "bag-share", "tried=29;rejected=0;confidence=95%", "at_most", 0.0981, 5e-4, Verdict::Holds,
     "closed form: 1 − 0.05^(1/29), the trade's 'none of 29 is nine in ten good'"},
    {"BagAllBad", "bag-share", "tried=3;rejected=3", "at_most", 1.0, 1e-12, Verdict::Tight, "definition"},
};

class Fits : public testing::TestWithParam<Case> {};
TEST_P(Fits, asItsSourceSays) {
    const auto& row = GetParam();
    const auto form = plan::findWorking(row.work);
    ASSERT_TRUE(form != nullptr);
    const auto answer = form->answer(split(row.inputs));
    ASSERT_TRUE(answer) << row.oracle;
    const auto value = result(*answer, row.output);
    ASSERT_TRUE(value) << row.oracle;
    EXPECT_NEAR(*value, row.expected, row.tolerance * std::abs(row.expected) + 1e-15) << row.oracle;
    if (row.verdict != Verdict::Tight) EXPECT_EQ(answer->verdict, row.verdict) << row.oracle;
}
INSTANTIATE_TEST_SUITE_P(All, Fits, testing::ValuesIn(cases), [](const auto& row) { return row.param.name; });

// Radii of 10 mm and 40 mm at 60 mm: the straights lean by 30°, and every term has a closed form.
TEST(Belt, roundTwoUnequalPulleys) {
    const auto answer = plan::findWorking("belt-length")
                            ->answer(split(std::string("driving_teeth=10;driven_teeth=40;centres=60mm;tooth_pitch=") + oneTurn));
    ASSERT_TRUE(answer);
    const double pi = std::acos(-1.0);
    EXPECT_NEAR(*result(*answer, "length"), 0.120 * std::sqrt(3.0) / 2 + 0.010 * (pi - pi / 3) + 0.040 * (pi + pi / 3), 1e-12);
    EXPECT_NEAR(*result(*answer, "wrap"), 2 * pi / 3, 1e-12);
    EXPECT_NEAR(*result(*answer, "teeth_in_mesh"), 10.0 / 3, 1e-9);
}

TEST(Belt, pulleysThatTouchAreRefused) {
    const auto answer = plan::findWorking("belt-length")->answer(split("driving_teeth=60;driven_teeth=60;tooth_pitch=2mm;centres=38mm"));
    ASSERT_FALSE(answer);
    EXPECT_EQ(answer.error().field, "centres");
}

const proof::FitLine* lineOf(const proof::FitSheet& sheet, const std::string& channel, const std::string& what) {
    const auto at = std::find_if(sheet.lines.begin(), sheet.lines.end(),
                                 [&](const proof::FitLine& line) { return line.channel == channel && line.what == what; });
    return at == sheet.lines.end() ? nullptr : &*at;
}

class Sheet : public testing::Test {
protected:
    [[nodiscard]] proof::FitSheet sheet(const std::vector<project::FactEdit>& edits = {}) const {
        const auto project = test::edited(test::exampleProject("paper-moon-stage"), edits);
        return proof::fitSheet(project, parts_, plan::evaluate(project, parts_));
    }
    project::Parts parts_ = test::shippedParts();
};

// The demo's moon turns 75°, and its pulses lie evenly round 1.5 ms: by hand, the middle pulse is half of the move.
TEST_F(Sheet, theHornStandsWhereTheMiddlePulseIs) {
    const auto made = sheet({{"channels/moon/fit/horn_rest", "37.5 deg"}});
    const auto* line = lineOf(made, "moon", "horn at the middle pulse");
    ASSERT_NE(line, nullptr);
    EXPECT_EQ(line->verdict, Verdict::Holds);
    EXPECT_NE(line->figure.find("37.5°"), std::string::npos) << line->figure << ": half of 75°";
    const auto off = sheet({{"channels/moon/fit/horn_rest", "60 deg"}});
    EXPECT_EQ(lineOf(off, "moon", "horn at the middle pulse")->verdict, Verdict::Breaks) << "22.5° is more than a tooth of 14.4°";
}

TEST_F(Sheet, whatIsNotMeasuredIsNotKnown) {
    const auto made = sheet({{"channels/curtain/fit/centres", ""}, {"channels/moon/fit/clearance", ""}});
    EXPECT_EQ(lineOf(made, "curtain", "belt")->verdict, Verdict::Unknown);
    EXPECT_EQ(lineOf(made, "moon", "air at full lock")->verdict, Verdict::Unknown);
    const auto plan = proof::withFit(plan::evaluate(test::exampleProject("paper-moon-stage"), parts_), made);
    EXPECT_TRUE(std::none_of(plan.findings.begin(), plan.findings.end(), [](const auto& f) {
        return f.id == "fit" && f.text.find("air at full lock") != std::string::npos;
    })) << "what is not known is no finding";
}

// What is tight or breaks shows in the channel's own cell, and goes before what is not known yet.
TEST_F(Sheet, showsInTheProveCell) {
    const auto cell = [&](const std::vector<project::FactEdit>& edits) {
        const auto project = test::edited(test::exampleProject("paper-moon-stage"), edits);
        const auto plan = plan::evaluate(project, parts_);
        const auto before = plan.headline.unknown;
        const auto with = proof::withFit(plan, proof::fitSheet(project, parts_, plan));
        const auto verdict = plan::findChannel(with, "moon")->cells[static_cast<std::size_t>(project::Stage::Prove)].verdict;
        EXPECT_LE(with.headline.unknown, before);
        return verdict;
    };
    EXPECT_EQ(cell({}), Verdict::Tight);
    EXPECT_EQ(cell({{"channels/moon/fit/horn_rest", "60 deg"}}), Verdict::Breaks);
    EXPECT_EQ(cell({{"channels/moon/fit/horn_rest", "37.5 deg"}, {"channels/moon/fit/screw", "10 mm"}}), Verdict::Unknown)
        << "nothing read yet, and nothing against it";
}

TEST_F(Sheet, aCaseMakesTheAirRoundAPrintWarmer) {
    const auto open = sheet({{"brief/box_width", ""}});
    EXPECT_FALSE(open.inside);
    const auto large = sheet(), small = sheet({{"brief/box_width", "90 mm"}, {"brief/box_height", "60 mm"}, {"brief/box_depth", "60 mm"}});
    ASSERT_TRUE(large.inside && small.inside);
    EXPECT_GT(si(*small.inside), si(*large.inside));
    EXPECT_GT(si(large.heat), 0.0);
}

TEST_F(Sheet, onlyWhatMeansSomethingIsAsked) {
    const auto project = test::exampleProject("paper-moon-stage");
    const auto plan = plan::evaluate(project, parts_);
    EXPECT_TRUE(proof::fitApplies(project, parts_, plan, "moon", "horn_rest"));
    EXPECT_FALSE(proof::fitApplies(project, parts_, plan, "rain", "horn_rest"));
    EXPECT_TRUE(proof::fitApplies(project, parts_, plan, "curtain", "centres"));
    EXPECT_FALSE(proof::fitApplies(project, parts_, plan, "mist", "centres"));
}

}  // namespace
}  // namespace hinge::fits
