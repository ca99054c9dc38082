#pragma once
#include <array>
#include <optional>
#include <span>
#include <string_view>
#include "quantity/names.hpp"

namespace hinge {
inline namespace quantity {

/// The E series of preferred values.
enum class Series { E3, E6, E12, E24, E48, E96, E192 };
enum class Round { Nearest, Up, Down };

/// The mantissas of a series within one decade, rising, from 1 to below 10.
/// @source iec-60063
[[nodiscard]] std::span<const double> mantissas(Series series);

/// The preferred value for `value`: an equal value counts as next higher or lower (slack 1e-9);
/// nearest by difference, a tie goes to the lower.
/// @param value  any unit, greater than 0
/// @source iec-60063
[[nodiscard]] double preferred(double value, Series series, Round round);

/// The smallest entry of a rising list that is not below `value` (slack 1e-9); nullopt past its end.
[[nodiscard]] std::optional<double> nextInList(double value, std::span<const double> list);

}  // namespace quantity
}  // namespace hinge

template <>
struct hinge::Names<hinge::Series> {
    static constexpr std::array all{
        hinge::Name<hinge::Series>{hinge::Series::E3, "E3", "E3"},      hinge::Name<hinge::Series>{hinge::Series::E6, "E6", "E6"},
        hinge::Name<hinge::Series>{hinge::Series::E12, "E12", "E12"},   hinge::Name<hinge::Series>{hinge::Series::E24, "E24", "E24"},
        hinge::Name<hinge::Series>{hinge::Series::E48, "E48", "E48"},   hinge::Name<hinge::Series>{hinge::Series::E96, "E96", "E96"},
        hinge::Name<hinge::Series>{hinge::Series::E192, "E192", "E192"}};
};
