#pragma once
#include <atomic>
#include <string>
#include <vector>
#include "routine/program.hpp"

namespace hinge::routine {

enum class ProofStatus { Proved, Violated, Bounded };

struct StoryEvent {
    std::int32_t tick = 0;  ///< ms from power-up
    std::string event;
};

/// What a proof is about.
enum class Claim {
    Never,  ///< an interlock's statement is never true
    Ends,   ///< an output that is on can always go off again without a stop
};

/// What the search found about one claim.
struct InterlockProof {
    std::string id;  ///< the interlock's, or of Ends the output's
    std::string text;
    ProofStatus status = ProofStatus::Proved;
    std::size_t states = 0;  ///< states explored
    std::vector<StoryEvent>
        story;  ///< shortest in ticks at which something comes, when violated: what comes, and which cues it starts and cuts
    /// The story as debounced inputs per tick, for replaying. An input is as if never read until its first step.
    struct Replay {
        std::int32_t tick;
        int input;
        bool active;
        int start_cue;
        bool stop = false;
        bool power = false;
        bool silent = false;  ///< a number that has fallen silent
    };
    std::vector<Replay> replay;
    std::size_t depth = 0;  ///< events from power-up that were reached
    Claim claim = Claim::Never;
};

/// Explores every reachable state, breadth first, from power-up on: each input is read for the first time at any tick, and starts nothing
/// by that; then it may change at any tick. Any cues may be started in one tick, by the clock, an interval, the power or over the link;
/// a stop may come at any tick, and power may go and come back. The last-stage enforcement is off. What has to look for its start is
/// anywhere until it is found.
/// Each claim is explored alone, over the cues and inputs that can reach it.
/// Timers that run are first let free to end at any tick: what holds then, holds. Where that finds a violation, the
/// timers' bounds and differences are counted exactly, and it is a violation, or is none.
/// An input of the link (a number, a counter, the days) may be true or not at any tick, like a contact; a number may fall silent.
/// @param most_steps  of the search for one claim, each one tick; beyond them the answer is Bounded: nothing is claimed
///                    past the states and depth named
/// @param cancel      checked now and then; set: Bounded
[[nodiscard]] std::vector<InterlockProof> prove(const Program& program, std::size_t most_steps = 2'000'000,
                                                const std::atomic<bool>* cancel = nullptr);
/// Whether a story's replay, tick by tick in the whole program with the enforcement off, ends in what it says.
[[nodiscard]] bool replays(const Program& program, const InterlockProof& proof);

/// What follows from how a routine is built, without a search.
struct Bounds {
    std::int32_t longest_wait = 0;      ///< ticks: of what a cue waits for
    std::int32_t longest_homing = 0;    ///< ticks
    std::int32_t safe_within = 1;       ///< ticks from a stop to every output in its safe state
    std::vector<std::string> for_ever;  ///< names of cues that go round until a stop or a guard
};
[[nodiscard]] Bounds boundsOf(const Program& program);

}  // namespace hinge::routine

// Compiled once, in prove.cpp: else every file that copies one would compile it anew.
extern template class std::vector<hinge::routine::StoryEvent>;
extern template class std::vector<hinge::routine::InterlockProof>;
