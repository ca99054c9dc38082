#pragma once
// The plan: every number, verdict and reason that follows from a project.
#include <array>
#include <memory>
#include <optional>
#include <string>
#include <vector>
#include "driver/expander_rate.hpp"
#include "match/rank.hpp"
#include "project/facts.hpp"
#include "quantity/shared.hpp"
#include "routine/compile.hpp"
#include "routine/prove.hpp"
#include "timing/dead_time.hpp"
#include "timing/pwm_timer.hpp"

namespace hinge::plan {

using kinds::Remedy;
using kinds::ShownWorking;
using kinds::SignalKind;
using project::Stage;

/// Which family of colour a figure belongs to: mechanics, electricity or time.
enum class Family { Hinge, Spark, Time };

/// One cell of the crossbar.
struct Cell {
    std::string figure;
    std::string small;
    std::string why;  ///< what decided the verdict, in one sentence
    Verdict verdict = Verdict::Unknown;
    bool to_do = false;           ///< not known only because it was not built, run, proved or measured yet: no fact is missing
    std::optional<double> share;  ///< value over limit, for the headroom bar
    Family family = Family::Hinge;
};

struct PlanFinding {
    std::string id;
    Severity severity = Severity::Note;
    Stage stage = Stage::Need;
    std::string channel;  ///< empty: the whole gadget
    std::string text;
    std::vector<Remedy> remedies;
};

/// Something the maker has still to measure or decide.
struct Missing {
    std::string path;
    std::string label;
    std::string how;
    Stage stage = Stage::Need;
    std::string channel;
};

/// Pulses of a servo's move or a stepper's.
struct MotionPlan {
    // servo
    std::optional<Duration> pulse_from, pulse_to;
    std::optional<double> pulse_per_angle;  ///< s of pulse per radian of the load
    // servo that turns on
    std::optional<Duration> pulse_still, pulse_span;  ///< at which it stands still; from there to its full speed, either way
    // stepper
    std::optional<Count> steps;          ///< of one move
    std::optional<Frequency> step_rate;  ///< mean over the move; of one that goes on: at the speed asked
    std::optional<Frequency> peak_rate;  ///< at its fastest, as the sketch goes: triangular, or even where it takes more than a minute
};

/// What a mains switch lets through: a part of each half wave, or whole cycles.
struct MainsPlan {
    Voltage volts{};  ///< rms
    Frequency frequency{};
    Fraction share{};               ///< of full power, as wanted
    bool to_hold = false;           ///< the share is what holding the temperature takes, not a setting
    std::optional<Duration> delay;  ///< phase control: after the crossing
    std::optional<Duration> until;  ///< and to when its gate is held, from the crossing
    std::optional<Duration> early;  ///< and how long before the crossing its edge comes
    std::string pattern;            ///< zero-crossing: "100100", a cycle each
    int together = 1;               ///< cycles that the sketch gives or withholds together
};

/// What a driver whose settings are registers is told at start.
struct RegisterPlan {
    const driver::RegisterMap* map = nullptr;
    std::vector<driver::RegisterWrite> writes;  ///< empty: `refused` says why
    std::string refused;
    friend bool operator==(const RegisterPlan&, const RegisterPlan&) = default;
};

/// An output of a board of more lines.
struct ExpanderPlan {
    const driver::RegisterMap* map = nullptr;
    int output = -1;                           ///< -1: the pin names none
    int board = 1;                             ///< which of several alike
    std::optional<driver::ExpanderRate> rate;  ///< of the pulses of all its outputs; absent: it gives none, or none that are asked of it
    [[nodiscard]] bool sharesBoard(const ExpanderPlan& other) const { return map == other.map && board == other.board; }
    friend bool operator==(const ExpanderPlan&, const ExpanderPlan&) = default;
};

/// Where such a pin lies; nullopt: the table describes no board of more lines. @param pin  "X3"
[[nodiscard]] std::optional<ExpanderPlan> expanderAt(std::string_view table, Count board, std::string_view pin);

/// A channel's numbers.
struct ChannelPlan {
    std::string id;
    std::string name;
    std::array<Cell, project::stageCount> cells;
    Shared<match::Context> context;
    Shared<match::Pairing> chosen;
    std::vector<match::Protection> protection;  ///< that goes with the choice
    SignalKind signal = SignalKind::Unknown;
    bool both_ways = false;   ///< its driver can turn it round
    bool two_inputs = false;  ///< its bridge can be told to coast or to brake: it has an input for each end of the motor (the channel's
                              ///< pin, and its direction pin), or for each switch
    int switched_ends = 0;    ///< ends of its bridge of whose two switches each has an input of its own: 0, 1 or 2
    bool inverted = false;    ///< the pin is low while the load is on: a transistor pulls a 4-wire fan's PWM wire down
    std::string not_driven;   ///< why the sketch cannot command it as it is planned; empty: it can, or waits for a figure
    std::optional<timing::PwmTimerResult> pwm;
    std::optional<timing::PwmTimerResult> second_pwm;        ///< of a bridge's second input
    std::optional<timing::DeadTimeResult> second_dead_time;  ///< of the other end, whose timer may count otherwise
    std::optional<timing::DeadTimeResult> dead_time;         ///< between the two switches of an end
    std::optional<ExpanderPlan> expander;                    ///< that it hangs on
    std::optional<RegisterPlan> registers;                   ///< of a driver that has some
    std::optional<Duration> latch;                           ///< of a coil that latches: each of its pulses
    MotionPlan motion;
    std::optional<MainsPlan> mains;
    std::optional<Duration> dose_time;  ///< pump on, first to last edge
    /// The share of the time for which its switch is closed when so much of its full power is asked for: less, where dead times take some.
    [[nodiscard]] Fraction closedFor(Fraction power) const { return dead_time ? of<Fraction>(si(power) * si(dead_time->most)) : power; }
    std::optional<VolumeFlow> measured_flow;
};

/// A rail's volts and amps.
struct RailPlan {
    std::string id;
    std::string name;
    std::optional<Voltage> voltage;  ///< without load
    std::optional<Voltage> lowest;   ///< while starting
    std::optional<Current> rest;
    std::optional<Current> running;
    std::optional<Current> starting;
    std::optional<Current> stalled;
    Resistance wire{};
    std::optional<Current> most;       ///< into it at the worst coincidence that the cues allow
    std::optional<Voltage> least;      ///< the lowest it comes to then
    std::optional<Duration> least_at;  ///< from the coincidence
    std::string culprits;              ///< who draws then, the largest first
    Verdict verdict = Verdict::Unknown;
};

/// How long cells last, stepped under the gadget's own days.
struct BatteryPlan {
    std::string source;
    Duration runtime{};
    Fraction left{};      ///< of the usable charge when it ends
    bool by_sag = false;  ///< ended by too few volts under load, not by empty cells
    Current idle{};       ///< while nothing moves
    Current average{};
    Fraction idle_share{};  ///< of the charge that goes while nothing moves
};

/// A pin and what sits on it.
struct PinUse {
    std::string pin;
    std::string user;  ///< channel or input id
    std::string role;  ///< "drives Rain", "reads Start"
    Verdict verdict = Verdict::Holds;
    bool output = false;
};

struct Headline {
    struct Source {
        std::string name;
        std::optional<Current> worst;     ///< as worst_current, of this one
        std::optional<Current> promised;  ///< nullopt: nothing is printed on it, or its cells are what limits it
    };
    std::string name;
    std::vector<Source> sources;  ///< the nearest to its end first; those that stand instead of another left out
    std::optional<Current>
        worst_current;  ///< out of the first of `sources` at the worst coincidence; all starting together where no routine says more
    bool worst_by_routine = false;
    std::optional<Current> source_current;
    std::optional<Duration> battery_life;
    std::optional<Voltage> lowest_logic;
    std::optional<Voltage> logic_floor;
    int breaks = 0;
    int tight = 0;
    int unknown = 0;  ///< cells in which something has to be found out
    int to_do = 0;    ///< cells in which only work is left
};

/// What was found out by longer work: proof of the interlocks, compile of the sketch.
struct Evidence {
    std::optional<std::vector<routine::InterlockProof>> proofs;
    struct Build {
        bool ok = false;
        int flash = 0;  ///< bytes
        int ram = 0;
        std::string log;
    };
    std::optional<Build> build;
    bool compiler_missing = false;
};

struct Apart;
struct ChannelStage;
struct CueProfiles;
struct PinOffer;
struct SagCures;
struct StudiedSupply;

struct Plan {
    Headline headline;
    std::vector<ChannelPlan> channels;
    std::vector<RailPlan> rails;
    std::optional<BatteryPlan> battery;
    std::vector<RailPlan> sources;  ///< the same for what feeds them
    std::vector<PinUse> pins;
    std::vector<std::shared_ptr<const ChannelStage>> stages;  ///< as channels: Need and Match of each, as they were run (channel_stage.hpp)
    std::vector<std::shared_ptr<const Plan>> otherwise;       ///< fed by each other source, in each other charge state
    std::shared_ptr<const StudiedSupply> studied;             ///< the supply as it is drawn, under the worst of the routine (supply.hpp)
    std::vector<std::shared_ptr<const SagCures>> cures;       ///< of rails that fall too low (sag_cures.hpp)
    std::shared_ptr<const PinOffer> pin_offer;  ///< what was asked of the board for lines without a pin, and what was said (pin_plan.hpp)
    std::vector<PlanFinding> findings;          ///< worst first
    std::vector<ShownWorking> workings;         ///< of what follows Match; all: allWorkings()
    std::vector<Missing> missing;
    std::shared_ptr<const Apart> apart;  ///< where a channel has several outputs: what is planned of each (apart.hpp); else nullptr
    std::optional<routine::Program> program;
    std::shared_ptr<const CueProfiles> profiles;  ///< what each of its cues does alone (supply.hpp); with a program
    std::optional<Error> program_error;
    std::optional<std::vector<routine::InterlockProof>> proofs;
    Verdict verdict = Verdict::Unknown;
};

/// Turns decisions into a plan. Pure: the same project, parts and evidence give the same plan.
/// @param before  a plan made earlier, of this project or another: what is the same again is taken from it; nullptr: none. It gives
///                the same plan sooner
[[nodiscard]] Plan evaluate(const project::Project& project, const project::Parts& parts, const Evidence& evidence = {},
                            const Plan* before = nullptr);
/// Takes out the remedies that would not cure, or would leave a stop that was not there, each tried on the whole plan (a few milliseconds
/// each), and of several parts all but the first that is sound. For where somebody reads them; evaluate() itself offers all.
void dropUnsound(const project::Project& project, const project::Parts& parts, Plan& plan);
/// Every working of the plan, Need first.
[[nodiscard]] std::vector<ShownWorking> allWorkings(const Plan& plan);
[[nodiscard]] const ChannelPlan* findChannel(const Plan& plan, std::string_view id);
/// True when cues can drive it: anything switched, and what is sent to places once its pulses are known.
[[nodiscard]] bool isDriven(const ChannelPlan& channel);
/// True for a servo or a stepper: sent to places, not switched.
[[nodiscard]] bool isPlaced(const ChannelPlan& channel);
/// Whether it is commanded by a servo's pulses or by steps, wherever they are made.
[[nodiscard]] bool isPulsed(const ChannelPlan& channel);
/// Whether its pulses or steps beat on a timer of the sketch's own.
[[nodiscard]] bool isBeaten(const ChannelPlan& channel);
/// Whether a person hears what is chopped so often: 20 Hz to 18 kHz.
[[nodiscard]] bool isHeard(Frequency frequency);
/// The heading under which a safety finding stands in the brief and the report ("Water near
/// electricity"); nullptr for findings that are no hazard.
[[nodiscard]] const char* hazardTitle(std::string_view finding_id);
/// Findings as they are read: those that say the same of several channels are one, with all names at its head.
[[nodiscard]] std::vector<PlanFinding> together(const std::vector<PlanFinding>& findings, const std::vector<ChannelPlan>& channels);
/// The worst verdict of a channel's cells, for its mark.
[[nodiscard]] Verdict worst(const ChannelPlan& channel);

}  // namespace hinge::plan

// Compiled once, in evaluate.cpp: else every file that copies one would compile it anew.
extern template class std::vector<hinge::plan::Remedy>;
extern template class std::vector<hinge::plan::ChannelPlan>;
extern template class std::vector<hinge::plan::RailPlan>;
extern template class std::vector<hinge::plan::PinUse>;
extern template class std::vector<hinge::plan::PlanFinding>;
extern template class std::vector<hinge::plan::ShownWorking>;
extern template class std::vector<hinge::plan::Missing>;
