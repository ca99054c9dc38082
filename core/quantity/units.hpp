#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <vector>
#include "quantity/kind.hpp"
#include "quantity/result.hpp"

namespace hinge {
inline namespace quantity {

/// How a unit maps to SI: si = value * factor + offset.
struct UnitScale {
    double factor = 1.0;
    double offset = 0.0;
};

/// The name of a kind for messages ("a torque").
[[nodiscard]] std::string_view kindName(Kind kind);
/// The SI unit of a kind as shown and as written in JSON ("N·m"); empty for plain numbers.
[[nodiscard]] std::string_view siUnit(Kind kind);
/// Every unit name that a kind accepts, in a canonical spelling (u for µ, '.' for products).
[[nodiscard]] const std::vector<std::string>& unitsOf(Kind kind);
/// The scale of a unit, if the kind accepts it. Spelling is free in µ/u, ², ·, Ω, ° and blanks.
/// The factor comes from UDUNITS-2; the table of names is ours (common practice).
/// @error none: an unfitting unit is nullopt
[[nodiscard]] std::optional<UnitScale> unitScale(Kind kind, std::string_view unit);
/// A few units a maker would write for this kind, for messages ("N, kgf, gf, lbf").
[[nodiscard]] std::string unitExamples(Kind kind);

}  // namespace quantity
}  // namespace hinge
