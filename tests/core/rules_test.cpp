// Each rule of the table has a project that trips it at its worst, one that just does not, and, where an edit cures it, that edit.
#include "plan/rules.hpp"
#include <algorithm>
#include <filesystem>
#include <map>
#include <random>
#include <set>
#include "project/routine_edits.hpp"
#include "proof/proved.hpp"
#include "support/alone.hpp"
#include "support/demo.hpp"
#include "support/random_edits.hpp"

namespace hinge::plan {
namespace {

using Edits = std::vector<project::FactEdit>;
using S = project::Stage;

// Where a case starts from.
enum Base { Rain, Stage, Box, Rider, RiderOnCells, BoxWeak };
const project::Project& base(Base which) {
    static const std::map<Base, project::Project> list{{Rain, test::demoProject()},
                                                       {Stage, test::exampleProject("paper-moon-stage")},
                                                       {Box, test::exampleProject("proofing-box")},
                                                       {Rider, test::exampleProject("tightrope-rider")},
                                                       {RiderOnCells, test::exampleProject("../tests/projects/rider-bare-cells")},
                                                       {BoxWeak, test::exampleProject("../tests/projects/box-weak-converter")}};
    return list.at(which);
}

// What is judged.
struct Gadget {
    project::Project project;
    project::Parts parts;
    std::optional<Evidence::Build> build;  ///< of its sketch
};
struct Case {
    const char* id;
    S stage;
    Base from;
    Edits trips;  ///< none: as it is
    Edits holds;  ///< just does not; none: as it is
    const char* why;
    /// What no edit of a fact does.
    void (*shape)(Gadget&, bool trips) = nullptr;
    bool milder = false;  ///< others are found, but not as bad
};

Edits led(const char* part, const char* resistor = "") {
    return {{"channels/lamps/demand/power", ""},
            {"channels/lamps/actuator", part},
            {"channels/lamps/drive/part", "straight_from_pin"},
            {"channels/lamps/rail", "logic"},
            {"channels/lamps/drive/led_resistor", resistor}};
}
/// A power bank of 5 V that switches itself off below so much.
Edits bank(const char* least) {
    return {{"sources/adapter/kind", "power-bank"},
            {"sources/adapter/voltage", "5 V"},
            {"sources/adapter/least_load", least},
            {"rails/logic/conversion", "direct"},
            {"channels/rain/actuator", "centrifugal_5v_mini"},
            {"channels/rain/demand/lift", "0.2 m"},
            {"channels/rain/demand/volume", "20 mL"}};
}
/// A supply that is never what is short, and nothing that a loop holds.
void strong(Gadget& gadget) {
    for (auto& source : gadget.project.sources) source.current = of<Current>(8.0);
    gadget.project.routine.loops.clear();
}
Edits lit(const char* part, const char* volts) {
    return {{"channels/lamps/demand/power", ""},
            {"channels/lamps/actuator", part},
            {"channels/lamps/drive/part", "mosfet_logic_30v"},
            {"channels/lamps/rail", "servo"},
            {"rails/servo/voltage", volts}};
}

const std::vector<Case>& cases() {
    static const std::vector<Case> list{
        // --- Need
        {"demand-refused",
         S::Need,
         Rain,
         {},
         {},
         "no tube without a bore",
         [](Gadget& g, bool trips) {
             if (trips) std::get<project::PumpDemand>(g.project.channels.front().demand).tube_diameter = of<Length>(0.0);
         }},
        {"stroke-over-horn",
         S::Need,
         Stage,
         {},
         {},
         "a horn of 20 mm reaches 40 mm from end to end",
         [](Gadget& g, bool trips) {
             project::PressDemand press;
             press.way = project::PressWay::Horn, press.force = of<Force>(2.0), press.stroke = of<Length>(trips ? 0.041 : 0.039);
             press.horn = of<Length>(0.020), press.time = of<Duration>(1.0);
             g.project.channels[2].demand = press;
         }},
        {"dose-over-time",
         S::Need,
         Rain,
         {{"channels/rain/demand/volume", "80 mL"}},
         {{"channels/rain/demand/volume", "60 mL"}},
         "4 s at 1.06 L/min are 71 mL"},
        {"dose-near-limit",
         S::Need,
         Rain,
         {{"channels/rain/demand/volume", "68 mL"}},
         {{"channels/rain/demand/volume", "60 mL"}},
         "nine tenths of 71 mL"},
        {"pinch-point",
         S::Need,
         Stage,
         {},
         {{"channels/curtain/name", "Curtain"}},
         "what moves pinches",
         [](Gadget& g, bool trips) {
             if (!trips) g.project = test::demoProject();
         }},
        {"hot-part",
         S::Need,
         Box,
         {},
         {},
         "a heater gets hot",
         [](Gadget& g, bool trips) {
             if (!trips) g.project = test::demoProject();
         }},
        {"heater-cutout", S::Need, Box, {{"channels/heater/demand/cutout", "no"}}, {}, "on the mains a heater without a cut-out is a stop"},
        {"water-near",
         S::Need,
         Rain,
         {},
         {},
         "a pump brings water",
         [](Gadget& g, bool trips) {
             if (!trips) g.project = test::exampleProject("tightrope-rider");
         }},
        {"mains-present",
         S::Match,
         Box,
         {},
         {},
         "a mat on 230 V",
         [](Gadget& g, bool trips) {
             if (!trips) g.project = test::demoProject();
         }},
        {"mains-present",
         S::Need,
         Stage,
         {{"channels/lamps/demand/feeding", "mains"}, {"channels/lamps/actuator", ""}},
         {},
         "said also before a part is chosen"},
        {"mains-present", S::Feed, Rain, {{"sources/adapter/kind", "transformer"}}, {}, "a transformer has mains on one side"},
        // --- Match
        {"too-weak", S::Match, Stage, {{"channels/curtain/demand/mass", "8 kg"}}, {}, "a small stepper under eight kilograms"},
        {"servo-over-half", S::Match, Stage, {{"channels/moon/demand/mass", "0.16 kg"}}, {}, "more than half of what it has"},
        {"stepper-over-half", S::Match, Stage, {{"channels/curtain/demand/mass", "4 kg"}}, {}, "more than half of what it has"},
        {"over-margin",
         S::Match,
         Stage,
         {{"channels/turntable/demand/friction", "0.45 N m"}},
         {},
         "more than half of what it has",
         [](Gadget& g, bool) { strong(g); }},
        {"too-slow",
         S::Match,
         Stage,
         {{"channels/turntable/demand/speed", "90 rpm"}},
         {},
         "its gear lets it turn 66",
         [](Gadget& g, bool) { strong(g); }},
        {"barely-fast",
         S::Match,
         Stage,
         {{"channels/turntable/demand/speed", "63 rpm"}},
         {{"channels/turntable/demand/speed", "59 rpm"}},
         "a tenth under its 66.4 are 60.4",
         [](Gadget& g, bool) { strong(g); }},
        {"supply-over",
         S::Match,
         Rain,
         {{"sources/adapter/voltage", "13.3 V"}},
         {{"sources/adapter/voltage", "13.1 V"}},
         "1.1 times 12 V is 13.2 V"},
        {"supply-low",
         S::Match,
         Rain,
         {{"sources/adapter/voltage", "8.5 V"}},
         {{"sources/adapter/voltage", "9.5 V"}},
         "three quarters of 12 V are 9 V"},
        {"supply-too-low", S::Match, Stage, lit("led_blue_5mm", "3 V"), lit("led_blue_5mm", "5 V"), "a blue LED keeps 3.2 V"},
        {"servo-range", S::Match, Stage, {{"channels/moon/demand/angle", "200 deg"}}, {}, "no servo of 120° turns 200°"},
        {"stroke-over",
         S::Match,
         Stage,
         {},
         {},
         "a coil of 8 mm",
         [](Gadget& g, bool trips) {
             project::PressDemand press;
             press.way = project::PressWay::Plunger, press.force = of<Force>(0.3), press.stroke = of<Length>(trips ? 0.009 : 0.007);
             auto& moon = g.project.channels[2];
             moon.demand = press, moon.actuator = "solenoid_12v_rated", moon.drive.part = "mosfet_logic_30v", moon.rail = "movers";
             moon.drive.flyback_diode = true;
             strong(g);
         }},
        {"no-position",
         S::Match,
         Box,
         {},
         {},
         "a motor without a tach does not know where it stands",
         [](Gadget& g, bool trips) {
             auto& flap = g.project.channels[2];
             if (trips) flap.actuator = "mid_6v_g19", flap.drive.part = "bridge_small_3v";
             strong(g);
         }},
        {"no-hold",
         S::Match,
         Stage,
         {{"channels/turntable/demand/holds", "yes"}},
         {},
         "a motor lets go",
         [](Gadget& g, bool) { g.project.routine.loops.clear(); }},
        {"pump-cannot-lift",
         S::Match,
         Rain,
         {{"channels/rain/demand/lift", "1.5 m"}},
         {{"channels/rain/demand/lift", "0.5 m"}},
         "the pump lifts 1.2 m"},
        {"too-little-air",
         S::Match,
         Stage,
         {{"channels/mist/demand/face_velocity", "2.9 m/s"}, {"channels/mist/demand/noise_limit", ""}},
         {},
         "more air than it moves"},
        {"noise-over", S::Match, Stage, {{"channels/mist/demand/noise_limit", "25"}}, {}, "it makes 26 dB(A)"},
        {"coil-duty",
         S::Match,
         Stage,
         {},
         {},
         "made for a quarter of the time",
         [](Gadget& g, bool trips) {
             project::PressDemand press;
             press.way = project::PressWay::Plunger, press.force = of<Force>(0.3), press.stroke = of<Length>(0.002);
             auto& moon = g.project.channels[2];
             moon.demand = press, moon.actuator = "solenoid_12v", moon.drive.part = "mosfet_logic_30v", moon.rail = "movers";
             moon.drive.flyback_diode = true;
             moon.work.on_for = of<Duration>(trips ? 0.3 : 0.2), moon.work.every = of<Duration>(1.0);
             strong(g);
         }},
        {"coil-wont-pull", S::Match, Stage, {{"rails/logic/voltage", "3.3 V"}}, {}, "a relay's coil of 5 V"},
        {"driver-overcurrent", S::Match, Rain, {{"channels/rain/drive/part", "npn_small"}}, {}, "0.2 A"},
        {"stall-over-driver",
         S::Match,
         Rain,
         {{"channels/rain/drive/part", "darlington_array_channel"}},
         {},
         "0.5 A, and a jam draws 695 mA"},
        {"switch-voltage",
         S::Match,
         Rain,
         {{"sources/adapter/voltage", "24 V"},
          {"channels/rain/actuator", "centrifugal_24v_medium"},
          {"channels/rain/drive/part", "mosfet_logic_20v_small"},
          {"rails/logic/conversion", "buck"}},
         {},
         "a MOSFET for 20 V"},
        {"gate-not-enhanced",
         S::Match,
         Rain,
         {{"channels/rain/drive/part", "mosfet_ordinary_55v"}},
         {{"channels/rain/drive/part", "mosfet_logic_55v"}},
         "guaranteed at 10 V only; the other at 5 V"},
        {"gate-divided",
         S::Match,
         Rain,
         {{"channels/rain/drive/pulldown_side", "gate"}, {"channels/rain/drive/gate_resistor", "1.2k"}},
         {{"channels/rain/drive/pulldown_side", "gate"}, {"channels/rain/drive/gate_resistor", "1.1k"}},
         "below 0.9 of the drive"},
        {"driver-hot",
         S::Match,
         Stage,
         {{"channels/lamps/actuator", "led_string_12v_36w"},
          {"channels/lamps/drive/part", "darlington_60v"},
          {"channels/lamps/demand/power", "36 W"}},
         {},
         "3 A through a Darlington's drop"},
        {"relay-no-pwm",
         S::Match,
         Rain,
         {{"channels/rain/drive/part", "relay_board_5v"}},
         {{"channels/rain/drive/part", "relay_board_5v"}, {"channels/rain/signal/soft_start", "0 s"}},
         "contacts cannot follow pulses"},
        {"contact-inrush",
         S::Match,
         Stage,
         {{"channels/lamps/demand/load", "lamp"},
          {"channels/lamps/actuator", "filament_12v_21w"},
          {"channels/lamps/demand/power", "21 W"},
          {"channels/lamps/drive/part", "relay_board_5v"}},
         {},
         "a cold filament takes many times its 1.75 A"},
        {"base-starved",
         S::Match,
         Rain,
         {{"channels/rain/drive/part", "npn_medium"}, {"channels/rain/drive/base_resistor", "4.7k"}},
         {},
         "1 mA into its base"},
        {"led-overcurrent", S::Match, Stage, led("led_red_5mm", "100"), led("led_red_5mm", "220"),
         "20 mA are good for it: (5 V − 2 V)/150 Ω"},
        {"led-barely", S::Match, Stage, lit("led_blue_5mm", "3.5 V"), lit("led_blue_5mm", "5 V"), "0.3 V are left for its resistor"},
        {"not-for-mains", S::Match, Box, {{"channels/heater/drive/part", "relay_reed_5v"}}, {}, "a reed contact is not isolated for it"},
        {"ssr-leakage",
         S::Match,
         Stage,
         {{"channels/lamps/demand/feeding", "mains"},
          {"channels/lamps/demand/dimmed", "no"},
          {"channels/lamps/demand/load", "capacitive"},
          {"channels/lamps/actuator", "led_lamp_230v_7w"},
          {"channels/lamps/demand/power", "7 W"},
          {"channels/lamps/drive/part", "ssr_random_25a"}},
         {{"channels/lamps/demand/feeding", "mains"},
          {"channels/lamps/demand/dimmed", "no"},
          {"channels/lamps/demand/load", "lamp"},
          {"channels/lamps/actuator", "filament_230v_40w"},
          {"channels/lamps/demand/power", "40 W"},
          {"channels/lamps/drive/part", "ssr_random_25a"}},
         "30 mA are less than it latches at"},
        {"ssr-no-dim",
         S::Match,
         Stage,
         {{"channels/lamps/demand/feeding", "mains"},
          {"channels/lamps/demand/dimmed", "yes"},
          {"channels/lamps/demand/load", "lamp"},
          {"channels/lamps/actuator", "filament_230v_40w"},
          {"channels/lamps/demand/power", "40 W"},
          {"channels/lamps/drive/part", "ssr_zero_2a"}},
         {{"channels/lamps/demand/feeding", "mains"},
          {"channels/lamps/demand/dimmed", "yes"},
          {"channels/lamps/demand/load", "lamp"},
          {"channels/lamps/actuator", "filament_230v_40w"},
          {"channels/lamps/demand/power", "40 W"},
          {"channels/lamps/drive/part", "phase_4a"}},
         "whole half-waves only"},
        {"dimmed-lamp",
         S::Match,
         Stage,
         {{"channels/lamps/demand/feeding", "mains"},
          {"channels/lamps/demand/dimmed", "yes"},
          {"channels/lamps/demand/load", "capacitive"},
          {"channels/lamps/actuator", "led_lamp_230v_7w"},
          {"channels/lamps/demand/power", "7 W"},
          {"channels/lamps/drive/part", "phase_4a"}},
         {{"channels/lamps/demand/feeding", "mains"},
          {"channels/lamps/demand/dimmed", "yes"},
          {"channels/lamps/demand/load", "lamp"},
          {"channels/lamps/actuator", "filament_230v_40w"},
          {"channels/lamps/demand/power", "40 W"},
          {"channels/lamps/drive/part", "phase_4a"}},
         "a lamp with electronics in it"},
        {"misfit", S::Match, Rain, {{"channels/rain/drive/part", "chopper_2a"}}, {}, "a stepper's driver for a pump"},
        {"sample-suspect",
         S::Match,
         Rain,
         {},
         {},
         "marked so in the catalogue",
         [](Gadget& g, bool trips) {
             for (auto& driver : g.parts.drivers)
                 if (trips && driver.id == "mosfet_logic_30v") driver.standing = actuator::Standing::Suspect;
         }},
        {"sample-first",
         S::Match,
         Stage,
         {},
         {},
         "three alike, none tested",
         [](Gadget& g, bool trips) {
             for (std::size_t i : {0U, 1U, 2U})
                 if (trips || i > 0) g.project.channels[i].actuator = "centrifugal_12v_large";
         },
         true},
        {"figure-missing", S::Match, Stage, {{"channels/moon/actuator", "servo_unmarked"}}, {}, "nobody knows its figures"},
        {"part-missing", S::Match, Rain, {{"channels/rain/actuator", "ghost"}}, {}, "not in the catalogue"},
        // --- Feed
        {"pin-feeds",
         S::Feed,
         Stage,
         {{"channels/lamps/actuator", "led_red_5mm"},
          {"channels/lamps/demand/power", ""},
          {"channels/lamps/drive/part", "straight_from_pin"}},
         led("led_red_5mm"),
         "a pin draws from the board's rail"},
        {"mover-on-logic-rail", S::Feed, Rain, {{"channels/rain/rail", "logic"}}, {}, "a pump on the board's own rail"},
        {"no-common-ground",
         S::Feed,
         Rain,
         {},
         {},
         "two sources, their grounds apart",
         [](Gadget& g, bool trips) {
             auto other = g.project.sources.front();
             other.id = "second", other.name = "second adapter", other.ground_joined = !trips;
             g.project.sources.push_back(other);
             for (auto& rail : g.project.rails)
                 if (rail.id == "movers") rail.from = "second";
         }},
        {"wire-hot",
         S::Feed,
         Stage,
         {{"rails/movers/wire_area", "0.03 mm^2"}, {"rails/movers/wire_length", "0.1 m"}},
         {},
         "PVC at 40 °C, IEC 60204-1"},
        {"wire-drop",
         S::Feed,
         Rain,
         {{"rails/movers/wire_length", "60 m"}},
         {{"rails/movers/wire_length", "10 m"}},
         "3 % of 12 V at the start current"},
        {"wire-unprotected", S::Feed, Rain, {{"rails/movers/fuse", "10 A"}}, {}, "a fuse of 10 A before 0.5 mm²"},
        {"fuse-missing", S::Feed, Rain, {{"rails/movers/fuse", ""}}, {}, "a jam needs a fuse"},
        {"fuse-small", S::Feed, Rain, {{"rails/movers/fuse", "0.31 A"}}, {{"rails/movers/fuse", "0.32 A"}}, "239 mA/0.75 is 319 mA"},
        {"fuse-large",
         S::Feed,
         Rain,
         {{"rails/movers/fuse", "1 A"}},
         {{"rails/movers/fuse", "0.46 A"}},
         "a jam draws 695 mA; 1.5·0.46 A are 690 mA (IEC 60127-2, from memory)"},
        {"fuse-unsure", S::Feed, Rain, {}, {{"rails/movers/fuse", "0.32 A"}}, "0.4 A is only sure to blow above 840 mA"},
        {"fuse-idle",
         S::Feed,
         Rain,
         {{"rails/movers/fuse", "0.32 A"}, {"sources/adapter/current", "0.6 A"}},
         {},
         "the adapter folds back first"},
        {"rail-loop", S::Feed, Rain, {{"rails/movers/from", "movers"}}, {}, "a rail that feeds itself"},
        {"rail-unfed",
         S::Feed,
         Rain,
         {},
         {},
         "nothing feeds it",
         [](Gadget& g, bool trips) {
             if (trips) g.project.rails.front().from = "nowhere";
         }},
        {"rail-over",
         S::Feed,
         Rain,
         {{"rails/logic/voltage", "5.6 V"}},
         {{"rails/logic/voltage", "5.5 V"}},
         "the board takes 5 V and a tenth"},
        {"rail-sag",
         S::Feed,
         Stage,
         {{"rails/movers/wire_length", "80 m"}},
         {{"rails/movers/wire_length", "2 m"}},
         "below six tenths of its volts"},
        {"brown-out", S::Feed, Rain, {{"rails/logic/voltage", "2.6 V"}}, {{"rails/logic/voltage", "4.2 V"}}, "it resets below 2.7 V"},
        {"out-of-guaranteed-range",
         S::Feed,
         Rain,
         {{"rails/logic/voltage", "3.7 V"}},
         {{"rails/logic/voltage", "3.8 V"}},
         "3.78 V at 16 MHz, data sheet speed grades"},
        {"logic-follows",
         S::Feed,
         Rain,
         {{"board/form", "atmega328p-8mhz"}},
         {{"board/form", "atmega328p-8mhz"}, {"rails/logic/voltage", "3.3 V"}},
         "a 3.3 V board on 5 V: its pins give 5 V"},
        {"regulator-hot",
         S::Feed,
         Rain,
         {{"rails/logic/theta_ja", "500 K/W"}},
         {{"rails/logic/theta_ja", "310 K/W"}},
         "0.315 W: 100 K at 317 K/W"},
        {"regulator-dropout",
         S::Feed,
         Rain,
         {{"sources/adapter/voltage", "6 V"}},
         {{"sources/adapter/voltage", "6.2 V"}},
         "5 V and 1.1 V of drop-out"},
        {"no-flyback-path", S::Feed, Rain, {{"channels/rain/drive/flyback_diode", "no"}}, {}, "an inductive load needs a path"},
        {"capacitor-stored",
         S::Feed,
         Rain,
         {{"rails/movers/bulk", "1000 uF"}, {"rails/movers/bulk_rating", "25 V"}},
         {{"rails/movers/bulk", "900 uF"}, {"rails/movers/bulk_rating", "25 V"}},
         "a thousand microfarads stay charged"},
        {"capacitor-voltage",
         S::Feed,
         Rain,
         {{"rails/movers/bulk", "100 uF"}, {"rails/movers/bulk_rating", "10 V"}},
         {{"rails/movers/bulk", "100 uF"}, {"rails/movers/bulk_rating", "16 V"}},
         "12 V on 10 V"},
        {"source-over",
         S::Feed,
         Rain,
         {{"sources/adapter/current", "0.4 A"}},
         {{"sources/adapter/current", "0.7 A"}},
         "506 mA against 0.8 of it"},
        {"usb-budget", S::Feed, Rain, {{"sources/adapter/kind", "usb-port"}}, {}, "USB 2.0: 500 mA"},
        {"coincidence-bounded",
         S::Feed,
         Stage,
         {},
         {},
         "more cues than can be looked at in all their overlaps",
         [](Gadget& g, bool trips) {
             if (!trips) return;
             g.project.routine = {};
             auto& cues = g.project.routine.cues;
             g.project.board.form = board::BoardForm::Mega16;
             const auto lamps = g.project.channels.back();
             std::mt19937 dice(1);
             for (int i = 0; i < 16; ++i) {
                 auto more = lamps;
                 more.id = "lamp" + std::to_string(i), more.name = "Lamp " + std::to_string(i), more.pin.clear();
                 g.project.channels.push_back(more);
             }
             for (int i = 0; i < 40; ++i) {
                 routine::Cue cue;
                 cue.id = "cue" + std::to_string(i), cue.name = "Cue " + std::to_string(i), cue.input = "scene";
                 for (int k = 0; k < 4; ++k) {
                     routine::Move move{"m" + std::to_string(k), routine::Action::On, "lamp" + std::to_string(dice() % 16), std::nullopt};
                     cue.moves.push_back(move);
                 }
                 cue.moves.push_back({"w", routine::Action::Wait, "", of<Duration>(1.0)});
                 cues.push_back(cue);
             }
         }},
        {"lithium-present", S::Feed, RiderOnCells, {}, {{"sources/bench/kind", "bench-supply"}}, "lithium cells"},
        {"cells-unprotected",
         S::Feed,
         RiderOnCells,
         {},
         {},
         "no protection board",
         [](Gadget& g, bool trips) {
             for (auto& source : g.project.sources) source.protection_board = !trips;
         }},
        {"battery-empty-voltage",
         S::Feed,
         RiderOnCells,
         {},
         {},
         "its volts are too low while charge is left",
         [](Gadget& g, bool trips) {
             for (auto& source : g.project.sources) source.series = of<Count>(trips ? 1.0 : 3.0);
         }},
        {"battery-peak",
         S::Feed,
         RiderOnCells,
         {},
         {},
         "beyond twice their capacity in an hour",
         [](Gadget& g, bool trips) {
             for (auto& source : g.project.sources) source.capacity = of<Charge>(trips ? 0.05 * 3600.0 : 3.0 * 3600.0);
         }},
        {"idle-drain", S::Feed, Rain, bank("100 mA"), bank("40 mA"), "at rest the board draws 45 mA"},
        // --- Pins
        {"pin-overcurrent", S::Pins, Stage, led("led_white_1w", "10"), led("led_red_5mm", "220"), "an LED that takes more than 20 mA"},
        {"pin-overcurrent",
         S::Match,
         Rain,
         {{"channels/rain/drive/gate_resistor", "249"}},
         {{"channels/rain/drive/gate_resistor", "250"}},
         "5 V/250 Ω is the pin's 20 mA"},
        {"level-mismatch",
         S::Pins,
         Box,
         {{"inputs/warm_enough/wired", "powered-sensor"}, {"inputs/warm_enough/output_volts", "10 V"}},
         {{"inputs/warm_enough/wired", "powered-sensor"}, {"inputs/warm_enough/output_volts", "5 V"}},
         "10 V at a pin of 5 V"},
        {"pin-cannot",
         S::Pins,
         Rain,
         {{"channels/rain/pin", "D4"}},
         {{"channels/rain/pin", "D4"}, {"channels/rain/signal/soft_start", "0 s"}},
         "D4 has no PWM"},
        {"pin-taken", S::Pins, Rain, {{"channels/rain/pin", "D2"}}, {}, "start sits there"},
        {"serial-shared", S::Pins, Rain, {{"inputs/start/pin", "D0"}}, {{"inputs/start/pin", "D8"}}, "the serial line"},
        {"strap-pin",
         S::Pins,
         Rain,
         {{"board/form", "esp32"}, {"channels/rain/pin", "IO2"}},
         {{"board/form", "esp32"}, {"channels/rain/pin", "IO4"}},
         "its level at reset decides how the chip starts"},
        {"no-interrupt", S::Pins, Box, {{"inputs/stir_tach/pin", "D8"}}, {}, "D2 or D3 count by an interrupt"},
        {"timer-clash",
         S::Pins,
         Rain,
         {{"channels/rain/signal/frequency", "2 kHz"}},
         {{"channels/rain/signal/frequency", "980 Hz"}},
         "timer 0 keeps the clock at 976.6 Hz"},
        {"fan-wrong-pwm",
         S::Pins,
         Stage,
         {{"channels/mist/pin", "D6"}, {"channels/turntable/pin", "D11"}},
         {},
         "25 kHz is not what timer 0 gives"},
        {"grounds-short", S::Pins, Stage, {{"board/ground_strip", "no"}}, {}, "a board has three ground pins"},
        {"pins-short", S::Pins, Stage, {{"board/form", "attiny85-8mhz"}}, {}, "six pins for a stage"},
        {"pins-open", S::Pins, Rain, {{"channels/rain/pin", ""}}, {}, "a line without a pin"},
        {"board-changed", S::Pins, Rain, {{"board/form", "rp2040"}}, {}, "D5 is not one of its pins"},
        // --- Pulse
        {"frequency-out-of-reach",
         S::Pulse,
         Rain,
         {{"channels/rain/pin", "D9"}, {"channels/rain/signal/frequency", "0.05 Hz"}},
         {{"channels/rain/pin", "D9"}, {"channels/rain/signal/frequency", "0.5 Hz"}},
         "16 MHz/(1024·65536·2) are 0.12 Hz"},
        {"audible-pwm", S::Pulse, Rain, {{"channels/rain/signal/duty", "90 %"}}, {}, "977 Hz can be heard"},
        {"flickers",
         S::Pulse,
         Stage,
         {{"channels/mist/pin", ""},
          {"channels/lamps/drive/part", "mosfet_logic_30v"},
          {"channels/lamps/signal/duty", "50 %"},
          {"channels/lamps/signal/frequency", "90 Hz"}},
         {{"channels/mist/pin", ""},
          {"channels/lamps/drive/part", "mosfet_logic_30v"},
          {"channels/lamps/signal/duty", "50 %"},
          {"channels/lamps/signal/frequency", "110 Hz"}},
         "below 100 Hz it is seen"},
        {"fan-zero-runs",
         S::Pulse,
         Stage,
         {},
         {{"channels/mist/drive/part", "mosfet_logic_30v"}, {"channels/mist/drive/flyback_diode", "yes"}},
         "its PWM wire asks for a speed"},
        {"not-real-time",
         S::Pulse,
         Rider,
         {{"board/form", "sbc-header"}, {"channels/left/pin", "GPIO17"}},
         {},
         "an operating system runs there"},
        {"step-too-fast",
         S::Pulse,
         Stage,
         {{"channels/curtain/demand/time", "1 s"}, {"channels/curtain/signal/microsteps", "16"}},
         {},
         "the sketch steps 16 000 times a second at most"},
        {"servo-range", S::Pulse, Stage, {{"channels/moon/demand/angle", "200 deg"}}, {}, "further than its pulses go"},
        {"interrupts-too-many",
         S::Pulse,
         Rider,
         {},
         {},
         "a dozen steppers of 16 000 steps a second",
         [](Gadget& g, bool trips) {
             for (auto& channel : g.project.channels) std::get<project::MoveDemand>(channel.demand).time = of<Duration>(0.13);
             for (int i = 0; trips && i < 12; ++i) {
                 auto more = g.project.channels.front();
                 more.id = "m" + std::to_string(i), more.name = "Wheel " + std::to_string(i);
                 g.project.channels.push_back(more);
             }
         }},
        {"move-too-long",
         S::Pulse,
         Stage,
         {{"channels/curtain/demand/travel", "600 m"}, {"channels/curtain/demand/time", "86000 s"}},
         {},
         "beyond 2³¹ steps of a 64th"},
        // --- Routine
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
        // --- Code
        {"not-driven",
         S::Code,
         Box,
         {{"channels/heater/drive/part", "phase_4a"}, {"channels/heater/signal/duty", "50 %"}},
         {},
         "phase control is not fired"},
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

void PrintTo(const Case& rule, std::ostream* out) {
    *out << rule.id;
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
}  // namespace hinge::plan
