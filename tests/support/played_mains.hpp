#pragma once
// A lamp that is fired into the half-waves of a mains, on a board that is run by its pins alone.
#include <cmath>
#include <numbers>
#include "support/alone.hpp"
#include "support/other_board.hpp"

namespace hinge::test {

/// Started after half a second, its power asked over the last second and a half of three; what the sketch says of the mains is looked at.
/// @param play  sketch, what comes from outside, s: what was heard
template <class Play>
void playPhaseControl(const char* form, const char* pin, const char* crossing, const char* start, Play play) {
    const auto parts = shippedParts();
    for (const auto& [hertz, percent] : {std::pair{50, 5}, {50, 40}, {60, 95}}) {
        SCOPED_TRACE(fmt::format("{} % at {} Hz on {}", percent, hertz, form));
        const auto project = edited(running(alone(project::ChannelKind::Switch, "filament_230v_40w", "phase_4a",
                                                  {{"board/form", form},
                                                   {"board/crossing_pin", crossing},
                                                   {"channels/it/pin", pin},
                                                   {"inputs/start/pin", start},
                                                   {"channels/it/demand/feeding", "mains"},
                                                   {"channels/it/demand/load", "lamp"},
                                                   {"channels/it/demand/power", "40 W"},
                                                   {"channels/it/demand/dimmed", "yes"},
                                                   {"channels/it/signal/soft_start", "0 s"}}),
                                            3600.0),
                                    {{"channels/it/demand/mains_frequency", fmt::format("{} Hz", hertz)},
                                     {"channels/it/signal/duty", fmt::format("{} %", percent)}});
        const auto plan = plan::evaluate(project, parts);
        ASSERT_EQ(plan.channels.front().not_driven, "");
        const auto sketch = plan::sketchOf(project, plan);
        ASSERT_TRUE(sketch) << sentence(sketch.error());
        const auto& family = board::family(project.board.form);
        const auto number = [&](const char* name) { return board::pinNamed(family, name)->number; };
        Outside outside;
        const double half = 0.5 / hertz, early = 0.9e-3;
        outside.pin(0.0, number(crossing), false);
        outside.pin(0.0, number(start), true);
        for (int k = 1; k * half + early < 3.0; ++k) {
            outside.pin(k * half - early, number(crossing), true);
            outside.pin(k * half + early, number(crossing), false);
        }
        outside.pin(0.6, number(start), false);
        outside.pin(0.8, number(start), true);
        const auto heard = play(*sketch, outside, 3.0);
        ASSERT_EQ(heard.trouble, "");
        // What a resistance gets of each half-wave from where its gate goes high on.
        double power = 0.0;
        int fired = 0;
        const auto gate = heard.pins.find(number(pin));
        ASSERT_NE(gate, heard.pins.end());
        for (const auto& edge : gate->second) {
            if (edge.level == 1) EXPECT_GT(edge.time, 0.6) << "nothing before it is asked";
            if (edge.level == 0 || edge.time < 1.5) continue;
            const double part = edge.time / half - std::floor(edge.time / half);
            power += 1.0 - part + std::sin(2.0 * std::numbers::pi * part) / (2.0 * std::numbers::pi);
            ++fired;
        }
        ASSERT_NEAR(fired, 1.5 / half, 1.0) << "each half-wave once";
        EXPECT_NEAR(power / fired, percent / 100.0, 0.02 * percent / 100.0);
        EXPECT_NE(heard.sent.find(fmt::format(": mains {}.0 Hz, lost crossings 0", hertz)), std::string::npos) << heard.sent;
    }
}

}  // namespace hinge::test
