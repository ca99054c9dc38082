#pragma once
// A gearmotor on a bridge that shows its current: too much of it puts it off.
#include "support/alone.hpp"

namespace hinge::test {

/// A disc turned by a press for a minute; its current is read on A0.
inline project::Project strained(const char* bridge = "bridge_3a", const std::vector<project::FactEdit>& edits = {}) {
    auto project = turntable("mid_12v_g50", bridge);
    project.routine.cues.clear();
    auto made = project::insertPattern(project, "strained", "it");
    EXPECT_TRUE(made);
    if (!made) return project;
    for (auto& input : made->inputs)
        if (input.kind == project::InputKind::Level) input.id = "strains", input.pin = "A0";
    for (auto& rule : made->routine.interlocks) rule.input = "strains";
    for (auto& cue : made->routine.cues)
        for (auto& guard : cue.guards) guard.input = "strains";
    return edited(*made, edits);
}

}  // namespace hinge::test
