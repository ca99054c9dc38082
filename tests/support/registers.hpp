#pragma once
// An arm on a stepper whose driver's settings are registers.
#include "support/alone.hpp"

namespace hinge::test {

/// Its lines on pins of their own; on a board whose pins are named otherwise they are given anew.
/// @param driver  "chopper_serial_quiet", over one wire; "chopper_serial_strong", over a bus with a clock
inline project::Project onRegisters(const char* driver, const std::vector<project::FactEdit>& more = {}) {
    return edited(alone(project::ChannelKind::Turn, "stepper_42mm_short", driver,
                        {{"channels/it/demand/mass", "60 g"},
                         {"channels/it/demand/arm", "80 mm"},
                         {"channels/it/demand/angle", "90 deg"},
                         {"channels/it/demand/time", "2 s"},
                         {"channels/it/direction_pin", "D8"},
                         {"channels/it/enable_pin", "D7"},
                         {"channels/it/select_pin", "D10"},
                         {"board/register_clock_pin", "D13"},
                         {"board/register_out_pin", "D11"},
                         {"board/register_in_pin", "D12"}}),
                  more);
}

}  // namespace hinge::test
