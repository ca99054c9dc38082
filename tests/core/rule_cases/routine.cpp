// Cases of the rules of Routine.
#include "core/rule_cases/case.hpp"
#include "project/routine_edits.hpp"
#include "support/demo.hpp"
#include "support/strained.hpp"

namespace hinge::plan::ruled {

// One table: a row a case.
std::vector<Case> ofRoutine() {
    return {
        {"current-never-told",
         S::Routine,
         Stage,
         {},
         {},
         "of 2.6 A held fast half a volt for each ampere shows 1.3 V",
         [](Gadget& g, bool trips) {
             g.project = test::strained("bridge_3a", {{"inputs/strains/upper", trips ? "55 %" : "8 %"}, {"inputs/strains/lower", "5 %"}});
             strong(g);
         }},
        {"current-always-told",
         S::Routine,
         Stage,
         {},
         {},
         "a level under what it draws as it runs",
         [](Gadget& g, bool trips) {
             g.project =
                 test::strained("bridge_3a", {{"inputs/strains/upper", trips ? "0.5 %" : "8 %"}, {"inputs/strains/lower", "0.4 %"}});
             strong(g);
         }},
        {"current-told-late",
         S::Routine,
         Stage,
         {},
         {},
         "a level just under what it draws held fast",
         [](Gadget& g, bool trips) {
             g.project = test::strained("bridge_3a", {{"inputs/strains/upper", trips ? "20 %" : "8 %"}, {"inputs/strains/lower", "5 %"}});
             strong(g);
         }},
        {"latch-stays",
         S::Routine,
         Stage,
         {},
         {},
         "one that latches stays as it was, one that does not lets go",
         [](Gadget& g, bool trips) {
             g.project = test::alone(project::ChannelKind::Press, trips ? "latching_12v" : "solenoid_12v", "bridge_3a",
                                     {{"channels/it/demand/way", "plunger"}, {"channels/it/demand/force", "2 N"}});
         }},
        {"routine-broken",
         S::Routine,
         Stage,
         {{"channels/moon/actuator", "small_6v_g150"},
          {"channels/moon/drive/part", "mosfet_logic_30v"},
          {"channels/moon/demand/both_ways", "no"},
          {"channels/moon/pin", "D10"},
          {"channels/lamps/pin", "D3"}},
         {},
         "what is switched is not sent to a place"},
        {"interlock-violable",
         S::Routine,
         Rain,
         {{"routine/cues/storm/guards/dry/throughout", "no"}},
         {},
         "the guard looks only at the start"},
        {"never-backwards",
         S::Routine,
         Stage,
         {},
         {},
         "both ways are asked for, and its cue only goes forwards",
         [](Gadget& g, bool trips) {
             g.project = test::alone(project::ChannelKind::Turn, "small_12v_g100", "bridge_3a",
                                     {{"channels/it/demand/way", "disc"},
                                      {"channels/it/demand/speed", "30 rpm"},
                                      {"channels/it/demand/friction", "0.02 N m"},
                                      {"channels/it/direction_pin", "D4"},
                                      {"routine/cues/run_it/moves/goes/action", "run"},
                                      {"routine/cues/run_it/moves/goes/time", "5 s"},
                                      {"routine/cues/run_it/moves/comes_back/action", "run"},
                                      {"routine/cues/run_it/moves/comes_back/time", "5 s"},
                                      {"routine/cues/run_it/moves/comes_back/backwards", trips ? "no" : "yes"}});
         }},
        {"let-go",
         S::Routine,
         Stage,
         {{"channels/moon/signal/let_go_after", "2 s"}},
         {{"channels/moon/signal/let_go_after", ""}},
         "nothing holds it but its friction"},
        {"coasts-on",
         S::Routine,
         Stage,
         {},
         {},
         "a guard ends its cue, and its bridge could brake it",
         [](Gadget& g, bool trips) {
             g.project = test::alone(project::ChannelKind::Turn, "small_12v_g100", "bridge_inputs_4a",
                                     {{"channels/it/demand/way", "disc"},
                                      {"channels/it/demand/speed", "30 rpm"},
                                      {"channels/it/demand/friction", "0.02 N m"},
                                      {"channels/it/pin", "D9"},
                                      {"channels/it/direction_pin", "D10"},
                                      {"routine/cues/run_it/moves/goes/action", "run"},
                                      {"routine/cues/run_it/moves/goes/time", "5 s"},
                                      {"routine/cues/run_it/moves/comes_back/action", "run"},
                                      {"routine/cues/run_it/moves/comes_back/time", "5 s"},
                                      {"routine/cues/run_it/moves/comes_back/backwards", "yes"}});
             g.project = project::addInput(g.project, project::InputKind::EndSwitch, "hand");
             g.project.inputs.back().pin = "D7";
             g.project.routine.cues.front().guards.push_back({"hand", "hand", trips});
         }},
        {"no-safe-state", S::Routine, Rain, {{"channels/rain/safe", "on"}}, {}, "a pump that is on where it should be safe"},
        {"dose-off",
         S::Routine,
         Rain,
         {{"routine/cues/storm/moves/rain_falls/time", "3.4 s"}},
         {{"routine/cues/storm/moves/rain_falls/time", "3.2 s"}},
         "a tenth over the 2.99 s of its dose"},
        {"asked-too-fast", S::Routine, Stage, {{"routine/cues/moonrise/moves/rises/time", "0.1 s"}}, {}, "the servo needs longer"},
        {"command-guessable",
         S::Routine,
         Rain,
         {},
         {},
         "a word that anybody would try",
         [](Gadget& g, bool trips) {
             g.project = project::addInput(g.project, project::InputKind::Word, "key");
             g.project.inputs.back().word = trips ? "sesame" : "quartzmoss";
         }},
        {"word-overheard",
         S::Routine,
         Rain,
         {},
         {},
         "by radio it is heard",
         [](Gadget& g, bool trips) {
             g.project = project::addInput(g.project, project::InputKind::Word, "key");
             g.project.routine.cues.front().input = g.project.inputs.back().id;
             g.project.board.radio = trips;
         }},
        {"link-open", S::Routine, Rain, {{"board/radio", "yes"}}, {}, "anybody near can start it"},
        {"endless-wait", S::Routine, Rain, {{"routine/cues/storm/moves/rain_falls/action", "on"}}, {}, "nothing ends it but stop"},
        {"only-way-out",
         S::Routine,
         Rain,
         {{"brief/purpose", "Opens the back door for the cat"}},
         {{"channels/rain/name", "Back door"}},
         "a door is never the only way out; what a channel is called says nothing"},
        {"restart-unattended", S::Routine, Rain, {}, {{"routine/cues/storm/times", ""}}, "starts by itself"},
        {"overlapping-cues",
         S::Routine,
         Rider,
         {},
         {},
         "two cues move one wheel",
         [](Gadget& g, bool trips) {
             if (!trips) g.project.routine.cues.pop_back();
         }},
        {"fires-twice", S::Routine, Rain, {{"routine/cues/storm/late", "600 s"}}, {}, "a missed time that is made up for may come twice"},
        {"clock-lost", S::Routine, Rain, {}, {{"routine/cues/storm/times", ""}}, "a clock that a power cut loses"},
        {"clock-battery", S::Routine, Rain, {{"board/clock", "clock_bcd"}}, {}, "a clock's battery runs empty"},
        {"no-homing",
         S::Routine,
         Stage,
         {},
         {},
         "nobody knows where it stands until it has looked",
         [](Gadget& g, bool trips) {
             for (auto& cue : g.project.routine.cues)
                 if (cue.id == "curtain_up") {
                     routine::Move home{"finds", routine::Action::Home, "curtain", of<Duration>(6.0)};
                     home.input = "scene";
                     cue.moves.insert(cue.moves.begin(), home);
                     cue.at_power_up = !trips;
                 }
         }},
        {"first-move-jumps", S::Routine, Stage, {}, {{"channels/moon/actuator", ""}}, "a servo jumps to where its move begins"},
        {"dry-run",
         S::Routine,
         Rain,
         {},
         {},
         "nothing stops the pump when its tank is empty",
         [](Gadget& g, bool trips) {
             if (trips) g.project.routine.interlocks.clear();
         }},
    };
}

}  // namespace hinge::plan::ruled
