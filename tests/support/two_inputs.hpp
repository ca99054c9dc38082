#pragma once
// A motor on a bridge that has an input for each end of it.
#include "support/alone.hpp"

namespace hinge::test {

inline routine::Move moved(const char* id, routine::Action action, double time = 0.0, bool backwards = false, double level = 1.0) {
    routine::Move move{id, action, action == routine::Action::Wait ? "" : "it"};
    if (time > 0.0) move.time = of<Duration>(time);
    if (level < 1.0) move.level = of<Fraction>(level);
    move.backwards = backwards;
    return move;
}
/// Its one cue does these moves; its inputs are two outputs of one timer.
inline project::Project crank(const std::vector<routine::Move>& moves, const std::vector<project::FactEdit>& more = {}) {
    auto project = alone(project::ChannelKind::Turn, "small_12v_g100", "bridge_inputs_4a",
                         {{"channels/it/demand/mass", "60 g"},
                          {"channels/it/demand/arm", "80 mm"},
                          {"channels/it/demand/angle", "90 deg"},
                          {"channels/it/demand/time", "2 s"},
                          {"channels/it/pin", "D9"},
                          {"channels/it/direction_pin", "D10"}});
    project.routine.cues.clear();
    routine::Cue cue;
    cue.id = cue.name = "cue";
    cue.input = project.inputs.front().id;
    cue.moves = moves;
    project.routine.cues.push_back(cue);
    return edited(project, more);
}

}  // namespace hinge::test
