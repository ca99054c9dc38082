#pragma once
// What the maker decided about behaviour: cues, guards, off-delays, interlocks. Compiled once by
// compile() into a Program that the simulator interprets and the emitter prints.
#include "quantity/names.hpp"
#include "quantity/dimensions.hpp"
#include <array>
#include <optional>
#include <string>
#include <vector>

namespace hinge::routine {

/// What a move does to its channel.
enum class Action {
    Run,  ///< on at the channel's duty for `time` (absent: the dose's run time), then off
    On,   ///< on until something else turns it off
    Off,
    Wait, ///< nothing for `time`
    Go,   ///< to a place of its move, in `time`; the cue goes on when it is there
    Toggle, ///< on when it is off, off when it is on
    Until,  ///< waits for `input`, at most `time`; longer ends the cue as a fault
    Home,   ///< a stepper goes back until `input` says that the start is reached, at most for `time`
    Again,  ///< starts the cue over, `times` in all; 0: for ever
};

struct Move {
    std::string id;
    Action action = Action::Run;
    std::string channel;             ///< empty for Wait
    std::optional<Duration> time;    ///< Run: absent takes the dose's run time; Go: absent takes Need's
    std::optional<Angle> angle;      ///< Go, of what turns: from the start of its move; absent: to its end
    std::optional<Length> place;     ///< Go, of what moves along: from the start of its way; absent: to its end
    std::string input;               ///< Until, Home
    bool released = false;           ///< Until: the input is no longer true
    Count times = of<Count>(2.0);    ///< Again
    friend bool operator==(const Move&, const Move&) = default;
};

/// A cue must not run while an input is active.
struct Guard {
    std::string id;
    std::string input;
    bool throughout = true;  ///< true: also ends a cue that is running; false: checked at the start only
    friend bool operator==(const Guard&, const Guard&) = default;
};

struct Cue {
    std::string id;
    std::string name;
    std::string input;               ///< starts when this input becomes active; empty: no input
    std::string times;               ///< starts at these times of day, "14:30,19:00"; may be empty
    std::vector<Guard> guards;
    std::vector<Move> moves;
    bool on_release = false;         ///< starts when the input stops being active instead
    std::optional<Duration> held;    ///< starts only when the input has been active for so long
    std::optional<Duration> every;   ///< starts each time so much has passed
    bool at_power_up = false;        ///< starts as soon as every input has been read
    std::string after;               ///< starts when this cue has come to its end
    friend bool operator==(const Cue&, const Cue&) = default;
};

/// "Never: `channel` on with `input` active." The channel gives way to its safe state.
struct Interlock {
    std::string id;
    std::string channel;
    std::string input;
    friend bool operator==(const Interlock&, const Interlock&) = default;
};

/// "Rain is on while the storm switch is." Besides what cues ask; its off-delay follows. With a knob as input the
/// channel's duty follows it.
struct Follower {
    std::string id;
    std::string channel;
    std::string input;
    bool released = false;           ///< while the input is not true
    bool proportional = false;       ///< the duty follows the reading
    Fraction dead = of<Fraction>(0.02);   ///< of the reading: below it the channel is off
    Fraction start{};                ///< of full power, just above it
    std::string unless;              ///< an input that holds it off while it is true; empty: none
    friend bool operator==(const Follower&, const Follower&) = default;
};

struct Routine {
    std::vector<Cue> cues;
    std::vector<Interlock> interlocks;
    std::vector<Follower> followers;
    friend bool operator==(const Routine&, const Routine&) = default;
};

}  // namespace hinge::routine

template <>
struct hinge::Names<hinge::routine::Action> {
    using A = hinge::routine::Action;
    static constexpr std::array all{hinge::Name<A>{A::Run, "run", "runs for"}, hinge::Name<A>{A::On, "on", "on"}, hinge::Name<A>{A::Off, "off", "off"}, hinge::Name<A>{A::Wait, "wait", "wait"}, hinge::Name<A>{A::Go, "go", "goes to"},
                                    hinge::Name<A>{A::Toggle, "toggle", "changes over"}, hinge::Name<A>{A::Until, "until", "wait until"}, hinge::Name<A>{A::Home, "home", "goes home"}, hinge::Name<A>{A::Again, "again", "all that again"}};
};
