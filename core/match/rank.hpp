#pragma once
// Every part on every driver and rail, best first, and why; in stages where a catalogue is large.
#include <atomic>
#include "match/explain.hpp"

namespace hinge::match {

/// One judged pairing, small enough to keep a million of.
struct Row {
    const actuator::Part* part = nullptr;
    const driver::DriverPart* driver = nullptr;
    int rail = 0;  ///< index into Context::rails
    Verdict verdict = Verdict::Unknown;
    int stops = 0;       ///< rules that say stop
    double score = 0.0;  ///< weighted criteria, less is better
    double share = 0.0;  ///< demand with margin over ability; large where not known
    double heat = 0.0;
};
/// The order of the ranking: verdict, stops, weighted score, share, heat, ids.
[[nodiscard]] bool better(const Row& a, const Row& b);
/// Weighted criteria, each from 0 (nothing) to 1 (very much) as x/(x + reference): price to 10 of the
/// currency, noise to 40 dB(A), mass to 100 g, driver heat to 1 W, share of what the part can do to 1.
[[nodiscard]] double scoreOf(const project::Weights& weights, const Numbers& numbers);

/// Every pairing judged, one by one, that suits the job at all. The reference for survivors().
[[nodiscard]] std::vector<Row> everyPair(const Context& context, const project::Parts& parts);
struct Search {
    std::size_t most = static_cast<std::size_t>(-1);  ///< only the first so many rows
    bool one_per_part = false;                        ///< each part only on its best driver and rail
    const std::atomic<bool>* cancel = nullptr;        ///< looked at between parts; what is found so far comes back
};
/// Those of everyPair() that do not break, in the same order, found in stages: parts that break with
/// any driver fall first, then drivers by what holds for all parts, then by current from a sorted list;
/// and no part is looked into whose best conceivable row would stand behind the `most` already found.
[[nodiscard]] std::vector<Row> survivors(const Context& context, const project::Parts& parts, const Search& search = {});

/// Each part once, on its best driver and rail, best first, with reasons; losers follow, nearest first.
/// @param most  rows that are worked out in words
[[nodiscard]] std::vector<Pairing> candidates(const Context& context, const project::Parts& parts, std::size_t most = 200);
/// Every driver that can drive one part, best first, with reasons.
[[nodiscard]] std::vector<Pairing> driversFor(const Context& context, const project::Parts& parts, const actuator::Part& part,
                                              std::size_t most = 200);
/// What would let a part win that breaks now: "on 6.00 V instead of 4.80 V", "with 1:3 gearing",
/// "arm 20 mm shorter"; empty when nothing tried does.
[[nodiscard]] std::string changeToWin(const Context& context, const project::Parts& parts, const actuator::Part& part);
/// The part of that id, the maker's own load included; nullptr when there is none.
[[nodiscard]] const actuator::Part* partOf(const Context& context, const project::Parts& parts, std::string_view id);

}  // namespace hinge::match
