#pragma once
#include <span>
#include "working/form.hpp"

namespace hinge::power {

struct Fuse {
    Current running_current{};
    Fraction derating = of<Fraction>(0.75);
};
struct FuseResult {
    Current smallest_rating{};
    std::optional<Current> standard;
};
/// The rated currents that are stocked, rising [A].
/// @source iec-60127
[[nodiscard]] std::span<const double> fuseRatings();
/// Past the list: null, and breaks (`fuse-past-list`).
/// @source iec-60127
[[nodiscard]] Result<Worked<FuseResult>> fuse(const Fuse& in);
[[nodiscard]] FormPtr fuseForm();

}  // namespace hinge::power
