#pragma once
// What has to be done again and again, and when next.
#include "plan/plan.hpp"
#include "timing/calendar.hpp"

namespace hinge::proof {

/// Care that is due, or is proposed.
struct Due {
    journal::Care care;
    bool proposed = false;               ///< it follows from the parts; nobody has taken it over yet
    std::string reason;                  ///< of a proposed interval
    std::optional<timing::Date> next;    ///< absent: it was never done, so nothing says from when
    std::optional<int> days;             ///< until then; negative: overdue by so many
    Verdict verdict = Verdict::Unknown;  ///< holds; tight within two weeks; breaks when overdue; unknown when never done
};
/// The care that was decided, the most urgent first.
[[nodiscard]] std::vector<Due> careDue(const std::vector<journal::Care>& care, const timing::Date& today);
/// What the gadget's parts, place and use ask for, without what is decided already. Intervals are common practice, no published source;
/// where a life in hours or switchings is known of the trade, it is spread over the hours and switchings that the routine makes in a day.
[[nodiscard]] std::vector<Due> careProposed(const project::Project& project, const project::Parts& parts, const plan::Plan& plan);
/// Seconds a day that a channel is on, by its cues: those of the clock as they come, those of an input as often as the journal says that
/// the gadget is used. nullopt: no cue drives it, or nobody has said how often.
[[nodiscard]] std::optional<Duration> onADay(const project::Project& project, const plan::Plan& plan, const std::string& channel);
/// @source derived: days counted on the Gregorian calendar
[[nodiscard]] timing::Date daysAfter(timing::Date date, int days);

/// The project with a care done on that day; a proposed one is taken over first. @param date "2026-11-26"
[[nodiscard]] project::Project careDone(project::Project project, const journal::Care& care, const std::string& date);

}  // namespace hinge::proof
