#pragma once
// Incoming inspection: what a few tried pieces say about the bag they come from.
#include <span>
#include "working/form.hpp"

namespace hinge::journal {

/// So many tried, so many of them rejected.
struct BagShare {
    Count tried{};
    Count rejected{};
    Fraction confidence = of<Fraction>(0.9);  ///< below 1
};
struct BagShareResult {
    Fraction found{};    ///< rejected of those tried
    Fraction at_most{};  ///< of the whole bag, with that confidence
};
/// The upper bound of a share after k of n: Σ C(n,i)·p^i·(1−p)^(n−i), i ≤ k, is 1 − confidence. For a bag much larger than what was tried.
/// @error OutOfRange  more rejected than tried, or a confidence of 1
/// @source clopper-pearson-1934
[[nodiscard]] Result<Worked<BagShareResult>> bagShare(const BagShare& in);
[[nodiscard]] FormPtr bagShareForm();

/// Mean, spread and strangers among readings of one kind.
struct BagSpread {
    double mean = 0.0;
    double deviation = 0.0;  ///< standard deviation, n − 1; 0 for one
    double median = 0.0;
    double away = 0.0;                 ///< median distance from the median
    std::vector<std::size_t> strange;  ///< places of readings unlike the others; needs five
};
/// A reading is strange when 0.6745·|x − median|/away is above 3.5; when most are alike (away is 0), when it is off by more than a tenth.
/// @source iglewicz-hoaglin-1993
[[nodiscard]] BagSpread bagSpread(std::span<const double> readings);

}  // namespace hinge::journal
