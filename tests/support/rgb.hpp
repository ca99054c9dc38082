#pragma once
// A lamp of three colours.
#include "support/alone.hpp"

namespace hinge::test {

/// A strip of 12 V behind a MOSFET a colour, at D9, D10 and D11; a cue gives it a colour, fades it to another one, and puts it off.
inline project::Project glowing(const std::vector<project::FactEdit>& more = {}, const std::string& part = "led_rgb_string_12v_1m",
                                const std::string& driver = "mosfet_logic_30v") {
    auto project = alone(project::ChannelKind::Switch, part, driver,
                         {{"channels/it/demand/power", "12 W"},
                          {"channels/it/signal/soft_start", "0 s"},
                          {"channels/it/drive/gate_resistor", "330"},
                          {"channels/it/green_pin", "D10"},
                          {"channels/it/blue_pin", "D11"}});
    const auto move = [](const char* id, routine::Action action, double time, const char* colour) {
        routine::Move made;
        made.id = id;
        made.action = action;
        if (action != routine::Action::Wait) made.channel = "it";
        if (time > 0.0) made.time = of<Duration>(time);
        if (action == routine::Action::Fade) made.level = of<Fraction>(1.0);
        made.colour = colour;
        return made;
    };
    using routine::Action;
    project.routine.cues.front().moves = {move("shines", Action::On, 0.0, "#ff8000"), move("stays", Action::Wait, 0.2, ""),
                                          move("turns", Action::Fade, 0.4, "#0000ff"), move("looks", Action::Wait, 0.2, ""),
                                          move("ends", Action::Off, 0.0, "")};
    return edited(project, more);
}

}  // namespace hinge::test
