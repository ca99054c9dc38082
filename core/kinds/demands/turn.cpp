// Something that turns about an axle.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "demand/lever_load.hpp"
#include "demand/pull_torque.hpp"
#include "demand/straight_motion.hpp"
#include "demand/turning.hpp"
#include "kinds/demands/asking.hpp"
#include "quantity/constants.hpp"
#include "quantity/text.hpp"

namespace hinge::kinds {
namespace demands::turn {
namespace {

using namespace project;
using namespace asking;
using constants::pi;

const TurnDemand& get(const Demand& demand) {
    return std::get<TurnDemand>(demand);
}

// The pull of a scale at an arm, where it was measured.
std::optional<double> measuredTorque(Ask& ask, const std::optional<Force>& pull, const std::optional<Length>& arm, double margin) {
    if (!pull) return std::nullopt;
    if (!need(ask, arm, "pull_arm")) return std::nullopt;
    const auto worked = demand::pullTorque({*pull, *arm, of<Ratio>(margin)});
    if (!worked) return std::nullopt;
    show(ask, "torque by the scale", *worked);
    return si(worked->result.torque);
}

void askArm(Ask& ask, const TurnDemand& d) {
    const auto measured = measuredTorque(ask, d.pull, d.pull_arm, ask.margin);
    if (!measured && !d.pull) {
        need(ask, d.mass, "mass");
        need(ask, d.arm, "arm");
    }
    const bool moves = all({need(ask, d.angle, "angle"), need(ask, d.time, "time")});
    if (moves) moveTimes(ask, si(*d.angle), si(*d.time));
    if (!moves || (!measured && (!d.mass || !d.arm))) return;
    const double friction = d.friction ? si(*d.friction) : 0.0;
    double gravity = 0.0, accel = 0.0, rubbing = friction;
    if (d.mass && d.arm) {
        demand::LeverLoad in;
        in.mass = *d.mass;
        in.arm = *d.arm;
        in.angle = d.worst_angle;
        in.move_angle = *d.angle;
        in.move_time = *d.time;
        in.friction = of<Torque>(friction);
        in.factor = of<Ratio>(ask.margin);
        const auto worked = demand::leverLoad(in);
        if (!worked) {
            ask.findings.push_back({"demand-refused", Severity::Stop, sentence(worked.error())});
            return;
        }
        show(ask, "weight and start of the arm", *worked);
        gravity = si(*d.mass) * constants::gravity * si(*d.arm);
        accel = si(worked->result.accel_torque);
    }
    const double worst = si(d.worst_angle), sweep = si(*d.angle);
    // What the scale read is weight and friction together: it takes the place of both.
    if (measured) {
        const double by_weight = gravity * std::cos(worst);
        rubbing = std::max(0.0, *measured - by_weight);
        if (by_weight > *measured) gravity *= *measured / by_weight;
    }
    for (int i = 0; i <= 60; ++i) {
        const double way = sweep * i / 60.0;
        ask.over_stroke.push_back({way, gravity * std::cos(worst + way) + accel + rubbing});
    }
    double most = 0.0;
    for (const auto& point : ask.over_stroke) most = std::max(most, std::abs(point.y));
    ask.torque = of<Torque>(most);
    ask.positional = true;
}

void askDisc(Ask& ask, const TurnDemand& d) {
    const auto measured = measuredTorque(ask, d.pull, d.pull_arm, ask.margin);
    if (!measured && !d.pull) need(ask, d.friction, "friction");
    const bool body = all({need(ask, d.mass, "mass"), need(ask, d.diameter, "diameter"), need(ask, d.time, "time")});
    if (!d.speed) need(ask, d.angle, "angle");
    if (!body || (!d.speed && !d.angle) || (!measured && !d.friction)) return;
    const double inertia = si(*d.mass) * si(*d.diameter) * si(*d.diameter) / 8.0, time = si(*d.time);
    const double accel = d.speed ? si(*d.speed) / time : 4.0 * si(*d.angle) / (time * time);
    const double rubbing = measured ? *measured : si(*d.friction);
    Steps steps;
    addStep(steps, "J", "inertia of the disc", "{m}·{D}²/8", {{"m", *d.mass}, {"D", *d.diameter}}, of<Inertia>(inertia), "newton-rotation");
    if (d.speed)
        addStep(steps, "Ta", "to reach its speed in that time", "{J}·{ω}/{t}", {{"J", inertia}, {"ω", *d.speed}, {"t", time}},
                of<Torque>(inertia * accel), "newton-rotation");
    else
        addStep(steps, "Ta", "to get it moving, triangular profile", "{J}·4·{θ}/{t}²", {{"J", inertia}, {"θ", *d.angle}, {"t", time}},
                of<Torque>(inertia * accel), "newton-rotation");
    addStep(steps, "T", "with friction", "{Ta} + {Tf}", {{"Ta", inertia * accel}, {"Tf", rubbing}}, of<Torque>(inertia * accel + rubbing),
            "newton-rotation");
    show(ask, "start of the disc", steps);
    ask.torque = of<Torque>(inertia * accel + rubbing);
    if (d.speed) {
        ask.speed = *d.speed;
        ask.goes_on = true;
        ask.run_up = *d.time;
    } else {
        moveTimes(ask, si(*d.angle), time);
        ask.positional = true;
    }
    const double end = d.speed ? si(*d.speed) * time / 2.0 : si(*d.angle);
    for (int i = 0; i <= 60; ++i)
        ask.over_stroke.push_back({end * i / 30.0 * (d.speed ? 1.0 : 0.5),
                                   i <= 30 || !d.speed ? (d.speed || i <= 30 ? inertia * accel : -inertia * accel) + rubbing : rubbing});
}

void askTurns(Ask& ask, const TurnDemand& d) {
    if (!need(ask, d.pull, "pull")) {
    }
    const auto measured = measuredTorque(ask, d.pull, d.pull_arm, ask.margin);
    const bool moves = all({need(ask, d.turns, "turns"), need(ask, d.time, "time")});
    if (moves) {
        const auto worked = demand::crankTurns({*d.turns, *d.time});
        if (worked) {
            show(ask, "turns of the crank", *worked);
            ask.speed = worked->result.rotation_speed;
        }
        ask.angle = of<Angle>(2.0 * pi * si(*d.turns));
        ask.time = *d.time;
        ask.positional = true;
    }
    if (!measured) return;
    const double torque = *measured + (d.friction ? si(*d.friction) : 0.0);
    ask.torque = of<Torque>(torque);
    if (ask.angle) ask.over_stroke = {{0.0, torque}, {si(*ask.angle), torque}};
}

void askSteer(Ask& ask, const TurnDemand& d) {
    const bool known = all({need(ask, d.wheel_load, "wheel_load"), need(ask, d.contact_width, "contact_width")});
    if (all({need(ask, d.angle, "angle"), need(ask, d.time, "time")})) moveTimes(ask, si(*d.angle), si(*d.time));
    if (!known) return;
    const auto worked = demand::steerInPlace({*d.wheel_load, d.grip, *d.contact_width, d.kingpin_offset, of<Ratio>(ask.margin)});
    if (!worked) return;
    show(ask, "scrub of the standing tyre", *worked);
    ask.torque = worked->result.torque;
    ask.positional = true;
    if (ask.angle) ask.over_stroke = {{0.0, si(*ask.torque)}, {si(*ask.angle), si(*ask.torque)}};
}

void asks(Ask& ask, const Demand& demand) {
    const auto& d = get(demand);
    wishes(ask, d);
    switch (d.way) {
        case TurnWay::Lever:
        case TurnWay::Hinge: return askArm(ask, d);
        case TurnWay::Disc: return askDisc(ask, d);
        case TurnWay::Valve:
        case TurnWay::Crank: return askTurns(ask, d);
        case TurnWay::Steer: return askSteer(ask, d);
    }
}
std::vector<Way> ways(const Demand& demand) {
    const auto& d = get(demand);
    std::vector<Way> list;
    if (d.arm && !d.pull)
        list.push_back({"arm", {0.95, 0.9, 0.85, 0.8, 0.7, 0.6, 0.5}, [arm = si(*d.arm)](double f) {
                            return fmt::format("arm {} shorter", displayPlain(Kind::Length, arm * (1.0 - f)));
                        }});
    if (d.time) list.push_back(moreTime(*d.time, {1.25, 1.5, 2.0, 3.0, 5.0}));
    return list;
}

}  // namespace
extern const DemandKind kind{
    .of = ChannelKind::Turn,
    .ask = &asks,
    .decides = always<Kind::Torque>,
    .shaft = always<true>,
    .mains = NotForThis{"what moves hangs on a rail"},
    .need = &movement,
    .match = &strength,
    .ways = &ways,
};
}  // namespace demands::turn
}  // namespace hinge::kinds
