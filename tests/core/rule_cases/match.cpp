// Cases of the rules of Match.
#include "core/rule_cases/case.hpp"
#include "support/alone.hpp"
#include "support/cooled.hpp"
#include "support/registers.hpp"

namespace hinge::plan::ruled {
namespace {
// The lamps on the mains, dimmed.
Edits dimmed(const char* load, const char* part, const char* power, const char* driver) {
    return {{"channels/lamps/demand/feeding", "mains"}, {"channels/lamps/demand/dimmed", "yes"}, {"channels/lamps/demand/load", load},
            {"channels/lamps/actuator", part},          {"channels/lamps/demand/power", power},  {"channels/lamps/drive/part", driver}};
}
}  // namespace

// One table: a row a case.
std::vector<Case> ofMatch() {
    return {
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
        {"held-weakly",
         S::Match,
         Stage,
         {},
         {},
         "a tenth of its current holds less than its load",
         [](Gadget& g, bool trips) {
             g.project = test::onRegisters("chopper_serial_quiet", {{"channels/it/signal/hold_share", trips ? "10 %" : "90 %"}});
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
        {"common-pole", S::Match, Stage, lit("led_rgb_5mm_common_minus", "5 V"), lit("led_rgb_5mm_common_plus", "5 V"),
         "a MOSFET switches the minus of each colour"},
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
         Rain,
         {},
         {},
         "whole half-waves only",
         [](Gadget& g, bool trips) {
             g.project = test::alone(project::ChannelKind::Switch, "filament_230v_40w", trips ? "ssr_zero_2a" : "phase_4a",
                                     {{"channels/it/demand/feeding", "mains"},
                                      {"channels/it/demand/dimmed", "yes"},
                                      {"channels/it/demand/load", "lamp"},
                                      {"channels/it/demand/power", "40 W"}});
         }},
        {"dimmed-lamp", S::Match, Stage, dimmed("capacitive", "led_lamp_230v_7w", "7 W", "phase_4a"),
         dimmed("lamp", "filament_230v_40w", "40 W", "phase_4a"), "a lamp with electronics in it"},
        {"hot-side",
         S::Match,
         Stage,
         {},
         {},
         "60 W through 1.2 K/W are 72 K above 25 °C; through 0.5 K/W with what is pumped some 34 K",
         [](Gadget& g, bool trips) {
             g.project = test::cooled({{"channels/it/demand/hot_sink", trips ? "1.2 K/W" : "0.5 K/W"}});
         }},
        {"hot-side-unknown",
         S::Match,
         Stage,
         {},
         {},
         "its heat-sink is not known",
         [](Gadget& g, bool trips) {
             g.project = test::cooled({{"channels/it/demand/hot_sink", trips ? "" : "0.5 K/W"}});
         }},
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
    };
}

}  // namespace hinge::plan::ruled
