#include "simulation/scene.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <map>
#include "routine/compile.hpp"

namespace hinge::simulation {

namespace {

// A switch at a start that is looked for: true when a fifth of the search is over, and once more in the middle of a second one. @return
// when it is true no more
double switchAt(const routine::Program& program, const routine::ProgramCue& cue, double time, std::vector<Event>& script) {
    const auto seconds = [&](const routine::Instruction& i) {
        return program.parameters[static_cast<std::size_t>(i.parameter)].value / 1000.0;
    };
    const auto say = [&](const routine::Instruction& i, double at, bool active) {
        Event event;
        event.time = at;
        event.input = program.inputs[static_cast<std::size_t>(i.input)].id;
        event.active = active;
        script.push_back(std::move(event));
    };
    bool pressed = false;
    for (const auto& i : cue.instructions) {
        using routine::Operation;
        if (i.operation == Operation::Home) {
            time += i.target < 0 ? 0.2 * seconds(i) : 0.5 * seconds(i);
            say(i, time, true);
            pressed = true;
            time += 0.1;
        } else if (i.operation == Operation::Until && i.output >= 0) {
            say(i, time - 0.05, false);
            time += 0.1;
            pressed = false;
        } else if (i.operation == Operation::Go && pressed) {
            time += seconds(i);
        }
    }
    for (auto last = cue.instructions.rbegin(); pressed && last != cue.instructions.rend(); ++last)
        if (last->operation == routine::Operation::Home) {
            say(*last, time, false);
            break;
        }
    return time;
}

// A contact that somebody presses and that starts the cue; -1: none does.
int pressedFor(const routine::Program& program, const routine::ProgramCue& cue) {
    const auto isContact = [&](int input) {
        const auto& it = program.inputs[static_cast<std::size_t>(input)];
        return it.source == routine::InputSource::Pin && !it.analogue;
    };
    for (const auto* inputs : {&cue.inputs, &cue.released})
        for (const int input : *inputs)
            if (isContact(input)) return input;
    return cue.held_input >= 0 && isContact(cue.held_input) ? cue.held_input : -1;
}

// Whether a cue comes by itself at the end of one that is started in the scene: whatever it follows ends in one that follows none.
bool comesAfterAnother(const routine::Program& program, const routine::ProgramCue& cue) {
    const auto* at = &cue;
    for (std::size_t n = 0; n <= program.cues.size(); ++n) {
        if (at->after < 0) return at != &cue;
        at = &program.cues[static_cast<std::size_t>(at->after)];
    }
    return false;
}

}  // namespace

std::vector<Event> everyCueOnce(const routine::Program& program) {
    std::vector<Event> script;
    std::map<int, double> pressed;  // when each input was
    double next = 0.5;
    for (const auto& cue : program.cues) {
        const int input = pressedFor(program, cue);
        if (input < 0 && comesAfterAnother(program, cue)) continue;
        if (const auto at = pressed.find(input); at != pressed.end()) {
            // It answers the same press.
            next = std::max(next, switchAt(program, cue, at->second, script) + 1.0);
            continue;
        }
        Event start;
        start.time = next;
        if (input < 0) start.cue = cue.id;
        else {
            const auto& it = program.inputs[static_cast<std::size_t>(input)];
            double held = std::max(0.3, it.debounce * 1e-3 + 0.1);
            for (const auto& other : program.cues)
                if (other.held_input == input)
                    held = std::max(held, program.parameters[static_cast<std::size_t>(other.held_parameter)].value * 1e-3 + 0.2);
            start.input = it.id;
            start.active = true;
            pressed[input] = next;
            script.push_back(start);
            start.time += held;
            start.active = false;
        }
        script.push_back(start);
        next = std::max({next, switchAt(program, cue, next, script), start.time}) + 1.0;
    }
    std::stable_sort(script.begin(), script.end(), [](const Event& a, const Event& b) { return a.time < b.time; });
    return script;
}

std::string sceneVcd(const Traces& traces, const SupplyDay* supply, const routine::Program& program) {
    const std::size_t n = program.outputs.size();
    // Identifier codes are printable characters; two are enough for every output.
    const auto code = [](std::size_t i) { return std::string{static_cast<char>('!' + i % 90), static_cast<char>('!' + i / 90)}; };
    std::string text = "$version Hinge Spark $end\n$timescale 1 us $end\n$scope module gadget $end\n";
    for (std::size_t o = 0; o < n; ++o)
        text += fmt::format("$var wire 1 {} {} $end\n$var real 64 {} {}_share $end\n", code(2 * o), routine::symbol(program.outputs[o].id),
                            code(2 * o + 1), routine::symbol(program.outputs[o].id));
    if (supply != nullptr) text += fmt::format("$var real 64 {} supply_ampere $end\n", code(2 * n));
    text += "$upscope $end\n$enddefinitions $end\n";
    std::map<long long, std::string> at;
    at[0] = "$dumpvars\n";
    for (std::size_t o = 0; o < n; ++o) at[0] += fmt::format("0{}\nr0 {}\n", code(2 * o), code(2 * o + 1));
    if (supply != nullptr) at[0] += fmt::format("r0 {}\n", code(2 * n));
    at[0] += "$end\n";
    const auto micros = [](double seconds) { return std::llround(seconds * 1e6); };
    for (const auto& each : traces.switchings)
        at[micros(each.time)] += fmt::format("{}{}\n", each.on ? 1 : 0, code(2 * static_cast<std::size_t>(each.output)));
    std::vector<double> share(n, 0.0);
    double current = 0.0;
    for (const auto& sample : traces.samples) {
        std::string changes;
        for (std::size_t o = 0; o < n && o < sample.places.size(); ++o)
            if (sample.places[o] != share[o]) changes += fmt::format("r{:.6g} {}\n", share[o] = sample.places[o], code(2 * o + 1));
        if (!changes.empty()) at[micros(sample.time)] += changes;
    }
    for (std::size_t i = 0; supply != nullptr && i < supply->points.size(); ++i) {
        const auto& point = supply->points[i];
        const bool last_here = i + 1 == supply->points.size() || micros(supply->points[i + 1].time) != micros(point.time);
        if (last_here && point.drawn != current) at[micros(point.time)] += fmt::format("r{:.6g} {}\n", current = point.drawn, code(2 * n));
    }
    for (const auto& [time, changes] : at) text += fmt::format("#{}\n{}", time, changes);
    return text + fmt::format("#{}\n", std::max(micros(traces.length), at.rbegin()->first + 1));
}

}  // namespace hinge::simulation
