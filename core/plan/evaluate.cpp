#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <set>
#include <utility>
#include "firmware/target.hpp"
#include "kinds/demand_kind.hpp"
#include "plan/apart.hpp"
#include "plan/behaviour.hpp"
#include "plan/cells.hpp"
#include "plan/channel_stage.hpp"
#include "plan/driven.hpp"
#include "plan/feed.hpp"
#include "plan/machines.hpp"
#include "plan/pin_plan.hpp"
#include "plan/pins.hpp"
#include "plan/plan.hpp"
#include "plan/rules.hpp"
#include "plan/shown_current.hpp"
#include "plan/standing.hpp"
#include "plan/supply.hpp"
#include "plan/supply_rules.hpp"
#include "quantity/letters.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
const ChannelPlan* findChannel(const Plan& plan, std::string_view id) {
    for (const auto& channel : plan.channels)
        if (channel.id == id) return &channel;
    return plan.apart != nullptr ? findChannel(plan.apart->plan, id) : nullptr;
}

bool isPlaced(const ChannelPlan& channel) {
    return channel.signal == SignalKind::ServoPulse || channel.signal == SignalKind::Steps;
}

bool isPulsed(const ChannelPlan& channel) {
    return kinds::isServoPulse(channel.signal) || kinds::isSteps(channel.signal);
}

bool isBeaten(const ChannelPlan& channel) {
    return isPulsed(channel) && !channel.expander;
}

bool isDriven(const ChannelPlan& channel) {
    if (!channel.not_driven.empty()) return false;
    if (channel.signal == SignalKind::ServoPulse) return channel.motion.pulse_per_angle.has_value();
    if (channel.signal == SignalKind::Steps) return channel.motion.steps.has_value();
    if (channel.signal == SignalKind::StepRate) return channel.motion.step_rate.has_value();
    return channel.signal != SignalKind::Unknown || !channel.context->ask.positional;
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

std::vector<ShownWorking> allWorkings(const Plan& plan) {
    std::vector<ShownWorking> all;
    for (const auto& stage : plan.stages) all.insert(all.end(), stage->workings.begin(), stage->workings.end());
    all.insert(all.end(), plan.workings.begin(), plan.workings.end());
    return all;
}

Verdict worst(const ChannelPlan& channel) {
    Verdict verdict = Verdict::Holds;
    for (const auto& cell : channel.cells)
        if (cell.verdict != Verdict::Unknown || !cell.to_do) verdict = worse(verdict, cell.verdict);
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
    plan.missing.insert(plan.missing.end(), stage->missing.begin(), stage->missing.end());
    plan.stages.push_back(std::move(stage));
}

// All that is judged, for the sources as they are drawn; the cells of the crossbar are filled from it.
/// @param before  a plan from which is taken what is the same again
/// @param cures   whether remedies are looked for where it takes long
/// @param drawn   of another supply: the plan as the sources are drawn
void judgeAll(const project::Project& project, const project::Parts& parts, const Evidence& evidence, Plan& plan, const Plan* before,
              bool cures, const Plan* drawn = nullptr) {
    plan.channels.reserve(project.channels.size());
    for (const auto& channel : project.channels)
        takeChannel(channelStage(readsOf(project, parts, channel), parts, stageOf(before, channel.id), cures), plan);
    evaluatePins(project, parts, plan);
    offerPins(project, plan, before);
    judgeDriven(project, parts, plan);
    evaluateFeed(project, plan);
    evaluateBehaviour(project, evidence, plan);
    const auto knownOf = [](const Plan* plan) { return plan != nullptr ? plan->profiles : nullptr; };
    if (plan.program) plan.profiles = cueProfiles(*plan.program, {knownOf(drawn), knownOf(before)});
    judgeHeard(project, plan);
    judgeTuning(project, parts, plan);
    judgeCurrents(project, parts, plan);
    evaluateSupply(project, parts, plan, before, cures);
}

// Each other source and each other charge state, judged as if it were the one that is drawn: what breaks or is tight only there.
void judgeOtherSupplies(const project::Project& project, const project::Parts& parts, Plan& plan, const Plan* before, bool cures) {
    const auto options = supplyOptions(project);
    if (options.size() < 2) return;
    std::set<std::string> told;
    for (const auto& finding : plan.findings) told.insert(faultOf(finding));
    for (std::size_t i = 1; i < options.size(); ++i) {
        const auto fed = under(project, options[i]);
        auto made = std::make_shared<Plan>();
        auto& other = *made;
        const bool known = before != nullptr && before->otherwise.size() == options.size() - 1;
        judgeAll(fed, parts, {}, other, known ? before->otherwise[i - 1].get() : &plan, cures, &plan);
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
        plan.otherwise.push_back(std::move(made));
    }
}

Plan judged(const project::Project& project, const project::Parts& parts, const Evidence& evidence, const Plan* before, bool cures) {
    Plan plan;
    plan.headline.name = project.brief.name;
    for (const auto& source : project.sources) {
        const std::string path = "sources/" + source.id + "/";
        if (!power::openVoltage(source) && power::applies(source, "voltage"))
            plan.missing.push_back({path + "voltage", source.name + ": volts", "printed on it; check with a meter", Stage::Feed, ""});
        if (!source.current && power::applies(source, "current") && source.kind != power::SourceKind::Battery)
            plan.missing.push_back({path + "current", source.name + ": amps", "printed on it", Stage::Feed, ""});
    }
    for (const auto& rail : project.rails)
        if (standsUnknown(rail))
            plan.missing.push_back({"rails/" + rail.id + "/also_draws", rail.name + ": amps of " + rail.also,
                                    "their data sheets, or a meter in their plus", Stage::Feed, ""});
    judgeAll(project, parts, evidence, plan, before, cures);
    judgeOtherSupplies(project, parts, plan, before, cures);
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
    sumUp(plan);
    return plan;
}

// The same of a gadget of which a channel has several outputs: what is planned of each, told of the channel.
Plan planned(const project::Project& project, const project::Parts& parts, const Evidence& evidence, const Plan* before, bool cures) {
    if (before != nullptr && before->apart != nullptr) before = &before->apart->plan;
    auto colours = plan::coloursApart(project, parts);
    if (!colours) return judged(project, parts, evidence, before, cures);
    auto outputs = judged(colours->project, parts, evidence, before, cures);
    return toldOfChannels(project, parts, std::move(*colours), std::move(outputs));
}

}  // namespace

void sumUp(Plan& plan) {
    auto& headline = plan.headline;
    headline.breaks = headline.tight = headline.unknown = headline.to_do = 0;
    plan.verdict = plan.channels.empty() ? Verdict::Unknown : Verdict::Holds;
    for (const auto& finding : plan.findings) {
        if (finding.severity == Severity::Stop) ++plan.headline.breaks;
        if (finding.severity == Severity::Warn) ++plan.headline.tight;
    }
    for (const auto& channel : plan.channels)
        for (const auto& cell : channel.cells)
            if (cell.verdict == Verdict::Unknown) ++(cell.to_do ? plan.headline.to_do : plan.headline.unknown);
    if (plan.headline.breaks > 0) plan.verdict = Verdict::Breaks;
    else if (plan.headline.unknown + plan.headline.to_do > 0) plan.verdict = Verdict::Unknown;
    else if (plan.headline.tight > 0) plan.verdict = Verdict::Tight;
}

Plan evaluate(const project::Project& project, const project::Parts& parts, const Evidence& evidence, const Plan* before) {
    return planned(project, parts, evidence, before, true);
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
            const Plan tried = planned(*changed, parts, {}, &plan, false);
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
