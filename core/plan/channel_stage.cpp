#include "plan/channel_stage.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "kinds/demand_kind.hpp"
#include "kinds/expander.hpp"
#include "plan/driven.hpp"
#include "plan/feed.hpp"
#include "plan/rules.hpp"

namespace hinge::plan {
namespace {

// The catalogue, which is only read where there is something to cure; then that is remembered.
class Catalogue {
public:
    Catalogue(const project::Parts& parts, ChannelStage& stage, const ChannelStage* before)
        : parts_{parts}, stage_{stage}, before_{before} {}
    [[nodiscard]] const project::Parts& parts() {
        if (stage_.searched == nullptr) {
            const bool kept = before_ != nullptr && before_->searched != nullptr && *before_->searched == parts_;
            stage_.searched = kept ? before_->searched : std::make_shared<const project::Parts>(parts_);
        }
        return *stage_.searched;
    }

private:
    const project::Parts& parts_;
    ChannelStage& stage_;
    const ChannelStage* before_;
};

match::Context contextOf(const ChannelReads& reads, const ChannelStage* before) {
    const auto& channel = reads.channel;
    match::Context context;
    context.demand = channel.demand;
    context.spreads = channel.spreads;
    const bool asked =
        before != nullptr && before->reads.channel.demand == channel.demand && before->reads.channel.spreads == channel.spreads;
    context.ask = asked ? before->plan.context->ask : match::ask(channel.demand, channel.spreads);
    context.calibration = channel.calibration;
    context.measured_part = channel.actuator;
    context.signal = channel.signal;
    context.work = channel.work;
    context.weights = channel.weights;
    context.gate_resistor = channel.drive.gate_resistor;
    context.base_resistor = channel.drive.base_resistor;
    context.led_resistor = channel.drive.led_resistor;
    context.heat_sink = channel.drive.heat_sink;
    context.pulldown = channel.drive.pulldown;
    context.pulldown_side = channel.drive.pulldown_side;
    context.gear_ratio = si(channel.drive.gear_ratio);
    context.rails = reads.rails;
    context.logic = reads.logic;
    context.pin_current = reads.pin_current;
    context.logic_supply = reads.logic_supply;
    context.ambient = reads.ambient;
    context.ends = reads.ends;
    context.colour = channel.colour;
    if (const auto* load = std::get_if<project::SwitchDemand>(&channel.demand); load != nullptr && load->power)
        context.own = match::ownLoad(*load, context.rails.front().volts);
    return context;
}

// What cures a finding of the pairing: another driver for the same part where the driver is at fault,
// else the best other part. The catalogue is only searched when there is something to cure.
std::vector<Remedy> remediesFor(const std::string& id, const project::Channel& channel, const ChannelPlan& plan, Catalogue& catalogue) {
    const Rule* rule = findRule(id);
    const bool of_driver = rule != nullptr && rule->cure == Cure::Driver, of_part = rule != nullptr && rule->cure == Cure::Part;
    const std::string path = "channels/" + channel.id + "/";
    const auto price = [](const match::Pairing& p) { return p.price ? fmt::format("{:.2f} in all", si(*p.price)) : std::string{}; };
    const auto fits = [](const match::Pairing& p) { return p.verdict == Verdict::Holds || p.verdict == Verdict::Tight; };
    const auto still = [&](const match::Pairing& p) {
        return std::any_of(p.findings.begin(), p.findings.end(), [&](const Finding& f) { return f.id == id; });
    };
    std::vector<Remedy> remedies;
    if (channel.drive.base_resistor && (id == "base-starved" || id == "pin-overcurrent"))
        remedies.push_back({"Fit the base resistor that is proposed", {{path + "drive/base_resistor", ""}}, "a coin"});
    if (channel.drive.led_resistor && (id == "led-overcurrent" || id == "pin-overcurrent"))
        remedies.push_back({"Fit the LED resistor that is proposed", {{path + "drive/led_resistor", ""}}, "a coin"});
    if (id == "held-weakly")
        remedies.push_back({"Hold it with all of its current", {{path + "signal/hold_share", "100 %"}}, "motor and driver stay warm"});
    if (id == "pin-feeds")
        for (const auto& rail : plan.context->rails)
            if (rail.feeds_board) remedies.push_back({"Let it draw from " + rail.name, {{path + "rail", rail.id}}, "costs nothing"});
    if (const auto* heat = std::get_if<project::HeatDemand>(&channel.demand); heat != nullptr && id == "hot-side" && plan.chosen) {
        // What it pumps grows as its hot side cools: the first that holds is offered.
        const double room = si(heat->hot_side_most) - si(plan.context->ambient);
        for (const double more : {1.1, 1.5, 2.5}) {
            const double sink = room / (more * (plan.chosen->numbers.part_heat + plan.chosen->numbers.ability));
            if (sink >= 0.01 && sink < 100.0)
                remedies.push_back({fmt::format("Fit a heat-sink of {:.2f} K/W", sink),
                                    {{path + "demand/hot_sink", fmt::format("{:.2f} K/W", sink)}},
                                    "a larger one, or a fan on it"});
        }
    }
    if (id == "driver-hot" && plan.chosen && plan.chosen->numbers.heat > 0.0) {
        // The first of the usual ones that keeps the junction at 125 °C.
        const double needs = (398.15 - si(plan.context->ambient)) / plan.chosen->numbers.heat - match::into_sink;
        for (const double sink : {20.0, 10.0, 5.0, 3.0})
            if (sink <= needs) {
                remedies.push_back({fmt::format("Fit a heat-sink of {:.0f} K/W", sink),
                                    {{path + "drive/heat_sink", fmt::format("{:.0f} K/W", sink)}},
                                    "room, and air that can rise past it"});
                break;
            }
    }
    const auto* part = remedies.empty() && of_driver ? match::partOf(plan.context, catalogue.parts(), channel.actuator) : nullptr;
    if (part != nullptr) {
        for (const auto& p : match::driversFor(plan.context, catalogue.parts(), *part)) {
            if (!fits(p) || still(p) || p.driver == channel.drive.part) continue;
            remedies.push_back({"Use the " + p.driver_name, {{path + "drive/part", p.driver}}, price(p)});
            if (!channel.drive.flyback_diode) remedies.back().edits.push_back({path + "drive/flyback_diode", "yes"});
            if (remedies.size() == 4) break;  // the first that leaves no new stop is offered
        }
    }
    if (remedies.empty() && (of_driver || of_part)) {
        for (const auto& p : match::candidates(plan.context, catalogue.parts(), 20)) {
            if (!fits(p) || still(p) || p.actuator == channel.actuator) continue;
            Remedy remedy{"Use the " + p.actuator_name, {{path + "actuator", p.actuator}, {path + "drive/part", p.driver}}, price(p)};
            if (p.rail != channel.rail && !p.rail.empty()) remedy.edits.push_back({path + "rail", p.rail});
            if (!channel.drive.flyback_diode) remedy.edits.push_back({path + "drive/flyback_diode", "yes"});
            if (std::holds_alternative<project::PumpDemand>(channel.demand))
                remedy.edits.push_back({path + "calibration/cup_volume", ""}), remedy.edits.push_back({path + "calibration/cup_time", ""});
            remedies.push_back(std::move(remedy));
            if (remedies.size() == 4) break;  // the first that leaves no new stop is offered
        }
    }
    return remedies;
}

// The PWM wire of a 4-wire fan asks for a speed; whether 0 % is none is the fan's own affair.
PlanFinding neverOff(const project::Channel& channel, const actuator::Part& part, const ChannelPlan& out, Catalogue& catalogue) {
    const double volts = match::supplyOf(out.context, out.context->rails.front()),
                 amps = out.chosen && out.chosen->starting ? si(*out.chosen->starting) : 0.0;
    std::vector<Remedy> remedies;
    const driver::DriverPart* best = nullptr;
    for (const auto& each : catalogue.parts().drivers) {
        if (!kinds::driverKind(each).chops_supply || !each.current_max || !each.voltage_max) continue;
        if (std::isnan(volts) || volts > si(*each.voltage_max) || (each.voltage_min && volts < si(*each.voltage_min))) continue;
        if (si(*each.current_max) < 1.25 * amps) continue;
        if (best == nullptr || (each.price && (!best->price || si(*each.price) < si(*best->price)))) best = &each;
    }
    if (best != nullptr)
        remedies.push_back(
            {fmt::format("Switch its supply with the {}", best->name),
             {{"channels/" + channel.id + "/drive/part", best->id}, {"channels/" + channel.id + "/drive/flyback_diode", "yes"}},
             "only on and off, no speeds between"});
    return {"fan-zero-runs",
            Severity::Note,
            Stage::Pulse,
            channel.id,
            fmt::format("At 0 % {} need not stand still: some 4-wire fans stop, others turn on at their slowest ({}). Where "
                        "'off' must be off, its supply has to be switched.",
                        channel.name, actuator::head(part).name),
            std::move(remedies)};
}

// What the maker's own load takes, which no part of the catalogue says.
void showOwnLoad(ChannelStage& stage) {
    const auto& out = stage.plan;
    const auto& asked = out.context->ask;
    const double volts = match::supplyOf(out.context, out.context->rails.front());
    if (!out.context->own || !asked.power || !(volts > 0.0)) return;
    const auto load = match::contactLoad(out.context, *out.context->own);
    const double amps = si(*asked.power) / volts;
    Steps steps;
    addStep(steps, "I", "current while it runs", "{P}/{V}", {{"P", *asked.power}, {"V", volts}}, of<Current>(amps), "ohm");
    addStep(steps, "Ii", "current at switch-on", "{I}·{k}", {{"I", amps}, {"k", driver::usualInrush(load)}},
            of<Current>(amps * driver::usualInrush(load)), "common practice, no published source");
    stage.workings.push_back({"what it takes", Stage::Need, "", steps, Verdict::Holds});
}

// A cup was filled against the clock: whether the data sheets agree.
void judgeCup(const project::Channel& channel, ChannelStage& stage) {
    auto& out = stage.plan;
    out.measured_flow = of<VolumeFlow>(si(*channel.calibration.cup_volume) / si(*channel.calibration.cup_time));
    if (!out.chosen->flow || !(si(*out.chosen->flow) > 0.0)) return;
    const double ratio = si(*out.measured_flow) / si(*out.chosen->flow);
    if (ratio < 0.8 || ratio > 1.25)
        stage.findings.push_back(
            {"flow-off-model",
             Severity::Warn,
             Stage::Tune,
             channel.id,
             fmt::format("The cup says {}, the data sheets say {}. Look for air, a kink, or a supply that is not what it says.",
                         display(*out.measured_flow), display(*out.chosen->flow)),
             {}});
}

void judgeUntested(const project::Channel& channel, const actuator::PartHead& head, int alike, ChannelStage& stage) {
    if (head.standing != actuator::Standing::Untested) return;
    const bool many = alike >= 3;
    stage.findings.push_back(
        {"sample-first",
         many ? Severity::Warn : Severity::Note,
         Stage::Match,
         channel.id,
         many ? fmt::format("You plan {} of '{}' and have tested none. Look-alikes vary within one bag.", alike, head.name)
              : fmt::format("No sample of '{}' is marked as tested. Look-alikes differ: try one before you build it in.", head.name),
         {}});
}

// What its driver is told at start, where it is told anything.
std::optional<RegisterPlan> registersFor(const project::Channel& channel, const driver::DriverPart& driver, const ChannelPlan& out,
                                         ChannelStage& stage) {
    const auto* map = driver::findRegisterMap(driver.registers);
    if (map == nullptr || !kinds::isSteps(out.signal)) return std::nullopt;
    RegisterPlan plan{map, {}, ""};
    if (!driver.sense_resistor || !kinds::known(out.chosen->numbers.drive_current)) {
        plan.refused = "its sense resistor or its motor's current is not known, and its current is set by them";
        return plan;
    }
    driver::ChopperSettings in;
    in.sense_resistor = *driver.sense_resistor;
    in.peak = of<Current>(out.chosen->numbers.drive_current);
    in.held = channel.signal.hold_share;
    in.microsteps = channel.signal.microsteps;
    in.stall_level = channel.signal.stall_level;
    auto worked = driver::chopperRegisters(*map, in);
    if (worked) {
        stage.workings.push_back({"its current, as its register holds it", Stage::Pulse, channel.id, worked->steps, worked->verdict});
        plan.writes = std::move(worked->result.writes);
    } else {
        plan.refused = fmt::format("its registers take no {} of {}: {}",
                                   worked.error().field == "peak"         ? "current"
                                   : worked.error().field == "microsteps" ? "micro-steps"
                                                                          : "stall level",
                                   worked.error().value, worked.error().accepted);
    }
    return plan;
}

// The chosen part on the chosen driver.
void judgeChoice(const project::Channel& channel, const ChannelReads& reads, const actuator::Part& part, ChannelStage& stage,
                 Catalogue& catalogue, bool cures) {
    auto& out = stage.plan;
    const auto& driver = *reads.driver;
    const auto& rail = out.context->rails.front();
    out.chosen = match::explain(out.context, part, driver, rail);
    out.protection = match::protection(out.context, part, driver, rail);
    out.dose_time = out.chosen->run_time;
    out.signal = kinds::signalOf(channel, part, driver, reads.shares, out.context->ask.goes_on && !reads.held);
    if (out.signal == SignalKind::LatchPulses) out.latch = kinds::actuatorKind(part).latch(part);
    out.both_ways = (kinds::canDrive(driver, match::Method::BothWays) && !out.latch) || out.signal == SignalKind::SpeedPulse ||
                    out.signal == SignalKind::StepRate;
    out.switched_ends = out.signal == SignalKind::Pwm ? kinds::switchedEnds(driver) : 0;
    out.two_inputs = out.switched_ends > 0 ||
                     (kinds::hasTwoInputs(driver) && (out.signal == SignalKind::Pwm || out.signal == SignalKind::Switched || out.latch));
    out.registers = registersFor(channel, driver, out, stage);
    // What is on or off takes a line that is on or off, unless parts of its power are asked for.
    const bool in_parts = reads.shares || si(channel.signal.duty) < 1.0 || si(channel.signal.soft_start) > 0.0;
    if (out.expander && driver::gives(*out.expander->map) == driver::ExpanderGives::Levels && out.signal == SignalKind::Pwm && !in_parts)
        out.signal = SignalKind::Switched;
    out.inverted = out.signal == SignalKind::FanPwm;
    if (out.inverted && channel.safe == project::SafeState::Off) stage.findings.push_back(neverOff(channel, part, out, catalogue));
    stage.workings.insert(stage.workings.end(), out.chosen->workings.begin(), out.chosen->workings.end());
    for (const auto& finding : out.chosen->findings) {
        const Rule* rule = findRule(finding.id);
        const Stage at = rule != nullptr ? rule->stage : Stage::Match;  // a kind may bring a rule of its own
        auto remedies =
            finding.severity == Severity::Note || !cures ? std::vector<Remedy>{} : remediesFor(finding.id, channel, out, catalogue);
        stage.findings.push_back({finding.id, finding.severity, at, channel.id, finding.text, std::move(remedies)});
    }
    if (out.chosen->run_time_measured) judgeCup(channel, stage);
    judgeUntested(channel, actuator::head(part), reads.alike, stage);
}

// What is still unknown, and how to find out.
void listMissing(const project::Channel& channel, ChannelStage& stage) {
    project::Project alone;
    alone.channels = {channel};
    const std::string path = "channels/" + channel.id + "/";
    const auto missing = [&](const std::string& field, const std::string& how = "") {
        if (const auto fact = project::fact(alone, path + field))
            stage.missing.push_back(
                {path + field, channel.name + ": " + fact->label, how.empty() ? fact->hint : how, fact->stage, channel.id});
    };
    for (const auto& name : stage.plan.context->ask.missing) missing("demand/" + name);
    if (channel.actuator.empty()) missing("actuator", "choose one of the ranked candidates");
    if (channel.drive.part.empty()) missing("drive/part", "choose one of the ranked candidates");
    if (channel.pin.empty()) missing("pin", "any free pin that can do it");
    for (const auto measured : kinds::demandKind(channel.demand).measured) {
        const auto field = "calibration/" + std::string{measured};
        if (const auto fact = project::fact(alone, path + field); fact && !fact->known) missing(field);
    }
    if (stage.plan.signal == SignalKind::SpeedPulse && !channel.calibration.pulse_stop) missing("calibration/pulse_stop");
    if (stage.plan.signal == SignalKind::ServoPulse) {
        if (!channel.calibration.pulse_min) missing("calibration/pulse_min");
        if (!channel.calibration.pulse_max) missing("calibration/pulse_max");
    }
}

}  // namespace

std::optional<ExpanderPlan> expanderAt(std::string_view table, Count board, std::string_view pin) {
    const auto* map = driver::findRegisterMap(table);
    if (map == nullptr || driver::gives(*map) == driver::ExpanderGives::Nothing) return std::nullopt;
    const int output = kinds::ownOutput(pin);
    return ExpanderPlan{map, output < static_cast<int>(map->figure("outputs")) ? output : -1, static_cast<int>(std::lround(si(board))),
                        std::nullopt};
}

ChannelReads readsOf(const project::Project& project, const project::Parts& parts, const project::Channel& channel) {
    const auto& family = board::family(project.board.form);
    ChannelReads reads;
    reads.channel = channel;
    const auto offer = [&](const power::Rail& rail) {
        reads.rails.push_back({rail.id, rail.name, railVoltage(project, rail.id), railWire(rail), rail.id == project.board.rail});
    };
    if (const auto* own = project::findRail(project, channel.rail)) offer(*own);
    else reads.rails.push_back({"", "no rail", std::nullopt, {}});
    for (const auto& rail : project.rails)
        if (rail.id != channel.rail) offer(rail);
    if (const auto* part = project::findActuator(parts, channel.actuator)) reads.part = *part;
    if (const auto* driver = project::findDriver(parts, channel.drive.part)) reads.driver = *driver;
    reads.logic = of<Voltage>(family.logic);
    reads.pin_current = of<Current>(family.pin_current);
    if (const auto* map = driver::findRegisterMap(channel.drive.expander); map != nullptr && map->figure("pin_current") > 0.0)
        reads.pin_current = of<Current>(map->figure("pin_current"));
    reads.logic_supply = railVoltage(project, project.board.rail);
    reads.ambient = project.brief.ambient;
    // Of a lamp of three colours its red speaks for all three.
    reads.alike = static_cast<int>(std::count_if(project.channels.begin(), project.channels.end(), [&](const project::Channel& other) {
        return other.actuator == channel.actuator && (other.colour == project::Colour::None || other.colour == project::Colour::Red);
    }));
    reads.shares = asksForShares(project.routine, channel.id);
    reads.ends = endsByContact(project, channel.id);
    reads.held = routine::isHeld(project.routine, channel.id);
    return reads;
}

std::shared_ptr<const ChannelStage> channelStage(ChannelReads reads, const project::Parts& parts,
                                                 const std::shared_ptr<const ChannelStage>& before, bool cures) {
    if (before != nullptr && before->reads == reads && (before->searched == nullptr || *before->searched == parts)) return before;
    auto made = std::make_shared<ChannelStage>();
    auto& stage = *made;
    stage.reads = std::move(reads);
    const auto& channel = stage.reads.channel;
    Catalogue catalogue{parts, stage, before.get()};
    auto& out = stage.plan;
    out.id = channel.id;
    out.name = channel.name;
    out.context = contextOf(stage.reads, before.get());
    const auto& asked = out.context->ask;
    stage.workings = asked.workings;
    for (const auto& finding : asked.findings)
        stage.findings.push_back({finding.id, finding.severity, Stage::Need, channel.id, finding.text, {}});
    showOwnLoad(stage);
    // The board of more lines on which its pin lies: its driver itself, or one before it.
    const bool own_outputs = stage.reads.driver && kinds::driverKind(*stage.reads.driver).own_outputs;
    out.expander =
        expanderAt(own_outputs ? stage.reads.driver->registers : channel.drive.expander, channel.drive.expander_board, channel.pin);
    const auto* part = out.context->own && actuator::head(*out.context->own).id == channel.actuator ? &*out.context->own
                       : stage.reads.part                                                           ? &*stage.reads.part
                                                                                                    : nullptr;
    const bool no_part = !channel.actuator.empty() && part == nullptr, no_driver = !channel.drive.part.empty() && !stage.reads.driver;
    if (part != nullptr && stage.reads.driver) judgeChoice(channel, stage.reads, *part, stage, catalogue, cures);
    else if (no_part || no_driver)
        stage.findings.push_back({"part-missing",
                                  Severity::Stop,
                                  Stage::Match,
                                  channel.id,
                                  fmt::format("'{}' is not in the catalogue. Add it under Parts, or choose another.",
                                              no_part ? channel.actuator : channel.drive.part),
                                  {}});
    listMissing(channel, stage);
    for (auto& working : stage.workings) working.channel = channel.id;
    return made;
}

}  // namespace hinge::plan
