#pragma once
// What a routine means, written down a second time and by itself: from the text of the maker's decisions, tick by tick, with no word of
// the program's own interpreter. Two inputs, up to three cues, two switched outputs and one that is sent to places. For the proofs.
#include <array>
#include <cstring>
#include <optional>
#include <string>
#include <unordered_set>
#include <vector>

namespace hinge::test::plain {

enum class Do { On, Off, Run, Wait, Until, Go, Home };
struct Step {
    Do what = Do::Wait;
    int output = -1;  // 0 and 1 are switched, 2 goes to places
    int ticks = 1;
    int place = 0;  // Go
    int input = 0;  // Until, Home: it becomes true
    bool together = false;
};
struct Guard {
    int input = 0;
    bool throughout = true, only = false;
};
struct Cue {
    int input = -1;
    bool on_release = false, at_power_up = false;
    std::vector<Guard> guards;
    std::vector<Step> steps;
};
struct Follower {
    int input = 0;
    bool released = false;
    int unless = -1;
};
struct Gadget {
    std::vector<Cue> cues;
    std::array<int, 2> off_delay{};
    std::array<bool, 2> remembered{};
    std::optional<Follower> follower;  // of output 0
    std::array<bool, 2> cautious{};    // true until it has been read
    int start = 10;                    // of output 2
};
/// Output `on` while `input` is true and the terms are so.
struct Term {
    int output = 0;
    enum { IsOn, IsOff, Beyond, Short } kind = IsOn;
    int place = 0;
};
struct Never {
    int output = 0, input = -1;
    std::vector<Term> terms;
};

struct State {
    std::array<std::int8_t, 3> at{-1, -1, -1}, left{}, owner{-1, -1, -1};
    std::array<std::int8_t, 2> off_left{}, run_left{};
    std::array<bool, 2> heard{}, active{}, asked{}, on{}, followed{}, remembers{};
    std::int8_t low = 0, high = 0, target = 0, gone = 0, lasts = 0;  // of output 2: where it may be, and its move
    bool placed = true, stopped = false, awoken = false;
};
struct Event {
    std::array<bool, 2> level{}, silent{};
    unsigned starts = 0;
    bool stop = false, power = false;
};

class Model {
public:
    explicit Model(const Gadget& gadget) : g{gadget} {
        for (const auto& cue : g.cues)
            for (const auto& step : cue.steps) homed = homed || step.what == Do::Home;
    }
    [[nodiscard]] State first() const {
        State s;
        s.active = g.cautious;
        s.low = s.high = static_cast<std::int8_t>(g.start);
        s.placed = !homed;
        return s;
    }
    void tick(State& s, const Event& event) const {
        if (event.power) {
            const auto was = s.asked;
            s = first();
            for (int o = 0; o < 2; ++o) s.remembers[o] = g.remembered[o] && was[o];
        }
        // Inputs: the first word of one starts nothing.
        std::array<int, 2> edge{};  // 1 became true, −1 no longer
        for (int i = 0; i < 2; ++i) {
            if (!s.heard[i] && event.silent[i]) continue;
            if (s.active[i] != event.level[i] && s.heard[i]) edge[i] = event.level[i] ? 1 : -1;
            s.heard[i] = true;
            s.active[i] = event.level[i];
        }
        const bool wakes = !s.awoken && s.heard[0] && s.heard[1];
        if (wakes) {
            s.awoken = true;
            for (int o = 0; o < 2; ++o)
                if (s.remembers[o]) s.asked[o] = true, s.remembers[o] = false;
        }
        // Triggers in the order of the list.
        for (int c = 0; c < static_cast<int>(g.cues.size()); ++c) {
            const auto& cue = g.cues[c];
            bool blocks = false, blocks_running = false;
            for (const auto& guard : cue.guards) {
                const bool so = s.active[guard.input] != guard.only;
                blocks = blocks || so;
                blocks_running = blocks_running || (so && guard.throughout);
            }
            if (s.at[c] >= 0 && (event.stop || blocks_running)) cutShort(s, c);
            if (s.at[c] >= 0 || event.stop || blocks) continue;
            bool starts = (event.starts >> c & 1u) != 0 || (cue.at_power_up && wakes);
            if (cue.input >= 0) starts = starts || edge[cue.input] == (cue.on_release ? -1 : 1);
            if (!starts) continue;
            s.at[c] = 0;
            s.left[c] = -1;  // its first step has not begun
            s.stopped = false;
            for (const auto& step : cue.steps)
                if (step.output >= 0 && s.owner[step.output] == c) s.owner[step.output] = -1;
        }
        if (event.stop) {
            s.stopped = true;
            for (int o = 0; o < 3; ++o) letGo(s, o);
        }
        for (int c = 0; c < static_cast<int>(g.cues.size()); ++c)
            if (s.at[c] >= 0) move(s, c);
        if (g.follower) {
            const auto& f = *g.follower;
            const bool wants = !s.stopped && s.heard[f.input] && s.active[f.input] != f.released && !(f.unless >= 0 && s.active[f.unless]);
            if (s.followed[0] && !wants && !s.asked[0] && !s.stopped) s.off_left[0] = static_cast<std::int8_t>(g.off_delay[0]);
            s.followed[0] = wants;
        }
        for (int o = 0; o < 2; ++o) {
            if (s.run_left[o] > 0 && --s.run_left[o] == 0) off(s, o);
            s.on[o] = s.asked[o] || s.followed[o];
            if (!s.on[o] && s.off_left[o] > 0) --s.off_left[o], s.on[o] = true;
            if (s.asked[o] || s.followed[o]) s.off_left[o] = 0;
        }
        if (s.gone < s.lasts && ++s.gone == s.lasts) {
            if (s.placed) s.low = s.high = s.target;
            s.gone = s.lasts = 0;
        }
    }
    [[nodiscard]] bool moving(const State& s) const { return s.gone < s.lasts; }
    [[nodiscard]] bool violates(const State& s, const Never& never) const {
        const auto is_on = [&](int o) { return o == 2 ? moving(s) : s.on[o]; };
        bool so = is_on(never.output) && (never.input < 0 || s.active[never.input]);
        for (const auto& term : never.terms)
            so = so && (term.kind == Term::IsOn     ? is_on(term.output)
                        : term.kind == Term::IsOff  ? !is_on(term.output)
                        : term.kind == Term::Beyond ? !s.placed || s.high > term.place
                                                    : !s.placed || s.low < term.place);
        return so;
    }
    /// Whether the statement can become true, by trying everything that may come in every tick. @return nullopt: too many states
    [[nodiscard]] std::optional<bool> canBe(const Never& never, std::size_t most) const {
        const auto text = [](const State& s) { return std::string(reinterpret_cast<const char*>(&s), sizeof s); };
        std::unordered_set<std::string> seen;
        std::vector<State> queue{first()};
        seen.insert(text(queue.front()));
        for (std::size_t at = 0; at < queue.size(); ++at) {
            if (queue.size() > most) return std::nullopt;
            for (unsigned n = 0; n < 16; ++n) {
                Event event{{(n & 1) != 0, (n & 2) != 0}, {(n & 4) != 0, (n & 8) != 0}};
                if ((event.silent[0] && queue[at].heard[0]) || (event.silent[1] && queue[at].heard[1])) continue;
                if ((event.silent[0] && event.level[0]) || (event.silent[1] && event.level[1])) continue;  // what is not heard has no level
                for (unsigned starts = 0; starts <= 1u << g.cues.size(); ++starts) {
                    event.stop = starts == 1u << g.cues.size();
                    event.starts = event.stop ? 0 : starts;
                    State next = queue[at];
                    tick(next, event);
                    if (violates(next, never)) return true;
                    if (seen.insert(text(next)).second) queue.push_back(next);
                }
            }
            State next = queue[at];
            tick(next, {{}, {true, true}, 0, false, true});
            if (violates(next, never)) return true;
            if (seen.insert(text(next)).second) queue.push_back(next);
        }
        return false;
    }

private:
    void off(State& s, int o) const {
        s.run_left[o] = 0;
        if (s.asked[o]) s.off_left[o] = static_cast<std::int8_t>(g.off_delay[o]);
        s.asked[o] = false;
    }
    void letGo(State& s, int o) const {
        if (o == 2) s.gone = s.lasts = 0;
        else s.asked[o] = false, s.off_left[o] = s.run_left[o] = 0;
    }
    // It lets go of what it turns on or moves, but not of what another one that runs has taken over.
    void cutShort(State& s, int c) const {
        s.at[c] = -1;
        s.left[c] = 0;
        for (const auto& step : g.cues[c].steps) {
            if (step.output < 0 || step.what == Do::Off) continue;
            const int owner = s.owner[step.output];
            if (owner >= 0 && owner != c && s.at[owner] >= 0) continue;
            letGo(s, step.output);
        }
    }
    void moveTo(State& s, int place, int ticks) const {
        s.low = static_cast<std::int8_t>(std::min<int>(s.low, place));
        s.high = static_cast<std::int8_t>(std::max<int>(s.high, place));
        s.target = static_cast<std::int8_t>(place);
        s.gone = 0;
        s.lasts = static_cast<std::int8_t>(ticks);
    }
    void found(State& s) const {
        s.low = s.high = static_cast<std::int8_t>(g.start);
        s.placed = true;
        s.gone = s.lasts = 0;
    }
    void move(State& s, int c) const {
        const auto& steps = g.cues[c].steps;
        const auto last = [&](int at) {
            while (at + 1 < static_cast<int>(steps.size()) && steps[at + 1].together) ++at;
            return at;
        };
        if (s.left[c] > 0) {
            const int end = last(s.at[c]);
            const auto& step = steps[end];
            const bool awaits = step.what == Do::Until || step.what == Do::Home;
            if (awaits && s.active[step.input]) {
                if (step.what == Do::Home) found(s);
            } else if (--s.left[c] > 0) {
                return;
            } else if (awaits) {
                cutShort(s, c);
                return;
            } else if (step.what == Do::Run && s.at[c] == end) {
                s.owner[step.output] = static_cast<std::int8_t>(c);
                off(s, step.output);
            }
            s.at[c] = static_cast<std::int8_t>(end + 1);
        }
        while (s.at[c] >= 0) {
            if (s.at[c] >= static_cast<int>(steps.size())) {
                s.at[c] = -1;
                s.left[c] = 0;
                return;
            }
            const int begin = s.at[c], end = last(begin);
            int longest = 0;
            for (int k = begin; k <= end; ++k) {
                const auto& step = steps[k];
                if (step.output >= 0) s.owner[step.output] = static_cast<std::int8_t>(c);
                switch (step.what) {
                    case Do::On: s.asked[step.output] = true, s.run_left[step.output] = 0; break;
                    case Do::Off: off(s, step.output); break;
                    case Do::Run:
                        s.asked[step.output] = true;
                        s.run_left[step.output] = static_cast<std::int8_t>(begin == end ? 0 : step.ticks + 1);
                        longest = std::max(longest, step.ticks);
                        break;
                    case Do::Wait: longest = std::max(longest, step.ticks); break;
                    case Do::Until:
                        if (!s.active[step.input]) longest = step.ticks;
                        break;
                    case Do::Go:
                        if (!s.placed) return cutShort(s, c);
                        moveTo(s, step.place, step.ticks);
                        longest = std::max(longest, step.ticks);
                        break;
                    case Do::Home:
                        if (s.active[step.input]) {
                            found(s);
                        } else {
                            s.placed = false;
                            s.low = s.high = static_cast<std::int8_t>(g.start);
                            s.target = static_cast<std::int8_t>(g.start);
                            s.gone = 0;
                            s.lasts = static_cast<std::int8_t>(step.ticks);
                            longest = step.ticks + 1;
                        }
                        break;
                }
            }
            s.left[c] = static_cast<std::int8_t>(longest);
            if (longest > 0) return;
            s.at[c] = static_cast<std::int8_t>(end + 1);
        }
    }

    const Gadget& g;
    bool homed = false;
};

}  // namespace hinge::test::plain
