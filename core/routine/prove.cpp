#include "routine/prove.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <bit>
#include <optional>
#include <set>
#include <unordered_map>
#include <unordered_set>
#include "quantity/text.hpp"
#include "routine/machine.hpp"
#include "routine/search.hpp"
#include "routine/slice.hpp"
#include "routine/zone.hpp"

namespace hinge::routine {
namespace {

// An output as a statement sees it: on while anything asks for it, off while nothing shows.
bool mayBeOn(const Program& program, const State& state, std::size_t o) {
    if (program.outputs[o].kind != OutputKind::Switched)
        return state.output(o).elapsed < state.output(o).duration || state.output(o).asked != 0;
    return state.output(o).level > 0 || state.output(o).asked != 0;
}
bool mayBeOff(const Program& program, const State& state, std::size_t o) {
    return program.outputs[o].kind != OutputKind::Switched
               ? !mayBeOn(program, state, o)
               : state.output(o).level == 0 || state.output(o).elapsed < state.output(o).duration;
}

bool violates(const Program& program, const Node& node) {
    const auto& rule = program.interlocks.front();
    const auto& s = node.state;
    const auto o = static_cast<std::size_t>(rule.output);
    if (!mayBeOn(program, s, o) || (program.outputs[o].kind != OutputKind::Switched && s.output(o).resting != 0)) return false;
    if (rule.input >= 0 && s.input(static_cast<std::size_t>(rule.input)).active == 0) return false;
    return std::all_of(rule.terms.begin(), rule.terms.end(), [&](const ProgramTerm& term) {
        const auto t = static_cast<std::size_t>(term.output);
        const bool up = program.outputs[t].furthest >= program.outputs[t].start;
        switch (term.kind) {
            case ProgramTerm::Kind::On: return mayBeOn(program, s, t);
            case ProgramTerm::Kind::Off: return mayBeOff(program, s, t);
            case ProgramTerm::Kind::Beyond:
                return s.output(t).placed == 0 || (up ? node.swept[t][1] > term.place : node.swept[t][0] < term.place);
            case ProgramTerm::Kind::Short:
                return s.output(t).placed == 0 || (up ? node.swept[t][0] < term.place : node.swept[t][1] > term.place);
        }
        return false;
    });
}

// The same search with every timer's bounds: what it finds is so, and is told as a story that ends in the claim's own words.
template <class Wanted>
InterlockProof exactly(const Slice& slice, InterlockProof proof, std::size_t most_steps, const std::atomic<bool>* cancel,
                       const Wanted& wanted) {
    Search exact(slice, true, most_steps, cancel);
    const auto found = exact.run(wanted);
    proof.states = exact.states();
    proof.depth = exact.depth();
    proof.status = found ? ProofStatus::Violated : exact.complete() ? ProofStatus::Proved : ProofStatus::Bounded;
    if (found) {
        exact.tell(*found, slice, proof);
        proof.story.back().event = proof.text;
    }
    return proof;
}

InterlockProof proveNever(const Program& program, const ProgramInterlock& rule, std::size_t most_steps, const std::atomic<bool>* cancel) {
    InterlockProof proof;
    proof.id = rule.id;
    proof.text = rule.text;
    const auto proved = [&](const Slice& slice) {
        Search free(slice, false, most_steps, cancel);
        const auto suspected = free.run(violates);
        proof.states = free.states();
        proof.depth = free.depth();
        return !suspected && free.complete();
    };
    if (hasLoose(program) && proved(sliceFor(program, &rule, rule.output, true))) return proof;
    const auto slice = sliceFor(program, &rule, rule.output);
    if (proved(slice)) return proof;
    return exactly(slice, std::move(proof), most_steps, cancel, violates);
}

// True when whatever turns the output on in this cue is followed by what turns it off, so that no search is needed.
bool endsByItself(const ProgramCue& cue, int output) {
    bool on = false;
    for (const auto& i : cue.instructions) {
        if (i.operation == Operation::Again && on) return false;
        if (i.output != output) continue;
        if (i.operation == Operation::Toggle) return false;
        if (i.operation == Operation::On || i.operation == Operation::Fade) on = true;
        if (i.operation == Operation::Off || i.operation == Operation::Turn || i.operation == Operation::Flicker ||
            i.operation == Operation::Run)
            on = false;
    }
    return !on;
}

// States, by their keys, from which the first output can't be off again; nullopt: the search did not come to its end.
std::optional<std::unordered_set<std::string>> deadEnds(const Slice& slice, InterlockProof& proof, std::size_t most_steps,
                                                        const std::atomic<bool>* cancel) {
    Search free(slice, false, most_steps, cancel);
    (void)free.run([](const Program&, const Node&) { return false; });
    proof.states = free.states();
    proof.depth = free.depth();
    if (!free.complete()) return std::nullopt;
    const auto on = [](const Node& node) { return node.state.output(0).asked != 0 || node.state.output(0).followed != 0; };
    // Backwards from every state in which it is off: from where it can be reached, it can end.
    const auto& nodes = free.nodes();
    std::vector<std::vector<std::uint32_t>> before(nodes.size());
    for (const auto& [from, to] : free.steps()) before[to].push_back(from);
    std::vector<bool> ends(nodes.size(), false);
    std::vector<std::uint32_t> open;
    for (std::size_t n = 0; n < nodes.size(); ++n)
        if (!on(nodes[n])) ends[n] = true, open.push_back(static_cast<std::uint32_t>(n));
    while (!open.empty()) {
        const auto n = open.back();
        open.pop_back();
        for (const auto from : before[n])
            if (!ends[from]) ends[from] = true, open.push_back(from);
    }
    std::unordered_set<std::string> dead;
    for (std::size_t n = 0; n < nodes.size(); ++n)
        if (!ends[n]) dead.insert(Search::keyOf(nodes[n]));
    return dead;
}

std::optional<InterlockProof> proveEnds(const Program& program, int output, std::size_t most_steps, const std::atomic<bool>* cancel) {
    const auto o = static_cast<std::size_t>(output);
    if (program.outputs[o].kind != OutputKind::Switched &&
        std::none_of(program.loops.begin(), program.loops.end(), [&](const ProgramLoop& loop) { return loop.output == output; }))
        return std::nullopt;
    if (std::all_of(program.cues.begin(), program.cues.end(), [&](const ProgramCue& cue) { return endsByItself(cue, output); }))
        return std::nullopt;
    InterlockProof proof;
    proof.id = program.outputs[o].id;
    proof.claim = Claim::Ends;
    proof.text = program.outputs[o].name + " stays on until stop";
    // Not loosely: a move that may end its cue at any time would be a way to an end that there is not.
    const auto slice = sliceFor(program, nullptr, output);
    const auto dead = deadEnds(slice, proof, most_steps, cancel);
    if (!dead) proof.status = ProofStatus::Bounded;
    if (!dead || dead->empty()) return proof;
    return exactly(slice, std::move(proof), most_steps, cancel,
                   [&](const Program&, const Node& node) { return dead->count(Search::keyOf(node)) > 0; });
}

}  // namespace

std::vector<InterlockProof> prove(const Program& program, std::size_t most_steps, const std::atomic<bool>* cancel) {
    std::vector<InterlockProof> proofs;
    for (const auto& rule : program.interlocks) proofs.push_back(proveNever(program, rule, most_steps, cancel));
    for (std::size_t o = 0; o < program.outputs.size(); ++o)
        if (auto proof = proveEnds(program, static_cast<int>(o), most_steps, cancel)) proofs.push_back(std::move(*proof));
    return proofs;
}

bool replays(const Program& original, const InterlockProof& proof) {
    if (proof.story.empty()) return false;
    Program program = original;
    for (auto& parameter : program.parameters)
        if (parameter.name.ends_with("_soft_start")) parameter.value = 0;
    State state = powerUp(program);
    const Machine machine{program};
    std::vector<std::uint8_t> first;
    for (std::size_t i = 0; i < state.inputs(); ++i) first.push_back(state.input(i).active);
    auto pins = first;
    // What the story says nothing of is read at once.
    std::uint32_t told = 0;
    for (const auto& step : proof.replay)
        if (step.input >= 0 && step.input < 32) told |= 1u << step.input;
    std::uint32_t unheard = told;
    const auto rule = std::find_if(program.interlocks.begin(), program.interlocks.end(),
                                   [&](const ProgramInterlock& each) { return each.id == proof.id; });
    for (std::int32_t now = 1; now <= proof.story.back().tick; ++now) {
        Happening happening;
        happening.debounced = true;
        for (const auto& step : proof.replay) {
            if (step.tick != now) continue;
            if (step.power) {
                state = powerBack(program, state);
                pins = first;
                unheard = told;
            } else if (step.stop) {
                happening.stop = true;
            } else if (step.input >= 0) {
                pins[static_cast<std::size_t>(step.input)] = step.active ? 1 : 0;
                unheard = step.silent ? unheard | 1u << step.input : unheard & ~(1u << step.input);
            } else {
                happening.start_cues.push_back(step.start_cue);
            }
        }
        happening.unheard = unheard;
        happening.pin_active = pins;
        machine.tick(state, happening, false);
    }
    if (proof.claim == Claim::Never) return rule != program.interlocks.end() && holds(program, state, *rule);
    for (std::size_t o = 0; o < program.outputs.size(); ++o)
        if (program.outputs[o].id == proof.id) return state.output(o).asked != 0 || state.output(o).followed != 0;
    return false;
}

Bounds boundsOf(const Program& program) {
    Bounds bounds;
    const auto number = [&](int parameter) { return parameter >= 0 ? program.parameters[static_cast<std::size_t>(parameter)].value : 0; };
    for (const auto& cue : program.cues)
        for (const auto& i : cue.instructions) {
            if (i.operation == Operation::Until || i.operation == Operation::Wait || i.operation == Operation::Turn)
                bounds.longest_wait = std::max(bounds.longest_wait, number(i.parameter));
            if (i.operation == Operation::Home) bounds.longest_homing = std::max(bounds.longest_homing, number(i.parameter));
            if (i.operation == Operation::Again && number(i.parameter) == 0) bounds.for_ever.push_back(cue.name);
        }
    for (const auto& output : program.outputs)
        if (output.rest == Rest::Start) bounds.safe_within = std::max(bounds.safe_within, number(output.rest_parameter) + 1);
    return bounds;
}

}  // namespace hinge::routine

template class std::vector<hinge::routine::StoryEvent>;
template class std::vector<hinge::routine::InterlockProof>;
