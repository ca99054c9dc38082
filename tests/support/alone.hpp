#pragma once
// A gadget of one channel on the stage's board and supplies.
#include "project/routine_edits.hpp"
#include "support/demo.hpp"

namespace hinge::test {

/// The stage's board and supplies, with nothing on them.
inline project::Project bareStage() {
    auto project = exampleProject("paper-moon-stage");
    project.channels.clear();
    project.inputs.clear();
    project.routine = {};
    project.journal = {};
    project.wires.clear();
    project.proof.clear();
    return project;
}
/// One channel "it" on D9 and the 12 V rail, started by a button.
inline project::Project alone(project::ChannelKind kind, const std::string& actuator, const std::string& driver,
                              const std::vector<project::FactEdit>& edits = {}) {
    auto project = project::addRunningChannel(bareStage(), kind, "it");
    auto& channel = project.channels.back();
    channel.rail = "movers";
    channel.actuator = actuator;
    channel.drive.part = driver;
    channel.pin = "D9";
    return edited(project, edits);
}

}  // namespace hinge::test
