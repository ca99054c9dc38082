#pragma once
// What a loop drives both ways: a thermo-electric plate on a bridge, and a gearmotor that holds an angle.
#include "support/alone.hpp"

namespace hinge::test {

inline project::Project heldBothWays(project::Project project, const char* measures, routine::Loop loop) {
    project.routine.cues.front().moves.resize(1);
    project.routine.cues.front().moves.front().action = routine::Action::On;
    project = project::addInput(std::move(project), project::InputKind::Level, "reading");
    project.inputs.back().pin = "A0";
    loop.id = "hold", loop.channel = "it", loop.input = project.inputs.back().id, loop.both = true;
    const auto path = "inputs/" + loop.input + "/measures";
    project.routine.loops.push_back(std::move(loop));
    return edited(std::move(project), {{path, measures}});
}

/// 20 g of water in a box that loses 0.5 W/K, warmed and cooled by a plate that pumps 40 W and takes 60; 20 counts a kelvin, 400 at the
/// air's.
inline project::Project plateBothWays(double wanted, const std::vector<project::FactEdit>& edits = {}) {
    auto project = alone(project::ChannelKind::Heat, "te_plate_12v_60w", "bridge_13a",
                         {{"channels/it/demand/way", "both"},
                          {"channels/it/demand/mass", "20 g"},
                          {"channels/it/demand/temperature_rise", "8 K"},
                          {"channels/it/demand/warm_up_time", "60 s"},
                          {"channels/it/demand/loss_conductance", "0.5 W/K"},
                          {"channels/it/demand/cutout", "yes"},
                          {"channels/it/signal/turn_pause", "2 s"},
                          {"channels/it/signal/soft_start", "0 s"},
                          {"channels/it/direction_pin", "D4"}});
    routine::Loop loop;
    loop.wanted = of<Count>(wanted), loop.proportional = of<Ratio>(6.0), loop.integral = of<Ratio>(0.1), loop.period = of<Duration>(1.0);
    return edited(heldBothWays(std::move(project), "temperature", loop), edits);
}

/// A gearmotor whose shaft carries a potentiometer: it goes to where that reads what is wanted, from either side.
inline project::Project angleBothWays(const char* driver, const std::vector<project::FactEdit>& edits = {}) {
    auto project = turntable(
        "mid_12v_g50", driver,
        {{"channels/it/direction_pin", "D10"}, {"channels/it/signal/turn_pause", "5 ms"}, {"channels/it/signal/soft_start", "0 s"}});
    routine::Loop loop;
    loop.wanted = of<Count>(300.0), loop.proportional = of<Ratio>(6.0), loop.period = of<Duration>(0.005), loop.band = of<Count>(2.0);
    return edited(heldBothWays(std::move(project), "angle", loop), edits);
}

}  // namespace hinge::test
