#pragma once
// The demo project and the shipped catalogue, as the tests start from them.
#include <gtest/gtest.h>
#include "catalogue/catalogue.hpp"
#include "plan/plan.hpp"
#include "store/document.hpp"
#include "support/folder.hpp"

namespace hinge::test {

inline project::Project demoProject() {
    auto document = store::load(HINGE_SOURCE_DIR "/tests/projects/rain-alone");
    EXPECT_TRUE(document) << sentence(document.error());
    return document->project;
}
/// One of the demos, by its folder: "paper-moon-stage".
inline project::Project exampleProject(const std::string& name) {
    auto document = store::load(HINGE_SOURCE_DIR "/demos/" + name);
    EXPECT_TRUE(document) << sentence(document.error());
    return document->project;
}
inline project::Parts shippedParts() {
    auto loaded = catalogue::load(HINGE_SOURCE_DIR "/parts");
    EXPECT_TRUE(loaded) << sentence(loaded.error());
    EXPECT_TRUE(loaded->problems.empty());
    return loaded->parts;
}
inline project::Project edited(const project::Project& project, const std::vector<project::FactEdit>& edits) {
    auto changed = project::with(project, edits);
    EXPECT_TRUE(changed) << sentence(changed.error());
    return *changed;
}
inline const plan::PlanFinding* finding(const plan::Plan& plan, std::string_view id) {
    for (const auto& entry : plan.findings)
        if (entry.id == id) return &entry;
    return nullptr;
}
/// Of a plan that nobody keeps: a finding of its own, for a pointer into it would point at nothing.
inline std::unique_ptr<const plan::PlanFinding> finding(plan::Plan&& plan, std::string_view id) {
    const auto* found = finding(plan, id);
    return found == nullptr ? nullptr : std::make_unique<const plan::PlanFinding>(*found);
}

}  // namespace hinge::test
