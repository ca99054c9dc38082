#pragma once
// A motor on a bridge, or half of one, that has an input for each of its switches.
#include "support/two_inputs.hpp"

namespace hinge::test {

/// Of a whole bridge the first end is on timer 1, the other on timer 2, at a frequency that both give.
inline project::Project onSwitches(const char* driver,
                                   const std::vector<routine::Move>& moves = {moved("f", routine::Action::On, 0.0, false, 0.5)},
                                   const std::vector<project::FactEdit>& more = {}) {
    auto project = crank(moves, {{"channels/it/drive/part", driver},
                                 {"channels/it/pin", "D9"},
                                 {"channels/it/low_pin", "D10"},
                                 {"channels/it/direction_pin", ""},
                                 {"channels/it/signal/frequency", "3922 Hz"},
                                 {"channels/it/signal/soft_start", "0 s"}});
    if (std::string_view{driver}.starts_with("bridge"))
        project = edited(project, {{"channels/it/direction_pin", "D11"}, {"channels/it/back_low_pin", "D3"}});
    else project = edited(project, {{"channels/it/demand/both_ways", "no"}});
    return edited(project, more);
}

}  // namespace hinge::test
