// Something that goes along a straight line.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "demand/straight_motion.hpp"
#include "kinds/demands/asking.hpp"
#include "quantity/constants.hpp"
#include "quantity/text.hpp"

namespace hinge::kinds {
namespace demands::move {
namespace {

using namespace project;
using namespace asking;
using constants::pi;

const MoveDemand& get(const Demand& demand) {
    return std::get<MoveDemand>(demand);
}

// Force along the way: by the scale, or from mass, slope and friction; with the start's acceleration.
std::optional<double> wayForce(Ask& ask, const MoveDemand& d, double acceleration, double speed) {
    if (d.pull) {
        const double start = d.mass ? si(*d.mass) * acceleration : 0.0, force = si(*d.pull) + start;
        Steps steps;
        addStep(steps, "F", "by the scale, and to get it moving", "{Fp} + {m}·{a}",
                {{"Fp", *d.pull}, {"m", d.mass ? si(*d.mass) : 0.0}, {"a", acceleration}}, of<Force>(force), "newton-rotation");
        show(ask, "force along the way", steps);
        return force;
    }
    const bool rolling = d.way == MoveWay::Wheels;
    if (!all({need(ask, d.mass, "mass"), rolling || need(ask, d.friction_coefficient, "friction_coefficient")})) return std::nullopt;
    demand::LinearLoad in;
    in.mass = *d.mass;
    in.incline = d.incline;
    in.friction_coefficient = rolling ? d.rolling_coefficient : *d.friction_coefficient;
    in.acceleration = of<Acceleration>(acceleration);
    in.speed = of<Speed>(speed);
    const auto worked = demand::linearLoad(in);
    if (!worked) return std::nullopt;
    show(ask, "force along the way", *worked);
    return std::max(0.0, si(worked->result.force));
}

void asks(Ask& ask, const Demand& demand) {
    const auto& d = get(demand);
    wishes(ask, d);
    ask.x_kind = Kind::Length;
    ask.y_kind = Kind::Force;
    const bool moves = all({need(ask, d.travel, "travel"), need(ask, d.time, "time")});
    const double time = moves ? si(*d.time) : 1.0, travel = moves ? si(*d.travel) : 0.0;
    const double acceleration = 4.0 * travel / (time * time), speed = 2.0 * travel / time;
    const auto force = wayForce(ask, d, acceleration, speed);
    double per_turn = 0.0;
    switch (d.way) {
        case MoveWay::Belt:
        case MoveWay::Rack:
            if (all({need(ask, d.pulley_teeth, "pulley_teeth"), need(ask, d.belt_pitch, "belt_pitch")}))
                per_turn = si(*d.pulley_teeth) * si(*d.belt_pitch);
            break;
        case MoveWay::Rope:
        case MoveWay::Wheels:
            if (need(ask, d.diameter, "diameter")) per_turn = pi * si(*d.diameter);
            break;
        case MoveWay::Screw:
            if (need(ask, d.lead, "lead")) per_turn = si(*d.lead);
            break;
    }
    if (per_turn > 0.0) ask.travel_per_turn = of<Length>(per_turn);
    if (!force || !moves || per_turn <= 0.0) return;
    ask.force = of<Force>(*force);
    ask.stroke = *d.travel;
    const double still = std::max(0.0, *force - (d.mass ? si(*d.mass) * acceleration : 0.0));
    for (int i = 0; i <= 60; ++i) ask.over_stroke.push_back({travel * i / 60.0, i <= 30 ? *force : 2.0 * still - *force});
    const std::string source = "derived: work of one turn";
    switch (d.way) {
        case MoveWay::Belt:
        case MoveWay::Rack: {
            const auto worked = demand::beltDrive({of<Force>(*force), *d.pulley_teeth, *d.belt_pitch, of<Speed>(speed)});
            if (worked)
                show(ask, d.way == MoveWay::Belt ? "torque at the pulley" : "torque at the pinion", *worked),
                    ask.torque = worked->result.torque, ask.speed = worked->result.rotation_speed;
            break;
        }
        case MoveWay::Screw: {
            demand::ScrewDrive in;
            in.force = of<Force>(*force);
            in.lead = *d.lead;
            in.efficiency = d.efficiency;
            in.mean_diameter = d.screw_diameter;
            in.speed = of<Speed>(speed);
            const auto worked = demand::screwDrive(in);
            if (worked) {
                show(ask, "torque at the screw", *worked);
                ask.torque = worked->result.torque;
                ask.speed = worked->result.rotation_speed;
                ask.self_locking = worked->result.self_locking.value_or(false);
            }
            break;
        }
        case MoveWay::Rope:
        case MoveWay::Wheels: {
            const double share = d.way == MoveWay::Wheels ? si(d.driven_wheels) : 1.0, torque = *force * si(*d.diameter) / 2.0 / share,
                         rotation = 2.0 * speed / si(*d.diameter);
            Steps steps;
            addStep(steps, "T", share > 1.0 ? "torque at each driven wheel" : "torque at the axle", "{F}·{D}/2/{n}",
                    {{"F", *force}, {"D", *d.diameter}, {"n", share}}, of<Torque>(torque), "newton-rotation");
            addStep(steps, "ω", "its speed, at the fastest", "2·{v}/{D}", {{"v", speed}, {"D", *d.diameter}}, of<RotationSpeed>(rotation),
                    source);
            show(ask, "torque at the axle", steps);
            ask.torque = of<Torque>(torque);
            ask.speed = of<RotationSpeed>(rotation);
            break;
        }
    }
    ask.angle = of<Angle>(2.0 * pi * travel / per_turn);
    ask.time = *d.time;
    ask.positional = d.way != MoveWay::Wheels;
}
Telling need(const Demand& /*demand*/, const Ask& ask) {
    Telling telling;
    if (ask.force) telling.figure = display(*ask.force, 2) + about(ask);
    if (ask.stroke && ask.time) telling.small = displayPlain(*ask.stroke) + " in " + displayPlain(*ask.time);
    return telling;
}
std::vector<Way> ways(const Demand& demand) {
    const auto& d = get(demand);
    std::vector<Way> list;
    if (d.time) list.push_back(moreTime(*d.time, {1.25, 1.5, 2.0, 3.0, 5.0}));
    return list;
}

}  // namespace
extern const DemandKind kind{
    .of = ChannelKind::Move,
    .ask = &asks,
    .decides = always<Kind::Torque>,
    .shaft = always<true>,
    .mains = NotForThis{"what moves hangs on a rail"},
    .need = &need,
    .match = &strength,
    .ways = &ways,
};
}  // namespace demands::move
}  // namespace hinge::kinds
