#pragma once
// A box that a thermo-electric plate cools.
#include "support/alone.hpp"

namespace hinge::test {

/// 20 K below the air, by a plate of 12 V and 60 W that pumps 40 W with nothing across it, and nothing at 67 K.
inline project::Project cooled(const std::vector<project::FactEdit>& more = {}) {
    return edited(alone(project::ChannelKind::Heat, "te_plate_12v_60w", "mosfet_logic_30v",
                        {{"channels/it/demand/way", "cool"},
                         {"channels/it/demand/mass", "0.2 kg"},
                         {"channels/it/demand/temperature_rise", "20 K"},
                         {"channels/it/demand/warm_up_time", "2 h"},
                         {"channels/it/demand/loss_conductance", "0.1 W/K"},
                         {"channels/it/signal/soft_start", "0 s"}}),
                  more);
}

}  // namespace hinge::test
