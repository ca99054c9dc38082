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

/// It is put off where its tach, on D3, says that it stands still.
inline project::Project withStallAlarm(project::Project project) {
    project = project::addInput(std::move(project), project::InputKind::Tach, "still");
    auto& still = project.inputs.back();
    still.pin = "D3";
    still.active_high = false;
    still.belongs_to = "it";
    return project::addInterlock(std::move(project), "it", still.id);
}

/// A pump, and an input "x" at A0.
inline project::Project withInput(project::InputKind kind, const std::vector<project::FactEdit>& edits) {
    auto project = alone(project::ChannelKind::Pump, "centrifugal_12v_small", "mosfet_logic_30v");
    project = project::addInput(project, kind, "x");
    project.inputs.back().pin = "A0";
    return edited(project, edits);
}

/// Its only cue only runs it, for so long.
inline project::Project running(project::Project project, double seconds = 1.0) {
    auto& moves = project.routine.cues.front().moves;
    moves.resize(1);
    moves.front().action = routine::Action::Run;
    moves.front().time = of<Duration>(seconds);
    return project;
}
/// A small disc that is to go on turning at 30 rpm, half a second from rest to that.
inline project::Project turntable(const std::string& actuator, const std::string& driver,
                                  const std::vector<project::FactEdit>& edits = {}) {
    auto project = alone(project::ChannelKind::Turn, actuator, driver,
                         {{"channels/it/demand/way", "disc"},
                          {"channels/it/demand/mass", "30 g"},
                          {"channels/it/demand/diameter", "60 mm"},
                          {"channels/it/demand/speed", "30 rpm"},
                          {"channels/it/demand/time", "0.5 s"},
                          {"channels/it/demand/friction", "2 mNm"},
                          {"channels/it/signal/soft_start", "0.5 s"}});
    return edited(running(std::move(project)), edits);
}

/// The stage with a clock, words, numbers sent over the link and days of the year besides.
inline project::Project richStage() {
    auto project = exampleProject("paper-moon-stage");
    project = *project::insertPattern(project, "flame", "rain");
    project = *project::insertPattern(project, "number", "mist");
    project = *project::insertPattern(project, "season", "lamps");
    return *project::insertPattern(project, "unlock", "lamps");
}
/// A project on another board, its pins given by the plan itself.
inline project::Project moved(project::Project project, const char* form) {
    const auto parts = shippedParts();
    project = edited(project, {{"board/form", form}});
    for (auto& channel : project.channels)
        for (auto* pin : {&channel.pin, &channel.direction_pin, &channel.enable_pin, &channel.low_pin, &channel.back_low_pin,
                          &channel.green_pin, &channel.blue_pin})
            pin->clear();
    for (auto& input : project.inputs) input.pin = "";
    const auto plan = plan::evaluate(project, parts);
    const auto* open = finding(plan, "pins-open");
    EXPECT_NE(open, nullptr) << form;
    if (open == nullptr || open->remedies.empty()) return project;
    const auto given = project::with(project, open->remedies.front().edits);
    EXPECT_TRUE(given);
    return given.value_or(project);
}

}  // namespace hinge::test
