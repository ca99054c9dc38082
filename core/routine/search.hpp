#pragma once
// The states that a routine can come to, one after another: what the proof asks of them stands in prove.cpp.
#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <atomic>
#include <bit>
#include <optional>
#include <set>
#include <unordered_map>
#include <unordered_set>
#include "quantity/text.hpp"
#include "routine/machine.hpp"
#include "routine/prove.hpp"
#include "routine/slice.hpp"
#include "routine/zone.hpp"

namespace hinge::routine {

constexpr std::int32_t far_off = 1'000'000'000;  // ticks that a timer shows which is to go on
constexpr std::size_t most_inputs = 12, most_timers = 16;
constexpr int most_together = 10;  // cues of which any may start in one tick

// Every timer of a state has a place: waits of cues, then off-delays, moves and fades, flicker and runs of outputs.
inline std::size_t timerPlaces(const Program& program) {
    return program.cues.size() + 4 * program.outputs.size();
}
inline std::int32_t left(const State& state, std::size_t slot) {
    const std::size_t cues = state.cues(), outputs = state.outputs();
    if (slot < cues) return state.cue(slot).wait;
    const std::size_t o = (slot - cues) % outputs;
    return slot < cues + outputs       ? state.output(o).off_delay
           : slot < cues + 2 * outputs ? state.output(o).duration - state.output(o).elapsed
           : slot < cues + 3 * outputs ? state.output(o).flicker
                                       : state.output(o).run;
}
inline void setLeft(State& state, std::size_t slot, std::int32_t ticks) {
    const std::size_t cues = state.cues(), outputs = state.outputs();
    if (slot < cues) {
        state.cue(slot).wait = ticks;
        return;
    }
    const std::size_t o = (slot - cues) % outputs;
    if (slot < cues + outputs) state.output(o).off_delay = ticks;
    else if (slot < cues + 2 * outputs) state.output(o).elapsed = 0, state.output(o).duration = ticks;
    else if (slot < cues + 3 * outputs) state.output(o).flicker = ticks;
    else state.output(o).run = ticks;
}

// What may come in one tick, besides the end of timers: one bit for each input or cue.
struct Event {
    std::uint32_t inputs = 0;
    std::uint32_t unheard = 0;  // not read yet since the power came, or a number that is silent
    std::uint64_t starts = 0;   // over the link, by the clock, by an interval, with the power, after another
    bool stop = false, power = false;
};

struct Node {
    State state;
    std::vector<std::array<std::int32_t, 2>> swept;  // per output: from and to where a mover may be
    std::vector<std::size_t> timers;                 // places of those that run
    Zone zone;                                       // theirs; in a free search unused
    std::size_t parent = 0, depth = 0;
    Event event;             // that led here
    std::uint32_t ends = 0;  // which of the parent's timers ended
    bool quiet = false;      // nothing but counting happens by itself
};

class Search {
public:
    Search(const Slice& slice, bool exact, std::size_t most_steps, const std::atomic<bool>* cancel)
        : program_{slice.program}, first_{slice.first}, exact_{exact}, most_steps_{most_steps}, cancel_{cancel} {
        for (auto& parameter : program_.parameters)
            if (parameter.name.ends_with("_soft_start")) parameter.value = 0;
        for (const auto& output : program_.outputs) remembers_ = remembers_ || output.remembered;
        // What comes does not depend on it: the cues' own times are taken out.
        for (auto& cue : program_.cues) cue.times_of_day.clear();
        for (std::size_t i = 0; i < std::min(most_inputs, program_.inputs.size()); ++i) {
            all_ |= 1u << i;
            if (program_.inputs[i].source == InputSource::Number) numbers_ |= 1u << i;
            if (first_[i] != 0) cautious_ |= 1u << i;
            if (slice.idle == static_cast<int>(i)) idle_ = 1u << i;
        }
        complete_ = program_.inputs.size() <= most_inputs && program_.cues.size() <= 64;
        machine_.emplace(program_);
    }

    /// Searches until `wanted` is true of a node. @return its place, or none
    template <class Wanted>
    std::optional<std::size_t> run(const Wanted& wanted) {
        Node first;
        first.state = powerUp(program_);
        setActive(first.state);
        for (std::size_t o = 0; o < program_.outputs.size(); ++o)
            first.swept.push_back({first.state.output(o).level, first.state.output(o).level});
        settle(first);
        nodes_.push_back(std::move(first));
        seen_[keyOf(nodes_.front())].push_back(0);
        for (std::size_t at = 0; at < nodes_.size(); ++at) {
            if (steps_ > most_steps_ || (cancel_ != nullptr && (at & 0xff) == 0 && cancel_->load())) {
                complete_ = false;
                return std::nullopt;
            }
            // The list of nodes grows while it is read.
            const Zone zone = nodes_[at].zone;
            const State state = nodes_[at].state;
            std::optional<std::size_t> found;
            forEachEvent(state, [&](const Event& event) {
                found = branch(at, event, 0, 0, zone, wanted);
                return !found && steps_ <= most_steps_;
            });
            if (found) return found;
            if (steps_ > most_steps_) {
                complete_ = false;
                return std::nullopt;
            }
        }
        return std::nullopt;
    }
    [[nodiscard]] bool complete() const { return complete_; }
    [[nodiscard]] std::size_t states() const { return nodes_.size(); }
    [[nodiscard]] std::size_t depth() const { return nodes_.back().depth; }
    [[nodiscard]] const Program& program() const { return program_; }
    [[nodiscard]] const std::vector<Node>& nodes() const { return nodes_; }
    /// Every step that was made, from and to; stops and power cuts left out.
    [[nodiscard]] const std::vector<std::pair<std::uint32_t, std::uint32_t>>& steps() const { return edges_; }
    /// A state's mark without its timers' counts.
    [[nodiscard]] static std::string keyOf(const Node& node) {
        const auto& s = node.state;
        std::string key;
        const auto put = [&key](std::int32_t value) { key.append(reinterpret_cast<const char*>(&value), sizeof value); };
        for (std::size_t i = 0; i < s.inputs(); ++i) key.push_back(static_cast<char>(s.input(i).active | s.input(i).heard << 1));
        key.push_back(static_cast<char>(s->stopped | s->awoken << 1));
        for (std::size_t c = 0; c < s.cues(); ++c) {
            put(s.cue(c).place);
            put(s.cue(c).rounds);
        }
        for (std::size_t o = 0; o < s.outputs(); ++o) {
            const auto& output = s.output(o);
            key.push_back(static_cast<char>(output.asked | output.followed << 1 | output.resting << 2 | output.awake << 3 |
                                            output.placed << 4 | output.remembered << 5));
            key.push_back(static_cast<char>(output.owner));
            key.push_back(s.output(o).level > 0 ? 1 : 0);
            if (s.output(o).elapsed < s.output(o).duration) put(s.output(o).target);
            put(node.swept[o][0]);
            put(node.swept[o][1]);
        }
        key.append(node.timers.begin(), node.timers.end());
        return key;
    }

    /// The story of a node: every event with the tick at which it comes, the earliest that the timers allow.
    void tell(std::size_t last, const Slice& slice, InterlockProof& proof) const {
        std::vector<std::size_t> path;
        for (std::size_t at = last; at != 0; at = nodes_[at].parent) path.push_back(at);
        std::reverse(path.begin(), path.end());
        const auto ticks = schedule(path);
        for (std::size_t k = 0; k < path.size(); ++k) {
            const auto& node = nodes_[path[k]];
            const auto& from = nodes_[node.parent].state;
            const auto& event = node.event;
            const std::int32_t at = ticks[k];
            std::vector<std::string> causes, effects;
            if (event.power) {
                causes.push_back("power goes and comes back");
                proof.replay.push_back({at, -1, false, -1, false, true});
            }
            for (std::size_t i = 0; i < program_.inputs.size() && i < most_inputs; ++i) {
                const bool before = !event.power && from.input(i).heard != 0, heard = (event.unheard >> i & 1u) == 0;
                const bool active = (event.inputs >> i & 1u) != 0, was = from.input(i).active != 0;
                const auto& name = program_.inputs[i].name;
                if (before && heard && active != was) causes.push_back(name + (active ? " becomes true" : " is no longer true"));
                else if (!before && heard) causes.push_back(fmt::format("{} is read: {}true", name, active ? "" : "not "));
                else if (before && !heard) causes.push_back(name + " falls silent");
                else continue;
                proof.replay.push_back({at, slice.inputs[i], active, -1, false, false, !heard});
            }
            for (std::size_t c = 0; c < program_.cues.size(); ++c)
                if ((event.starts >> c & 1u) != 0) proof.replay.push_back({at, -1, false, slice.cues[c]});
            if (event.stop) {
                causes.push_back("stop");
                proof.replay.push_back({at, -1, false, -1, true});
            }
            // What that does to the cues, by making the tick again.
            const State after = ticked(nodes_[node.parent], event, node.ends);
            for (std::size_t c = 0; c < program_.cues.size() && !event.power; ++c) {
                const auto& cue = program_.cues[c];
                const bool ran = from.cue(c).place >= 0, runs = after.cue(c).place >= 0;
                const auto edge = [&](const std::vector<int>& inputs, std::uint8_t now) {
                    return std::any_of(inputs.begin(), inputs.end(), [&](int input) {
                        const auto i = static_cast<std::size_t>(input);
                        return from.input(i).heard != 0 && from.input(i).active != now && after.input(i).active == now;
                    });
                };
                if (!ran && !event.stop && !blocked(cue, event.inputs) &&
                    ((event.starts >> c & 1u) != 0 || edge(cue.inputs, 1) || edge(cue.released, 0) ||
                     (cue.at_power_up && !from->awoken && after->awoken)))
                    effects.push_back(fmt::format("'{}' starts", cue.name));
                if (after.cue(c).faulted != 0 && from.cue(c).faulted == 0) effects.push_back(fmt::format("'{}' gives up", cue.name));
                else if (ran && !runs && after.cue(c).ended == 0) effects.push_back(fmt::format("'{}' is cut short", cue.name));
                else if (ran && !runs) effects.push_back(fmt::format("'{}' ends", cue.name));
            }
            std::string line = joined(causes, ", ");
            for (std::size_t n = 0; n < effects.size(); ++n) line += (n > 0 ? ", " : line.empty() ? "" : ": ") + effects[n];
            if (!line.empty()) proof.story.push_back({at, line});
        }
        proof.story.push_back({ticks.empty() ? 0 : ticks.back(), ""});
        // What has not been read by then is read after the end.
        for (std::size_t i = 0; i < program_.inputs.size() && i < most_inputs; ++i)
            if (std::none_of(proof.replay.begin(), proof.replay.end(),
                             [&](const InterlockProof::Replay& step) { return step.input == slice.inputs[i]; }))
                proof.replay.push_back({proof.story.back().tick + 1, slice.inputs[i], false, -1});
    }

private:
    void setActive(State& state) const {
        for (std::size_t i = 0; i < state.inputs(); ++i) state.input(i).active = first_[i];
    }

    // The guards that keep a cue from starting while the inputs are so.
    [[nodiscard]] static bool blocked(const ProgramCue& cue, std::uint32_t inputs) {
        return std::any_of(cue.guards.begin(), cue.guards.end(),
                           [&](const ProgramGuard& guard) { return ((inputs >> guard.input & 1u) != 0) == guard.blocks_when; });
    }

    // All that may come in a state: every level of every input that has been read, any of those that have not may be read now, any
    // number may fall silent; any cues that rest may be started together; a stop; power that goes and comes back. What changes little
    // comes first, so that a story says no more than it must. One after another: there may be millions.
    // @param take  false: no more
    template <class Take>
    void forEachEvent(const State& state, const Take& take) {
        std::uint32_t heard = 0, active = 0;
        for (std::size_t i = 0; i < std::min(most_inputs, program_.inputs.size()); ++i) {
            heard |= static_cast<std::uint32_t>(state.input(i).heard) << i;
            active |= static_cast<std::uint32_t>(state.input(i).active) << i;
        }
        // Each subset of a mask, from nothing to all of it.
        const auto subsets = [](auto mask, const auto& each) {
            for (decltype(mask) subset = 0;; subset = (subset - mask) & mask) {
                if (!each(subset)) return false;
                if (subset == mask) return true;
            }
        };
        // What nothing is remembered of comes back as it began.
        if (remembers_ && !take(Event{cautious_, all_, 0, false, true})) return;
        (void)subsets((all_ & ~heard) | numbers_, [&](std::uint32_t silent) {
            return subsets(all_ & ~silent & ~idle_, [&](std::uint32_t changed) {
                const std::uint32_t held = silent | idle_, inputs = ((active ^ changed) & ~held) | (held & cautious_);
                std::uint64_t may_start = 0;
                for (std::size_t c = 0; c < program_.cues.size() && c < 64; ++c) {
                    const auto& cue = program_.cues[c];
                    if (state.cue(c).place >= 0 || blocked(cue, inputs)) continue;
                    // What an edge of these levels starts is started by them.
                    if (std::any_of(cue.inputs.begin(), cue.inputs.end(),
                                    [&](int i) { return ((heard & ~silent & ~active & inputs) >> i & 1u) != 0; }))
                        continue;
                    may_start |= std::uint64_t{1} << c;
                }
                if (!take(Event{inputs, silent, 0, true})) return false;
                if (std::popcount(may_start) <= most_together)
                    return subsets(may_start, [&](std::uint64_t starts) { return take(Event{inputs, silent, starts}); });
                complete_ = false;
                for (std::size_t c = 0; c < 64; ++c)
                    if ((may_start >> c & 1u) != 0 && !take(Event{inputs, silent, std::uint64_t{1} << c})) return false;
                return take(Event{inputs, silent});
            });
        });
    }

    // Chooses for each timer from `t` on whether it ends in this tick, as far as the zone allows.
    template <class Wanted>
    std::optional<std::size_t> branch(std::size_t at, const Event& event, std::size_t t, std::uint32_t ends, const Zone& zone,
                                      const Wanted& wanted) {
        if (t == nodes_[at].timers.size()) return step(at, event, ends, zone, wanted);
        if (!exact_) {
            if (auto found = branch(at, event, t + 1, ends, zone, wanted)) return found;
            return t < most_timers ? branch(at, event, t + 1, ends | 1u << t, zone, wanted) : std::nullopt;
        }
        Zone on = zone;
        if (on.goesOn(t))
            if (auto found = branch(at, event, t + 1, ends, on, wanted)) return found;
        if (t >= most_timers || !zone.mayEnd(t)) return std::nullopt;
        Zone ended = zone;
        if (!ended.ends(t)) return std::nullopt;
        return branch(at, event, t + 1, ends | 1u << t, ended, wanted);
    }

    // One tick, made by the program itself on a state of its kind: timers that end show 1, the others are far off.
    [[nodiscard]] State ticked(const Node& from, const Event& event, std::uint32_t ends) const {
        State state = from.state;
        std::vector<std::uint8_t> pins(program_.inputs.size());
        for (std::size_t i = 0; i < pins.size() && i < most_inputs; ++i) pins[i] = static_cast<std::uint8_t>(event.inputs >> i & 1u);
        for (std::size_t t = 0; t < from.timers.size(); ++t)
            setLeft(state, from.timers[t], t < most_timers && (ends >> t & 1u) != 0 ? 1 : far_off);
        if (event.power) {
            state = powerBack(program_, state);
            setActive(state);
        }
        Happening happening;
        happening.pin_active = pins;
        happening.debounced = true;
        happening.unheard = event.unheard;
        for (std::size_t c = 0; c < program_.cues.size() && c < 64; ++c)
            if ((event.starts >> c & 1u) != 0) happening.start_cues.push_back(static_cast<int>(c));
        happening.stop = event.stop;
        machine_->tick(state, happening, false);
        return state;
    }

    [[nodiscard]] Node make(const Node& from, const Event& event, std::uint32_t ends, const Zone& zone) const {
        Node next;
        next.state = ticked(from, event, ends);
        next.swept = from.swept;
        if (event.power)
            for (std::size_t o = 0; o < next.swept.size(); ++o) next.swept[o] = {program_.outputs[o].start, program_.outputs[o].start};
        std::vector<std::size_t> kept;
        std::vector<std::int32_t> fresh;
        auto& s = next.state;
        // Whose an output is matters only while that cue runs.
        for (std::size_t o = 0; o < s.outputs(); ++o)
            if (auto& owner = s.output(o).owner; owner != spark::nobody && s.cue(owner).place < 0) owner = spark::nobody;
        for (std::size_t o = 0; o < program_.outputs.size(); ++o) {
            if (s.output(o).asked != 0 || s.output(o).followed != 0) s.output(o).off_delay = 0;  // it would be set anew before it counts
            if (program_.outputs[o].kind == OutputKind::Switched) continue;
            auto& swept = next.swept[o];
            // Found, it is at its start; while it is looked for, it may be anywhere.
            if (s.output(o).homed != 0 || s.output(o).placed == 0) swept = {program_.outputs[o].start, program_.outputs[o].start};
            if (s.output(o).placed == 0) {
                if (s.output(o).elapsed >= s.output(o).duration) s.output(o).elapsed = s.output(o).duration = 0;
            } else if (s.output(o).elapsed < s.output(o).duration)
                swept = {std::min(swept[0], s.output(o).target), std::max(swept[1], s.output(o).target)};
            else if (s.output(o).duration > 0)
                swept = {s.output(o).target, s.output(o).target}, s.output(o).elapsed = s.output(o).duration = 0;
            if (s.output(o).asked != 0) swept = {-farthest_roll, farthest_roll};
            s.output(o).level = swept[0];
        }
        for (std::size_t slot = 0; slot < timerPlaces(program_); ++slot) {
            const std::int32_t ticks = left(s, slot);
            if (ticks <= 0) continue;
            next.timers.push_back(slot);
            if (ticks < far_off / 2) {
                fresh.push_back(ticks);
                continue;
            }
            fresh.push_back(0);
            kept.push_back(static_cast<std::size_t>(std::find(from.timers.begin(), from.timers.end(), slot) - from.timers.begin()));
            setLeft(s, slot, far_off);
        }
        for (std::size_t slot : next.timers) setLeft(s, slot, far_off);
        if (exact_) {
            Zone ticked = zone;
            ticked.tick();
            ticked.keep(kept);
            // In the order of their places: those that go on first, then in turn.
            std::vector<std::size_t> order;
            std::size_t old = 0, added = kept.size();
            for (const auto ticks : fresh) {
                if (ticks > 0) ticked.add(ticks), order.push_back(added++);
                else order.push_back(old++);
            }
            ticked.keep(order);
            next.zone = std::move(ticked);
        }
        for (std::size_t o = 0; o < s.outputs(); ++o) s.output(o).on_for = s.output(o).homed = 0;
        for (std::size_t i = 0; i < s.inputs(); ++i) s.input(i).active_for = 0;
        for (std::size_t c = 0; c < s.cues(); ++c) s.cue(c).ended = s.cue(c).faulted = 0;
        s->noise = 1;
        return next;
    }

    // Lets quiet ticks pass, where nothing but counting happens in them.
    void settle(Node& node) const {
        Event nothing;
        for (std::size_t i = 0; i < program_.inputs.size() && i < most_inputs; ++i) {
            nothing.inputs |= static_cast<std::uint32_t>(node.state.input(i).active) << i;
            nothing.unheard |= static_cast<std::uint32_t>(1 - node.state.input(i).heard) << i;
        }
        Zone going = node.zone;
        node.quiet = true;
        if (exact_)
            for (std::size_t t = 0; t < node.timers.size(); ++t)
                if (!going.goesOn(t)) {
                    node.quiet = false;
                    return;
                }
        const Node after = make(node, nothing, 0, going);
        node.quiet = keyOf(after) == keyOf(node);
        if (node.quiet && exact_) node.zone.pass();
    }

    template <class Wanted>
    std::optional<std::size_t> step(std::size_t at, const Event& event, std::uint32_t ends, const Zone& zone, const Wanted& wanted) {
        ++steps_;
        Node next = make(nodes_[at], event, ends, zone);
        next.parent = at;
        next.depth = nodes_[at].depth + 1;
        next.event = event;
        next.ends = ends;
        if (wanted(program_, next)) {
            nodes_.push_back(std::move(next));
            return nodes_.size() - 1;
        }
        const bool by_itself = !event.stop && !event.power;
        auto& same = seen_[keyOf(next)];
        if (!exact_ && !same.empty()) {
            if (by_itself) edges_.emplace_back(at, same.front());
            return std::nullopt;
        }
        settle(next);
        if (exact_)
            for (const auto other : same)
                if (nodes_[other].zone.includes(next.zone)) return std::nullopt;
        same.push_back(nodes_.size());
        if (!exact_ && by_itself) edges_.emplace_back(at, nodes_.size());
        nodes_.push_back(std::move(next));
        return std::nullopt;
    }

    // The earliest ticks of a path's events: a timer set at one and ended at another lies exactly its time apart; one that
    // goes on is not over yet. Longest paths, by going round until nothing changes.
    [[nodiscard]] std::vector<std::int32_t> schedule(const std::vector<std::size_t>& path) const {
        struct Apart {
            std::size_t from, to;
            std::int32_t least;
        };  // tick[to] − tick[from] ≥ least
        std::vector<Apart> apart;
        std::vector<std::pair<std::size_t, std::int32_t>> set(timerPlaces(program_), {0, 0});  // event and ticks of each timer
        for (std::size_t k = 0; k < path.size(); ++k) {
            const Node& from = nodes_[nodes_[path[k]].parent];
            const Node& to = nodes_[path[k]];
            const std::size_t now = k + 1;
            apart.push_back({k, now, 1});
            if (!from.quiet) apart.push_back({now, k, -1});
            for (std::size_t t = 0; t < from.timers.size(); ++t) {
                const auto [since, ticks] = set[from.timers[t]];
                if ((to.ends >> t & 1u) != 0) apart.push_back({since, now, ticks}), apart.push_back({now, since, -ticks});
                else apart.push_back({now, since, 1 - ticks});
            }
            // What was set in this tick shows its ticks when the tick is made again.
            const State again = ticked(from, to.event, to.ends);
            for (const auto slot : to.timers)
                if (const auto ticks = left(again, slot); ticks > 0 && ticks < far_off / 2) set[slot] = {now, ticks};
        }
        std::vector<std::int32_t> ticks(path.size() + 1, 0);
        for (std::size_t round = 0; round <= path.size() + 1; ++round)
            for (const auto& a : apart) ticks[a.to] = std::max(ticks[a.to], ticks[a.from] + a.least);
        ticks.erase(ticks.begin());
        return ticks;
    }

    Program program_;
    std::optional<Machine> machine_;   // the same, laid out to be run
    std::vector<std::uint8_t> first_;  // inputs at power-up
    bool exact_;
    std::size_t most_steps_, steps_ = 0;
    const std::atomic<bool>* cancel_;
    bool complete_ = true;
    bool remembers_ = false;
    std::uint32_t all_ = 0, numbers_ = 0, cautious_ = 0, idle_ = 0;  // inputs: looked at, numbers, true until read, never looked at again
    std::vector<Node> nodes_;
    std::unordered_map<std::string, std::vector<std::size_t>> seen_;
    std::vector<std::pair<std::uint32_t, std::uint32_t>> edges_;
};

}  // namespace hinge::routine
