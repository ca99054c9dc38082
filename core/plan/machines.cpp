#include "plan/machines.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "actuator/stepper_torque.hpp"
#include "control/tuning_rules.hpp"
#include "driver/current_sense.hpp"
#include "match/judge.hpp"
#include "plan/apart.hpp"
#include "plan/feed.hpp"
#include "plan/firmware_model.hpp"
#include "plan/shown_current.hpp"
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

class Maker {
public:
    Maker(const project::Project& project, const project::Parts& parts, const Plan& plan, Machines& machines)
        : project_{project}, parts_{parts}, plan_{plan}, machines_{machines} {}

    void add(const project::Channel& channel, int output) {
        const auto& planned = *findChannel(plan_, channel.id);
        const auto* part = match::partOf(planned.context, parts_, channel.actuator);
        const auto* loop = loopOf(project_, channel.id);
        const auto* input = project::readingOf(project_, channel.id);
        if (part == nullptr || planned.context->rails.empty()) return;
        std::vector<std::string> assumed;
        const kinds::Mounting at{channel,
                                 *part,
                                 project::findDriver(parts_, channel.drive.part),
                                 planned.context,
                                 planned.chosen ? &*planned.chosen : nullptr,
                                 planned.motion.pulse_from,
                                 planned.motion.pulse_per_angle,
                                 loop,
                                 input,
                                 project_.brief.ambient,
                                 assumed};
        auto mounted = kinds::actuatorKind(*part).machine(at);
        if (!mounted) return;
        // Two wheels on one body: the second joins the first.
        if (std::holds_alternative<plant::Balancer>(mounted->machine) && input != nullptr)
            for (auto& other : machines_.couplings)
                if (std::holds_alternative<plant::Balancer>(other.machine) && other.sense.input == inputIndex(project_, input->id)) {
                    other.outputs.push_back(output);
                    return;
                }
        machines_.assumed.insert(machines_.assumed.end(), assumed.begin(), assumed.end());
        plant::Coupling made{{output}, std::move(mounted->machine), mounted->sense};
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
        const auto* shown = project::currentOf(project_, channel.id);
        const auto scale = shown != nullptr ? shownScale(project_, parts_, channel.id) : std::nullopt;
        if (scale && plant::showsCurrent(made.machine)) {
            made.current.input = inputIndex(project_, shown->id);
            made.current.per_unit = 1023.0 * si(*scale) / board::family(project_.board.form).logic;
            made.current.noise = 0.5;
        } else if (scale) {
            machines_.assumed.push_back(channel.name + ": of its current there is no model, so that its level is not moved by it");
        }
        machines_.couplings.push_back(std::move(made));
    }

private:
    const project::Project& project_;
    const project::Parts& parts_;
    const Plan& plan_;
    Machines& machines_;
};

}  // namespace

namespace {

/// @param input  only what is held by a loop on it, and whose current it reads; empty: all
Machines machinesFor(const project::Project& project, const project::Parts& parts, const Plan& plan, const std::string& input) {
    Machines machines;
    Maker maker(project, parts, plan, machines);
    const auto driven = drivenChannels(project, plan);
    for (std::size_t o = 0; o < driven.size(); ++o) {
        const auto* loop = loopOf(project, driven[o]->id);
        const auto* current = project::currentOf(project, driven[o]->id);
        if (input.empty() || (loop != nullptr && loop->input == input) || (current != nullptr && current->id == input))
            maker.add(*driven[o], static_cast<int>(o));
    }
    return machines;
}

}  // namespace

Machines machinesOf(const project::Project& project, const project::Parts& parts, const Plan& plan) {
    if (plan.apart) return machinesOf(plan.apart->project(), parts, plan.apart->plan);
    return machinesFor(project, parts, plan, "");
}

std::vector<plant::Coupling> heldMachines(const project::Project& project, const project::Parts& parts, const Plan& plan) {
    if (plan.apart) return heldMachines(plan.apart->project(), parts, plan.apart->plan);
    std::vector<plant::Coupling> list;
    std::vector<std::string> done;
    for (const auto& loop : project.routine.loops) {
        if (std::find(done.begin(), done.end(), loop.input) != done.end()) continue;
        done.push_back(loop.input);
        for (auto& coupling : machinesFor(project, parts, plan, loop.input).couplings) list.push_back(std::move(coupling));
    }
    for (const auto& input : project.inputs)
        for (auto& coupling : machinesFor(project, parts, plan, input.id).couplings)
            if (coupling.current.input == inputIndex(project, input.id) &&
                std::none_of(list.begin(), list.end(), [&](const plant::Coupling& had) { return had.outputs == coupling.outputs; }))
                list.push_back(std::move(coupling));
    return list;
}

ReadingScale scaleOf(const project::Project& project, const project::Parts& parts, const project::Input& input, double period) {
    ReadingScale scale;
    if (input.kind == InputKind::Tach) {
        double pulses = input.per_turn ? si(*input.per_turn) : 0.0;
        for (const auto& each : project.channels) {
            const auto* read = project::readingOf(project, each.id);
            const auto* channel = read != nullptr && read->id == input.id ? &each : nullptr;
            const auto* part = channel != nullptr ? project::findActuator(parts, channel->actuator) : nullptr;
            if (part == nullptr || pulses > 0.0) continue;
            if (const double each = kinds::actuatorKind(*part).tach(*part); kinds::known(each)) pulses = each;
        }
        if (pulses > 0.0 && period > 0.0) scale = {Kind::RotationSpeed, turn / (pulses * period), 0.0};
        return scale;
    }
    if (project::wiredAs(input) == project::Wired::CurrentOutput && !(input.reading_a && input.reading_b))
        if (const auto volts = shownScale(project, parts, input.belongs_to))
            return {Kind::Current, board::family(project.board.form).logic / (1023.0 * si(*volts)), 0.0};
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
    pid.least = rolls || loop.both ? -pid.most : si(loop.least) * unit;
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
    if (plan.apart) return loopCase(plan.apart->project(), parts, plan.apart->plan, id);
    const auto found =
        std::find_if(project.routine.loops.begin(), project.routine.loops.end(), [&](const routine::Loop& each) { return each.id == id; });
    if (found == project.routine.loops.end()) return fail(ErrorCode::Unknown, "loop", std::string{id}, "a loop of the routine");
    const auto& loop = *found;
    const auto* input = project::findInput(project, loop.input);
    const auto driven = drivenChannels(project, plan);
    const int output = outputOf(project, plan, loop.channel);
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
        if (loop.both && !rolls) s.turn_pause = si(driven[static_cast<std::size_t>(output)]->signal.turn_pause);
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

namespace {

// What the loops and what was measured say about Tune.
struct TuningJudge {
    const project::Project& project;
    const project::Parts& parts;
    Plan& plan;

    void say(const char* id, Severity severity, const std::string& channel, std::string text, std::vector<Remedy> remedies = {}) {
        plan.findings.push_back({id, severity, Stage::Tune, channel, std::move(text), std::move(remedies)});
    }
    void balanced(const project::Channel& channel, const routine::Loop& loop, const plant::Balancer& body);
    void counted(const project::Channel& channel, const routine::Loop& loop, const LoopCase& made, const plant::Rotor& rotor);
    void loop(const routine::Loop& loop);
    void steps(const project::Channel& channel, const ChannelPlan& planned);
    void shares(const project::Channel& channel, const ChannelPlan& planned);
    void chopper(const project::Channel& channel, const ChannelPlan& planned);
};

void TuningJudge::balanced(const project::Channel& channel, const routine::Loop& loop, const plant::Balancer& body) {
    const auto worked =
        control::balanceLoop({of<Length>(body.figures().height), std::nullopt, of<Length>(body.figures().distance_per_step)});
    if (!worked) return;
    plan.workings.push_back({"how fast it falls", Stage::Tune, channel.id, worked->steps, worked->verdict});
    if (si(loop.period) <= si(worked->result.longest_period) * (1.0 + 1e-9)) return;
    // The sketch looks at whole milliseconds.
    const double soon = std::max(1.0, std::floor(si(worked->result.longest_period) * 1000.0 + 1e-6));
    say("loop-too-slow", Severity::Warn, channel.id,
        fmt::format("{} is looked at every {}; a body that falls this fast wants {} or less.", channel.name, displayPlain(loop.period),
                    display(worked->result.longest_period)),
        {{fmt::format("Look every {:.0f} ms", soon),
          {{"routine/loops/" + loop.id + "/period", fmt::format("{:.0f} ms", soon)}},
          "more of the processor"}});
}

void TuningJudge::counted(const project::Channel& channel, const routine::Loop& loop, const LoopCase& made, const plant::Rotor& rotor) {
    const double most = rotor.settledSpeed(made.setup.pid.most) * made.setup.machine.sense.per_unit * made.setup.pid.period;
    if (si(loop.wanted) > most)
        say("loop-out-of-reach", Severity::Stop, channel.id,
            fmt::format("{} is to be held at {:.0f} counts; with all its power it comes to {:.0f}. Ask for less, or count over a "
                        "longer period.",
                        channel.name, si(loop.wanted), most));
    if (si(loop.wanted) > 0.0 && si(loop.wanted) < 10.0)
        say("loop-counts-coarsely", Severity::Note, channel.id,
            fmt::format("{} is held at {:.0f} counts: one count is {:.0f} %. A longer period counts finer, and answers later.",
                        channel.name, si(loop.wanted), 100.0 / si(loop.wanted)));
}

void TuningJudge::loop(const routine::Loop& loop) {
    const auto* channel = project::findChannel(project, loop.channel);
    if (channel == nullptr) return;
    const auto made = loopCase(project, parts, plan, loop.id);
    if (!made) return;
    if (made->setup.rolls) return balanced(*channel, loop, *std::get_if<plant::Balancer>(&made->setup.machine.machine));
    const auto* rotor = std::get_if<plant::Rotor>(&made->setup.machine.machine);
    if (rotor != nullptr && made->setup.machine.sense.tach) counted(*channel, loop, *made, *rotor);
}

void TuningJudge::steps(const project::Channel& channel, const ChannelPlan& planned) {
    const auto& c = channel.calibration;
    if (!c.highest_rate || !planned.motion.peak_rate) return;
    const double peak = si(*planned.motion.peak_rate), highest = si(*c.highest_rate);
    if (peak > highest * (1.0 + 1e-9))
        say("step-too-fast", Severity::Stop, channel.id,
            fmt::format("{} steps {} at its fastest; measured there and back, it lost none up to {}. Give the move more time, or "
                        "coarser micro-steps.",
                        channel.name, display(*planned.motion.peak_rate), display(*c.highest_rate)));
    else if (peak > 0.8 * highest)
        say("step-near-limit", Severity::Warn, channel.id,
            fmt::format("{} steps {} at its fastest, of {} that it was measured to do: little is left for a stiff day.", channel.name,
                        display(*planned.motion.peak_rate), display(*c.highest_rate)));
}

// The share that it runs at, against what was measured.
void TuningJudge::shares(const project::Channel& channel, const ChannelPlan& planned) {
    const auto& c = channel.calibration;
    if (loopOf(project, channel.id) != nullptr) return;
    const std::string path = "channels/" + channel.id + "/signal/duty";
    if (c.start_duty && planned.signal != SignalKind::Unknown && si(channel.signal.duty) < si(*c.start_duty) && !isPlaced(planned))
        say("fan-below-start", Severity::Stop, channel.id,
            fmt::format("{} runs at {}; measured, it starts from {}.", channel.name, display(channel.signal.duty), display(*c.start_duty)),
            {{"Run it at its start duty", {{path, exactNumber(si(*c.start_duty))}}, "more power"}});
    if (c.jams_below && si(channel.signal.duty) < si(*c.jams_below))
        say("jams-slow", Severity::Warn, channel.id,
            fmt::format("{} runs at {}; portions jammed below {}. Run it faster, for a shorter time.", channel.name,
                        display(channel.signal.duty), display(*c.jams_below)),
            {{"Run it faster", {{path, exactNumber(std::min(1.0, si(*c.jams_below) * 1.1))}}, "louder"}});
}

void TuningJudge::chopper(const project::Channel& channel, const ChannelPlan& planned) {
    const auto& c = channel.calibration;
    if (!c.chopper_current || !c.chopper_temperature || !planned.chosen || planned.chosen->numbers.drive_current <= 0.0) return;
    const auto* driver = project::findDriver(parts, channel.drive.part);
    driver::StepperCurrent in;
    in.current = of<Current>(planned.chosen->numbers.drive_current);
    in.sense_resistor = driver != nullptr && driver->sense_resistor ? *driver->sense_resistor : of<Resistance>(0.1);
    in.measured_temperature = c.chopper_temperature;
    in.measured_current = c.chopper_current;
    in.ambient = project.brief.ambient;
    const auto worked = driver::stepperCurrent(in);
    if (!worked || !worked->result.predicted_temperature) return;
    plan.workings.push_back({"its chopper, by what was measured", Stage::Tune, channel.id, worked->steps, worked->verdict});
    const double hot = si(*worked->result.predicted_temperature) - 273.15;
    if (hot > 100.0)
        say("driver-hot", hot > 125.0 ? Severity::Stop : Severity::Warn, channel.id,
            fmt::format("{}'s chopper comes to {:.0f} °C at {}, by what was measured. A closed box is hotter still: turn the "
                        "current down, or let air through.",
                        channel.name, hot, display(in.current)));
}

}  // namespace

void judgeTuning(const project::Project& project, const project::Parts& parts, Plan& plan) {
    TuningJudge judge{project, parts, plan};
    for (const auto& loop : project.routine.loops) judge.loop(loop);
    for (const auto& channel : project.channels) {
        const auto& planned = *findChannel(plan, channel.id);
        judge.shares(channel, planned);
        judge.steps(channel, planned);
        const auto& measured = channel.calibration.stall_current;
        if (measured && planned.chosen && planned.chosen->stalled && si(*measured) > 1.15 * si(*planned.chosen->stalled))
            judge.say("stall-over-plan", Severity::Warn, channel.id,
                      fmt::format("{} draws {} held fast, measured; its data sheet leads to {}. Plan driver, fuse and wire by what was "
                                  "measured.",
                                  channel.name, display(*measured), display(*planned.chosen->stalled)));
        judge.chopper(channel, planned);
    }
}

}  // namespace hinge::plan
