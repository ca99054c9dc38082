#pragma once
// All that the maker decided and measured, as one value. Nothing derived is kept here.
#include <string>
#include <vector>
#include "actuator/part.hpp"
#include "board/family.hpp"
#include "demand/print.hpp"
#include "driver/driver_part.hpp"
#include "driver/gate_network.hpp"
#include "journal/journal.hpp"
#include "power/supply.hpp"
#include "project/demand.hpp"
#include "routine/routine.hpp"

namespace hinge::project {

inline constexpr int format = 3;

/// The ten stages, in the order of work.
enum class Stage { Need, Match, Feed, Pins, Pulse, Routine, Code, Tune, Prove, Log };
inline constexpr int stageCount = 10;

enum class Place { Indoors, Wet, Outdoors, ClosedBox };
enum class BuildStyle { Breadboard, Modules, Perfboard, OwnBoard, ScrewShield };
enum class Nearby { AdultsOnly, Visitors, Children };
/// From Word on it has no pin, but for the tach.
enum class InputKind { Button, FloatSwitch, EndSwitch, Sensor, Position, Knob, Level, Tach, Word, Number, Counter, Days };
/// What an input's wires go to.
enum class Wired {
    Usual,
    Contact,
    OpenCollector,
    PoweredSensor,
    Potentiometer,
    Divider,
    Thermistor,
    CurrentTransformer,
    ZeroCross,
    DriverLine,
    CurrentOutput
};
/// At power-up, on stop, on a lost link, on an interlock: off (a mover stands still), on, or, of a mover, at its start.
enum class SafeState { Off, On, Start };
/// What a level's reading stands for.
enum class Measures { Counts, Temperature, Angle, Length, Current };

struct Brief {
    std::string name = "New gadget";
    std::string purpose;
    Temperature ambient = Temperature::celsius(25.0);
    Place place = Place::Indoors;
    Nearby nearby = Nearby::AdultsOnly;
    BuildStyle build_style = BuildStyle::Modules;
    Ratio hour_value = of<Ratio>(0.0);
    std::string currency = "€";
    std::optional<Length> box_width, box_height, box_depth;  ///< of the case, outside
    friend bool operator==(const Brief&, const Brief&) = default;
};

/// How well a fact of the demand is known: a share of its value, both ways.
struct Spread {
    std::string id;  ///< the demand's field, "mass"
    Fraction of_value;
    friend bool operator==(const Spread&, const Spread&) = default;
};

/// How often it is asked: what heats up does so by this.
struct Work {
    std::optional<Duration> on_for;  ///< at each use; absent: as the demand says
    std::optional<Duration> every;   ///< from use to use; absent: so seldom that it cools between
    friend bool operator==(const Work&, const Work&) = default;
};

/// How much a criterion counts in the ranking.
enum class Matters { No, Some, Much };
struct Weights {
    Matters price = Matters::Some;
    Matters quiet = Matters::No;
    Matters light = Matters::No;
    Matters cool = Matters::No;
    Matters smooth = Matters::No;
    Matters reserve = Matters::No;
    friend bool operator==(const Weights&, const Weights&) = default;
};

/// How the pin reaches the switch, and what protects it.
struct Drive {
    std::string part;
    Resistance gate_resistor = of<Resistance>(220.0);
    std::optional<Resistance> base_resistor;     ///< of a transistor, as fitted; absent: the one proposed
    std::optional<Resistance> led_resistor;      ///< in front of a bare LED, as fitted; absent: the one proposed
    std::optional<ThermalResistance> heat_sink;  ///< on the driver, to the air; absent: none
    Resistance pulldown = of<Resistance>(10e3);
    driver::PulldownSide pulldown_side = driver::PulldownSide::Pin;
    bool flyback_diode = true;
    std::string expander;  ///< table of the board of more lines on which the channel's pin lies; empty: on the board itself
    Count expander_board = of<Count>(1.0);  ///< which of several alike, by its address bridges
    Ratio gear_ratio = of<Ratio>(1.0);      ///< gears or pulleys between the part and the load, above 1 slows
    friend bool operator==(const Drive&, const Drive&) = default;
};

/// What a share of something on the mains is a share of, where parts of its half-waves are let through.
enum class ShareOf { Power, Volts };
/// What a bridge with an input for each end does with its motor while it is off.
enum class AtRest { Coast, Brake };
struct Signal {
    Frequency frequency = of<Frequency>(976.5625);
    Fraction duty = of<Fraction>(1.0);
    Duration soft_start = of<Duration>(0.3);
    Count microsteps = of<Count>(16.0);
    Fraction hold_share = of<Fraction>(1.0);  ///< of its running current while it stands, where its driver can be told; a stepper's
    std::optional<Count> stall_level;  ///< of a driver that looks for a stall itself, as its register takes it; absent: it does not look
    AtRest at_rest = AtRest::Coast;
    std::optional<Duration> let_go_after;  ///< of what is sent to places: it stands so long before nothing holds it any more; absent: never
    ShareOf share_of = ShareOf::Power;
    Duration turn_pause = of<Duration>(0.5);  ///< it stands still before it is turned round. @source common practice, no published source
    friend bool operator==(const Signal&, const Signal&) = default;
};

/// Measured on the built gadget; overrides what the models say.
struct Calibration {
    std::optional<Volume> cup_volume;
    std::optional<Duration> cup_time;
    std::optional<Duration> pulse_min;  ///< servo: at one end, before it strains
    std::optional<Duration> pulse_max;
    std::optional<Duration> pulse_stop;              ///< servo that turns on: at which it stands still
    std::optional<Fraction> start_duty;              ///< least share at which it starts …
    std::optional<Fraction> keep_duty;               ///< … and at which it still turns, coming down
    std::string speed_curve;                         ///< of a duty sweep: "0.2:0,0.4:14", share and reading
    std::optional<Frequency> highest_rate;           ///< steps a second at which a trip there and back lost none
    std::optional<Current> stall_current;            ///< held fast
    std::optional<Current> chopper_current;          ///< peak, when …
    std::optional<Temperature> chopper_temperature;  ///< … its chopper had settled at this
    std::optional<Fraction> jams_below;              ///< share of full speed below which portions jammed
    friend bool operator==(const Calibration&, const Calibration&) = default;
};

/// Its mechanics, for the sheet of lengths and checks.
struct Fit {
    std::optional<Angle> horn_rest;    ///< where the horn stands at the middle of its pulses, from the start of its move
    std::optional<Length> clearance;   ///< air that is left where it comes closest, at full lock
    std::optional<Length> shaft, hub;  ///< shaft that stands out, and depth of what goes on it
    std::optional<Length> clamped, screw_diameter, screw;  ///< what the screw holds, and the screw
    bool screw_in_plastic = false;
    std::optional<Length> centres;  ///< of the two pulleys
    std::optional<Count> driving_teeth, driven_teeth;
    std::optional<Length> tooth_pitch;
    demand::Print print = demand::Print::None;
    Fraction infill = of<Fraction>(0.2);
    Length wall = of<Length>(0.0012);                  ///< printed solid, all round
    std::optional<Length> arm, arm_width, arm_height;  ///< axle to the load; across the pull; along the pull
    std::optional<Length> cable, opening;              ///< diameters
    friend bool operator==(const Fit&, const Fit&) = default;
};

/// Which of its lamp's three colours a channel is, where it is one of them (colours.hpp); of the maker's own channels: none.
enum class Colour { None, Red, Green, Blue };

struct Channel {
    std::string id;
    std::string name;
    Demand demand;
    std::vector<Spread> spreads;
    Work work;
    Weights weights;
    std::string actuator;  ///< part id; empty: not chosen
    Drive drive;
    std::string rail;
    std::string pin;                  ///< of its main line: PWM, step, pulse or on and off
    std::string direction_pin;        ///< where its driver has such a line
    std::string low_pin;              ///< of a bridge with an input for each switch: the lower one of the end whose upper one is `pin`
    std::string back_low_pin;         ///< and of the other end, whose upper one is `direction_pin`
    std::string green_pin, blue_pin;  ///< of a lamp of three colours; its red hangs on `pin`
    Colour colour = Colour::None;     ///< never in a file
    std::string enable_pin;
    std::string select_pin;  ///< of a driver whose settings are registers: its select line, or the one serial wire
    Signal signal;
    Duration off_delay{};
    SafeState safe = SafeState::Off;
    Calibration calibration;
    Fit fit;
    bool remembers = false;  ///< after a power cut it is as it was before
    friend bool operator==(const Channel&, const Channel&) = default;
};

struct Input {
    std::string id;
    std::string name;
    InputKind kind = InputKind::Button;
    std::string pin;
    std::optional<bool> active_high;  ///< true while its pin or its reading is high; absent: as usual for its kind, see activeHigh
    Duration debounce = of<Duration>(0.020);
    Fraction upper = of<Fraction>(0.55);   ///< a reading is high from this share of the reference on
    Fraction lower = of<Fraction>(0.45);   ///< and low from here down
    std::string word;                      ///< a command word
    Duration timeout = of<Duration>(5.0);  ///< a number sent over the link counts for so long
    std::string counts;                    ///< a counter: the cue whose ends it counts …
    Count limit = of<Count>(10.0);         ///< … and how many make it true
    std::string weekdays;                  ///< days: "mon,tue"; empty: all
    std::string from_date, to_date;        ///< days: "04-01", "10-31"; empty: the whole year
    std::string sets;                      ///< a knob: the number of the sketch that it sets, from nothing to twice its plan; empty: none
    Measures measures = Measures::Counts;  ///< what a reading means, by two points that were measured
    std::optional<Count> reading_a, reading_b;
    std::optional<Ratio> value_a, value_b;  ///< there, in SI
    std::optional<Ratio> per_turn;          ///< a tach: pulses for each turn of what is driven
    std::string belongs_to;                 ///< a tach, a current: the channel whose it is; empty: of nothing that the board drives
    Duration run_up = of<Duration>(2.0);    ///< it is believed once that has been on for so long
    Wired wired = Wired::Usual;             ///< see wiredAs
    std::string expander;                   ///< table of the board of more lines on which its pin lies; empty: on the board itself
    Count expander_board = of<Count>(1.0);  ///< which of several alike, by its address bridges
    std::string rail;                       ///< that feeds the sensor, or that the divider reads; empty: the board's own logic supply
    std::optional<Voltage> output_volts;    ///< highest that a powered sensor puts on its wire; absent: its supply
    std::optional<Resistance> r_top;        ///< of a divider
    std::optional<Resistance> r_bottom;     ///< of a divider, beside a thermistor, or a transformer's burden
    friend bool operator==(const Input&, const Input&) = default;
};

/// A clock of its own, kept by a battery; by its data table in parts/bus.csv.
enum class BusClock { None, Bcd };
struct Board {
    board::BoardForm form = board::BoardForm::Uno16;
    std::string rail;
    bool ground_strip = false;  ///< grounds meet on a strip, not on the board's pins
    std::string crossing_pin;   ///< at which the mains' zero crossings come in, for all that is fired into its half-waves
    std::string register_clock_pin, register_out_pin, register_in_pin;  ///< of drivers whose settings are registers on a bus with a clock
    std::string expander_clock_pin, expander_data_pin, expander_serial_pin;  ///< of a servo expander: its two wires, or its serial line
    BusClock clock = BusClock::None;                                         ///< on the two-wire bus
    bool watchdog = false;     ///< a sketch that hangs for a quarter of a second starts anew, in its safe state
    bool radio = false;        ///< the link goes through the air: a serial radio module, or the board's own
    bool radio_apart = false;  ///< the module has a line of its own; the link at the upload pins stays
    std::string radio_in_pin, radio_out_pin;
    Count radio_rate = of<Count>(9600.0);                                ///< baud
    Voltage radio_supply = of<Voltage>(3.3);                             ///< that its module runs at, and bears at its input
    bool radio_starts = true, radio_drives = false, radio_sets = false;  ///< what it may do besides saying words and numbers, and stopping
    friend bool operator==(const Board&, const Board&) = default;
};

struct Project {
    Brief brief;
    std::vector<power::Source> sources;
    std::vector<power::Rail> rails;
    Board board;
    std::vector<Channel> channels;
    std::vector<Input> inputs;
    routine::Routine routine;
    std::vector<journal::WireNote> wires;  ///< what is recorded of each
    std::vector<journal::Check> proof;
    journal::Journal journal;
    friend bool operator==(const Project&, const Project&) = default;
};

/// True for what arrives by wire.
[[nodiscard]] constexpr bool hasPin(InputKind kind) {
    return kind <= InputKind::Tach;
}
/// True for what is read as a level between 0 and the reference.
[[nodiscard]] constexpr bool isAnalogue(InputKind kind) {
    return kind == InputKind::Knob || kind == InputKind::Level;
}

/// True for what is a number, and by its two levels also true or not.
[[nodiscard]] constexpr bool isReading(InputKind kind) {
    return isAnalogue(kind) || kind == InputKind::Tach || kind == InputKind::Number;
}
/// Whether it is true while high, as said or as usual for its kind: a contact to ground, with its pull-up, is true while low; a
/// reading from its upper level on, and a driver's own line while it is high.
[[nodiscard]] constexpr bool activeHigh(const Input& input) {
    return input.active_high.value_or(isReading(input.kind) || input.wired == Wired::DriverLine);
}
/// The same of its pin, for what is a contact: a reading has no level that means 'true'.
[[nodiscard]] constexpr bool pinActiveHigh(const Input& input) {
    return !isReading(input.kind) && activeHigh(input);
}

/// Whether it can say how a channel goes: a tach's speed, a level's current.
[[nodiscard]] constexpr bool canBelong(const Input& input) {
    return input.kind == InputKind::Tach || (input.kind == InputKind::Level && input.measures == Measures::Current);
}
/// What its wires go to, said or usual for its kind.
[[nodiscard]] constexpr Wired wiredAs(const Input& input) {
    if (input.wired != Wired::Usual) return input.wired;
    switch (input.kind) {
        case InputKind::Tach: return Wired::OpenCollector;
        case InputKind::Sensor: return Wired::PoweredSensor;
        case InputKind::Knob: return Wired::Potentiometer;
        case InputKind::Level:
            switch (input.measures) {
                case Measures::Temperature: return Wired::Thermistor;
                case Measures::Current: return input.belongs_to.empty() ? Wired::CurrentTransformer : Wired::CurrentOutput;
                case Measures::Angle:
                case Measures::Length: return Wired::PoweredSensor;
                case Measures::Counts: return Wired::Divider;
            }
            return Wired::Divider;
        default: return Wired::Contact;
    }
}
/// Whether the pin's own pull-up is on: for what only pulls its wire down.
[[nodiscard]] constexpr bool pullsUp(const Input& input) {
    const Wired wired = wiredAs(input);
    return !isAnalogue(input.kind) && (wired == Wired::Contact || wired == Wired::OpenCollector || wired == Wired::ZeroCross);
}

/// Parts by their ids, as read from the catalogue.
struct Parts {
    std::vector<actuator::Part> actuators;
    std::vector<driver::DriverPart> drivers;
    friend bool operator==(const Parts&, const Parts&) = default;
};
[[nodiscard]] const actuator::Part* findActuator(const Parts& parts, std::string_view id);
[[nodiscard]] const driver::DriverPart* findDriver(const Parts& parts, std::string_view id);
/// The kind of a channel.
[[nodiscard]] inline ChannelKind channelKind(const Channel& channel) {
    return kindOfDemand(channel.demand);
}
[[nodiscard]] const Channel* findChannel(const Project& project, std::string_view id);
[[nodiscard]] const power::Rail* findRail(const Project& project, std::string_view id);
[[nodiscard]] const power::Source* findSource(const Project& project, std::string_view id);
[[nodiscard]] const Input* findInput(const Project& project, std::string_view id);
/// What is read of what a channel drives: by its loop, else by a tach that belongs to it; nullptr: nothing.
[[nodiscard]] const Input* readingOf(const Project& project, std::string_view channel);
/// The level that is read of a channel's current, at its driver's own output; nullptr: none.
[[nodiscard]] const Input* currentOf(const Project& project, std::string_view channel);

/// An id made from a name that no entry of `taken` has yet.
[[nodiscard]] std::string freshId(std::string_view name, const std::vector<std::string>& taken);
/// The ids of a list, in its order.
template <class List>
[[nodiscard]] std::vector<std::string> idsOf(const List& list) {
    std::vector<std::string> ids;
    for (const auto& entry : list) ids.push_back(entry.id);
    return ids;
}
/// A line for the journal with an id that no other has; it is not in it yet.
/// @param stem     of its id
/// @param channel  empty: the whole gadget
/// @param date     ISO 8601, given by the caller
[[nodiscard]] journal::Entry newEntry(const Project& project, std::string_view stem, journal::EntryKind kind, const std::string& channel,
                                      const std::string& date);

/// Structural edits: a new project each time. Ids are made from names.
[[nodiscard]] Project newProject();
[[nodiscard]] Project addChannel(Project project, ChannelKind kind, const std::string& name);
/// The same, with a cue of its own that a button starts (and that button, where there is no input
/// yet), so that the new channel can run at all.
[[nodiscard]] Project addRunningChannel(Project project, ChannelKind kind, const std::string& name);
[[nodiscard]] Project duplicateChannel(Project project, std::string_view id);
/// Also takes the channel out of cues, and with it the interlocks, followers and loops that are about it.
[[nodiscard]] Project removeChannel(Project project, std::string_view id);
/// @param to  new place in the list, clamped
[[nodiscard]] Project moveChannel(Project project, std::string_view id, int to);

}  // namespace hinge::project

// Compiled once, in project.cpp: else every file that copies one would compile it anew.
extern template class std::vector<hinge::project::Channel>;
extern template class std::vector<hinge::project::Input>;
extern template class std::vector<hinge::project::Spread>;
extern template class std::vector<hinge::power::Source>;
extern template class std::vector<hinge::power::Rail>;
extern template class std::vector<hinge::journal::WireNote>;
extern template class std::vector<hinge::journal::Check>;
extern template class std::vector<hinge::journal::Entry>;
extern template class std::vector<hinge::journal::WiringSnapshot>;
extern template class std::vector<hinge::journal::Sample>;
extern template class std::vector<hinge::journal::Stock>;
extern template class std::vector<hinge::journal::Care>;
extern template class std::vector<hinge::actuator::Part>;
extern template class std::vector<hinge::driver::DriverPart>;

#include "project/names_begin.hpp"
HINGE_NAMES(Stage, N{T::Need, "need", "Need"}, N{T::Match, "match", "Match"}, N{T::Feed, "feed", "Feed"}, N{T::Pins, "pins", "Pins"},
            N{T::Pulse, "pulse", "Pulse"}, N{T::Routine, "routine", "Routine"}, N{T::Code, "code", "Code"}, N{T::Tune, "tune", "Tune"},
            N{T::Prove, "prove", "Prove"}, N{T::Log, "log", "Log"});
HINGE_NAMES(Place, N{T::Indoors, "indoors", "indoors, dry"}, N{T::Wet, "wet", "near water"}, N{T::Outdoors, "outdoors", "outdoors"},
            N{T::ClosedBox, "closed-box", "in a closed box"});
HINGE_NAMES(BuildStyle, N{T::Breadboard, "breadboard", "breadboard"}, N{T::Modules, "modules", "plug-in modules"},
            N{T::Perfboard, "perfboard", "perfboard"}, N{T::OwnBoard, "own-board", "own board"},
            N{T::ScrewShield, "screw-shield", "screw shield"});
HINGE_NAMES(Nearby, N{T::AdultsOnly, "adults-only", "people who know it"}, N{T::Visitors, "visitors", "visitors"},
            N{T::Children, "children", "children"});
HINGE_NAMES(Colour, N{T::None, "none", "one colour"}, N{T::Red, "red", "red"}, N{T::Green, "green", "green"}, N{T::Blue, "blue", "blue"});
HINGE_NAMES(Matters, N{T::No, "no", "does not matter"}, N{T::Some, "some", "matters"}, N{T::Much, "much", "matters much"});
HINGE_NAMES(InputKind, N{T::Button, "button", "button"}, N{T::FloatSwitch, "float-switch", "float switch"},
            N{T::EndSwitch, "end-switch", "end switch"}, N{T::Sensor, "sensor", "sensor, yes or no"},
            N{T::Position, "position", "position of a selector"}, N{T::Knob, "knob", "knob"},
            N{T::Level, "level", "level: light, heat, position"}, N{T::Tach, "tach", "tach"}, N{T::Word, "word", "command word"},
            N{T::Number, "number", "number over the link"}, N{T::Counter, "counter", "counter"}, N{T::Days, "days", "days and dates"});
HINGE_NAMES(AtRest, N{T::Coast, "coast", "coasts"}, N{T::Brake, "brake", "brakes"});
HINGE_NAMES(ShareOf, N{T::Power, "power", "power"}, N{T::Volts, "volts", "rms volts"});
HINGE_NAMES(Wired, N{T::Usual, "usual", "as is usual for its kind"}, N{T::Contact, "contact", "a contact to ground"},
            N{T::OpenCollector, "open-collector", "an open collector"}, N{T::PoweredSensor, "powered-sensor", "a sensor with a supply"},
            N{T::Potentiometer, "potentiometer", "a potentiometer"}, N{T::Divider, "divider", "a divider of two resistors"},
            N{T::Thermistor, "thermistor", "a thermistor and a resistor"},
            N{T::CurrentTransformer, "current-transformer", "a current transformer with its burden"},
            N{T::ZeroCross, "zero-cross", "a coupler at the mains' zero crossings"},
            N{T::DriverLine, "driver-line", "a line of a driver: it stalls, or has a fault"},
            N{T::CurrentOutput, "current-output", "the current output of a driver"});
HINGE_NAMES(SafeState, N{T::Off, "off", "off, or standing still"}, N{T::On, "on", "on"}, N{T::Start, "start", "at the start of its move"});
HINGE_NAMES(Measures, N{T::Counts, "counts", "counts only"}, N{T::Temperature, "temperature", "a temperature"},
            N{T::Angle, "angle", "an angle"}, N{T::Length, "length", "a length or level"}, N{T::Current, "current", "a current"});
HINGE_NAMES(BusClock, N{T::None, "none", "none: set over the link"}, N{T::Bcd, "clock_bcd", "I²C clock, BCD, battery-backed"});
#undef HINGE_NAMES
