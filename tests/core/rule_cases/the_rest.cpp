// Cases of the rules of Code, Tune, Prove and Log.
#include "core/rule_cases/case.hpp"
#include "proof/proved.hpp"

namespace hinge::plan::ruled {

// One table: a row a case.
std::vector<Case> ofTheRest() {
    return {
        // --- Code
        {"not-driven",
         S::Code,
         Box,
         {},
         {},
         "let go at rest, with no line to let it go by",
         [](Gadget& g, bool trips) {
             g.project = test::alone(project::ChannelKind::Turn, "stepper_42mm_short", "chopper_2a",
                                     {{"channels/it/demand/mass", "60 g"},
                                      {"channels/it/demand/arm", "80 mm"},
                                      {"channels/it/demand/angle", "90 deg"},
                                      {"channels/it/demand/time", "2 s"},
                                      {"channels/it/direction_pin", "D8"},
                                      {"channels/it/signal/let_go_after", "2 s"}});
             if (!trips) g.project.channels.front().enable_pin = "D7";
         }},
        {"not-read", S::Code, Box, {{"board/form", "sbc-header"}}, {}, "a header without a converter"},
        {"no-watchdog",
         S::Code,
         Rain,
         {{"board/form", "sbc-header"}, {"board/watchdog", "yes"}},
         {{"board/form", "sbc-header"}},
         "the sketch feeds none there"},
        {"no-link", S::Code, Rain, {{"board/form", "attiny85-8mhz"}}, {}, "no serial port"},
        {"ram-short",
         S::Code,
         Rain,
         {},
         {},
         "more than 0.85 of 2048 bytes",
         [](Gadget& g, bool trips) {
             g.build = Evidence::Build{true, 9000, trips ? 1745 : 1740, ""};
         }},
        // --- Tune
        {"flow-off-model",
         S::Tune,
         Rain,
         {{"channels/rain/calibration/cup_volume", "100 mL"}, {"channels/rain/calibration/cup_time", "8 s"}},
         {{"channels/rain/calibration/cup_volume", "100 mL"}, {"channels/rain/calibration/cup_time", "6 s"}},
         "0.75 against 1.06 L/min"},
        {"loop-too-slow", S::Tune, Rider, {{"routine/loops/left_upright/period", "20 ms"}}, {}, "a body that falls this fast"},
        {"loop-out-of-reach", S::Tune, Stage, {{"routine/loops/spin_speed/wanted", "90"}}, {}, "more counts than it has at full power"},
        {"loop-counts-coarsely",
         S::Tune,
         Stage,
         {{"routine/loops/spin_speed/wanted", "9"}},
         {{"routine/loops/spin_speed/wanted", "10"}},
         "one count of nine is eleven hundredths"},
        {"fan-below-start",
         S::Tune,
         Rain,
         {{"channels/rain/calibration/start_duty", "0.6"}, {"channels/rain/signal/duty", "0.5"}},
         {{"channels/rain/calibration/start_duty", "0.6"}, {"channels/rain/signal/duty", "0.6"}},
         "measured, it starts from 60 %"},
        {"step-too-fast",
         S::Tune,
         Stage,
         {{"channels/curtain/calibration/highest_rate", "100 Hz"}},
         {{"channels/curtain/calibration/highest_rate", "10 kHz"}},
         "it was measured to lose steps"},
        {"step-near-limit",
         S::Tune,
         Stage,
         {{"channels/curtain/calibration/highest_rate", "4.6 kHz"}},
         {{"channels/curtain/calibration/highest_rate", "5.3 kHz"}},
         "4.13 kHz are over eight tenths of it"},
        {"stall-over-plan",
         S::Tune,
         Rain,
         {{"channels/rain/calibration/stall_current", "1 A"}},
         {{"channels/rain/calibration/stall_current", "0.7 A"}},
         "695 mA by its data sheet"},
        {"jams-slow",
         S::Tune,
         Rain,
         {{"channels/rain/calibration/jams_below", "0.6"}, {"channels/rain/signal/duty", "0.55"}},
         {{"channels/rain/calibration/jams_below", "0.6"}, {"channels/rain/signal/duty", "0.65"}},
         "portions jam below"},
        {"driver-hot",
         S::Tune,
         Stage,
         {{"channels/curtain/calibration/chopper_current", "0.5 A"}, {"channels/curtain/calibration/chopper_temperature", "110 degC"}},
         {},
         "hot already at half its current"},
        // --- Prove and Log
        {"reading-off",
         S::Prove,
         Rain,
         {},
         {},
         "9 V where 12 V are expected",
         [](Gadget& g, bool trips) {
             const auto steps = proof::bringUp(g.project, g.parts, evaluate(g.project, g.parts));
             const auto step = std::find_if(steps.begin(), steps.end(), [](const auto& each) { return each.id == "rail.movers"; });
             g.project = proof::record(g.project, *step, trips ? "9 V" : "12.1 V", "", "2026-11-30T10:00");
         }},
        {"sample-rejected",
         S::Prove,
         Stage,
         {},
         {},
         "half of the travel that its data sheet promises",
         [](Gadget& g, bool trips) {
             g.project.journal.samples.clear();
             g.project = *proof::recordSample(g.project, "servo_micro_digital", "one", "range", trips ? "90 deg" : "180 deg", "2026-11-30");
         }},
        {"does-not-fit", S::Prove, Stage, {{"channels/rain/fit/opening", "4 mm"}}, {}, "a cable of 5.2 mm through it", nullptr, true},
        {"parts-short",
         S::Log,
         Rain,
         {},
         {},
         "one is needed",
         [](Gadget& g, bool trips) { g.project = *proof::recordStock(g.project, "mosfet_logic_30v", "in_hand", trips ? "0" : "1"); }},
    };
}

}  // namespace hinge::plan::ruled
