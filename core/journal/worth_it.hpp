#pragma once
#include "quantity/series.hpp"
#include "working/form.hpp"

namespace hinge::journal {

/// What the gadget costs against what it saves.
struct WorthIt {
    Ratio parts_cost{};                 ///< in the project's currency
    Duration hours{};                   ///< spent building
    Ratio hour_value = of<Ratio>(0.0);  ///< currency per hour
    Duration minutes_saved_per_use{};
    Ratio uses_per_week{};
};
struct WorthItResult {
    Ratio total_cost{};
    Ratio weekly_value{};
    std::optional<Duration> payback_weeks;  ///< null without a value
};
/// @source derived: cost over weekly value
[[nodiscard]] Result<Worked<WorthItResult>> worthIt(const WorthIt& in);
[[nodiscard]] FormPtr worthItForm();

struct PreferredValue {
    Ratio value{};
    Series series = Series::E12;
    Round round = Round::Nearest;
};
struct PreferredValueResult {
    Ratio standard{};
    Fraction error{};  ///< standard/value − 1
};
/// @source iec-60063
[[nodiscard]] Result<Worked<PreferredValueResult>> preferredValue(const PreferredValue& in);
[[nodiscard]] FormPtr preferredValueForm();

}  // namespace hinge::journal

template <>
struct hinge::Names<hinge::Round> {
    static constexpr std::array all{hinge::Name<hinge::Round>{hinge::Round::Nearest, "nearest", "nearest"},
                                    hinge::Name<hinge::Round>{hinge::Round::Up, "up", "up"},
                                    hinge::Name<hinge::Round>{hinge::Round::Down, "down", "down"}};
};
