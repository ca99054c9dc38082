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

Way moreTime(const Duration& time, std::vector<double> factors) {
    return {"time", std::move(factors),
            [time](double f) { return fmt::format("in {} instead of {}", display(Kind::Duration, si(time) * f), display(time)); }};
}

}  // namespace hinge::kinds::asking
