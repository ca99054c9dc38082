// Each rule of the table has a project that trips it at its worst, one that just does not, and, where an edit cures it, that edit.
#include "plan/rules.hpp"
#include <algorithm>
#include <filesystem>
#include <map>
#include <random>
#include <set>
#include "core/rule_cases/case.hpp"
#include "project/routine_edits.hpp"
#include "proof/proved.hpp"
#include "support/alone.hpp"
#include "support/demo.hpp"
#include "support/random_edits.hpp"
namespace hinge::plan::ruled {
namespace {

const project::Project& base(Base which) {
    static const std::map<Base, project::Project> list{{Rain, test::demoProject()},
                                                       {Stage, test::exampleProject("paper-moon-stage")},
                                                       {Box, test::exampleProject("proofing-box")},
                                                       {Rider, test::exampleProject("tightrope-rider")},
                                                       {RiderOnCells, test::exampleProject("../tests/projects/rider-bare-cells")},
                                                       {BoxWeak, test::exampleProject("../tests/projects/box-weak-converter")}};
    return list.at(which);
}

const std::vector<Case>& cases() {
    static const auto list = [] {
        std::vector<Case> all;
        for (const auto of_stage : {&ofNeed, &ofMatch, &ofFeed, &ofPinsAndPulse, &ofRoutine, &ofTheRest}) {
            auto some = of_stage();
            std::move(some.begin(), some.end(), std::back_inserter(all));
        }
        return all;
    }();
    return list;
}

// With what Prove and Log add.
Plan planOf(const Gadget& gadget) {
    Plan plan = evaluate(gadget.project, gadget.parts);
    if (plan.program) plan = evaluate(gadget.project, gadget.parts, {routine::prove(*plan.program, 20'000), gadget.build, false}, &plan);
    return proof::proved(gadget.project, gadget.parts, std::move(plan)).plan;
}
const PlanFinding* found(const Plan& plan, const Case& rule) {
    const PlanFinding* worst = nullptr;
    for (const auto& each : plan.findings)
        if (each.id == rule.id && each.stage == rule.stage &&
            (worst == nullptr || static_cast<int>(each.severity) < static_cast<int>(worst->severity)))
            worst = &each;
    return worst;
}
std::string listed(const Plan& plan) {
    std::string all;
    for (const auto& each : plan.findings)
        if (each.severity != Severity::Note) all += "\n  " + each.id + " " + each.channel + ": " + each.text;
    return all;
}
Gadget shaped(const Case& rule, bool trips) {
    Gadget gadget{test::edited(base(rule.from), trips ? rule.trips : rule.holds), test::shippedParts(), std::nullopt};
    if (rule.shape != nullptr) rule.shape(gadget, trips);
    return gadget;
}

class Rules : public testing::TestWithParam<Case> {};

TEST_P(Rules, tripHoldAndAreCured) {
    const Case& rule = GetParam();
    const Rule* row = findRule(rule.id, rule.stage);
    ASSERT_NE(row, nullptr);
    const auto tripped = shaped(rule, true);
    auto plan = planOf(tripped);
    const auto* worst = found(plan, rule);
    ASSERT_NE(worst, nullptr) << rule.why << "; found are" << listed(plan);
    EXPECT_FALSE(worst->text.empty());
    EXPECT_EQ(worst->severity, row->worst) << worst->text;
    const auto held = planOf(shaped(rule, false));
    const auto* left = found(held, rule);
    EXPECT_TRUE(left == nullptr || (rule.milder && left->severity != row->worst))
        << "just does not trip: " << rule.why << ": " << (left != nullptr ? left->text : "");
    std::string tries;
    for (const auto& remedy : worst->remedies) tries += "\n  " + remedy.label;
    dropUnsound(tripped.project, tripped.parts, plan);
    const bool edits = row->cure == Cure::Edit || row->cure == Cure::Part || row->cure == Cure::Driver;
    const bool offered = std::any_of(plan.findings.begin(), plan.findings.end(), [&](const PlanFinding& each) {
        return each.id == rule.id && each.stage == rule.stage && !each.remedies.empty();
    });
    EXPECT_EQ(offered, edits) << rule.why << "; of" << tries << listed(plan);
    std::set<std::string> stops;
    for (const auto& each : plan.findings)
        if (each.severity == Severity::Stop) stops.insert(each.id + "/" + each.channel);
    for (const auto& each : plan.findings) {
        if (each.id != rule.id || each.stage != rule.stage) continue;
        for (const auto& remedy : each.remedies) {
            const auto cured = project::with(tripped.project, remedy.edits);
            ASSERT_TRUE(cured) << remedy.label << ": " << sentence(cured.error());
            const auto after = planOf({*cured, tripped.parts, std::nullopt});
            for (const auto& left : after.findings) {
                EXPECT_FALSE(!remedy.eases && left.id == each.id && left.channel == each.channel && left.text == each.text)
                    << "'" << remedy.label << "' must cure it";
                EXPECT_TRUE(left.severity != Severity::Stop || stops.contains(left.id + "/" + left.channel))
                    << "'" << remedy.label << "' leaves a new stop: " << left.text;
            }
        }
    }
}
INSTANTIATE_TEST_SUITE_P(Table, Rules, testing::ValuesIn(cases()), [](const auto& row) {
    std::string name = std::string{row.param.id} + "_" + std::to_string(static_cast<int>(row.param.stage));
    std::replace(name.begin(), name.end(), '-', '_');
    return name;
});

// Where nobody knows what is drawn, what the board's rail is set to is still too low.
TEST(RuleTable, aRailSetTooLowIsSaidWithoutAStudyOfTheSupply) {
    const auto parts = test::shippedParts();
    const Edits unknown{{"channels/moon/actuator", "servo_unmarked"}};
    for (const auto& [volts, id] : {std::pair{"2.6 V", "brown-out"}, {"3.7 V", "out-of-guaranteed-range"}}) {
        auto edits = unknown;
        edits.push_back({"rails/logic/voltage", volts});
        const auto project = test::edited(base(Stage), edits);
        auto plan = evaluate(project, parts);
        ASSERT_EQ(plan.studied, nullptr) << "its current is not known";
        dropUnsound(project, parts, plan);
        const auto* low = test::finding(plan, id);
        ASSERT_NE(low, nullptr) << volts;
        ASSERT_FALSE(low->remedies.empty());
        EXPECT_EQ(test::finding(evaluate(test::edited(project, low->remedies.front().edits), parts), id), nullptr);
    }
    const auto plan = evaluate(test::edited(base(Stage), unknown), parts);
    EXPECT_EQ(test::finding(plan, "brown-out"), nullptr);
    EXPECT_EQ(test::finding(plan, "out-of-guaranteed-range"), nullptr);
}

// Every row has its case.
TEST(RuleTable, hasACaseForEachRow) {
    std::set<std::pair<std::string_view, S>> rows, tried;
    for (const auto& rule : rules()) EXPECT_TRUE(rows.emplace(rule.id, rule.stage).second) << rule.id << " stands twice";
    for (const auto& each : cases()) EXPECT_TRUE(tried.emplace(each.id, each.stage).second) << each.id << " is tried twice";
    for (const auto& [id, stage] : rows) EXPECT_TRUE(tried.contains({id, stage})) << id << " has no case";
}

// Nothing is found that the table does not have, at another stage, or worse than it says.
TEST(RuleTable, hasAllThatIsFound) {
    const auto parts = test::shippedParts();
    std::size_t findings = 0;
    for (unsigned seed = 0; seed < 240; ++seed) {
        std::mt19937 dice(seed);
        const auto project = test::editedByDice(base(static_cast<Base>(seed % 6)), parts, dice, 1 + static_cast<int>(dice() % 6));
        for (const auto& each : planOf({project, parts, std::nullopt}).findings) {
            const Rule* row = findRule(each.id, each.stage);
            ASSERT_NE(row, nullptr) << each.id << " at stage " << static_cast<int>(each.stage) << ": " << each.text;
            EXPECT_GE(static_cast<int>(each.severity), static_cast<int>(row->worst)) << each.id << ": " << each.text;
            for (const auto& remedy : each.remedies) EXPECT_EQ(remedy.eases, remedy.label.starts_with("It helps")) << remedy.label;
            ++findings;
        }
    }
    EXPECT_GT(findings, 1000U);
}

}  // namespace
}  // namespace hinge::plan::ruled
