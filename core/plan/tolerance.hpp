#pragma once
#include "plan/supply.hpp"

namespace hinge::plan {

/// One figure's ± and how much it decides.
struct ToleranceFact {
    std::string path, label;
    double share = 0.0;   ///< of its value, both ways, two standard deviations
    double weight = 0.0;  ///< its part in how far the margin nearest to its limit moves; all facts together 1, or all 0
};
struct Tolerance {
    int plans = 0;
    double overload = 0.0;             ///< chance that some part is asked for more than it can
    double supply_over = 0.0;          ///< chance that the worst coincidence passes what the source gives
    double too_low = 0.0;              ///< chance that the board's rail falls under its guaranteed floor
    std::vector<ToleranceFact> facts;  ///< the deciding one first
    std::string sentence;              ///< "Measure the curtain's friction: it decides."
};
/// Draws each fact's ± at once, again and again. Facts of a demand by their own ±; the source's volts by 5 %,
/// capacitors by 20 % (common practice, no published source). Each is taken as normal, its ± as two standard
/// deviations, none beyond three. What a fact does to a share or a current is worked out at both ends of its ±
/// and taken as straight in between; facts multiply. What a channel's current does to the supply is read from a
/// curve of nine studies; a capacitor divides the fall. Tests hold it against plans worked out in full.
/// @param plans  how many; 10 000 is usual
/// @param seed   the same seed gives the same answer
/// nullopt: the supply cannot be studied yet
[[nodiscard]] std::optional<Tolerance> tolerance(const project::Project& project, const project::Parts& parts, const Plan& plan, int plans,
                                                 std::uint64_t seed, int threads = 2);

}  // namespace hinge::plan
