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
/// Cartridges up to 10 A, blade fuses up to 30 A, rising [A]: what a rail may be protected with.
/// @source iec-60127, iso-8820
[[nodiscard]] std::span<const double> fittedRatings();
/// What a fuse of that rating promises: it carries so much for an hour, and blows within minutes above the other.
/// Slow cartridges (to 10 A): 1.5·In for at least 60 min, 2.1·In for at most 2 min. Blades (beyond): 1.1·In for 100 h,
/// 1.35·In for at most 10 min.
/// @source iec-60127, iso-8820
struct FuseLimits {
    Current carries{};
    Current blows{};
    bool blade = false;
};
[[nodiscard]] FuseLimits fuseLimits(Current rating);
/// The smallest fitted rating that carries a running current for good; nullopt past the list.
[[nodiscard]] std::optional<Current> fuseFor(Current running);
/// Past the list: null, and breaks (`fuse-past-list`).
/// @source iec-60127
[[nodiscard]] Result<Worked<FuseResult>> fuse(const Fuse& in);
[[nodiscard]] FormPtr fuseForm();

}  // namespace hinge::power
