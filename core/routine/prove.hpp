#pragma once
#include "routine/program.hpp"
#include <atomic>
#include <string>
#include <vector>

namespace hinge::routine {

enum class ProofStatus { Proved, Violated, Bounded };

struct StoryEvent {
    std::int32_t tick = 0;   ///< ms from power-up
    std::string event;
};

/// What the search found about one interlock.
struct InterlockProof {
    std::string id;
    std::string text;
    ProofStatus status = ProofStatus::Proved;
    std::size_t states = 0;             ///< states explored
    std::vector<StoryEvent> story;      ///< shortest, when violated
    /// The story as debounced inputs per tick, for replaying.
    struct Replay { std::int32_t tick; int input; bool active; int start_cue; };
    std::vector<Replay> replay;
};

/// Explores every reachable state, breadth first: any debounced input may change at any tick, any
/// time of day may come, any cue may be started over the link. The last-stage enforcement is off.
/// A power cut leads back to the first state, which is explored anyway.
/// Each interlock is explored alone, over the cues and inputs that can reach it.
/// Where waits are long, it is first tried whether the interlock holds whenever they end; then fewer
/// states than ticks are explored.
/// @param most_states  beyond it the answer is Bounded: nothing is claimed past the states named
/// @param cancel       checked now and then; set: Bounded
[[nodiscard]] std::vector<InterlockProof> prove(const Program& program, std::size_t most_states = 2'000'000,
                                                const std::atomic<bool>* cancel = nullptr);

}  // namespace hinge::routine
