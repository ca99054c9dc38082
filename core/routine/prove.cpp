#include "routine/prove.hpp"
#include <algorithm>
#include <fmt/format.h>
#include <unordered_map>

namespace hinge::routine {
namespace {

// What distinguishes two states for the future of an interlock. Soft start shapes the level of an
// output that is on, never whether it is on, and so is left out.
std::string keyOf(const State& state) {
    std::string key;
    const auto put = [&key](std::int32_t value) { key.append(reinterpret_cast<const char*>(&value), sizeof value); };
    key.append(state.active.begin(), state.active.end());
    key.append(state.asked.begin(), state.asked.end());
    for (const auto value : state.place) put(value);
    for (const auto value : state.wait) put(value);
    for (const auto value : state.off_delay) put(value);
    for (const auto value : state.rounds) put(value);
    key.append(state.followed.begin(), state.followed.end());
    key.push_back(state.stopped ? 1 : 0);
    for (std::size_t o = 0; o < state.elapsed.size(); ++o) put(state.duration[o] - state.elapsed[o]);
    return key;
}

struct Origin {
    std::size_t parent = 0;
    std::uint32_t inputs = 0;
    int start_cue = -1;  // a time of day or a command: the same to the program
};

// Timers that run: cues that wait, outputs whose off-delay counts.
int timers(const State& state) {
    int count = 0;
    for (const auto value : state.wait) count += value > 0 ? 1 : 0;
    for (const auto value : state.off_delay) count += value > 0 ? 1 : 0;
    for (std::size_t o = 0; o < state.elapsed.size(); ++o) count += state.elapsed[o] < state.duration[o] ? 1 : 0;
    return std::min(count, 16);
}
// Lets the running timers whose bit is set end at this tick, and the others go on.
void setTimers(State& state, std::uint32_t ends) {
    int bit = 0;
    for (auto* list : {&state.wait, &state.off_delay})
        for (auto& value : *list)
            if (value > 0) value = (ends >> std::min(bit++, 16) & 1u) != 0 ? 1 : 2;
    for (std::size_t o = 0; o < state.elapsed.size(); ++o)
        if (state.elapsed[o] < state.duration[o]) state.elapsed[o] = 0, state.duration[o] = (ends >> std::min(bit++, 16) & 1u) != 0 ? 1 : 2;
}

// The part of a program that one interlock can feel: the cues that touch its output, what they touch,
// and the inputs they and the interlock read. Cues meet only in outputs and no cue reads an output, so
// whatever is left out can change neither when these cues run nor what they ask.
struct Slice {
    Program program;
    std::vector<int> inputs, cues;   ///< places in the whole program
};

Slice sliceFor(const Program& whole, const ProgramInterlock& rule) {
    Slice slice;
    slice.program.parameters = whole.parameters;
    std::vector<int> outputs;
    const auto placeOf = [](std::vector<int>& list, int index) {
        const auto found = std::find(list.begin(), list.end(), index);
        if (found != list.end()) return static_cast<int>(found - list.begin());
        list.push_back(index);
        return static_cast<int>(list.size()) - 1;
    };
    placeOf(outputs, rule.output);
    placeOf(slice.inputs, rule.input);
    for (std::size_t c = 0; c < whole.cues.size(); ++c) {
        ProgramCue cue = whole.cues[c];
        if (std::none_of(cue.instructions.begin(), cue.instructions.end(), [&](const Instruction& i) { return i.output == rule.output; })) continue;
        for (auto& input : cue.inputs) input = placeOf(slice.inputs, input);
        for (auto& input : cue.released) input = placeOf(slice.inputs, input);
        // What the interval, the held input, the power-up or another cue's end would start may start at any tick anyway.
        cue.held_input = cue.held_parameter = cue.every_parameter = cue.after = -1;
        cue.at_power_up = false;
        for (auto& guard : cue.guards) guard.input = placeOf(slice.inputs, guard.input);
        for (auto& instruction : cue.instructions) {
            if (instruction.output >= 0) instruction.output = placeOf(outputs, instruction.output);
            if (instruction.input >= 0) instruction.input = placeOf(slice.inputs, instruction.input);
        }
        slice.cues.push_back(static_cast<int>(c));
        slice.program.cues.push_back(std::move(cue));
    }
    for (const auto& follower : whole.followers) {
        if (follower.output != rule.output) continue;
        auto mine = follower;
        mine.output = 0;
        if (follower.guard >= 0) mine.guard = placeOf(slice.inputs, follower.guard);
        // A reading may be above its dead band whatever its two levels say: an input of its own.
        if (follower.proportional) slice.inputs.push_back(follower.input), mine.input = static_cast<int>(slice.inputs.size()) - 1;
        else mine.input = placeOf(slice.inputs, follower.input);
        slice.program.followers.push_back(mine);
    }
    for (const int input : slice.inputs) slice.program.inputs.push_back(whole.inputs[static_cast<std::size_t>(input)]);
    for (const int output : outputs) slice.program.outputs.push_back(whole.outputs[static_cast<std::size_t>(output)]);
    slice.program.interlocks = {{rule.id, rule.text, 0, 0}};
    return slice;
}

// With `free_timers`, a wait or an off-delay that has begun may end at any tick: more can happen than
// really does, so what never happens there never happens; a violation found there proves nothing.
std::vector<InterlockProof> explore(const Program& original, std::size_t most_states, const std::atomic<bool>* cancel, bool free_timers) {
    std::vector<InterlockProof> proofs;
    for (const auto& interlock : original.interlocks) proofs.push_back({interlock.id, interlock.text, ProofStatus::Proved, 0, {}, {}});
    if (proofs.empty()) return proofs;
    Program program = original;
    for (auto& parameter : program.parameters)
        if (parameter.name.ends_with("_soft_start")) parameter.value = 0;

    State first = powerUp(program);
    first.clock_set = false;
    std::vector<State> states{first};
    std::vector<Origin> origins{{}};
    std::unordered_map<std::string, std::size_t> seen{{keyOf(first), 0}};
    const std::uint32_t combinations = 1u << std::min<std::size_t>(program.inputs.size(), 12);
    std::size_t open = proofs.size();
    bool complete = true;

    const auto tellStory = [&](InterlockProof& proof, std::size_t from, std::uint32_t inputs, int start_cue) {
        std::vector<Origin> path{{from, inputs, start_cue}};
        for (std::size_t at = from; at != 0; at = origins[at].parent) path.push_back(origins[at]);
        std::reverse(path.begin(), path.end());
        std::uint32_t before = 0;
        for (std::size_t i = 0; i < program.inputs.size(); ++i) before |= static_cast<std::uint32_t>(first.active[i]) << i;
        std::int32_t at_tick = 0;
        for (const auto& step : path) {
            ++at_tick;
            for (std::size_t i = 0; i < program.inputs.size(); ++i)
                if (((before ^ step.inputs) >> i & 1u) != 0) {
                    const bool active = (step.inputs >> i & 1u) != 0;
                    proof.story.push_back({at_tick, fmt::format("{} {}", program.inputs[i].name, active ? "becomes true" : "is no longer true")});
                    proof.replay.push_back({at_tick, static_cast<int>(i), active, -1});
                }
            if (step.start_cue >= 0) {
                proof.story.push_back({at_tick, fmt::format("'{}' is started", program.cues[static_cast<std::size_t>(step.start_cue)].name)});
                proof.replay.push_back({at_tick, -1, false, step.start_cue});
            }
            before = step.inputs;
        }
        const auto& rule = program.interlocks[static_cast<std::size_t>(&proof - proofs.data())];
        proof.story.push_back({at_tick, fmt::format("{} is on, and {} holds", program.outputs[static_cast<std::size_t>(rule.output)].name, program.inputs[static_cast<std::size_t>(rule.input)].name)});
    };

    for (std::size_t at = 0; at < states.size() && open > 0; ++at) {
        if (states.size() > most_states || (cancel != nullptr && (at & 0xfff) == 0 && cancel->load())) {
            complete = false;
            break;
        }
        for (std::uint32_t inputs = 0; inputs < combinations; ++inputs) {
            std::vector<std::uint8_t> pins(program.inputs.size());
            for (std::size_t i = 0; i < pins.size(); ++i) pins[i] = static_cast<std::uint8_t>(inputs >> i & 1u);
            for (int start = -1; start < static_cast<int>(program.cues.size()); ++start) {
                // A start while the cue runs changes nothing.
                if (start >= 0 && states[at].place[static_cast<std::size_t>(start)] >= 0) continue;
                Happening happening;
                happening.pin_active = pins;
                happening.debounced = true;
                happening.clock_cue = start;
                for (std::uint32_t ends = 0; ends < (free_timers ? 1u << timers(states[at]) : 1u); ++ends) {
                    State next = states[at];
                    if (free_timers) setTimers(next, ends);
                    tick(program, next, happening, false);
                    if (free_timers) setTimers(next, ~0u);
                    for (std::size_t p = 0; p < proofs.size(); ++p) {
                        const auto& rule = program.interlocks[p];
                        if (proofs[p].status != ProofStatus::Violated && isOn(program, next, static_cast<std::size_t>(rule.output)) && next.active[static_cast<std::size_t>(rule.input)] != 0) {
                            proofs[p].status = ProofStatus::Violated;
                            tellStory(proofs[p], at, inputs, start);
                            proofs[p].states = states.size();
                            --open;
                        }
                    }
                    next.on_for.assign(next.on_for.size(), 0);
                    next.active_for.assign(next.active_for.size(), 0);
                    next.ended.assign(next.ended.size(), 0);
                    next.faulted.assign(next.faulted.size(), 0);
                    auto [entry, fresh] = seen.emplace(keyOf(next), states.size());
                    if (fresh) {
                        states.push_back(std::move(next));
                        origins.push_back({at, inputs, start});
                    }
                }
            }
        }
    }
    for (auto& proof : proofs) {
        if (proof.status == ProofStatus::Violated) continue;
        proof.states = states.size();
        if (!complete) proof.status = ProofStatus::Bounded;
    }
    return proofs;
}

}  // namespace

std::vector<InterlockProof> prove(const Program& program, std::size_t most_states, const std::atomic<bool>* cancel) {
    std::vector<InterlockProof> proofs;
    for (const auto& rule : program.interlocks) {
        const auto slice = sliceFor(program, rule);
        // Long waits make many states that differ in nothing but a count: first see whether their length
        // matters at all. Where it may, every tick is counted.
        long long ticks = 0;
        for (const auto& cue : slice.program.cues)
            for (const auto& instruction : cue.instructions)
                if (instruction.operation == Operation::Wait || instruction.operation == Operation::Go || instruction.operation == Operation::Until || instruction.operation == Operation::Home) ticks += slice.program.parameters[static_cast<std::size_t>(instruction.parameter)].value;
        InterlockProof proof;
        bool settled = false;
        if (ticks > 20'000) {
            proof = explore(slice.program, most_states, cancel, true).front();
            settled = proof.status == ProofStatus::Proved;
        }
        if (!settled) proof = explore(slice.program, most_states, cancel, false).front();
        for (auto& step : proof.replay) {
            if (step.input >= 0) step.input = slice.inputs[static_cast<std::size_t>(step.input)];
            if (step.start_cue >= 0) step.start_cue = slice.cues[static_cast<std::size_t>(step.start_cue)];
        }
        proofs.push_back(std::move(proof));
    }
    return proofs;
}

}  // namespace hinge::routine
