#pragma once
// What the demands' files share: steps that are shown, figures that are missing.
#include <initializer_list>
#include "kinds/demand_kind.hpp"

namespace hinge::kinds::asking {

template <class R>
void show(Ask& ask, std::string title, const Worked<R>& worked) {
    ask.workings.push_back({std::move(title), project::Stage::Need, "", worked.steps, worked.verdict});
}
inline void show(Ask& ask, std::string title, Steps steps) {
    ask.workings.push_back({std::move(title), project::Stage::Need, "", std::move(steps), Verdict::Holds});
}
template <class Q>
bool need(Ask& ask, const std::optional<Q>& value, const char* field) {
    if (!value) ask.missing.emplace_back(field);
    return value.has_value();
}
/// What is wished of a move, however it is made.
template <class D>
void wishes(Ask& ask, const D& d) {
    ask.margin = si(d.margin);
    ask.both_ways = d.both_ways;
    ask.holds = d.holds;
}
/// Every answer is asked for, so that all that is missing is listed, not the first of it.
[[nodiscard]] bool all(std::initializer_list<bool> answers);
/// A move by an angle [rad] in a time [s], speeding up half-way and slowing down again.
void moveTimes(Ask& ask, double angle, double time);
/// "± 8 %", as it stands behind the figure that decides; empty where nothing is known of it.
[[nodiscard]] std::string about(const Ask& ask);
/// What a part does of what is asked, and how soon: "120 mN·m of 300 mN·m".
[[nodiscard]] Telling share(Kind kind, double asked, const Ask& ask, const Numbers& numbers);
/// The same of a torque, or of a force where no shaft turns.
[[nodiscard]] Telling strength(const project::Demand& demand, const Ask& ask, const Pairing& pairing);
/// What a move asks: torque or force, and how far in which time.
[[nodiscard]] Telling movement(const project::Demand& demand, const Ask& ask);
/// What flows where part and way meet, and against what.
[[nodiscard]] Telling stream(const project::Demand& demand, const Ask& ask, const Pairing& pairing);
/// The mains that feed a demand of its own wish; nullopt: a rail does.
template <class D>
[[nodiscard]] std::optional<Mains> mainsOf(const project::Demand& demand) {
    const auto& d = std::get<D>(demand);
    return d.feeding == project::Feeding::Mains ? std::optional(Mains{d.mains_voltage, d.mains_frequency}) : std::nullopt;
}
/// The way that lets more time: "in 2 s instead of 1 s".
[[nodiscard]] Way moreTime(const Duration& time, std::vector<double> factors);

}  // namespace hinge::kinds::asking
