#include "simulation/simulate.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <sstream>
#include "quantity/csv.hpp"
#include "quantity/text.hpp"
#include "routine/machine.hpp"
#include "routine/quiet.hpp"
#include "simulation/happen.hpp"
#include "timing/time_of_day.hpp"

namespace hinge::simulation {

Result<std::vector<Event>> parseEvents(const std::string& csv) {
    std::vector<Event> events;
    const auto rows = csvRows(csv, "events");
    if (!rows) return tl::unexpected(rows.error());
    int number = 0;
    for (const auto& row : *rows) {
        ++number;
        if (row == CsvRow{"time", "what", "value"}) continue;
        const auto bad = [&](const std::string& why) {
            return fail(ErrorCode::BadFormat, fmt::format("events, line {}", number), joined(row, ",").substr(0, 60), why);
        };
        if (row.size() != 3) return bad("time,what,value");
        Event event;
        const auto time = parseQuantity(Kind::Duration, row[0]);
        if (!time || *time < 0.0) return bad("a time from power-up, such as 0.5");
        event.time = *time;
        const std::string &what = row[1], &value = row[2];
        if (what == "clock") {
            const auto space = value.find(' ');
            const auto clock = timing::parseTimeOfDay(value.substr(0, space));
            event.clock_lost = value == "lost";
            if (!clock && !event.clock_lost) return bad("a time of day, with a date after it where the days matter, or 'lost'");
            if (clock) event.clock = *clock;
            if (clock && space != std::string::npos) {
                const auto date = timing::parseDate(value.substr(space + 1));
                if (!date) return bad("a date such as 2026-11-25");
                event.date = *date;
            }
        } else if (what == "link") {
            event.link = true;
        } else if (what == "jam") {
            event.jam = value;
        } else if (what == "supply") {
            const auto share = parseQuantity(Kind::Fraction, value);
            if (!share || *share < 0.0 || *share > 1.5) return bad("a share of the source's volts, such as 80%");
            event.supply = *share;
        } else if (what == "stop") {
            event.stop = true;
        } else if (what == "power") {
            event.power_cut = true;
        } else if (what == "cue") {
            event.cue = value;
        } else {
            event.input = what;
            event.active = value == "1";
            if (value != "0" && value != "1") {
                if (const auto rate = parseQuantity(Kind::Frequency, value); rate && value.find("Hz") != std::string::npos) {
                    event.rate = *rate;
                    events.push_back(event);
                    continue;
                }
                const auto share = parseQuantity(Kind::Fraction, value);
                if (!share || *share < 0.0 || *share > 1.0) return bad("0 or 1 for an input, or a share such as 40% for a knob");
                event.reading = static_cast<int>(std::lround(*share * 1023.0));
                event.active = *event.reading > 0;
            }
        }
        events.push_back(event);
    }
    std::stable_sort(events.begin(), events.end(), [](const Event& a, const Event& b) { return a.time < b.time; });
    return events;
}

std::optional<Error> take(const routine::Program& program, const Event& event, routine::State& state, Inputs& inputs,
                          routine::Happening& happening) {
    const auto placeOf = [&](const auto& list, const std::string& id) {
        return std::find_if(list.begin(), list.end(), [&](const auto& each) { return each.id == id; }) - list.begin();
    };
    if (event.clock) {
        routine::setClock(state, *event.clock * routine::ticks_per_second);
        if (event.date) routine::setDate(state, event.date->year, event.date->month, event.date->day);
    } else if (event.clock_lost) {
        state->clock_set = state->date_set = false;
    } else if (event.link) {
        happening.link = true;
    } else if (!event.jam.empty() || event.supply) {
        return std::nullopt;  // the plants'
    } else if (event.stop) {
        happening.stop = true;
    } else if (event.power_cut) {
        state = routine::powerBack(program, state);
        inputs.unheard = inputs.told;
    } else if (!event.cue.empty()) {
        const auto cue = placeOf(program.cues, event.cue);
        if (cue == static_cast<std::ptrdiff_t>(program.cues.size()))
            return Error{ErrorCode::Unknown, "events", event.cue, "the id of a cue"};
        happening.start_cues.push_back(static_cast<int>(cue));
    } else {
        const auto input = static_cast<std::size_t>(placeOf(program.inputs, event.input));
        if (input == program.inputs.size())
            return Error{ErrorCode::Unknown, "events", event.input,
                         "the id of an input, 'cue', 'clock', 'link', 'jam', 'supply', 'stop' or 'power'"};
        const auto source = program.inputs[input].source;
        if (source == routine::InputSource::Word && event.active) happening.words.push_back(static_cast<int>(input));
        if (source == routine::InputSource::Number)
            happening.numbers.push_back({static_cast<int>(input), event.reading.value_or(event.active ? 1023 : 0)});
        if (event.rate) inputs.rates[input] = *event.rate;
        inputs.unheard = event.silent ? inputs.unheard | 1u << (input & 31) : inputs.unheard & ~(1u << (input & 31));
        inputs.active[input] = event.active ? 1 : 0;
        inputs.readings[input] = event.reading.value_or(event.active ? 1023 : 0);
    }
    return std::nullopt;
}

void Inputs::turn() {
    for (std::size_t i = 0; i < rates.size(); ++i) {
        phases[i] += rates[i] / 1000.0;
        pulses[i] = static_cast<std::int32_t>(phases[i]);
        phases[i] -= pulses[i];
    }
}

bool Inputs::pulsing() const {
    return std::any_of(rates.begin(), rates.end(), [](double rate) { return rate > 0.0; });
}

double sceneLength(const routine::Program& program, const std::vector<Event>& script) {
    double longest = 0.0;
    std::vector<double> lengths;
    for (const auto& cue : program.cues) {
        double length = 0.0;
        for (const auto& instruction : cue.instructions)
            if (instruction.operation == routine::Operation::Wait || instruction.operation == routine::Operation::Go ||
                instruction.operation == routine::Operation::Fade || instruction.operation == routine::Operation::Flicker ||
                instruction.operation == routine::Operation::Run || instruction.operation == routine::Operation::Turn)
                length += program.parameters[static_cast<std::size_t>(instruction.parameter)].value / 1000.0;
        lengths.push_back(length);
    }
    // With all that follow one another.
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        double length = lengths[c];
        int before = program.cues[c].after;
        for (std::size_t n = 0; before >= 0 && n < program.cues.size(); ++n) {
            length += lengths[static_cast<std::size_t>(before)];
            before = program.cues[static_cast<std::size_t>(before)].after;
        }
        longest = std::max(longest, length);
    }
    for (const auto& output : program.outputs)
        if (output.kind == routine::OutputKind::Switched)
            longest = std::max(longest, program.parameters[static_cast<std::size_t>(output.off_delay_parameter)].value / 1000.0);
    const double last = script.empty() ? 0.0 : script.back().time;
    return std::clamp((last + longest) * 1.15 + 1.0, 2.0, 600.0);
}

std::vector<Event> storyEvents(const routine::Program& program, const routine::InterlockProof& proof) {
    std::vector<Event> events;
    for (const auto& step : proof.replay) {
        Event event;
        event.time = static_cast<double>(step.tick - 1) / 1000.0;
        if (step.stop) event.stop = true;
        else if (step.power) event.power_cut = true;
        else if (step.input >= 0)
            event.input = program.inputs[static_cast<std::size_t>(step.input)].id, event.active = step.active, event.silent = step.silent;
        else event.cue = program.cues[static_cast<std::size_t>(step.start_cue)].id;
        events.push_back(std::move(event));
    }
    return events;
}

namespace {

// One scene as it is played: the routine's state, what its inputs see, and the machines that stand in.
class Scene {
public:
    Scene(const routine::Program& program, const std::vector<plant::PumpFigures>& figures, const Options& options);
    Result<Traces> play();

private:
    void sample();
    void note();
    void turnMachines(double time);
    std::optional<Error> takeEvents(routine::Happening& happening);
    void jam(const std::string& id);
    std::optional<Error> tick();
    /// What switched in the tick is noted, the pumps go on; whether anything still moves.
    bool follow(const std::vector<bool>& before);
    bool switched(std::size_t output, bool before);
    [[nodiscard]] std::vector<bool> onNow() const;
    [[nodiscard]] bool isQuiet(bool moving, std::int32_t until_something) const;
    void jump(bool moving);

    const routine::Program& program_;
    const Options& options_;
    std::vector<plant::PumpPlant> plants_;
    routine::State state_;
    routine::Machine machine_;
    Inputs inputs_;
    plant::Bench bench_;
    std::vector<double> shares_, places_;
    std::vector<std::uint8_t> loose_;
    std::vector<std::uint8_t> jammed_;
    double supply_ = 1.0;
    bool steps_;  ///< else nothing but counters goes on between two changes
    std::int64_t last_, now_ = 0, next_sample_ = 0;
    std::size_t next_event_ = 0;
    Traces traces_;
};

Scene::Scene(const routine::Program& program, const std::vector<plant::PumpFigures>& figures, const Options& options)
    : program_(program),
      options_(options),
      plants_(figures.begin(), figures.end()),
      state_(routine::powerUp(program)),
      machine_{program},
      inputs_(program),
      bench_{unscripted(options.machines, program, options.events)},
      shares_(program.outputs.size(), 0.0),
      places_(program.outputs.size(), 0.0),
      loose_(program.outputs.size(), 0),
      jammed_(program.outputs.size(), 0),
      steps_(!plants_.empty() || !bench_.empty()),
      last_(std::llround(options.length * 1000.0)) {
    if (options.as_proved)
        for (const auto& event : options.events)
            for (std::size_t i = 0; i < program.inputs.size() && i < 32; ++i)
                if (program.inputs[i].id == event.input) inputs_.told |= 1u << i;
    inputs_.unheard = inputs_.told;
    traces_.length = options.length;
}

void Scene::sample() {
    Sample s;
    s.time = static_cast<double>(now_) / 1000.0;
    for (std::size_t o = 0; o < state_.outputs(); ++o)
        s.duty.push_back(routine::driveOf(program_, state_, o)),
            s.places.push_back(routine::shareOf(program_.outputs[o], state_.output(o).level));
    if (const auto* pump = plant::pouring(plants_)) s.poured = pump->poured(), s.tank = pump->tank();
    traces_.samples.push_back(std::move(s));
}

void Scene::turnMachines(double time) {
    if (bench_.empty()) return;
    for (std::size_t o = 0; o < shares_.size(); ++o) {
        const double rate = program_.outputs[o].step_rate;
        shares_[o] = routine::signedDriveOf(program_, state_, o);
        loose_[o] = routine::coasts(program_, state_, o) ? 1 : 0;
        places_[o] = rate > 0.0 ? places_[o] + shares_[o] * rate * time : state_.output(o).level;
    }
    for (const auto& reading : bench_.step(time, shares_, places_, loose_)) {
        const auto i = static_cast<std::size_t>(reading.input);
        if (reading.tach) inputs_.rates[i] = reading.value;
        else inputs_.readings[i] = static_cast<std::int32_t>(reading.value);
    }
}

// How each output is driven, where it has changed.
void Scene::note() {
    plan::DriveChange change{static_cast<double>(now_) / 1000.0, plan::phasesOf(program_, state_), {}, supply_};
    change.shares.assign(program_.outputs.size(), 1.0F);
    for (std::size_t o = 0; o < program_.outputs.size(); ++o) {
        auto& phase = change.phases[o];
        if (jammed_[o] != 0 && (phase == plan::Phase::On || phase == plan::Phase::Moving)) phase = plan::Phase::Jammed;
        if (program_.outputs[o].kind != routine::OutputKind::Switched || !routine::isOn(program_, state_, o)) continue;
        const auto own = program_.parameters[static_cast<std::size_t>(program_.outputs[o].duty_parameter)].value;
        // In fiftieths: a fade is told in as many changes.
        if (own > 0) change.shares[o] = static_cast<float>(std::lround(50.0 * routine::givenPermille(program_, state_, o) / own)) / 50.0F;
    }
    if (traces_.changes.empty() || traces_.changes.back().phases != change.phases || traces_.changes.back().shares != change.shares ||
        traces_.changes.back().supply != change.supply)
        traces_.changes.push_back(std::move(change));
}

std::vector<bool> Scene::onNow() const {
    std::vector<bool> on(state_.outputs());
    for (std::size_t o = 0; o < on.size(); ++o) on[o] = routine::isOn(program_, state_, o);
    return on;
}

// Jammed, or freed again.
void Scene::jam(const std::string& id) {
    for (std::size_t o = 0; o < program_.outputs.size(); ++o) {
        if (program_.outputs[o].id != id) continue;
        jammed_[o] ^= 1;
        if (o < plants_.size()) plants_[o].jam(jammed_[o] != 0);
        bench_.disturb(static_cast<int>(o), jammed_[o] != 0 ? 1.0 : 0.0);
    }
}

std::optional<Error> Scene::takeEvents(routine::Happening& happening) {
    while (next_event_ < options_.events.size() && options_.events[next_event_].time * 1000.0 <= static_cast<double>(now_) + 1e-6) {
        const auto& event = options_.events[next_event_++];
        const auto was = onNow();
        if (const auto error = take(program_, event, state_, inputs_, happening)) return error;
        if (event.supply) supply_ = *event.supply;
        if (!event.jam.empty()) jam(event.jam);
        for (std::size_t o = 0; o < was.size(); ++o)
            if (event.power_cut && was[o]) traces_.switchings.push_back({static_cast<double>(now_) / 1000.0, static_cast<int>(o), false});
    }
    return std::nullopt;
}

std::optional<Error> Scene::tick() {
    routine::Happening happening;
    if (const auto error = takeEvents(happening)) return error;
    happening.values = inputs_.readings;
    happening.pin_active = inputs_.active;
    inputs_.turn();
    happening.pulses = inputs_.pulses;
    const auto before = onNow();
    happening.debounced = options_.as_proved;
    happening.unheard = inputs_.unheard;
    machine_.tick(state_, happening, !options_.as_proved);
    ++now_;
    turnMachines(1e-3);
    note();
    const bool moving = follow(before);
    if (now_ >= next_sample_ && moving) {
        sample();
        next_sample_ = now_ + std::max<std::int64_t>(1, std::llround(options_.sample_every * 1000.0));
    }
    jump(moving);
    return std::nullopt;
}

// Told where an output is on or off otherwise than before.
bool Scene::switched(std::size_t o, bool before) {
    const bool on = routine::isOn(program_, state_, o);
    if (before == on) return false;
    traces_.switchings.push_back({static_cast<double>(now_) / 1000.0, static_cast<int>(o), on, on && state_.output(o).back != 0});
    return true;
}

bool Scene::follow(const std::vector<bool>& before) {
    bool moving = false;
    for (std::size_t o = 0; o < state_.outputs(); ++o) {
        const bool on = routine::isOn(program_, state_, o);
        if (switched(o, before[o])) next_sample_ = now_;
        if (o < plants_.size()) {
            plants_[o].step(1e-3, supply_ * routine::driveOf(program_, state_, o));
            moving = moving || (program_.outputs[o].kind == routine::OutputKind::Switched && plants_[o].speed() > 1e-4);
        }
        moving = moving || (on && steps_);
    }
    return moving;
}

bool Scene::isQuiet(bool moving, std::int32_t until_something) const {
    bool quiet = !moving && (options_.as_proved || until_something > 0);
    if (!options_.as_proved) return quiet;
    for (std::size_t c = 0; c < state_.cues(); ++c) quiet = quiet && state_.cue(c).place < 0;
    for (std::size_t o = 0; o < state_.outputs(); ++o) quiet = quiet && state_.output(o).off_delay == 0;
    for (std::size_t i = 0; i < inputs_.active.size(); ++i) quiet = quiet && state_.input(i).active == inputs_.active[i];
    return quiet;
}

// Where nothing moves, nothing waits and every input is believed: to what comes next.
void Scene::jump(bool moving) {
    const std::int32_t until_something =
        options_.as_proved || inputs_.pulsing() ? 0 : routine::quietTicks(program_, state_, inputs_.active, true, inputs_.readings);
    if (!isQuiet(moving, until_something)) return;
    std::int64_t ahead = last_ - now_;
    if (next_event_ < options_.events.size())
        ahead = std::min(ahead, static_cast<std::int64_t>(std::floor(options_.events[next_event_].time * 1000.0)) - now_);
    if (!options_.as_proved) ahead = std::min<std::int64_t>(ahead, until_something);
    if (ahead <= 1) return;
    if (steps_) sample();
    now_ += ahead;
    // A fade from nothing may come on in a leap: it is no longer than the fade's time for a permille, and told at its end.
    const auto before = onNow();
    if (!options_.as_proved) routine::skip(program_, state_, static_cast<std::int32_t>(ahead));
    for (std::size_t o = 0; o < before.size(); ++o) (void)switched(o, before[o]);
    turnMachines(static_cast<double>(ahead) * 1e-3);
    if (steps_) sample();
}

Result<Traces> Scene::play() {
    note();
    sample();
    while (now_ < last_) {
        if (options_.cancel != nullptr && (now_ & 0x3fff) == 0 && options_.cancel->load())
            return fail(ErrorCode::Cancelled, "simulate", "", "");
        if (const auto error = tick()) return tl::unexpected(*error);
    }
    sample();
    return std::move(traces_);
}

}  // namespace

Result<Traces> simulate(const routine::Program& program, const std::vector<plant::PumpFigures>& figures, const Options& options) {
    return Scene(program, figures, options).play();
}

std::vector<int> startsOf(const routine::Program& program, const std::vector<Event>& script, double length) {
    Options options;
    options.length = length;
    options.events = script;
    const auto traces = simulate(program, {}, options);
    if (!traces) return {};
    std::vector<int> starts(program.outputs.size(), 0);
    for (const auto& switching : traces->switchings)
        if (switching.on) ++starts[static_cast<std::size_t>(switching.output)];
    return starts;
}

}  // namespace hinge::simulation
