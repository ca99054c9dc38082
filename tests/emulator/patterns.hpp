#pragma once
// Patterns of routines, played by hand on a board and on the interpreter.
#include <fmt/format.h>
#include <cmath>
#include <random>
#include <set>
#include "emulator/gadget.hpp"
#include "project/routine_edits.hpp"
#include "simulation/interpreted_board.hpp"
#include "support/both_boards.hpp"

namespace hinge {
namespace by_hand {

struct Act {
    double time;            // s
    const char* input;      // id, or "clock"
    int value;              // 0 or 1, a reading, or seconds after midnight
    const char* line = "";  // for "link": what is sent
};
struct Change {
    double time;
    bool on;
};
struct Case {
    const char* pattern;
    std::vector<project::FactEdit> edits;  // of the project with the pattern in it
    std::vector<Act> script;
    double length;
    std::vector<Change> edges;  // of the one channel, by hand
    const char* how;
};

// The rain pump straight on and off, nothing else in the routine.
inline project::Project bare() {
    auto project = test::edited(test::demoProject(), {{"channels/rain/signal/soft_start", "0 s"}, {"channels/rain/signal/duty", "100 %"}});
    project.routine = {};
    project.journal = {};
    return project;
}
// Whatever has no pin yet gets one by hand.
inline void givePins(project::Project& project) {
    int digital = 7, analogue = 0;
    for (auto& input : project.inputs)
        if (input.kind == project::InputKind::Tach) input.pin = "D3";
        else if (input.pin.empty() && project::hasPin(input.kind))
            input.pin = project::isAnalogue(input.kind) ? "A" + std::to_string(analogue++) : "D" + std::to_string(digital++);
}

struct Ran {
    std::vector<Change> board, interpreted;
};
inline void play(plant::StandIn& one, const project::Project& project, const Case& c) {
    double now = 0.0;
    for (const auto& act : c.script) {
        one.advance(act.time - now);
        now = act.time;
        if (std::string_view{act.input} == "clock") {
            one.write(fmt::format("clock {:02d}:{:02d}:{:02d}\n", act.value / 3600, act.value / 60 % 60, act.value % 60));
            continue;
        }
        if (std::string_view{act.input} == "link") one.write(std::string{act.line} + "\n");
        for (std::size_t i = 0; i < project.inputs.size(); ++i) {
            if (project.inputs[i].id != act.input) continue;
            if (project::isAnalogue(project.inputs[i].kind)) one.setReading(static_cast<int>(i), act.value);
            else one.setInput(static_cast<int>(i), act.value != 0);
        }
    }
    one.advance(c.length - now);
}
inline std::vector<Change> changesOf(const plant::StandIn& one) {
    std::vector<Change> changes;
    for (const auto& edge : one.edges())
        if (edge.output == 0) changes.push_back({edge.time, edge.level != 0});
    return changes;
}

}  // namespace by_hand
}  // namespace hinge
