#include "plan/machines.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "actuator/stepper_torque.hpp"
#include "control/tuning_rules.hpp"
#include "driver/current_sense.hpp"
#include "match/judge.hpp"
#include "plan/feed.hpp"
#include "plan/firmware_model.hpp"
#include "quantity/constants.hpp"
#include "quantity/text.hpp"
#include "timing/servo_pulse.hpp"

namespace hinge::plan {
namespace {

using project::InputKind;
constexpr double turn = 2.0 * constants::pi;

const routine::Loop* loopOf(const project::Project& project, const std::string& channel) {
    for (const auto& loop : project.routine.loops)
        if (loop.channel == channel) return &loop;
    return nullptr;
}
int inputIndex(const project::Project& project, const std::string& id) {
    for (std::size_t i = 0; i < project.inputs.size(); ++i)
        if (project.inputs[i].id == id) return static_cast<int>(i);
    return -1;
}

// Inertia that the demand itself has, at the shaft of what is driven [kg·m²]; nullopt where no fact says it.
std::optional<double> inertiaOf(const project::Channel& channel, const match::Ask& ask) {
    if (const auto* turns = std::get_if<project::TurnDemand>(&channel.demand)) {
        if (turns->way == project::TurnWay::Disc && turns->mass && turns->diameter)
            return si(*turns->mass) * si(*turns->diameter) * si(*turns->diameter) / 8.0;
        if (turns->mass && turns->arm) return si(*turns->mass) * si(*turns->arm) * si(*turns->arm);
    }
    if (const auto* moves = std::get_if<project::MoveDemand>(&channel.demand); moves != nullptr && moves->mass && ask.travel_per_turn) {
        const double radius = si(*ask.travel_per_turn) / turn;
        return si(*moves->mass) * radius * radius;
    }
    return std::nullopt;
}

double frictionOf(const project::Channel& channel, const match::Ask& ask) {
    if (const auto* turns = std::get_if<project::TurnDemand>(&channel.demand)) return turns->friction ? si(*turns->friction) : 0.0;
    return ask.torque ? si(*ask.torque) : 0.0;
}

class Maker {
public:
    Maker(const project::Project& project, const project::Parts& parts, const Plan& plan, Machines& machines)
        : project_{project}, parts_{parts}, plan_{plan}, machines_{machines} {}

    void add(const project::Channel& channel, int output) {
        const auto& planned = *findChannel(plan_, channel.id);
        const auto* part = match::partOf(planned.context, parts_, channel.actuator);
        const auto* loop = loopOf(project_, channel.id);
        const auto* input = loop != nullptr ? project::findInput(project_, loop->input) : nullptr;
        if (part == nullptr || planned.context.rails.empty()) return;
        plant::Coupling made;
        made.outputs = {output};
        if (const auto* motor = std::get_if<actuator::Motor>(part)) {
            if (!fit(channel, planned, *motor, made)) return;
        } else if (const auto* fan = std::get_if<actuator::Fan>(part)) {
            plant::FanFigures f;
            f.start_share = channel.calibration.start_duty ? si(*channel.calibration.start_duty)
                            : fan->start_duty              ? si(*fan->start_duty)
                                                           : 0.25;
            f.keep_share = channel.calibration.keep_duty ? si(*channel.calibration.keep_duty) : 0.7 * f.start_share;
            f.current = fan->current ? si(*fan->current) : 0.1;
            made.machine = plant::FanPlant{f};
            made.sense.per_unit = 2.0 / turn;  // two pulses a turn, as fans give
            assume(fmt::format("{}: its full speed, 2865 rpm, and 0.6 s to spin up; no data sheet figure is kept", channel.name));
        } else if (const auto* heater = std::get_if<actuator::Heater>(part)) {
            if (!fit(channel, *heater, made)) return;
        } else if (const auto* servo = std::get_if<actuator::Servo>(part)) {
            if (!fit(channel, planned, *servo, made)) return;
        } else if (const auto* stepper = std::get_if<actuator::Stepper>(part)) {
            const auto* wheels = std::get_if<project::MoveDemand>(&channel.demand);
            if (loop != nullptr && wheels != nullptr && wheels->way == project::MoveWay::Wheels) {
                // Two wheels on one body: the second joins the first.
                for (auto& other : machines_.couplings)
                    if (std::holds_alternative<plant::Balancer>(other.machine) && input != nullptr &&
                        other.sense.input == inputIndex(project_, input->id)) {
                        other.outputs.push_back(output);
                        return;
                    }
                if (!fit(channel, *loop, *stepper, *wheels, made)) return;
            } else if (!fit(channel, planned, *stepper, made)) {
                return;
            }
        } else if (std::holds_alternative<actuator::Pump>(*part) && input != nullptr && project::isAnalogue(input->kind)) {
            plant::TankFigures f;
            f.full_flow = planned.chosen && planned.chosen->flow ? si(*planned.chosen->flow) : 2e-5;
            f.outlet = f.full_flow * 0.6 / std::sqrt(0.1);
            f.area = 0.01;
            made.machine = plant::TankPlant{f};
            made.sense.per_unit = 4000.0;
            assume(fmt::format("{}: a tank of 100 cm² that runs out through its bottom", channel.name));
        } else {
            return;
        }
        if (input != nullptr) {
            made.sense.input = inputIndex(project_, input->id);
            made.sense.tach = input->kind == InputKind::Tach;
            if (made.sense.tach && input->per_turn) made.sense.per_unit = si(*input->per_turn) / turn;
            if (input->reading_a && input->reading_b && input->value_a && input->value_b && si(*input->value_a) != si(*input->value_b)) {
                made.sense.per_unit = (si(*input->reading_b) - si(*input->reading_a)) / (si(*input->value_b) - si(*input->value_a));
                made.sense.zero = si(*input->reading_a) - made.sense.per_unit * si(*input->value_a);
            }
            if (!made.sense.tach) made.sense.noise = 0.5;
        }
        machines_.couplings.push_back(std::move(made));
    }

private:
    void assume(std::string what) { machines_.assumed.push_back(std::move(what)); }

    bool fit(const project::Channel& channel, const ChannelPlan& planned, const actuator::Motor& motor, plant::Coupling& made) {
        if (!motor.no_load_speed || !motor.no_load_current || !motor.stall_current || !motor.stall_torque ||
            si(*motor.stall_current) <= si(*motor.no_load_current))
            return false;
        const double ratio = si(motor.gear_ratio) * planned.context.gear_ratio, efficiency = si(motor.gear_efficiency),
                     nominal = si(motor.nominal_voltage);
        const double winding = nominal / si(*motor.stall_current),
                     kt = si(*motor.stall_torque) / (si(*motor.stall_current) - si(*motor.no_load_current)),
                     ke = (nominal - si(*motor.no_load_current) * winding) / si(*motor.no_load_speed);
        plant::RotorFigures f;
        f.supply = match::supplyOf(planned.context, planned.context.rails.front());
        if (!(f.supply > 0.0)) return false;
        const auto* driver = project::findDriver(parts_, channel.drive.part);
        f.resistance = winding + si(planned.context.rails.front().wire) +
                       (driver != nullptr && driver->on_resistance ? si(*driver->on_resistance) : 0.0);
        f.back = ke * ratio;
        f.torque = kt * ratio * efficiency;
        f.brakes = driver != nullptr &&
                   (driver->driver_class == driver::DriverClass::HBridge || driver->driver_class == driver::DriverClass::HalfBridge);
        f.friction = frictionOf(channel, planned.context.ask) + f.torque * si(*motor.no_load_current);
        f.stiction = 1.3 * f.friction;
        f.play = si(motor.gear_ratio) > 1.0 ? 0.01 : 0.0;
        // The rotor itself: a small bare motor reaches 63 % of its speed in about 20 ms, common practice, no published source.
        constexpr double bare = 0.02;
        const auto load = inertiaOf(channel, planned.context.ask);
        f.inertia = bare * f.torque * f.back / f.resistance + load.value_or(0.0);
        assume(fmt::format("{}: its rotor alone takes 20 ms to 63 % of its speed, and it sticks with 1.3 times its friction{}",
                           channel.name, load ? "" : "; nothing is known of what it turns"));
        made.machine = plant::Rotor{f};
        made.sense.per_unit = motor.tach ? si(*motor.tach) / turn : 1.0;
        const auto* loop = loopOf(project_, channel.id);
        const auto* input = loop != nullptr ? project::findInput(project_, loop->input) : nullptr;
        if (input != nullptr && input->kind != InputKind::Tach) {
            made.sense.by_angle = true;
            made.sense.per_unit = 1023.0 / turn;
            made.sense.zero = 100.0;
        }
        return true;
    }

    bool fit(const project::Channel& channel, const actuator::Heater& heater, plant::Coupling& made) {
        const auto* demand = std::get_if<project::HeatDemand>(&channel.demand);
        if (demand == nullptr || !demand->mass || !heater.power) return false;
        plant::BoxFigures f;
        f.capacity = si(*demand->mass) * si(demand->specific_heat);
        f.conductance = demand->loss_conductance ? si(*demand->loss_conductance) : 0.0;
        f.ambient = si(project_.brief.ambient);
        f.power =
            demand->way == project::HeatWay::Cool ? -(heater.heat_pumped ? si(*heater.heat_pumped) : si(*heater.power)) : si(*heater.power);
        if (demand->way == project::HeatWay::Cool && heater.largest_difference) f.largest_difference = si(*heater.largest_difference);
        f.sensor_lag = 20.0;
        made.machine = plant::BoxPlant{f};
        made.sense.per_unit = 20.0;
        made.sense.zero = 400.0 - 20.0 * f.ambient;
        assume(fmt::format("{}: a thermometer that is 20 s late{}", channel.name,
                           demand->loss_conductance ? "" : ", and no loss, since none is stated"));
        return true;
    }

    bool fit(const project::Channel& channel, const ChannelPlan& planned, const actuator::Servo& servo, plant::Coupling& made) {
        if (!planned.motion.pulse_from || !planned.motion.pulse_to || !planned.motion.pulse_per_angle ||
            *planned.motion.pulse_per_angle == 0.0)
            return false;
        plant::ServoFigures f;
        f.zero_place = si(*planned.motion.pulse_from) * 2e6;
        f.per_place = 1.0 / (*planned.motion.pulse_per_angle * 2e6);
        const auto time = servo.time_high ? servo.time_high : servo.time_low;
        if (time) f.most_speed = constants::pi / 3.0 / si(*time) / planned.context.gear_ratio;
        const double travel = servo.range ? si(*servo.range) / planned.context.gear_ratio : constants::pi,
                     sweep = planned.context.ask.angle ? si(*planned.context.ask.angle) : 0.0;
        f.low_stop = -std::max(0.0, (travel - sweep) / 2.0) * 1.05;
        f.high_stop = sweep - f.low_stop;
        if (servo.stall_current) f.strain_current = si(*servo.stall_current);
        if (servo.idle_current) f.rest_current = si(*servo.idle_current);
        if (planned.chosen && planned.chosen->running) f.move_current = si(*planned.chosen->running);
        made.machine = plant::ServoPlant{f};
        assume(fmt::format("{}: end stops 5 % beyond its stated range, and 20 ms to close in", channel.name));
        return true;
    }

    bool fit(const project::Channel& channel, const ChannelPlan& planned, const actuator::Stepper& stepper, plant::Coupling& made) {
        if (!stepper.holding_torque || !stepper.rated_current || !stepper.phase_resistance || !stepper.phase_inductance) return false;
        plant::StepAxisFigures f;
        const double ratio = si(stepper.gear_ratio) * planned.context.gear_ratio;
        f.places_per_turn = si(stepper.steps_per_turn) * si(channel.signal.microsteps);
        f.teeth = si(stepper.steps_per_turn) / 4.0;
        f.inertia = 5e-6 + inertiaOf(channel, planned.context.ask).value_or(0.0) / (ratio * ratio);
        f.load = frictionOf(channel, planned.context.ask) / (ratio * si(stepper.gear_efficiency));
        f.damping = 0.1 * std::sqrt(si(*stepper.holding_torque) * f.inertia / f.teeth) * 2.0;
        f.torque.clear();
        f.speed_spacing = 4.0;
        actuator::StepperTorque in{*stepper.holding_torque,
                                   *stepper.rated_current,
                                   *stepper.phase_resistance,
                                   *stepper.phase_inductance,
                                   stepper.steps_per_turn,
                                   of<Voltage>(match::supplyOf(planned.context, planned.context.rails.front())),
                                   {},
                                   {},
                                   {}};
        if (!(si(in.supply_voltage) > 0.0)) return false;
        const double drive = planned.chosen ? planned.chosen->numbers.drive_current : match::unknown;
        in.drive_current = of<Current>(drive > 0.0 ? drive : std::sqrt(2.0) * si(*stepper.rated_current));
        for (int k = 0; k < 100; ++k) {
            in.speed = of<RotationSpeed>(f.speed_spacing * k);
            const auto worked = actuator::stepperTorque(in);
            f.torque.push_back(worked ? si(worked->result.torque) : 0.0);
        }
        made.machine = plant::StepAxis{f};
        assume(fmt::format("{}: a rotor of 50 g·cm², and a tenth of critical damping", channel.name));
        return true;
    }

    bool fit(const project::Channel& channel, const routine::Loop& loop, const actuator::Stepper& stepper,
             const project::MoveDemand& wheels, plant::Coupling& made) {
        if (!wheels.diameter) return false;
        plant::BalancerFigures f;
        f.height = loop.height ? si(*loop.height) : 0.1;
        if (!loop.height) assume(fmt::format("{}: 100 mm from the axle to the middle of its weight, since none is stated", channel.name));
        f.distance_per_step =
            constants::pi * si(*wheels.diameter) / (si(stepper.steps_per_turn) * si(channel.signal.microsteps) * si(stepper.gear_ratio));
        made.machine = plant::Balancer{f};
        made.sense.per_unit = -511.5 / (constants::pi / 6.0);  // ±30° over the whole range, falling as it leans forwards
        made.sense.zero = 512.0;
        return true;
    }

    const project::Project& project_;
    const project::Parts& parts_;
    const Plan& plan_;
    Machines& machines_;
};

}  // namespace

namespace {

/// @param input  only what is held by a loop on it; empty: all
Machines machinesFor(const project::Project& project, const project::Parts& parts, const Plan& plan, const std::string& input) {
    Machines machines;
    Maker maker(project, parts, plan, machines);
    const auto driven = drivenChannels(project, plan);
    for (std::size_t o = 0; o < driven.size(); ++o) {
        const auto* loop = loopOf(project, driven[o]->id);
        if (input.empty() || (loop != nullptr && loop->input == input)) maker.add(*driven[o], static_cast<int>(o));
    }
    return machines;
}

}  // namespace

Machines machinesOf(const project::Project& project, const project::Parts& parts, const Plan& plan) {
    return machinesFor(project, parts, plan, "");
}

std::vector<plant::Coupling> heldMachines(const project::Project& project, const project::Parts& parts, const Plan& plan) {
    std::vector<plant::Coupling> list;
    std::vector<std::string> done;
    for (const auto& loop : project.routine.loops) {
        if (std::find(done.begin(), done.end(), loop.input) != done.end()) continue;
        done.push_back(loop.input);
        for (auto& coupling : machinesFor(project, parts, plan, loop.input).couplings) list.push_back(std::move(coupling));
    }
    return list;
}

ReadingScale scaleOf(const project::Project& project, const project::Parts& parts, const project::Input& input, double period) {
    ReadingScale scale;
    if (input.kind == InputKind::Tach) {
        double pulses = input.per_turn ? si(*input.per_turn) : 0.0;
        for (const auto& loop : project.routine.loops) {
            const auto* channel = loop.input == input.id ? project::findChannel(project, loop.channel) : nullptr;
            const auto* part = channel != nullptr ? project::findActuator(parts, channel->actuator) : nullptr;
            if (part == nullptr || pulses > 0.0) continue;
            if (const auto* motor = std::get_if<actuator::Motor>(part); motor != nullptr && motor->tach) pulses = si(*motor->tach);
            if (std::holds_alternative<actuator::Fan>(*part)) pulses = 2.0;
        }
        if (pulses > 0.0 && period > 0.0) scale = {Kind::RotationSpeed, turn / (pulses * period), 0.0};
        return scale;
    }
    if (input.measures == project::Measures::Counts || !input.reading_a || !input.reading_b || !input.value_a || !input.value_b ||
        si(*input.reading_a) == si(*input.reading_b))
        return scale;
    scale.kind = input.measures == project::Measures::Temperature ? Kind::Temperature
                 : input.measures == project::Measures::Angle     ? Kind::Angle
                 : input.measures == project::Measures::Length    ? Kind::Length
                                                                  : Kind::Current;
    scale.per_count = (si(*input.value_b) - si(*input.value_a)) / (si(*input.reading_b) - si(*input.reading_a));
    scale.zero = si(*input.value_a) - scale.per_count * si(*input.reading_a);
    return scale;
}

control::PidFigures pidOf(const routine::Loop& loop, bool rolls) {
    control::PidFigures pid;
    const double h = std::max(1e-3, std::round(si(loop.period) * 1000.0) / 1000.0), unit = rolls ? 1.0 : 1e-3;
    pid.period = h;
    pid.gains = {si(loop.proportional) * unit, si(loop.integral) * unit / h, si(loop.derivative) * unit * h};
    pid.smoothing = si(loop.smoothing);
    pid.forward = si(loop.forward) * unit;
    pid.band = si(loop.band);
    pid.most = si(loop.most) * unit;
    pid.least = rolls ? -pid.most : si(loop.least) * unit;
    if (rolls) pid.lean_rate = si(loop.lean_rate), pid.lean_way = si(loop.lean_way);
    return pid;
}

void takeGains(routine::Loop& loop, const control::ParallelGains& gains, bool rolls) {
    const double h = std::max(1e-3, std::round(si(loop.period) * 1000.0) / 1000.0), unit = rolls ? 1.0 : 1e-3;
    // In the 256ths that the sketch keeps.
    const auto whole = [](double gain) { return of<Ratio>(std::round(std::clamp(gain, -100.0, 100.0) * 256.0) / 256.0); };
    loop.proportional = whole(gains.proportional / unit);
    loop.integral = whole(gains.integral * h / unit);
    loop.derivative = whole(gains.derivative / (h * unit));
}

Result<LoopCase> loopCase(const project::Project& project, const project::Parts& parts, const Plan& plan, std::string_view id) {
    const auto found =
        std::find_if(project.routine.loops.begin(), project.routine.loops.end(), [&](const routine::Loop& each) { return each.id == id; });
    if (found == project.routine.loops.end()) return fail(ErrorCode::Unknown, "loop", std::string{id}, "a loop of the routine");
    const auto& loop = *found;
    const auto* input = project::findInput(project, loop.input);
    const auto driven = drivenChannels(project, plan);
    int output = -1;
    for (std::size_t o = 0; o < driven.size(); ++o)
        if (driven[o]->id == loop.channel) output = static_cast<int>(o);
    if (output < 0 || input == nullptr)
        return fail(ErrorCode::Missing, "routine/loops/" + loop.id, loop.channel, "a channel that is driven, and an input that it reads");
    const auto machines = machinesFor(project, parts, plan, input->id);
    for (const auto& coupling : machines.couplings) {
        if (std::find(coupling.outputs.begin(), coupling.outputs.end(), output) == coupling.outputs.end() || coupling.sense.input < 0)
            continue;
        LoopCase made;
        const bool rolls = std::holds_alternative<plant::Balancer>(coupling.machine);
        made.scale = scaleOf(project, parts, *input, si(loop.period));
        auto& s = made.setup;
        s.machine = coupling;
        s.machine.outputs = {0};
        s.pid = pidOf(loop, rolls);
        s.rolls = rolls;
        s.wanted = std::round(si(loop.wanted));
        made.output_unit = rolls ? "steps a second" : "permille";
        made.per_output = rolls ? 1.0 : 1e-3;
        const auto* box = std::get_if<plant::BoxPlant>(&coupling.machine);
        s.before = rolls            ? s.wanted
                   : box != nullptr ? std::round(coupling.sense.zero + coupling.sense.per_unit * box->figures().ambient)
                                    : std::round(std::clamp(coupling.sense.zero, 0.0, 1023.0));
        made.target.settle_within = std::holds_alternative<plant::FanPlant>(coupling.machine) ? 3.0 : 1.0;
        if (const auto* turns = std::get_if<project::TurnDemand>(&driven[static_cast<std::size_t>(output)]->demand);
            turns != nullptr && turns->time)
            made.target.settle_within = si(*turns->time);
        if (const auto* heat = std::get_if<project::HeatDemand>(&driven[static_cast<std::size_t>(output)]->demand);
            heat != nullptr && heat->warm_up_time)
            made.target.settle_within = si(*heat->warm_up_time);
        s.step_at = std::max(4.0 * s.pid.period, 0.2);
        s.length = s.step_at + 4.0 * made.target.settle_within;
        if (const auto* planned = findChannel(plan, loop.channel); planned != nullptr && planned->pwm)
            s.ramp = si(driven[static_cast<std::size_t>(output)]->signal.soft_start);
        if (box != nullptr) s.tick = s.pid.period;                  // stepped exactly
        if (rolls) s.length = 8.0, s.push_at = 4.0, s.push = 0.05;  // as the stand-in is shoved
        return made;
    }
    return fail(ErrorCode::Missing, "routine/loops/" + loop.id, loop.channel,
                "a motor, fan, pump, heater or wheel whose figures are known: of this there is no model");
}

std::optional<control::LinearPlant> straightenedFor(const LoopCase& loop) {
    const auto& sense = loop.setup.machine.sense;
    double share = 0.0;
    if (const auto* box = std::get_if<plant::BoxPlant>(&loop.setup.machine.machine); box != nullptr && box->figures().power != 0.0)
        share = box->figures().conductance * ((loop.setup.wanted - sense.zero) / sense.per_unit - box->figures().ambient) /
                box->figures().power;
    if (const auto* tank = std::get_if<plant::TankPlant>(&loop.setup.machine.machine); tank != nullptr)
        share = tank->figures().outlet * std::sqrt(std::max(0.0, (loop.setup.wanted - sense.zero) / sense.per_unit)) /
                tank->figures().full_flow;
    return control::straightened(loop.setup.machine, std::clamp(share, 0.0, 1.0));
}

void judgeTuning(const project::Project& project, const project::Parts& parts, Plan& plan) {
    const auto say = [&](const char* id, Severity severity, const std::string& channel, std::string text,
                         std::vector<Remedy> remedies = {}) {
        plan.findings.push_back({id, severity, Stage::Tune, channel, std::move(text), std::move(remedies)});
    };
    for (const auto& loop : project.routine.loops) {
        const auto* channel = project::findChannel(project, loop.channel);
        if (channel == nullptr) continue;
        const auto made = loopCase(project, parts, plan, loop.id);
        if (!made) continue;
        const std::string path = "routine/loops/" + loop.id;
        if (made->setup.rolls) {
            const auto* body = std::get_if<plant::Balancer>(&made->setup.machine.machine);
            const auto worked =
                control::balanceLoop({of<Length>(body->figures().height), std::nullopt, of<Length>(body->figures().distance_per_step)});
            if (!worked) continue;
            plan.workings.push_back({"how fast it falls", Stage::Tune, channel->id, worked->steps, worked->verdict});
            if (si(loop.period) > si(worked->result.longest_period) * (1.0 + 1e-9))
                say("loop-too-slow", Severity::Warn, channel->id,
                    fmt::format("{} is looked at every {}; a body that falls this fast wants {} or less.", channel->name,
                                displayPlain(loop.period), display(worked->result.longest_period)),
                    {{"Look every 4 ms", {{path + "/period", "4 ms"}}, "more of the processor"}});
        } else if (const auto* rotor = std::get_if<plant::Rotor>(&made->setup.machine.machine);
                   rotor != nullptr && made->setup.machine.sense.tach) {
            const double most = rotor->settledSpeed(made->setup.pid.most) * made->setup.machine.sense.per_unit * made->setup.pid.period;
            if (si(loop.wanted) > most)
                say("loop-out-of-reach", Severity::Stop, channel->id,
                    fmt::format("{} is to be held at {:.0f} counts; with all its power it comes to {:.0f}. Ask for less, or count over a "
                                "longer period.",
                                channel->name, si(loop.wanted), most));
            if (si(loop.wanted) > 0.0 && si(loop.wanted) < 10.0)
                say("loop-counts-coarsely", Severity::Note, channel->id,
                    fmt::format("{} is held at {:.0f} counts: one count is {:.0f} %. A longer period counts finer, and answers later.",
                                channel->name, si(loop.wanted), 100.0 / si(loop.wanted)));
        }
    }
    for (const auto& channel : project.channels) {
        const auto& c = channel.calibration;
        const auto& planned = *findChannel(plan, channel.id);
        const bool looped = loopOf(project, channel.id) != nullptr;
        if (c.start_duty && !looped && planned.signal != SignalKind::Unknown && si(channel.signal.duty) < si(*c.start_duty) &&
            !isPlaced(planned))
            say("fan-below-start", Severity::Stop, channel.id,
                fmt::format("{} runs at {}; measured, it starts from {}.", channel.name, display(channel.signal.duty),
                            display(*c.start_duty)),
                {{"Run it at its start duty",
                  {{"channels/" + channel.id + "/signal/duty", exactNumber(si(*c.start_duty))}},
                  "more power"}});
        if (c.highest_rate && planned.motion.peak_rate && si(*planned.motion.peak_rate) > si(*c.highest_rate) * (1.0 + 1e-9))
            say("step-too-fast", Severity::Stop, channel.id,
                fmt::format("{} steps {} at its fastest; measured there and back, it lost none up to {}. Give the move more time, or "
                            "coarser micro-steps.",
                            channel.name, display(*planned.motion.peak_rate), display(*c.highest_rate)));
        else if (c.highest_rate && planned.motion.peak_rate && si(*planned.motion.peak_rate) > 0.8 * si(*c.highest_rate))
            say("step-near-limit", Severity::Warn, channel.id,
                fmt::format("{} steps {} at its fastest, of {} that it was measured to do: little is left for a stiff day.", channel.name,
                            display(*planned.motion.peak_rate), display(*c.highest_rate)));
        if (c.stall_current && planned.chosen && planned.chosen->stalled && si(*c.stall_current) > 1.15 * si(*planned.chosen->stalled))
            say("stall-over-plan", Severity::Warn, channel.id,
                fmt::format("{} draws {} held fast, measured; its data sheet leads to {}. Plan driver, fuse and wire by what was measured.",
                            channel.name, display(*c.stall_current), display(*planned.chosen->stalled)));
        if (c.jams_below && si(channel.signal.duty) < si(*c.jams_below) && !looped)
            say("jams-slow", Severity::Warn, channel.id,
                fmt::format("{} runs at {}; portions jammed below {}. Run it faster, for a shorter time.", channel.name,
                            display(channel.signal.duty), display(*c.jams_below)),
                {{"Run it faster",
                  {{"channels/" + channel.id + "/signal/duty", exactNumber(std::min(1.0, si(*c.jams_below) * 1.1))}},
                  "louder"}});
        if (c.chopper_current && c.chopper_temperature && planned.chosen && planned.chosen->numbers.drive_current > 0.0) {
            const auto* driver = project::findDriver(parts, channel.drive.part);
            driver::StepperCurrent in;
            in.current = of<Current>(planned.chosen->numbers.drive_current);
            in.sense_resistor = driver != nullptr && driver->sense_resistor ? *driver->sense_resistor : of<Resistance>(0.1);
            in.measured_temperature = c.chopper_temperature;
            in.measured_current = c.chopper_current;
            in.ambient = project.brief.ambient;
            const auto worked = driver::stepperCurrent(in);
            if (!worked || !worked->result.predicted_temperature) continue;
            plan.workings.push_back({"its chopper, by what was measured", Stage::Tune, channel.id, worked->steps, worked->verdict});
            const double hot = si(*worked->result.predicted_temperature) - 273.15;
            if (hot > 100.0)
                say("driver-hot", hot > 125.0 ? Severity::Stop : Severity::Warn, channel.id,
                    fmt::format("{}'s chopper comes to {:.0f} °C at {}, by what was measured. A closed box is hotter still: turn the "
                                "current down, or let air through.",
                                channel.name, hot, display(in.current)));
        }
    }
}

}  // namespace hinge::plan
