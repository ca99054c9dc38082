#pragma once
// The gadget over time: the routine interpreted, the pumps and the tank stepped with it.
#include <atomic>
#include <optional>
#include <string>
#include <vector>
#include "plan/supply.hpp"
#include "plant/bench.hpp"
#include "plant/pump_plant.hpp"
#include "timing/calendar.hpp"

namespace hinge::simulation {

/// Something that happens to the gadget at a time.
struct Event {
    double time = 0.0;  ///< s from power-up
    std::string input;  ///< id; empty for the others
    bool active = false;
    std::string cue;           ///< started over the link
    std::optional<int> clock;  ///< set to these seconds after midnight
    bool stop = false;
    bool power_cut = false;        ///< power goes and comes back: the power-up state
    std::optional<int> reading;    ///< of an analogue input, or sent over the link, 0 … 1023
    std::optional<double> rate;    ///< Hz at a tach
    bool clock_lost = false;       ///< its battery was empty: the time is not known
    bool link = false;             ///< the link speaks; after it, silence
    std::string jam;               ///< channel that is held fast from now on, or free again
    std::optional<double> supply;  ///< share of its volts that the source still gives: a flat cell
    std::optional<timing::Date> date = std::nullopt;
    bool silent = false;  ///< as proved: a number has fallen silent
};
/// "time,what,value" lines: "0.5,start,1", "2,knob,40%", "2,tach,120 Hz", "3,clock,14:29:50 2026-11-25", "3,clock,lost", "4,link,",
/// "5,jam,rain", "6,supply,80%", "9,stop,", "12,power,".
/// @error BadFormat  naming the line
[[nodiscard]] Result<std::vector<Event>> parseEvents(const std::string& csv);

/// How the inputs stand, from event to event.
struct Inputs {
    std::vector<std::uint8_t> active;
    std::vector<std::int32_t> readings;
    std::vector<double> rates, phases;    ///< Hz at a tach, and the part of a pulse that has gone
    std::uint32_t told = 0, unheard = 0;  ///< as proved: inputs that the story reads, and of them those not read yet; one bit each
    std::vector<std::int32_t> pulses;     ///< of the tick to come
    explicit Inputs(const routine::Program& program)
        : active(program.inputs.size(), 0),
          readings(program.inputs.size(), 0),
          rates(program.inputs.size(), 0.0),
          phases(program.inputs.size(), 0.0),
          pulses(program.inputs.size(), 0) {}
    /// Gives the next tick its pulses.
    void turn();
    /// True while pulses come: no tick may be leapt over where a loop counts them.
    [[nodiscard]] bool pulsing() const;
};
/// Lets an event come: into the state (clock, power), the inputs, or what happens in the next tick.
/// @return nullopt, or the error Unknown: it names an input or cue that is not there
[[nodiscard]] std::optional<Error> take(const routine::Program& program, const Event& event, routine::State& state, Inputs& inputs,
                                        routine::Happening& happening);

/// One sample, kept where something changes.
struct Sample {
    double time = 0.0;
    std::vector<double> duty;  ///< per output
    double poured = 0.0;       ///< m³, first pump
    double tank = 0.0;
    std::vector<double> places = {};  ///< per output: share of what it can be: of full power, or of the way of its move
};
struct Switching {
    double time = 0.0;
    int output = -1;
    bool on = false;
    bool back = false;  ///< on the other way round
};
struct Traces {
    std::vector<Sample> samples;
    std::vector<Switching> switchings;
    std::vector<plan::DriveChange>
        changes;          ///< what the outputs do, from change to change; what they draw is the supply's (supply_day.hpp)
    double length = 0.0;  ///< s
};

struct Options {
    double length = 30.0;  ///< s
    std::vector<Event> events;
    double sample_every = 0.01;                  ///< s while something moves
    std::vector<plant::Coupling> machines = {};  ///< that loops hold: they give their inputs' readings, unless the script does
    bool as_proved = false;                      ///< inputs taken as debounced and the interlocks' last stage off, as the proof sees it
    const std::atomic<bool>* cancel = nullptr;
};
/// How long a scene to play [s]: the script and the longest cue that it starts, with a little room;
/// at most 600 s.
[[nodiscard]] double sceneLength(const routine::Program& program, const std::vector<Event>& script);
/// A counter-example as events, to be played with Options::as_proved.
[[nodiscard]] std::vector<Event> storyEvents(const routine::Program& program, const routine::InterlockProof& proof);

/// Steps tick by tick while a plant moves and jumps over the times when nothing can happen; without plants and machines it
/// jumps from change to change.
/// @error Unknown    an event names an input or cue that is not there
/// @error Cancelled
[[nodiscard]] Result<Traces> simulate(const routine::Program& program, const std::vector<plant::PumpFigures>& plants,
                                      const Options& options);

/// How often each output of a program goes on under a script; no plants, no currents.
[[nodiscard]] std::vector<int> startsOf(const routine::Program& program, const std::vector<Event>& script, double length);

}  // namespace hinge::simulation
