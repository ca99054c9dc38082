#include "simulation/happen.hpp"
#include <algorithm>
#include "link/protocol.hpp"

namespace hinge::simulation {

std::vector<plant::Coupling> unscripted(std::vector<plant::Coupling> machines, const routine::Program& program,
                                        const std::vector<Event>& script) {
    const auto scripted = [&](const plant::Sense& sense) {
        return sense.input >= 0 && std::any_of(script.begin(), script.end(), [&](const Event& event) {
                   return !event.input.empty() && event.input == program.inputs[static_cast<std::size_t>(sense.input)].id;
               });
    };
    for (auto& coupling : machines) {
        if (scripted(coupling.sense)) coupling.sense.input = -1;
        if (scripted(coupling.current)) coupling.current.input = -1;
    }
    std::erase_if(machines, [](const plant::Coupling& coupling) { return coupling.sense.input < 0 && coupling.current.input < 0; });
    return machines;
}

link::Command withItsWord(const routine::Program& program, link::Command command) {
    const auto first = [&](const std::vector<int>& words) {
        return words.empty() ? std::string{} : program.inputs[static_cast<std::size_t>(words.front())].word;
    };
    if (auto* start = std::get_if<link::StartCue>(&command);
        start != nullptr && static_cast<std::size_t>(start->index) < program.cues.size())
        start->word = first(routine::wordsOfCue(program, static_cast<std::size_t>(start->index)));
    if (auto* drive = std::get_if<link::Drive>(&command);
        drive != nullptr && static_cast<std::size_t>(drive->output) < program.outputs.size())
        drive->word = first(routine::wordsOfOutput(program, static_cast<std::size_t>(drive->output)));
    if (auto* set = std::get_if<link::SetParameter>(&command))
        for (std::size_t p = 0; p < program.parameters.size(); ++p)
            if (program.parameters[p].name == set->name) set->word = first(routine::wordsOfParameter(program, p));
    return command;
}

std::optional<Error> happen(plant::Played& one, const routine::Program& program, const Event& event) {
    const auto placeOf = [](const auto& list, const std::string& id) {
        return std::find_if(list.begin(), list.end(), [&](const auto& each) { return each.id == id; }) - list.begin();
    };
    const auto send = [&](const link::Command& command) { one.write(link::encode(withItsWord(program, command)) + "\n"); };
    if (!one.hears() && (event.clock || event.link || event.stop || !event.cue.empty()))
        return Error{ErrorCode::NotDriven, "events",
                     !event.cue.empty() ? event.cue
                     : event.stop       ? "stop"
                     : event.clock      ? "clock"
                                        : "link",
                     "what comes by a pin: this chip has no link"};
    if (event.clock) {
        send(link::SetClock{*event.clock, event.date});
    } else if (event.clock_lost || !event.jam.empty() || event.supply) {
        return std::nullopt;  // of the plants and the power: not at a board's pins
    } else if (event.link) {
        send(link::SayHello{});
    } else if (event.stop) {
        send(link::Stop{});
    } else if (event.power_cut) {
        one.cutPower();
    } else if (!event.cue.empty()) {
        const auto cue = placeOf(program.cues, event.cue);
        if (cue == static_cast<std::ptrdiff_t>(program.cues.size()))
            return Error{ErrorCode::Unknown, "events", event.cue, "the id of a cue"};
        send(link::StartCue{static_cast<int>(cue)});
    } else {
        const auto input = placeOf(program.inputs, event.input);
        if (input == static_cast<std::ptrdiff_t>(program.inputs.size()))
            return Error{ErrorCode::Unknown, "events", event.input,
                         "the id of an input, 'cue', 'clock', 'link', 'jam', 'supply', 'stop' or 'power'"};
        const int i = static_cast<int>(input);
        const auto& of = program.inputs[static_cast<std::size_t>(input)];
        if (of.source == routine::InputSource::Word) {
            if (event.active) send(link::SayWord{of.word});
        } else if (of.source == routine::InputSource::Number) {
            send(link::SendNumber{i, event.reading.value_or(event.active ? 1023 : 0)});
        } else if (event.rate) {
            one.setRate(i, *event.rate);
        } else if (event.reading) {
            one.setReading(i, *event.reading);
        } else {
            one.setInput(i, event.active);
        }
    }
    return std::nullopt;
}

std::optional<Error> playOn(plant::Played& one, const routine::Program& program, const std::vector<Event>& script, double length,
                            const std::atomic<bool>* cancel) {
    double now = 0.0;
    const auto goTo = [&](double until) {
        for (; now < until && (cancel == nullptr || !cancel->load()); now += 0.25) one.advance(std::min(0.25, until - now));
        now = until;
    };
    for (const auto& event : script) {
        if (event.time >= length) break;
        goTo(event.time);
        if (auto error = happen(one, program, event)) return error;
    }
    goTo(length);
    return std::nullopt;
}

}  // namespace hinge::simulation
