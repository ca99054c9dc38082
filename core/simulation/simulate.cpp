#include "simulation/simulate.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <sstream>
#include "quantity/text.hpp"
#include "routine/machine.hpp"
#include "routine/quiet.hpp"
#include "simulation/happen.hpp"
#include "timing/time_of_day.hpp"

namespace hinge::simulation {

Result<std::vector<Event>> parseEvents(const std::string& csv) {
    std::vector<Event> events;
    std::istringstream lines(csv);
    std::string line;
    int number = 0;
    while (std::getline(lines, line)) {
        ++number;
        if (!line.empty() && line.back() == '\r') line.pop_back();
        if (line.empty() || line == "time,what,value") continue;
        const auto bad = [&](const std::string& why) {
            return fail(ErrorCode::BadFormat, fmt::format("events, line {}", number), line.substr(0, 60), why);
        };
        const auto first = line.find(',');
        const auto second = first == std::string::npos ? first : line.find(',', first + 1);
        if (second == std::string::npos) return bad("time,what,value");
        Event event;
        const auto time = parseQuantity(Kind::Duration, line.substr(0, first));
        if (!time || *time < 0.0) return bad("a time from power-up, such as 0.5");
        event.time = *time;
        const std::string what = line.substr(first + 1, second - first - 1);
        const std::string value = line.substr(second + 1);
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
    for (const auto& cue : program.cues) {
        double length = 0.0;
        for (const auto& instruction : cue.instructions)
            if (instruction.operation == routine::Operation::Wait || instruction.operation == routine::Operation::Go ||
                instruction.operation == routine::Operation::Fade || instruction.operation == routine::Operation::Flicker ||
                instruction.operation == routine::Operation::Run || instruction.operation == routine::Operation::Turn)
                length += program.parameters[static_cast<std::size_t>(instruction.parameter)].value / 1000.0;
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

Result<Traces> simulate(const routine::Program& program, const std::vector<plant::PumpFigures>& figures, const Options& options) {
    std::vector<plant::PumpPlant> plants(figures.begin(), figures.end());
    routine::State state = routine::powerUp(program);
    const routine::Machine machine{program};
    Inputs inputs(program);
    if (options.as_proved)
        for (const auto& event : options.events)
            for (std::size_t i = 0; i < program.inputs.size() && i < 32; ++i)
                if (program.inputs[i].id == event.input) inputs.told |= 1u << i;
    inputs.unheard = inputs.told;
    Traces traces;
    traces.length = options.length;
    const auto last = static_cast<std::int64_t>(std::llround(options.length * 1000.0));
    std::int64_t now = 0;
    std::size_t next_event = 0;
    std::int64_t next_sample = 0;
    const auto sample = [&] {
        Sample s;
        s.time = static_cast<double>(now) / 1000.0;
        for (std::size_t o = 0; o < state.outputs(); ++o)
            s.duty.push_back(routine::driveOf(program, state, o)),
                s.places.push_back(routine::shareOf(program.outputs[o], state.output(o).level));
        if (const auto* pump = plant::pouring(plants)) s.poured = pump->poured(), s.tank = pump->tank();
        traces.samples.push_back(std::move(s));
    };
    plant::Bench bench{unscripted(options.machines, program, options.events)};
    std::vector<double> shares(program.outputs.size(), 0.0), places(program.outputs.size(), 0.0);
    const auto turnMachines = [&](double time) {
        if (bench.empty()) return;
        for (std::size_t o = 0; o < shares.size(); ++o) {
            const double rate = program.outputs[o].step_rate;
            shares[o] = routine::signedDriveOf(program, state, o);
            places[o] = rate > 0.0 ? places[o] + shares[o] * rate * time : state.output(o).level;
        }
        for (const auto& reading : bench.step(time, shares, places)) {
            const auto i = static_cast<std::size_t>(reading.input);
            if (reading.tach) inputs.rates[i] = reading.value;
            else inputs.readings[i] = static_cast<std::int32_t>(reading.value);
        }
    };
    double supply = 1.0;
    std::vector<std::uint8_t> jammed(program.outputs.size(), 0);
    const auto note = [&] {
        plan::DriveChange change{static_cast<double>(now) / 1000.0, plan::phasesOf(program, state), {}, supply};
        change.shares.assign(program.outputs.size(), 1.0F);
        for (std::size_t o = 0; o < program.outputs.size(); ++o) {
            auto& phase = change.phases[o];
            if (jammed[o] != 0 && (phase == plan::Phase::On || phase == plan::Phase::Moving)) phase = plan::Phase::Jammed;
            if (program.outputs[o].kind != routine::OutputKind::Switched || !routine::isOn(program, state, o)) continue;
            const auto own = program.parameters[static_cast<std::size_t>(program.outputs[o].duty_parameter)].value;
            // In fiftieths: a fade is told in as many changes.
            if (own > 0) change.shares[o] = static_cast<float>(std::lround(50.0 * routine::givenPermille(program, state, o) / own)) / 50.0F;
        }
        if (traces.changes.empty() || traces.changes.back().phases != change.phases || traces.changes.back().shares != change.shares ||
            traces.changes.back().supply != change.supply)
            traces.changes.push_back(std::move(change));
    };
    const bool steps = !plants.empty() || !bench.empty();  // else nothing but counters goes on between two changes
    note();
    sample();
    while (now < last) {
        if (options.cancel != nullptr && (now & 0x3fff) == 0 && options.cancel->load())
            return fail(ErrorCode::Cancelled, "simulate", "", "");
        routine::Happening happening;
        while (next_event < options.events.size() && options.events[next_event].time * 1000.0 <= static_cast<double>(now) + 1e-6) {
            const auto& event = options.events[next_event++];
            std::vector<bool> was(state.outputs());
            for (std::size_t o = 0; o < was.size(); ++o) was[o] = routine::isOn(program, state, o);
            if (const auto error = take(program, event, state, inputs, happening)) return tl::unexpected(*error);
            if (event.supply) supply = *event.supply;
            for (std::size_t o = 0; o < program.outputs.size() && !event.jam.empty(); ++o) {
                if (program.outputs[o].id != event.jam) continue;
                jammed[o] ^= 1;
                if (o < plants.size()) plants[o].jam(jammed[o] != 0), bench.disturb(static_cast<int>(o), jammed[o] != 0 ? 1.0 : 0.0);
            }
            for (std::size_t o = 0; o < was.size(); ++o)
                if (event.power_cut && was[o]) traces.switchings.push_back({static_cast<double>(now) / 1000.0, static_cast<int>(o), false});
        }
        happening.values = inputs.readings;
        happening.pin_active = inputs.active;
        inputs.turn();
        happening.pulses = inputs.pulses;
        std::vector<bool> before(state.outputs());
        for (std::size_t o = 0; o < before.size(); ++o) before[o] = routine::isOn(program, state, o);
        happening.debounced = options.as_proved;
        happening.unheard = inputs.unheard;
        machine.tick(state, happening, !options.as_proved);
        ++now;
        turnMachines(1e-3);
        note();
        bool moving = false;
        for (std::size_t o = 0; o < state.outputs(); ++o) {
            const bool on = routine::isOn(program, state, o);
            if (before[o] != on) {
                traces.switchings.push_back({static_cast<double>(now) / 1000.0, static_cast<int>(o), on, on && state.output(o).back != 0});
                next_sample = now;
            }
            if (o < plants.size()) {
                plants[o].step(1e-3, supply * routine::driveOf(program, state, o));
                moving = moving || (program.outputs[o].kind == routine::OutputKind::Switched && plants[o].speed() > 1e-4);
            }
            moving = moving || (on && steps);
        }
        if (now >= next_sample && moving) {
            sample();
            next_sample = now + std::max<std::int64_t>(1, std::llround(options.sample_every * 1000.0));
        }
        // Nothing moves, nothing waits, every input is believed: jump to what comes next.
        const std::int32_t until_something = options.as_proved || (inputs.pulsing() && !program.loops.empty())
                                                 ? 0
                                                 : routine::quietTicks(program, state, inputs.active, true, inputs.readings);
        bool quiet = !moving && (options.as_proved || until_something > 0);
        if (options.as_proved) {
            for (std::size_t c = 0; c < state.cues(); ++c) quiet = quiet && state.cue(c).place < 0;
            for (std::size_t o = 0; o < state.outputs(); ++o) quiet = quiet && state.output(o).off_delay == 0;
            for (std::size_t i = 0; i < inputs.active.size(); ++i) quiet = quiet && state.input(i).active == inputs.active[i];
        }
        if (!quiet) continue;
        std::int64_t ahead = last - now;
        if (next_event < options.events.size())
            ahead = std::min(ahead, static_cast<std::int64_t>(std::floor(options.events[next_event].time * 1000.0)) - now);
        if (!options.as_proved) ahead = std::min<std::int64_t>(ahead, until_something);
        if (ahead > 1) {
            if (steps) sample();
            now += ahead;
            if (!options.as_proved) routine::skip(program, state, static_cast<std::int32_t>(ahead));
            turnMachines(static_cast<double>(ahead) * 1e-3);
            if (steps) sample();
        }
    }
    sample();
    return traces;
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
