#pragma once
// Small routines, and how they are followed tick by tick.
#include <fmt/format.h>
#include <rapidcheck.h>
#include <array>
#include <ctime>
#include <map>
#include <random>
#include "plan/firmware_model.hpp"
#include "routine/compile.hpp"
#include "routine/machine.hpp"
#include "routine/prove.hpp"
#include "routine/quiet.hpp"
#include "support/demo.hpp"
#include "timing/calendar.hpp"

namespace hinge::routine {
namespace parts {

inline ChannelNumbers switched(const std::string& id, double off_delay = 0.0) {
    return {id, id, std::nullopt, of<Duration>(1.0), of<Fraction>(1.0), Duration{}, of<Duration>(off_delay), 255};
}
inline InputNumbers input(const std::string& id) {
    return {id, id, false, of<Duration>(0.001)};
}

// Levels of one input, a character a tick of 1 ms, debounce one tick; the output's on and off.
inline std::string follow(const Routine& routine, const std::string& pins, double off_delay = 0.0) {
    const auto program = compile(routine, {switched("pump", off_delay)}, {input("button"), input("other")});
    EXPECT_TRUE(program) << sentence(program.error());
    State state = powerUp(*program);
    const Machine machine{*program};
    std::string text;
    for (const char pin : pins) {
        const std::vector<std::uint8_t> now{static_cast<std::uint8_t>(pin == '1'), static_cast<std::uint8_t>(pin == 'x')};
        Happening happening;
        happening.pin_active = now;
        machine.tick(state, happening);
        text += state.output(0).level > 0 ? '1' : '0';
    }
    return text;
}
inline Cue cueOf(std::vector<Move> moves) {
    Cue cue{"go", "go", "button", "", {}, std::move(moves)};
    return cue;
}
inline Move run(double seconds) {
    return {"run", Action::Run, "pump", of<Duration>(seconds)};
}

}  // namespace parts
}  // namespace hinge::routine
