// Something that is pressed, by a horn or a plunger.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "demand/lever_load.hpp"
#include "demand/straight_motion.hpp"
#include "demand/turning.hpp"
#include "kinds/demands/asking.hpp"
#include "quantity/constants.hpp"
#include "quantity/text.hpp"

namespace hinge::kinds {
namespace demands::press {
namespace {

using namespace project;
using namespace asking;

const PressDemand& get(const Demand& demand) {
    return std::get<PressDemand>(demand);
}

void asks(Ask& ask, const Demand& demand) {
    const auto& d = get(demand);
    ask.margin = si(d.margin);
    ask.holds = d.holds;
    ask.positional = d.way == PressWay::Horn;
    ask.both_ways = d.way == PressWay::Horn;
    const bool known = all({need(ask, d.force, "force"), need(ask, d.stroke, "stroke")});
    if (d.way == PressWay::Plunger) {
        ask.x_kind = Kind::Length;
        ask.y_kind = Kind::Force;
        if (!known) return;
        ask.force = *d.force;
        ask.stroke = *d.stroke;
        ask.over_stroke = {{0.0, si(*d.force)}, {si(*d.stroke), si(*d.force)}};
        return;
    }
    if (!(all({need(ask, d.horn, "horn"), need(ask, d.time, "time")})) || !known) return;
    const double horn = si(*d.horn), stroke = si(*d.stroke), force = si(*d.force);
    if (stroke > 2.0 * horn) {
        ask.findings.push_back({"stroke-over-horn", Severity::Stop,
                                fmt::format("A horn of {} reaches {} from end to end; the stroke is {}. Take a longer horn.",
                                            display(*d.horn), display(Kind::Length, 2.0 * horn), display(*d.stroke))});
        return;
    }
    const double angle = 2.0 * std::asin(stroke / (2.0 * horn));
    Steps steps;
    addStep(steps, "θ", "turn of the horn, from stroke = 2·r·sin(θ/2)", "2·asin({s}/(2·{r}))", {{"s", stroke}, {"r", horn}},
            of<Angle>(angle), "derived: chord of a circle");
    addStep(steps, "T", "torque where the horn stands square", "{F}·{r}", {{"F", force}, {"r", horn}}, of<Torque>(force * horn),
            "newton-rotation");
    addStep(steps, "ω", "its speed, at the fastest", "2·{θ}/{t}", {{"θ", angle}, {"t", *d.time}},
            of<RotationSpeed>(2.0 * angle / si(*d.time)), "derived: triangular profile");
    show(ask, "torque at the horn", steps);
    ask.force = *d.force;
    ask.stroke = *d.stroke;
    ask.torque = of<Torque>(force * horn);
    moveTimes(ask, angle, si(*d.time));
    for (int i = 0; i <= 60; ++i) {
        const double at = angle * (i / 60.0 - 0.5);
        ask.over_stroke.push_back({at + angle / 2.0, force * horn * std::cos(at)});
    }
}
Kind decides(const Demand& demand) {
    return get(demand).way == PressWay::Horn ? Kind::Torque : Kind::Force;
}
bool shaft(const Demand& demand) {
    return get(demand).way == PressWay::Horn;
}
std::vector<Way> ways(const Demand& demand) {
    const auto& d = get(demand);
    std::vector<Way> list;
    if (d.horn)
        list.push_back({"horn", {0.9, 0.8, 0.7, 0.6, 0.5}, [horn = si(*d.horn)](double f) {
                            return fmt::format("horn {} shorter", displayPlain(Kind::Length, horn * (1.0 - f)));
                        }});
    if (d.time) list.push_back(moreTime(*d.time, {1.5, 2.0, 3.0}));
    return list;
}

}  // namespace
extern const DemandKind kind{
    .of = ChannelKind::Press,
    .ask = &asks,
    .decides = &decides,
    .shaft = &shaft,
    .mains = NotForThis{"what moves hangs on a rail"},
    .need = &movement,
    .match = &strength,
    .ways = &ways,
};
}  // namespace demands::press
}  // namespace hinge::kinds
