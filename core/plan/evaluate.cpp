#include "plan/behaviour.hpp"
#include "plan/feed.hpp"
#include "plan/pins.hpp"
#include "plan/plan.hpp"
#include "quantity/text.hpp"
#include <algorithm>
#include <array>
#include <utility>
#include <fmt/format.h>

namespace hinge::plan {
namespace {

match::PumpContext contextOf(const project::Project& project, const project::Channel& channel) {
    const auto& family = board::family(project.board.form);
    match::PumpContext context;
    context.demand = channel.demand;
    context.calibration = channel.calibration;
    context.signal = channel.signal;
    context.gate_resistor = channel.drive.gate_resistor;
    context.pulldown = channel.drive.pulldown;
    context.pulldown_side = channel.drive.pulldown_side;
    context.supply = railVoltage(project, channel.rail);
    if (const auto* rail = project::findRail(project, channel.rail)) context.wire = railWire(*rail);
    context.logic = of<Voltage>(family.logic);
    context.pin_current = of<Current>(family.pin_current);
    context.logic_supply = railVoltage(project, project.board.rail);
    context.ambient = project.brief.ambient;
    return context;
}

// A finding of the pairing belongs to the stage where its cure lies.
Stage stageOf(const std::string& id) {
    if (id == "pin-overcurrent") return Stage::Pins;
    return Stage::Match;
}

std::vector<Remedy> remediesFor(const std::string& id, const project::Channel& channel, const std::vector<match::Pairing>& ranked) {
    const std::string path = "channels/" + channel.id + "/";
    const auto price = [](const match::Pairing& p) { return p.price ? fmt::format("{:.2f} in all", si(*p.price)) : std::string{}; };
    const bool of_switch = id == "gate-not-enhanced" || id == "driver-hot" || id == "driver-overcurrent" || id == "stall-over-driver" || id == "relay-no-pwm" || id == "contact-inrush" ||
                           id == "coil-wont-pull" || id == "pin-overcurrent" || id == "switch-voltage";
    const bool of_pump = id == "pump-cannot-lift" || id == "dose-over-time" || id == "dose-near-limit" || id == "supply-over" || id == "supply-low";
    std::vector<Remedy> remedies;
    for (const auto& candidate : ranked) {
        if (candidate.verdict == Verdict::Breaks || candidate.verdict == Verdict::Unknown) continue;
        if (of_switch && candidate.pump == channel.actuator && candidate.part != channel.drive.part)
            remedies.push_back({"Use the " + candidate.part_name, {{path + "drive/part", candidate.part}}, price(candidate)});
        else if (of_pump && candidate.pump != channel.actuator)
            remedies.push_back({"Use the " + candidate.pump_name, {{path + "actuator", candidate.pump}, {path + "drive/part", candidate.part}, {path + "calibration/cup_volume", ""}, {path + "calibration/cup_time", ""}}, price(candidate)});
        if (!remedies.empty()) break;
    }
    return remedies;
}

void evaluatePump(const project::Project& project, const project::Parts& parts, const project::Channel& channel, Plan& plan) {
    ChannelPlan out;
    out.id = channel.id;
    out.name = channel.name;
    auto& pump = out.pump;
    pump.context = contextOf(project, channel);
    pump.ask = match::ask(channel.demand);
    pump.ranked = match::rank(pump.context, parts);
    const auto place = [&](std::vector<ShownWorking> workings) {
        for (auto& working : workings) {
            working.channel = channel.id;
            plan.workings.push_back(std::move(working));
        }
    };
    place(pump.ask.workings);
    for (const auto& finding : pump.ask.findings) plan.findings.push_back({finding.id, finding.severity, Stage::Need, channel.id, finding.text, {}});
    const auto* actuator = project::findPump(parts, channel.actuator);
    const auto* part = project::findSwitch(parts, channel.drive.part);
    if (actuator != nullptr && part != nullptr) {
        pump.chosen = match::judge(pump.context, *actuator, *part);
        pump.dose_time = pump.chosen->run_time;
        place(pump.chosen->workings);
        for (const auto& finding : pump.chosen->findings)
            plan.findings.push_back({finding.id, finding.severity, finding.id == "dose-over-time" || finding.id == "dose-near-limit" ? Stage::Need : stageOf(finding.id), channel.id, finding.text, remediesFor(finding.id, channel, pump.ranked)});
        if (pump.chosen->run_time_measured) {
            pump.measured_flow = of<VolumeFlow>(si(*channel.calibration.cup_volume) / si(*channel.calibration.cup_time));
            if (pump.chosen->flow && si(*pump.chosen->flow) > 0.0) {
                const double ratio = si(*pump.measured_flow) / si(*pump.chosen->flow);
                if (ratio < 0.8 || ratio > 1.25)
                    plan.findings.push_back({"flow-off-model", Severity::Warn, Stage::Tune, channel.id, fmt::format("The cup says {}, the data sheets say {}. Look for air, a kink, or a supply that is not what it says.", display(*pump.measured_flow), display(*pump.chosen->flow)), {}});
            }
        }
        if (!actuator->tested)
            plan.findings.push_back({"sample-first", Severity::Note, Stage::Match, channel.id, fmt::format("No sample of '{}' is marked as tested. Look-alikes differ: run one over a cup before you build it in.", actuator->name), {}});
    } else if ((!channel.actuator.empty() && actuator == nullptr) || (!channel.drive.part.empty() && part == nullptr)) {
        plan.findings.push_back({"part-missing", Severity::Stop, Stage::Match, channel.id, fmt::format("'{}' is not in the catalogue.", actuator == nullptr && !channel.actuator.empty() ? channel.actuator : channel.drive.part), {}});
    }
    // What is still unknown, and how to find out.
    const auto missing = [&](const std::string& path, const std::string& how = "") {
        if (const auto fact = project::fact(project, path)) plan.missing.push_back({path, channel.name + ": " + fact->label, how.empty() ? fact->hint : how, fact->stage, channel.id});
    };
    const std::string path = "channels/" + channel.id + "/";
    for (const auto& name : pump.ask.missing) missing(path + "demand/" + name);
    if (channel.actuator.empty()) missing(path + "actuator", "choose one of the ranked candidates");
    if (channel.drive.part.empty()) missing(path + "drive/part", "choose one of the ranked candidates");
    if (channel.pin.empty()) missing(path + "pin", "any free pin with PWM");
    if (!channel.calibration.cup_volume) missing(path + "calibration/cup_volume");
    if (!channel.calibration.cup_time) missing(path + "calibration/cup_time");
    plan.channels.push_back(std::move(out));
}

std::string bytes(int n) { return n >= 1000 ? fmt::format("{:.1f} kB", n / 1000.0) : fmt::format("{} B", n); }

void fillCells(const project::Project& project, const Evidence& evidence, Plan& plan) {
    for (std::size_t i = 0; i < project.channels.size(); ++i) {
        const auto& channel = project.channels[i];
        auto& out = plan.channels[i];
        auto& pump = out.pump;
        const auto cell = [&](Stage stage) -> Cell& { return out.cells[static_cast<std::size_t>(stage)]; };
        // The verdict a stage's findings give, for this channel or for the whole gadget.
        const auto judged = [&](Stage stage, Verdict from) {
            Verdict verdict = from;
            for (const auto& finding : plan.findings)
                if (finding.stage == stage && (finding.channel.empty() || finding.channel == channel.id))
                    verdict = worse(verdict, finding.severity == Severity::Stop ? Verdict::Breaks : finding.severity == Severity::Warn ? Verdict::Tight : Verdict::Holds);
            return verdict;
        };
        const auto chosen = pump.chosen;
        {
            auto& c = cell(Stage::Need);
            c.family = Family::Hinge;
            if (pump.ask.flow) c.figure = display(*pump.ask.flow, 2);
            if (channel.demand.lift) c.small = displayPlain(*channel.demand.lift) + " lift";
            c.verdict = judged(Stage::Need, pump.ask.flow && pump.ask.head ? Verdict::Holds : Verdict::Unknown);
            if (chosen && chosen->run_time && channel.demand.run_time_limit) c.share = si(*chosen->run_time) / si(*channel.demand.run_time_limit);
        }
        {
            auto& c = cell(Stage::Match);
            c.family = Family::Hinge;
            if (chosen && chosen->flow) {
                c.figure = display(*chosen->flow, 2);
                if (chosen->head) c.small = "at " + display(*chosen->head, 2) + " head";
                if (pump.ask.flow && si(*chosen->flow) > 0.0) c.share = si(*pump.ask.flow) / si(*chosen->flow);
            } else if (chosen) {
                c.small = chosen->pump_name.substr(0, chosen->pump_name.find(" ·"));
            }
            c.verdict = judged(Stage::Match, chosen && chosen->flow ? chosen->verdict : Verdict::Unknown);
        }
        {
            auto& c = cell(Stage::Feed);
            c.family = Family::Spark;
            if (chosen && chosen->running) {
                c.figure = display(*chosen->running, 2) + " run";
                if (chosen->starting) c.small = display(*chosen->starting, 2) + " at start";
            }
            if (plan.headline.worst_current && plan.headline.source_current) c.share = si(*plan.headline.worst_current) / si(*plan.headline.source_current);
            c.verdict = judged(Stage::Feed, c.share ? Verdict::Holds : Verdict::Unknown);
        }
        {
            auto& c = cell(Stage::Pins);
            c.family = Family::Spark;
            c.figure = channel.pin;
            const auto pin = board::pinNamed(board::family(project.board.form), channel.pin);
            if (pin && pin->pwm_timer >= 0) c.small = fmt::format("timer {}, output {}", pin->pwm_timer, pin->pwm_output);
            else if (pin) c.small = "on and off";
            if (chosen && chosen->pin_peak) c.share = si(*chosen->pin_peak) / board::family(project.board.form).pin_current;
            c.verdict = judged(Stage::Pins, pin ? Verdict::Holds : Verdict::Unknown);
        }
        {
            auto& c = cell(Stage::Pulse);
            c.family = Family::Time;
            if (pump.pwm) {
                c.figure = display(pump.pwm->actual_frequency);
                c.small = si(channel.signal.soft_start) > 0.0 ? "soft start " + displayPlain(channel.signal.soft_start) : fmt::format("{:.0f} steps", si(pump.pwm->steps));
                if (chosen && chosen->starting && chosen->stalled && si(*chosen->stalled) > 0.0) c.share = si(*chosen->starting) / si(*chosen->stalled);
            } else if (!channel.pin.empty()) {
                c.figure = "on, off";
            }
            c.verdict = judged(Stage::Pulse, c.figure.empty() ? Verdict::Unknown : Verdict::Holds);
        }
        {
            auto& c = cell(Stage::Routine);
            c.family = Family::Time;
            int cues = 0;
            for (const auto& cue : project.routine.cues)
                if (std::any_of(cue.moves.begin(), cue.moves.end(), [&](const routine::Move& m) { return m.channel == channel.id; })) cues += (cue.input.empty() ? 0 : 1) + (cue.times.empty() ? 0 : 1);
            if (cues > 0) c.figure = fmt::format("{} trigger{}", cues, cues == 1 ? "" : "s");
            Verdict verdict = cues > 0 && plan.program ? Verdict::Holds : Verdict::Unknown;
            for (const auto& interlock : project.routine.interlocks) {
                if (interlock.channel != channel.id) continue;
                const auto* input = project::findInput(project, interlock.input);
                c.small = "never with " + (input != nullptr ? input->name : interlock.input);
                const auto* proof = plan.proofs ? &*plan.proofs : nullptr;
                bool proved = false;
                if (proof != nullptr)
                    for (const auto& p : *proof) proved = proved || (p.id == interlock.id && p.status == routine::ProofStatus::Proved);
                if (!proved) verdict = worse(verdict, Verdict::Unknown);
            }
            c.verdict = judged(Stage::Routine, verdict);
        }
        {
            auto& c = cell(Stage::Code);
            c.family = Family::Time;
            const auto& family = board::family(project.board.form);
            if (evidence.build && evidence.build->ok) {
                c.figure = bytes(evidence.build->flash);
                c.small = fmt::format("of {}, {} B of RAM", bytes(family.flash), evidence.build->ram);
                c.share = static_cast<double>(evidence.build->flash) / family.flash;
                c.verdict = judged(Stage::Code, *c.share > 1.0 ? Verdict::Breaks : Verdict::Holds);
            } else if (evidence.build) {
                c.figure = "fails";
                c.small = "does not compile";
                c.verdict = Verdict::Breaks;
            } else {
                c.figure = plan.program ? "emitted" : "";
                c.small = evidence.compiler_missing ? "no compiler here" : plan.program ? "not compiled yet" : "";
            }
        }
        {
            auto& c = cell(Stage::Tune);
            c.family = Family::Time;
            if (pump.dose_time) c.figure = display(*pump.dose_time, 2) + " dose";
            if (channel.demand.volume) c.small = displayPlain(*channel.demand.volume) + (pump.measured_flow ? ", measured" : ", computed");
            c.verdict = judged(Stage::Tune, pump.measured_flow && pump.dose_time ? Verdict::Holds : Verdict::Unknown);
            if (pump.dose_time && channel.demand.run_time_limit) c.share = si(*pump.dose_time) / si(*channel.demand.run_time_limit);
        }
        {
            auto& c = cell(Stage::Log);
            c.family = Family::Spark;
            double cost = 0.0;
            int notes = 0;
            for (const auto& entry : project.journal.entries)
                if (entry.channel == channel.id) ++notes;
            if (chosen && chosen->price) cost = si(*chosen->price);
            c.figure = chosen && chosen->price ? fmt::format("{} {:.2f}", project.brief.currency, cost) : "";
            c.small = notes == 1 ? "1 entry" : fmt::format("{} entries", notes);
            c.verdict = Verdict::Holds;
        }
        for (int s = 0; s < project::stageCount; ++s) {
            auto& c = cell(static_cast<Stage>(s));
            for (const auto& finding : plan.findings)
                if (c.why.empty() && static_cast<int>(finding.stage) == s && finding.severity != Severity::Note && (finding.channel.empty() || finding.channel == channel.id)) c.why = finding.text;
            if (!c.why.empty()) continue;
            c.why = c.verdict == Verdict::Unknown ? "A figure or a check is still missing." : "Nothing breaks or is tight here.";
            if (c.verdict == Verdict::Unknown)
                for (const auto& missing : plan.missing)
                    if (static_cast<int>(missing.stage) == s && (missing.channel.empty() || missing.channel == channel.id)) {
                        c.why = "Still missing: " + missing.label + (missing.how.empty() ? "." : " (" + missing.how + ").");
                        break;
                    }
        }
    }
}

}  // namespace

const ChannelPlan* findChannel(const Plan& plan, std::string_view id) {
    for (const auto& channel : plan.channels)
        if (channel.id == id) return &channel;
    return nullptr;
}

const char* hazardTitle(std::string_view id) {
    static constexpr std::array<std::pair<std::string_view, const char*>, 9> titles{{
        {"mains-present", "Mains voltage"}, {"lithium-present", "Lithium cells"}, {"capacitor-stored", "A charged capacitor"},
        {"hot-part", "Hot parts"}, {"pinch-point", "Pinch and crush points"}, {"water-near", "Water near electricity"},
        {"heater-cutout", "A heater"}, {"restart-unattended", "It starts by itself"}, {"clock-lost", "The clock is lost in a power cut"}}};
    for (const auto& [name, title] : titles)
        if (name == id) return title;
    return nullptr;
}

Verdict worst(const ChannelPlan& channel) {
    Verdict verdict = Verdict::Holds;
    for (const auto& cell : channel.cells) verdict = worse(verdict, cell.verdict);
    return verdict;
}

Plan evaluate(const project::Project& project, const project::Parts& parts, const Evidence& evidence) {
    Plan plan;
    plan.headline.name = project.brief.name;
    for (const auto& source : project.sources) {
        const std::string path = "sources/" + source.id + "/";
        if (!source.voltage) plan.missing.push_back({path + "voltage", source.name + ": volts", "printed on it; check with a meter", Stage::Feed, ""});
        if (!source.current) plan.missing.push_back({path + "current", source.name + ": amps", "printed on it", Stage::Feed, ""});
    }
    for (const auto& channel : project.channels) evaluatePump(project, parts, channel, plan);
    evaluatePins(project, parts, plan);
    evaluateFeed(project, plan);
    evaluateBehaviour(project, evidence, plan);
    std::stable_sort(plan.findings.begin(), plan.findings.end(), [](const PlanFinding& a, const PlanFinding& b) { return static_cast<int>(a.severity) < static_cast<int>(b.severity); });
    fillCells(project, evidence, plan);
    plan.verdict = plan.channels.empty() ? Verdict::Unknown : Verdict::Holds;
    for (const auto& finding : plan.findings) {
        if (finding.severity == Severity::Stop) ++plan.headline.breaks;
        if (finding.severity == Severity::Warn) ++plan.headline.tight;
    }
    for (const auto& channel : plan.channels)
        for (const auto& cell : channel.cells)
            if (cell.verdict == Verdict::Unknown) ++plan.headline.unknown;
    if (plan.headline.breaks > 0) plan.verdict = Verdict::Breaks;
    else if (plan.headline.unknown > 0) plan.verdict = Verdict::Unknown;
    else if (plan.headline.tight > 0) plan.verdict = Verdict::Tight;
    return plan;
}

}  // namespace hinge::plan
