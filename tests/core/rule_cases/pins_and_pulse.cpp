// Cases of the rules of Pins and Pulse.
#include "core/rule_cases/case.hpp"
#include "support/expanders.hpp"
#include "support/radio.hpp"
#include "support/registers.hpp"
#include "support/strained.hpp"

namespace hinge::plan::ruled {
namespace {

// A pump on half a bridge that has an input for each switch, the upper one at D9.
Edits ended(const char* lower, const char* rate) {
    return {{"channels/rain/drive/part", "half_bridge_switches_12a"},
            {"channels/rain/pin", "D9"},
            {"channels/rain/low_pin", lower},
            {"channels/rain/signal/frequency", rate}};
}

}  // namespace

// One table: a row a case.
std::vector<Case> ofPinsAndPulse() {
    return {
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
        {"pair-apart", S::Pins, Rain, ended("D11", "4 kHz"), ended("D10", "4 kHz"), "D9 and D10 are timer 1's, D11 is timer 2's"},
        {"dead-time-long", S::Pulse, Rain, ended("D10", "300 kHz"), ended("D10", "20 kHz"), "8 of 27 counts, and 8 of 400"},
        {"fan-wrong-pwm",
         S::Pins,
         Stage,
         {{"channels/mist/pin", "D6"}, {"channels/turntable/pin", "D11"}},
         {},
         "25 kHz is not what timer 0 gives"},
        {"grounds-short", S::Pins, Stage, {{"board/ground_strip", "no"}}, {}, "a board has three ground pins"},
        {"stall-unread",
         S::Pins,
         Stage,
         {},
         {},
         "a stall that nobody hears of",
         [](Gadget& g, bool trips) {
             g.project = test::onRegisters("chopper_serial_quiet", {{"channels/it/signal/stall_level", "80"}});
             g.project = project::addInput(g.project, project::InputKind::Sensor, "stalls");
             g.project.inputs.back().pin = "D3";
             if (!trips) g.project.inputs.back().wired = project::Wired::DriverLine;
         }},
        {"expander-keeps",
         S::Pins,
         Stage,
         {},
         {},
         "nothing takes an expander's output back while the board hangs",
         [](Gadget& g, bool trips) {
             g.project = test::edited(test::lampsOnExpanders(), {{"board/watchdog", trips ? "no" : "yes"}});
         }},
        {"radio-rate",
         S::Pins,
         Stage,
         {},
         {},
         "a bit of 38 400 baud is shorter than what an interrupt may be late",
         [](Gadget& g, bool trips) {
             g.project = test::withRadio({{"board/radio_rate", trips ? "38400" : "19200"}});
         }},
        {"radio-not-heard",
         S::Code,
         Stage,
         {},
         {},
         "an operating system hears its bits too late",
         [](Gadget& g, bool trips) {
             g.project =
                 trips ? test::withRadio({{"board/form", "sbc-header"}, {"board/radio_in_pin", "GPIO5"}, {"board/radio_out_pin", "GPIO6"}})
                       : test::withRadio();
         }},
        {"current-not-shown",
         S::Pins,
         Stage,
         {},
         {},
         "a smaller bridge has no output that shows it",
         [](Gadget& g, bool trips) { g.project = test::strained(trips ? "bridge_1a_mini" : "bridge_3a"); }},
        {"current-of-nothing",
         S::Pins,
         Stage,
         {},
         {},
         "whose current?",
         [](Gadget& g, bool trips) {
             g.project = test::strained();
             if (trips)
                 g.project = test::edited(g.project, {{"inputs/strains/wired", "current-output"}, {"inputs/strains/belongs_to", ""}});
         }},
        {"pins-short", S::Pins, Stage, {{"board/form", "attiny85-8mhz"}}, {}, "six pins for a stage"},
        {"pins-open", S::Pins, Rain, {{"channels/rain/pin", ""}}, {}, "a line without a pin"},
        {"board-changed", S::Pins, Rain, {{"board/form", "rp2040"}}, {}, "D5 is not one of its pins"},
        // --- Pulse
        {"start-too-steep",
         S::Pulse,
         Stage,
         {},
         {},
         "Need reckons with half a second to its speed",
         [](Gadget& g, bool trips) {
             g.project =
                 test::turntable("stepper_42mm_short", "chopper_1a_fine", {{"channels/it/signal/soft_start", trips ? "0.49 s" : "0.5 s"}});
             g.project.routine.cues.clear();
         }},
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
    };
}

}  // namespace hinge::plan::ruled
