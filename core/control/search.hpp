#pragma once
// Gains found by trying them on the model, within limits that are safe.
#include <array>
#include <atomic>
#include "control/response.hpp"
#include "quantity/names.hpp"
#include "quantity/result.hpp"

namespace hinge::control {

/// What the maker cares for most.
enum class Cost { Calm, Quick, Quiet, Cool };

struct SearchAsk {
    LoopSetup setup;  ///< its gains are where the search begins; its limits are kept
    Target target;
    Cost cost = Cost::Calm;
    std::uint64_t variation = 7;  ///< the gains must also do for two machines that are a little off, by this seed; 0: only for this one
    int most_trials = 1500;       ///< of runs
    const std::atomic<bool>* cancel = nullptr;
};
struct SearchResult {
    PidFigures pid;
    double cost = 0.0;                 ///< of the worst of the machines
    double before = 0.0;               ///< with the gains it began with
    std::optional<Response> response;  ///< on the machine as planned; absent of what balances
    int trials = 0;
};
/// A compass search in the logarithms of the gains: from the gains given, from a rule's, and from a coarse grid.
/// @error OutOfRange  no step, or nothing that settles was found
/// @error Cancelled
[[nodiscard]] Result<SearchResult> searchGains(const SearchAsk& ask);
/// The cost of one run; less is better. A run that runs away costs a million.
[[nodiscard]] double costOf(const LoopRun& run, const SearchAsk& ask);

}  // namespace hinge::control

template <>
struct hinge::Names<hinge::control::Cost> {
    using C = hinge::control::Cost;
    static constexpr std::array all{hinge::Name<C>{C::Calm, "calm", "calm"}, hinge::Name<C>{C::Quick, "quick", "quick"},
                                    hinge::Name<C>{C::Quiet, "quiet", "quiet"}, hinge::Name<C>{C::Cool, "cool", "cool"}};
};
