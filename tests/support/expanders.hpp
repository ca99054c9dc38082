#pragma once
// An arm on a servo behind an expander.
#include "support/alone.hpp"

namespace hinge::test {

/// On its output X0; its lines on pins of their own.
/// @param driver  "servo_expander_i2c" or "servo_expander_serial"
inline project::Project onExpander(const char* driver, const std::vector<project::FactEdit>& more = {}) {
    return edited(alone(project::ChannelKind::Turn, "servo_micro_digital", driver,
                        {{"channels/it/demand/mass", "20 g"},
                         {"channels/it/demand/arm", "50 mm"},
                         {"channels/it/demand/angle", "90 deg"},
                         {"channels/it/demand/time", "1 s"},
                         {"channels/it/calibration/pulse_min", "1 ms"},
                         {"channels/it/calibration/pulse_max", "2 ms"},
                         {"channels/it/rail", "servo"},
                         {"channels/it/pin", "X0"},
                         {"board/expander_clock_pin", "A3"},
                         {"board/expander_data_pin", "A2"},
                         {"board/expander_serial_pin", "A1"}}),
                  more);
}

/// Lamps that are started by one button: "it", 12 V behind a MOSFET at X2 of the PWM expander, at 1 kHz, and "other" on a relay at X9 of
/// the I/O expander, where the button is at X0.
inline project::Project lampsOnExpanders() {
    auto project = alone(project::ChannelKind::Switch, "led_string_12v_6w", "mosfet_logic_30v",
                         {{"channels/it/demand/power", "6 W"},
                          {"channels/it/drive/expander", "servo_expander_two_wire"},
                          {"channels/it/drive/gate_resistor", "560"},
                          {"channels/it/signal/frequency", "1 kHz"},
                          {"channels/it/signal/soft_start", "0 s"},
                          {"channels/it/pin", "X2"},
                          {"board/expander_clock_pin", "A3"},
                          {"board/expander_data_pin", "A2"},
                          {"board/watchdog", "yes"}});
    project = project::addChannel(project, project::ChannelKind::Switch, "other");
    auto& other = project.channels.back();
    other.rail = "movers";
    other.actuator = "led_string_12v_6w";
    other.drive.part = "relay_board_5v";
    other.drive.expander = "io_expander_two_wire";
    other.pin = "X9";
    project = edited(project, {{"channels/other/demand/power", "6 W"}});
    project.inputs.front().expander = "io_expander_two_wire";
    project.inputs.front().pin = "X0";
    return project;
}

}  // namespace hinge::test
