#pragma once
#include "quantity/result.hpp"
#include "routine/program.hpp"
#include "routine/routine.hpp"

namespace hinge::routine {

/// What compile() needs to know of a channel, resolved by the plan.
struct ChannelNumbers {
    std::string id;
    std::string name;
    std::optional<Duration> dose_time;  ///< pump on from first to last edge; nullopt: not known
    Duration longest{};                 ///< live limit of the run time
    Fraction duty = of<Fraction>(1.0);
    Duration ramp{};
    Duration off_delay{};
    std::int32_t top = 255;
    std::int32_t latch = 0;        ///< of a coil that latches: ticks of each pulse; 0: it is none …
    std::int32_t latch_turn = 0;   ///< … and after power-up before its first
    double half_waves = 0.0;       ///< of what is fired into each half-wave: Hz of the mains; 0: it is none …
    bool of_volts = false;         ///< … and its shares are of the rms volts
    bool two_inputs = false;       ///< its bridge has an input for each end of the motor, so that cues can brake it …
    bool brakes = false;           ///< … and it is braked whenever it is off
    bool configured = false;       ///< its driver is told its settings at the start
    double step_rate = 0.0;        ///< of a stepper that goes on: steps a second at full speed; 0: it is none
    std::int32_t pulse_still = 0;  ///< of a servo that turns on: half microseconds at which it stands still; 0: it is none
    /// Of what is sent to places: how an angle [rad] or way [m] becomes half microseconds or steps.
    struct Places {
        OutputKind kind = OutputKind::Servo;
        std::int32_t start = 0;  ///< place at 0
        double per_unit = 0.0;   ///< places per radian or metre
        std::int32_t furthest = 0;
        bool along = false;              ///< metres, not radians
        Duration move_time{};            ///< of the whole move, as Need says
        std::int32_t hold = 0;           ///< permille of its moving drive while it holds
        std::optional<Duration> let_go;  ///< at rest; absent: it holds for ever
    };
    std::optional<Places> places;
    Rest rest = Rest::Off;
    bool remembered = false;
    bool both_ways = false;                   ///< its driver can turn it round
    Duration turn_pause = of<Duration>(0.5);  ///< it stands still before it is turned round
};
struct InputNumbers {
    std::string id;
    std::string name;
    bool active_high = false;  ///< true while its pin or reading is high
    Duration debounce{};
    bool analogue = false;
    Fraction upper = of<Fraction>(0.5), lower = of<Fraction>(0.5);  ///< of the reference
    InputSource source = InputSource::Pin;
    std::string word{};
    Duration timeout = of<Duration>(5.0);
    std::string counts{};  ///< Counter: id of the cue
    Count limit = of<Count>(1.0);
    std::string weekdays{}, from_date{}, to_date{};  ///< Days
    std::string sets{};                              ///< name of a parameter
    std::string belongs_to{};                        ///< a tach, a current: id of the channel that it belongs to; empty: none
    Duration run_up = of<Duration>(2.0);             ///< this must have been on for so long before it is believed
    bool fleeting = false;                           ///< a line of a driver that is true only while something moves
};

/// Flattens a routine. The off-delay counts in the dose: a Run move lasts dose_time − off_delay.
/// @error Unknown     a cue, guard or interlock names a channel or input that is not there
/// @error BadFormat   a time of day that is none
/// @error Missing     a Run without a time, of a channel whose dose time is not known
/// @error Conflict    what cannot be together: a verb that the channel does not know, two rounds in one cue, a cue after itself;
///                    what is turned round beside a follower, a loop, an off-delay or a safe state that is on: they do not say which way
/// @error OutOfRange  a place beyond the move, a time that is none
[[nodiscard]] Result<Program> compile(const Routine& routine, const std::vector<ChannelNumbers>& channels,
                                      const std::vector<InputNumbers>& inputs);

/// Whether a cue drives a channel backwards.
[[nodiscard]] bool turnsRound(const Routine& routine, std::string_view channel);
/// Whether a loop holds a reading by a channel.
[[nodiscard]] bool isHeld(const Routine& routine, std::string_view channel);

/// A word made from a text: lower-case letters, digits, underscore; never empty, at most 48 characters.
[[nodiscard]] std::string identifier(const std::string& text);
/// The identifier of a channel, input, cue or loop in the sketch and on the link: its id where that is a plain word, as all ids made here
/// are; else its identifier and a mark of its own, so that "gate-A", "gate_a" and "Gate_A" stay three.
[[nodiscard]] std::string symbol(const std::string& id);

}  // namespace hinge::routine
