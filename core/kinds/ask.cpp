#include "kinds/ask.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <initializer_list>
#include "demand/air_and_heat.hpp"
#include "demand/lever_load.hpp"
#include "demand/pull_torque.hpp"
#include "demand/straight_motion.hpp"
#include "demand/turning.hpp"
#include "kinds/system_curve.hpp"
#include "project/facts.hpp"
#include "quantity/constants.hpp"
#include "quantity/text.hpp"

namespace hinge::kinds {
namespace {

using namespace project;
using constants::pi;

template <class R>
void show(Ask& ask, std::string title, const Worked<R>& worked) {
    ask.workings.push_back({std::move(title), Stage::Need, "", worked.steps, worked.verdict});
}
void show(Ask& ask, std::string title, Steps steps) {
    ask.workings.push_back({std::move(title), Stage::Need, "", std::move(steps), Verdict::Holds});
}

template <class Q>
bool need(Ask& ask, const std::optional<Q>& value, const char* field) {
    if (!value) ask.missing.emplace_back(field);
    return value.has_value();
}

// Every answer is asked for, so that all that is missing is listed, not the first of it.
bool all(std::initializer_list<bool> answers) {
    return std::all_of(answers.begin(), answers.end(), [](bool answer) { return answer; });
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

void moveTimes(Ask& ask, double angle, double time) {
    ask.angle = of<Angle>(angle);
    ask.time = of<Duration>(time);
    ask.speed = of<RotationSpeed>(2.0 * angle / time);
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

void fill(Ask& ask, const TurnDemand& d) {
    ask.margin = si(d.margin);
    ask.both_ways = d.both_ways;
    ask.holds = d.holds;
    switch (d.way) {
        case TurnWay::Lever:
        case TurnWay::Hinge: return askArm(ask, d);
        case TurnWay::Disc: return askDisc(ask, d);
        case TurnWay::Valve:
        case TurnWay::Crank: return askTurns(ask, d);
        case TurnWay::Steer: return askSteer(ask, d);
    }
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

void fill(Ask& ask, const MoveDemand& d) {
    ask.margin = si(d.margin);
    ask.both_ways = d.both_ways;
    ask.holds = d.holds;
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

void fill(Ask& ask, const PressDemand& d) {
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

void fill(Ask& ask, const PumpDemand& d) {
    const bool dose = all({need(ask, d.volume, "volume"), need(ask, d.run_time_limit, "run_time_limit")});
    const bool way = all({need(ask, d.lift, "lift"), need(ask, d.tube_length, "tube_length"), need(ask, d.tube_diameter, "tube_diameter")});
    if (!dose) return;
    const double flow = si(*d.volume) / si(*d.run_time_limit);
    ask.flow = of<VolumeFlow>(flow);
    Steps steps;
    addStep(steps, "Q", "flow asked for", "{V}/{t}", {{"V", *d.volume}, {"t", *d.run_time_limit}}, *ask.flow, "derived: Q = V/t");
    show(ask, "flow asked for", steps);
    if (!way) return;
    const auto worked = demand::pumpHead(*headInputs(d, flow));
    if (worked) {
        ask.head = worked->result.total_head;
        show(ask, "head at that flow", *worked);
    } else {
        ask.findings.push_back({"demand-refused", Severity::Stop, sentence(worked.error())});
    }
}

void fill(Ask& ask, const BlowDemand& d) {
    demand::AirflowNeed in;
    bool known = false;
    switch (d.way) {
        case BlowWay::Box:
            known = all({need(ask, d.heat, "heat"), need(ask, d.temperature_rise, "temperature_rise")});
            in.heat = d.heat;
            in.temperature_rise = d.temperature_rise;
            break;
        case BlowWay::Room:
            known = all({need(ask, d.volume, "volume"), need(ask, d.changes_per_hour, "changes_per_hour")});
            in.volume = d.volume;
            in.changes_per_hour = d.changes_per_hour;
            break;
        case BlowWay::Hood:
        case BlowWay::Filter:
            known = all({need(ask, d.area, "area"), need(ask, d.face_velocity, "face_velocity")});
            in.area = d.area;
            in.face_velocity = d.face_velocity;
            break;
    }
    need(ask, d.pressure, "pressure");
    if (!known) return;
    const auto worked = demand::airflowNeed(in);
    if (!worked) return;
    show(ask, "air asked for", *worked);
    ask.flow = worked->result.flow;
    ask.pressure = d.pressure;
}

void fill(Ask& ask, const SwitchDemand& d) {
    if (need(ask, d.power, "power")) ask.power = d.power;
}

void fill(Ask& ask, const HeatDemand& d) {
    if (!(all({need(ask, d.mass, "mass"), need(ask, d.temperature_rise, "temperature_rise"), need(ask, d.warm_up_time, "warm_up_time"),
               need(ask, d.loss_conductance, "loss_conductance")})))
        return;
    demand::HeatNeed in;
    in.mass = *d.mass;
    in.specific_heat = d.specific_heat;
    in.temperature_rise = *d.temperature_rise;
    in.warm_up_time = *d.warm_up_time;
    in.loss_conductance = *d.loss_conductance;
    const auto worked = demand::heatNeed(in);
    if (!worked) return;
    show(ask, d.way == HeatWay::Warm ? "heat to warm and to hold" : "heat to take away", *worked);
    ask.power = worked->result.power;
    ask.difference = *d.temperature_rise;
}

Ask plainAsk(const Demand& demand) {
    Ask result;
    std::visit([&](const auto& d) { fill(result, d); }, demand);
    return result;
}

}  // namespace

std::optional<double> decisive(const Ask& ask) {
    if (ask.torque) return si(*ask.torque);
    if (ask.force) return si(*ask.force);
    if (ask.head) return si(*ask.head);
    if (ask.flow) return si(*ask.flow);
    if (ask.power) return si(*ask.power);
    return std::nullopt;
}

Kind decisiveKind(const Demand& demand) {
    switch (kindOfDemand(demand)) {
        case ChannelKind::Turn:
        case ChannelKind::Move: return Kind::Torque;
        case ChannelKind::Press: return std::get<PressDemand>(demand).way == PressWay::Horn ? Kind::Torque : Kind::Force;
        case ChannelKind::Pump: return Kind::Length;
        case ChannelKind::Blow: return Kind::VolumeFlow;
        case ChannelKind::Switch:
        case ChannelKind::Heat: return Kind::Power;
    }
    return Kind::Ratio;
}

Ask ask(const Demand& demand, const std::vector<Spread>& spreads) {
    Ask result = plainAsk(demand);
    const auto figure = decisive(result);
    if (spreads.empty() || !figure || *figure == 0.0) return result;
    double squares = 0.0;
    Steps steps;
    for (const auto& spread : spreads) {
        double most = 0.0;
        for (const double sign : {-1.0, 1.0}) {
            const auto changed = scaled(demand, spread.id, 1.0 + sign * si(spread.of_value));
            const auto there = changed ? decisive(plainAsk(*changed)) : std::nullopt;
            if (there) most = std::max(most, std::abs(*there / *figure - 1.0));
        }
        squares += most * most;
        addStep(steps, "u", "from '" + spread.id + "', ± " + significant(100.0 * si(spread.of_value), 2) + " %",
                "the demand with that fact moved, over the demand", {}, of<Fraction>(most), "root-sum-square");
    }
    result.spread = std::sqrt(squares);
    addStep(steps, "U", "spread of the demand", "√(Σ u²)", {}, of<Fraction>(*result.spread), "root-sum-square");
    show(result, "how well it is known", steps);
    return result;
}

}  // namespace hinge::kinds
