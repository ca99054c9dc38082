#pragma once
#include <span>
#include <string_view>
#include "project/project.hpp"
#include "working/worked.hpp"

namespace hinge::plan {

/// Where the cure of what a rule finds lies.
enum class Cure {
    Part,    ///< in another part, which the finding offers where the catalogue has one that leaves no new stop
    Driver,  ///< in another driver, else in another part
    Edit,    ///< in an edit of the project that the finding offers
    Words,   ///< in what its sentence says: a decision, a measurement or work that no edit stands for
    Care,    ///< nowhere: it stays as it is, and has to be known
};

/// One rule of the plan. All there are stand in rules() (what was learnt on other gadgets is no rule: it is told at the stage where it was
/// learnt), and tests/core/rules_test.cpp has for each a project that trips it, one that just
/// does not, and, where an edit cures it, that it does so without a stop that was not there.
struct Rule {
    std::string_view id;   ///< of the finding; twice where two stages find it
    project::Stage stage;  ///< where it is found and cured
    Severity worst;        ///< that it comes with
    Cure cure;
    const char* hazard = nullptr;  ///< its heading in the brief and the report where it can hurt: "Water near electricity"
};
[[nodiscard]] std::span<const Rule> rules();
/// The rule that finds it there; nullptr: no such rule.
[[nodiscard]] const Rule* findRule(std::string_view id, project::Stage stage);
/// The first of that name.
[[nodiscard]] const Rule* findRule(std::string_view id);

}  // namespace hinge::plan
