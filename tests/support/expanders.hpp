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

}  // namespace hinge::test
