#include "kinds/demands/asking.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "quantity/text.hpp"

namespace hinge::kinds::asking {

bool all(std::initializer_list<bool> answers) {
    return std::all_of(answers.begin(), answers.end(), [](bool answer) { return answer; });
}

void moveTimes(Ask& ask, double angle, double time) {
    ask.angle = of<Angle>(angle);
    ask.time = of<Duration>(time);
    ask.speed = of<RotationSpeed>(2.0 * angle / time);
}

std::string about(const Ask& ask) {
    return ask.spread ? fmt::format(" ± {:.0f} %", *ask.spread * 100.0) : "";
}

Telling share(Kind kind, double asked, const Ask& ask, const Numbers& n) {
    if (!known(n.ability)) return {};
    Telling telling;
    const auto unit = displayUnit(kind, n.ability);
    telling.figure = fmt::format("{} of {}", significant(asked / unit.factor, 2), display(kind, n.ability, 2));
    if (known(n.move_time)) telling.small = "moves in " + display(Kind::Duration, n.move_time, 2);
    else if (known(n.speed) && ask.speed) telling.small = display(Kind::RotationSpeed, n.speed, 2);
    return telling;
}

Telling strength(const project::Demand& /*demand*/, const Ask& ask, const Pairing& pairing) {
    if (ask.torque) return share(Kind::Torque, si(*ask.torque), ask, pairing.numbers);
    return share(Kind::Force, ask.force ? si(*ask.force) : 0.0, ask, pairing.numbers);
}

Telling movement(const project::Demand& /*demand*/, const Ask& ask) {
    Telling telling;
    if (ask.torque) telling.figure = display(*ask.torque, 2) + about(ask);
    else if (ask.force) telling.figure = display(*ask.force, 2) + about(ask);
    if (ask.angle && ask.time) telling.small = display(*ask.angle, 2) + " in " + displayPlain(*ask.time);
    else if (ask.speed) telling.small = "at " + display(*ask.speed, 2);
    else if (ask.stroke) telling.small = displayPlain(*ask.stroke) + " stroke";
    return telling;
}

Telling stream(const project::Demand& /*demand*/, const Ask& /*ask*/, const Pairing& pairing) {
    Telling telling;
    if (!pairing.flow) return telling;
    telling.figure = display(*pairing.flow, 2);
    if (pairing.head) telling.small = "at " + display(*pairing.head, 2) + " head";
    else if (known(pairing.numbers.height)) telling.small = "at " + display(Kind::Pressure, pairing.numbers.height, 2);
    return telling;
}

Way moreTime(const Duration& time, std::vector<double> factors) {
    return {"time", std::move(factors),
            [time](double f) { return fmt::format("in {} instead of {}", display(Kind::Duration, si(time) * f), display(time)); }};
}

}  // namespace hinge::kinds::asking
