#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <set>
#include <utility>
#include "firmware/target.hpp"
#include "kinds/demand_kind.hpp"
#include "plan/behaviour.hpp"
#include "plan/channel_stage.hpp"
#include "plan/driven.hpp"
#include "plan/feed.hpp"
#include "plan/machines.hpp"
#include "plan/pin_plan.hpp"
#include "plan/pins.hpp"
#include "plan/plan.hpp"
#include "plan/rules.hpp"
#include "plan/supply.hpp"
#include "plan/supply_rules.hpp"
#include "quantity/letters.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

// The telling figure of a demand.
void sayNeed(const project::Channel& channel, const match::Ask& asked, Cell& c) {
    const auto telling = kinds::demandKind(channel.demand).need(channel.demand, asked);
    c.figure = telling.figure, c.small = telling.small;
}

// What the chosen part does of it, and the share.
void sayMatch(const project::Channel& channel, const match::Ask& asked, const match::Pairing& chosen, Cell& c) {
    const auto telling = kinds::demandKind(channel.demand).match(channel.demand, asked, chosen);
    c.figure = telling.figure, c.small = telling.small;
    if (telling.shares && std::isfinite(chosen.numbers.share)) c.share = chosen.numbers.share;
}

std::string bytes(int n) {
    return n >= 1000 ? fmt::format("{:.1f} kB", n / 1000.0) : fmt::format("{} B", n);
}

// Whether a figure of a source is still to be looked up.
bool missesASource(const project::Project& project, const Plan& plan) {
    return std::any_of(plan.missing.begin(), plan.missing.end(), [&](const Missing& m) {
        return m.path.starts_with("sources/") &&
               std::any_of(project.sources.begin(), project.sources.end(), [&](const power::Source& source) {
                   return source.instead_of.empty() && m.path.starts_with("sources/" + source.id + "/");
               });
    });
}

void fillCells(const project::Project& project, const Evidence& evidence, Plan& plan) {
    for (std::size_t i = 0; i < project.channels.size(); ++i) {
        const auto& channel = project.channels[i];
        auto& out = plan.channels[i];
        const auto& asked = out.context.ask;
        const auto cell = [&](Stage stage) -> Cell& { return out.cells[static_cast<std::size_t>(stage)]; };
        // The verdict a stage's findings give, for this channel or for the whole gadget.
        const auto judged = [&](Stage stage, Verdict from) {
            Verdict verdict = from;
            for (const auto& finding : plan.findings)
                if (finding.stage == stage && (finding.channel.empty() || finding.channel == channel.id))
                    verdict = worse(verdict, finding.severity == Severity::Stop   ? Verdict::Breaks
                                             : finding.severity == Severity::Warn ? Verdict::Tight
                                                                                  : Verdict::Holds);
            return verdict;
        };
        const auto& chosen = out.chosen;
        {
            auto& c = cell(Stage::Need);
            c.family = Family::Hinge;
            sayNeed(channel, asked, c);
            c.verdict = judged(Stage::Need, match::decisive(asked) && asked.missing.empty() ? Verdict::Holds : Verdict::Unknown);
            if (chosen && chosen->run_time)
                if (const auto* pump = std::get_if<project::PumpDemand>(&channel.demand); pump != nullptr && pump->run_time_limit)
                    c.share = si(*chosen->run_time) / si(*pump->run_time_limit);
        }
        {
            auto& c = cell(Stage::Match);
            c.family = Family::Hinge;
            if (chosen) sayMatch(channel, asked, *chosen, c);
            c.verdict = judged(Stage::Match, chosen ? chosen->verdict : Verdict::Unknown);
        }
        {
            auto& c = cell(Stage::Feed);
            c.family = Family::Spark;
            if (chosen && chosen->running) {
                c.figure =
                    display(*chosen->running, 2) + (chosen->numbers.rest > 0.0 && out.signal == SignalKind::Steps ? " moving" : " run");
                if (out.signal == SignalKind::Steps) c.small = display(Kind::Current, chosen->numbers.rest, 2) + " at rest";
                else if (chosen->starting) c.small = display(*chosen->starting, 2) + " at start";
            }
            if (plan.headline.worst_current && plan.headline.source_current)
                c.share = si(*plan.headline.worst_current) / si(*plan.headline.source_current);
            // Cells promise no amps: their volts under load are judged instead.
            const bool fed = c.share || (plan.headline.worst_by_routine && !plan.headline.source_current && !missesASource(project, plan));
            c.verdict = judged(Stage::Feed, fed && chosen && chosen->running ? Verdict::Holds : Verdict::Unknown);
        }
        {
            auto& c = cell(Stage::Pins);
            c.family = Family::Spark;
            c.figure = channel.pin;
            for (const auto* more : {&channel.direction_pin, &channel.enable_pin, &channel.tach_pin})
                if (!more->empty()) c.figure += " " + *more;
            const auto pin = board::pinNamed(board::family(project.board.form), channel.pin);
            if (pin && pin->pwm_timer >= 0 && out.pwm)
                c.small = board::timerName(board::family(project.board.form), pin->pwm_timer) +
                          (pin->pwm_timer == board::pooled_timer ? "" : fmt::format(", output {}", pin->pwm_output));
            else if (pin)
                c.small = out.signal == SignalKind::Steps         ? "step"
                          : out.signal == SignalKind::ServoPulse  ? "servo pulse"
                          : out.signal == SignalKind::WholeCycles ? "whole cycles"
                                                                  : "on and off";
            if (chosen && chosen->pin_peak) c.share = si(*chosen->pin_peak) / board::family(project.board.form).pin_current;
            c.verdict = judged(Stage::Pins, pin ? Verdict::Holds : Verdict::Unknown);
        }
        {
            auto& c = cell(Stage::Pulse);
            c.family = Family::Time;
            if (out.pwm) {
                c.figure = display(out.pwm->actual_frequency);
                c.small = out.signal == SignalKind::Pwm && si(channel.signal.soft_start) > 0.0
                              ? "soft start " + displayPlain(channel.signal.soft_start)
                              : fmt::format("{:.0f} steps", si(out.pwm->steps));
                if (chosen && chosen->starting && chosen->stalled && si(*chosen->stalled) > 0.0 && out.signal == SignalKind::Pwm)
                    c.share = si(*chosen->starting) / si(*chosen->stalled);
            } else if (out.motion.pulse_from && out.motion.pulse_to) {
                c.figure = fmt::format("{} to {}", significant(si(*out.motion.pulse_from) * 1e3, 3), display(*out.motion.pulse_to, 3));
                c.small = "every 20 ms";
            } else if (out.motion.step_rate) {
                c.figure = display(*out.motion.peak_rate, 2) + " peak";
                c.small = fmt::format("{:.0f} steps a move", si(*out.motion.steps));
            } else if (out.signal == SignalKind::WholeCycles && out.mains && !out.mains->pattern.empty()) {
                c.figure = fmt::format("{} of {}", std::count(out.mains->pattern.begin(), out.mains->pattern.end(), '1'),
                                       out.mains->pattern.size());
                c.small = "whole cycles";
            } else if (out.signal == SignalKind::Switched && !channel.pin.empty()) {
                c.figure = "on, off";
            }
            c.verdict = judged(Stage::Pulse, c.figure.empty() ? Verdict::Unknown : Verdict::Holds);
        }
        {
            auto& c = cell(Stage::Routine);
            c.family = Family::Time;
            int cues = 0;
            for (const auto& cue : project.routine.cues)
                if (std::any_of(cue.moves.begin(), cue.moves.end(), [&](const routine::Move& m) { return m.channel == channel.id; }))
                    cues += (cue.input.empty() ? 0 : 1) + (cue.times.empty() ? 0 : 1) + (cue.every ? 1 : 0) + (cue.at_power_up ? 1 : 0) +
                            (cue.after.empty() ? 0 : 1);
            std::string follows;
            for (const auto& follower : project.routine.followers)
                if (follower.channel == channel.id)
                    if (const auto* input = project::findInput(project, follower.input))
                        follows = (follower.released ? "while not " : follower.proportional ? "follows " : "while ") + input->name;
            for (const auto& loop : project.routine.loops)
                if (loop.channel == channel.id)
                    if (const auto* input = project::findInput(project, loop.input)) c.small = "holds " + input->name;
            if (cues > 0) c.figure = fmt::format("{} trigger{}", cues, cues == 1 ? "" : "s");
            else if (!follows.empty()) c.figure = follows;
            else c.small = isDriven(out) ? "no cue yet" : "waits for Pulse";
            Verdict verdict = (cues > 0 || !follows.empty()) && plan.program ? Verdict::Holds : Verdict::Unknown;
            for (const auto& interlock : project.routine.interlocks) {
                if (interlock.channel != channel.id) continue;
                const auto* input = project::findInput(project, interlock.input);
                const auto* other = interlock.terms.empty() ? nullptr : project::findChannel(project, interlock.terms.front().channel);
                c.small = input == nullptr && other != nullptr
                              ? fmt::format("never with {} {}", other->name, labelOf(interlock.terms.front().state))
                              : "never with " + (input != nullptr ? input->name : interlock.input);
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
                c.verdict = judged(Stage::Code, Verdict::Unknown);
                const bool refused = !out.not_driven.empty() && c.verdict == Verdict::Breaks;
                c.figure = refused ? "not driven" : plan.program ? "emitted" : "";
                c.small = refused                     ? ""
                          : evidence.compiler_missing ? "no compiler here"
                          : !plan.program             ? ""
                          : family.emulated           ? "not compiled yet"
                                                      : "not compiled on this desk";
            }
        }
        {
            auto& c = cell(Stage::Tune);
            c.family = Family::Time;
            if (const auto* pump = std::get_if<project::PumpDemand>(&channel.demand)) {
                if (out.dose_time) c.figure = display(*out.dose_time, 2) + " dose";
                if (pump->volume) c.small = displayPlain(*pump->volume) + (out.measured_flow ? ", measured" : ", computed");
                c.verdict = judged(Stage::Tune, out.measured_flow && out.dose_time ? Verdict::Holds : Verdict::Unknown);
                if (out.dose_time && pump->run_time_limit) c.share = si(*out.dose_time) / si(*pump->run_time_limit);
            } else if (out.signal == SignalKind::Switched) {
                c.figure = "nothing to tune";
                c.verdict = judged(Stage::Tune, Verdict::Holds);
            } else {
                const auto loop = std::find_if(project.routine.loops.begin(), project.routine.loops.end(),
                                               [&](const routine::Loop& each) { return each.channel == channel.id; });
                if (loop != project.routine.loops.end())
                    c.figure = fmt::format("P {} · I {}", significant(si(loop->proportional), 2), significant(si(loop->integral), 2));
                // A run that was kept is what settles it.
                const journal::Entry* run = nullptr;
                for (const auto& entry : project.journal.entries)
                    if (entry.kind == journal::EntryKind::Run && entry.channel == channel.id) run = &entry;
                c.small = out.signal == SignalKind::Unknown ? "" : run != nullptr ? "run " + run->date.substr(0, 10) : "not run yet";
                c.verdict = judged(Stage::Tune, run != nullptr ? Verdict::Holds : Verdict::Unknown);
            }
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
                if (c.why.empty() && static_cast<int>(finding.stage) == s && finding.severity != Severity::Note &&
                    (finding.channel.empty() || finding.channel == channel.id))
                    c.why = finding.text;
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

bool isPlaced(const ChannelPlan& channel) {
    return channel.signal == SignalKind::ServoPulse || channel.signal == SignalKind::Steps;
}

bool isDriven(const ChannelPlan& channel) {
    if (!channel.not_driven.empty()) return false;
    if (channel.signal == SignalKind::ServoPulse) return channel.motion.pulse_per_angle.has_value();
    if (channel.signal == SignalKind::Steps) return channel.motion.steps.has_value();
    return channel.signal != SignalKind::Unknown || !channel.context.ask.positional;
}

bool isHeard(Frequency frequency) {
    return si(frequency) > 20.0 && si(frequency) < 18e3;
}

const char* hazardTitle(std::string_view id) {
    const Rule* rule = findRule(id);
    return rule != nullptr ? rule->hazard : nullptr;
}

std::vector<PlanFinding> together(const std::vector<PlanFinding>& findings, const std::vector<ChannelPlan>& channels) {
    std::vector<PlanFinding> list;
    std::vector<std::string> keys;  // the sentence with the channel's own name taken out
    std::vector<std::vector<std::string>> names;
    for (const auto& finding : findings) {
        const auto channel = std::find_if(channels.begin(), channels.end(), [&](const ChannelPlan& c) { return c.id == finding.channel; });
        const std::string name = channel != channels.end() ? channel->name : "";
        const bool leads = !name.empty() && finding.text.starts_with(name + " ");
        const std::string key = finding.id + "/" + std::to_string(static_cast<int>(finding.severity)) + "/" +
                                (leads ? finding.text.substr(name.size()) : finding.text);
        const auto known = static_cast<std::size_t>(std::find(keys.begin(), keys.end(), key) - keys.begin());
        if (finding.severity == Severity::Note && !name.empty() && known < keys.size()) {
            names[known].push_back(name);
            const std::string all = joined(names[known], ", ");
            list[known].text = all + (leads ? ":" + finding.text.substr(name.size()) : ": " + finding.text);
            continue;
        }
        keys.push_back(key);
        names.push_back({name});
        list.push_back(finding);
    }
    return list;
}

Verdict worst(const ChannelPlan& channel) {
    Verdict verdict = Verdict::Holds;
    for (const auto& cell : channel.cells) verdict = worse(verdict, cell.verdict);
    return verdict;
}

namespace {

// A finding's words without their figures: the same fault at other volts is told once.
std::string faultOf(const PlanFinding& finding) {
    std::string words = finding.id + "/" + finding.channel + "/";
    for (const char c : finding.text) {
        const bool figure = (c >= '0' && c <= '9') || c == '.' || c == ',';
        if (!figure) words += c;
        else if (words.back() != '#') words += '#';
    }
    for (const std::string unit : {"mV", "mA", "mW"})  // 980 mA and 1.02 A are the same fault
        for (auto at = words.find("# " + unit); at != std::string::npos; at = words.find("# " + unit)) words.erase(at + 2, 1);
    return words;
}

std::shared_ptr<const ChannelStage> stageOf(const Plan* before, std::string_view channel) {
    if (before != nullptr)
        for (const auto& stage : before->stages)
            if (stage->plan.id == channel) return stage;
    return nullptr;
}

void takeChannel(std::shared_ptr<const ChannelStage> stage, Plan& plan) {
    plan.channels.push_back(stage->plan);
    plan.findings.insert(plan.findings.end(), stage->findings.begin(), stage->findings.end());
    plan.workings.insert(plan.workings.end(), stage->workings.begin(), stage->workings.end());
    plan.missing.insert(plan.missing.end(), stage->missing.begin(), stage->missing.end());
    plan.stages.push_back(std::move(stage));
}

// All that is judged, for the sources as they are drawn; the cells of the crossbar are filled from it.
/// @param before  a plan from which is taken what is the same again
void judgeAll(const project::Project& project, const project::Parts& parts, const Evidence& evidence, Plan& plan, const Plan* before) {
    for (const auto& channel : project.channels)
        takeChannel(channelStage(readsOf(project, parts, channel), parts, stageOf(before, channel.id)), plan);
    evaluatePins(project, parts, plan);
    offerPins(project, plan, before);
    judgeDriven(project, parts, plan);
    evaluateFeed(project, plan);
    evaluateBehaviour(project, evidence, plan);
    if (plan.program && before != nullptr && before->profiles && before->program == plan.program) plan.profiles = before->profiles;
    else if (plan.program) plan.profiles = std::make_shared<const std::vector<CueProfile>>(cueProfiles(*plan.program));
    judgeHeard(project, plan);
    judgeTuning(project, parts, plan);
    evaluateSupply(project, parts, plan, before);
}

// Each other source and each other charge state, judged as if it were the one that is drawn: what breaks or is tight only there.
void judgeOtherSupplies(const project::Project& project, const project::Parts& parts, Plan& plan) {
    const auto options = supplyOptions(project);
    std::set<std::string> told;
    for (const auto& finding : plan.findings) told.insert(faultOf(finding));
    for (std::size_t i = 1; i < options.size(); ++i) {
        const auto fed = under(project, options[i]);
        Plan other;
        judgeAll(fed, parts, {}, other, &plan);
        const auto* source = project::findSource(project, options[i].source);
        std::string lead = options[i].words + ": ";
        lead[0] = raised(lead[0]);
        for (auto& finding : other.findings) {
            // What was proved or built is not looked at again.
            const bool by_supply = finding.stage <= Stage::Pulse || finding.stage == Stage::Tune;
            if (finding.severity == Severity::Note || !by_supply || !told.insert(faultOf(finding)).second) continue;
            // A remedy holds for the project itself: cells have no volts and amps to type.
            std::erase_if(finding.remedies, [&](const Remedy& remedy) {
                return std::any_of(remedy.edits.begin(), remedy.edits.end(), [&](const project::FactEdit& edit) {
                    const std::string of_source = "sources/" + options[i].source + "/";
                    return edit.path.starts_with(of_source) &&
                           (source == nullptr || !power::applies(*source, edit.path.substr(of_source.size())));
                });
            });
            finding.text = lead + finding.text;
            plan.findings.push_back(std::move(finding));
        }
    }
}

}  // namespace

Plan evaluate(const project::Project& project, const project::Parts& parts, const Evidence& evidence, const Plan* before) {
    Plan plan;
    plan.headline.name = project.brief.name;
    for (const auto& source : project.sources) {
        const std::string path = "sources/" + source.id + "/";
        if (!power::openVoltage(source) && power::applies(source, "voltage"))
            plan.missing.push_back({path + "voltage", source.name + ": volts", "printed on it; check with a meter", Stage::Feed, ""});
        if (!source.current && power::applies(source, "current") && source.kind != power::SourceKind::Battery)
            plan.missing.push_back({path + "current", source.name + ": amps", "printed on it", Stage::Feed, ""});
    }
    judgeAll(project, parts, evidence, plan, before);
    judgeOtherSupplies(project, parts, plan);
    const auto& family = board::family(project.board.form);
    if (evidence.build && evidence.build->ok && evidence.build->ram > 0.85 * family.ram)
        plan.findings.push_back({"ram-short",
                                 Severity::Warn,
                                 Stage::Code,
                                 "",
                                 fmt::format("The sketch's numbers take {} of {} bytes of RAM; what is left must hold the stack. Fewer "
                                             "cues or channels, or a board with more.",
                                             evidence.build->ram, family.ram),
                                 {}});
    std::stable_sort(plan.findings.begin(), plan.findings.end(), [](const PlanFinding& a, const PlanFinding& b) {
        return static_cast<int>(a.severity) < static_cast<int>(b.severity);
    });
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

void dropUnsound(const project::Project& project, const project::Parts& parts, Plan& plan) {
    const auto stop = [](const PlanFinding& finding) { return finding.severity == Severity::Stop; };
    const auto same = [](const PlanFinding& a, const PlanFinding& b) { return a.id == b.id && a.channel == b.channel; };
    const auto alike = [&](const Plan& in, const PlanFinding& finding) {
        return std::count_if(in.findings.begin(), in.findings.end(), [&](const PlanFinding& other) {
            return same(other, finding) && static_cast<int>(other.severity) <= static_cast<int>(finding.severity);
        });
    };
    const std::vector<PlanFinding> found = plan.findings;
    for (auto& finding : plan.findings) {
        bool other_part = false;  // of several parts or drivers the first will do
        std::erase_if(finding.remedies, [&](const Remedy& remedy) {
            const bool part = std::any_of(remedy.edits.begin(), remedy.edits.end(), [](const project::FactEdit& edit) {
                return edit.path.ends_with("/actuator") || edit.path.ends_with("/drive/part");
            });
            const auto changed = part && other_part ? Result<project::Project>{project} : project::with(project, remedy.edits);
            if (!changed || (part && other_part)) return true;
            const Plan tried = evaluate(*changed, parts, {}, &plan);
            const bool cured = remedy.eases || alike(tried, finding) < alike(plan, finding);
            const bool sound = cured && std::none_of(tried.findings.begin(), tried.findings.end(), [&](const PlanFinding& left) {
                                   return stop(left) && std::none_of(found.begin(), found.end(),
                                                                     [&](const PlanFinding& was) { return stop(was) && same(was, left); });
                               });
            other_part = other_part || (part && sound);
            return !sound;
        });
    }
}

}  // namespace hinge::plan

template class std::vector<hinge::plan::Remedy>;
template class std::vector<hinge::plan::ChannelPlan>;
template class std::vector<hinge::plan::RailPlan>;
template class std::vector<hinge::plan::PinUse>;
template class std::vector<hinge::plan::PlanFinding>;
template class std::vector<hinge::plan::ShownWorking>;
template class std::vector<hinge::plan::Missing>;
