#pragma once
// What the maker decided about behaviour: cues, guards, off-delays, interlocks. Compiled once by
// compile() into a Program that the simulator interprets and the emitter prints.
#include <array>
#include <optional>
#include <string>
#include <vector>
#include "quantity/dimensions.hpp"
#include "quantity/names.hpp"

namespace hinge::routine {

/// What a move does to its channel.
enum class Action {
    Run,  ///< on at the channel's duty for `time` (absent: the dose's run time), then off
    On,   ///< on until something else turns it off
    Off,
    Wait,     ///< nothing for `time`
    Go,       ///< to a place of its move, in `time`; the cue goes on when it is there, and gives up where the place is not known yet
    Toggle,   ///< on when it is off, off when it is on
    Until,    ///< waits for `input`, at most `time`; longer ends the cue as a fault
    Home,     ///< a stepper goes back, further than it could have gone, until `input` says that the start is reached, at most for `time`;
              ///< with `angle` or `place` it then backs off so far and comes again slowly
    Again,    ///< starts the cue over, `times` in all; 0: for ever
    Fade,     ///< to `level` of full power in `time`; the cue goes on when it is there
    Flicker,  ///< on at a share that changes at random, like a flame, for `time`, then off
    Sweep,    ///< swings like a pendulum: `time` a period, `angle` or `place` from end to end, `times` in all; 0: for ever
    Clear,    ///< the counter `input` starts from nothing again
    Brake,    ///< off, and its bridge shorts the motor; after Off it coasts
};

struct Move {
    std::string id;
    Action action = Action::Run;
    std::string channel;            ///< empty for Wait
    std::optional<Duration> time;   ///< Run: absent takes the dose's run time; Go: absent takes Need's
    std::optional<Angle> angle;     ///< Go, of what turns: from the start of its move; absent: to its end
    std::optional<Length> place;    ///< Go, of what moves along: from the start of its way; absent: to its end
    std::string input;              ///< Until, Home
    bool released = false;          ///< Until: the input is no longer true
    Count times = of<Count>(2.0);   ///< Again, Sweep
    std::optional<Fraction> level;  ///< Run, On: of full power, absent: the channel's duty; Fade: where to
    std::string colour{};           ///< Run, On, Fade of a lamp of three colours: "#ff8000"; empty: white. compile() knows none
    bool backwards = false;         ///< Run, On: the other way round; what goes forwards stands still first; Go from here: back
    bool from_here = false;         ///< Go: by `angle` or `place` from where it stands; out of its way the cue gives up
    bool in_line = false;           ///< Go, together: with the one before in a straight line, all in the longest of their times
    bool together = false;          ///< starts with the move before it; what comes after them waits for the longest
    friend bool operator==(const Move&, const Move&) = default;
};

/// A cue must not run while an input is active; with `only`, while it is not: so a selector's position or the days
/// of a season make a mode.
struct Guard {
    std::string id;
    std::string input;
    bool throughout = true;  ///< true: also ends a cue that is running; false: checked at the start only
    bool only = false;       ///< the cue runs only while the input is active
    friend bool operator==(const Guard&, const Guard&) = default;
};

struct Cue {
    std::string id;
    std::string name;
    std::string input;  ///< starts when this input becomes active; empty: no input
    std::string times;  ///< starts at these times of day, "14:30,19:00"; may be empty
    std::vector<Guard> guards;
    std::vector<Move> moves;
    bool on_release = false;        ///< starts when the input stops being active instead
    std::optional<Duration> held;   ///< starts only when the input has been active for so long
    std::optional<Duration> every;  ///< starts each time so much has passed
    bool at_power_up = false;       ///< starts as soon as every input has been read
    std::string after;              ///< starts when this cue has come to its end
    Duration late{};                ///< a time of day missed by no more than this, the clock being set, is made up for
    friend bool operator==(const Cue&, const Cue&) = default;
};

/// One more thing that must be so for an interlock to speak.
enum class TermState { On, Off, Beyond, Short };  ///< Beyond and Short of a place of a move
struct Term {
    std::string id;
    std::string channel;
    TermState state = TermState::Off;
    std::optional<Angle> angle;
    std::optional<Length> place;
    friend bool operator==(const Term&, const Term&) = default;
};

/// "Never: `channel` on with `input` active, while the terms are so." The channel gives way to its safe state.
struct Interlock {
    std::string id;
    std::string channel;
    std::string input;  ///< empty: the terms alone
    std::vector<Term> terms;
    friend bool operator==(const Interlock&, const Interlock&) = default;
};

/// "Rain is on while the storm switch is." Besides what cues ask; its off-delay follows. With a knob as input the
/// channel's duty follows it.
struct Follower {
    std::string id;
    std::string channel;
    std::string input;
    bool released = false;               ///< while the input is not true
    bool proportional = false;           ///< the duty follows the reading
    Fraction dead = of<Fraction>(0.02);  ///< of the reading: below it the channel is off
    Fraction start{};                    ///< of full power, just above it
    std::string unless;                  ///< an input that holds it off while it is true; empty: none
    friend bool operator==(const Follower&, const Follower&) = default;
};

/// While a channel is on, its drive is what holds a reading at a wanted one: a speed by its tach, a level, or,
/// by the rate of a stepper's steps, a body upright. Whole numbers, so that desk and chip agree.
struct Loop {
    std::string id;
    std::string channel;
    std::string input;
    Count wanted{};        ///< reading: 0 … 1023, or pulses in one period
    Ratio proportional{};  ///< permille of full power (of a stepper: steps a second) for each count of error
    Ratio integral{};      ///< the same, added in each period
    Ratio derivative{};    ///< the same, for each count that the reading changes in a period
    Duration period = of<Duration>(0.02);
    Count most = of<Count>(1000.0);          ///< permille, or steps a second
    Fraction smoothing = of<Fraction>(1.0);  ///< share of a new change that counts: less lets noise through less, and later
    Ratio forward{};                         ///< permille for each count wanted, whatever the reading
    Count band{};                            ///< counts of error that are let be
    Count least{};                           ///< permille below which it does not go while it is on: its start duty
    Ratio lean_rate{};                       ///< of what balances: counts wanted more for each step a second it rolls …
    Ratio lean_way{};                        ///< … and for each step it has rolled away
    bool both = false;                       ///< it drives both ways: what a bridge turns round
    std::optional<Length> height;            ///< of what balances: from the axle to the middle of its weight
    friend bool operator==(const Loop&, const Loop&) = default;
};

struct Routine {
    std::vector<Cue> cues;
    std::vector<Interlock> interlocks;
    std::vector<Follower> followers;
    std::vector<Loop> loops;
    std::optional<Duration> link_silence;  ///< a link that has spoken and is silent for so long is lost: as stop; absent: it may go
    friend bool operator==(const Routine&, const Routine&) = default;
};

}  // namespace hinge::routine

// Compiled once, in compile.cpp: else every file that copies one would compile it anew.
extern template class std::vector<hinge::routine::Guard>;
extern template class std::vector<hinge::routine::Move>;
extern template class std::vector<hinge::routine::Term>;
extern template class std::vector<hinge::routine::Cue>;
extern template class std::vector<hinge::routine::Interlock>;
extern template class std::vector<hinge::routine::Follower>;
extern template class std::vector<hinge::routine::Loop>;

template <>
struct hinge::Names<hinge::routine::Action> {
    using A = hinge::routine::Action;
    static constexpr std::array all{hinge::Name<A>{A::Run, "run", "runs for"},
                                    hinge::Name<A>{A::On, "on", "on"},
                                    hinge::Name<A>{A::Off, "off", "off"},
                                    hinge::Name<A>{A::Wait, "wait", "wait"},
                                    hinge::Name<A>{A::Go, "go", "goes to"},
                                    hinge::Name<A>{A::Toggle, "toggle", "changes over"},
                                    hinge::Name<A>{A::Until, "until", "wait until"},
                                    hinge::Name<A>{A::Home, "home", "goes home"},
                                    hinge::Name<A>{A::Again, "again", "all that again"},
                                    hinge::Name<A>{A::Fade, "fade", "fades to"},
                                    hinge::Name<A>{A::Flicker, "flicker", "flickers for"},
                                    hinge::Name<A>{A::Sweep, "sweep", "swings"},
                                    hinge::Name<A>{A::Clear, "clear", "counts from nothing"},
                                    hinge::Name<A>{A::Brake, "brake", "brakes"}};
};
template <>
struct hinge::Names<hinge::routine::TermState> {
    using T = hinge::routine::TermState;
    static constexpr std::array all{hinge::Name<T>{T::On, "on", "on"}, hinge::Name<T>{T::Off, "off", "off"},
                                    hinge::Name<T>{T::Beyond, "beyond", "beyond"}, hinge::Name<T>{T::Short, "short", "short of"}};
};
