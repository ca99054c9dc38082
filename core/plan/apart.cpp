#include "plan/apart.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <set>
#include "plan/cells.hpp"
#include "plan/channel_stage.hpp"
#include "quantity/text.hpp"

namespace hinge::plan {
namespace {

// From outputs to channels: ids, paths, and names in sentences.
class Teller {
public:
    Teller(const project::Project& project, const ColoursApart& colours) : project_{project}, colours_{colours} {}

    [[nodiscard]] std::string id(const std::string& output) const {
        const auto* leg = colours_.leg(output);
        return leg != nullptr ? leg->channel : output;
    }
    [[nodiscard]] bool isFirst(const std::string& output) const {
        const auto* leg = colours_.leg(output);
        return leg == nullptr || leg->colour == project::Colour::Red;
    }
    [[nodiscard]] std::string path(const std::string& path) const { return colours_.pathOf(path); }
    /// "Glow red is on D4" as "Glow is on D4".
    [[nodiscard]] std::string text(std::string text, const std::string& output) const {
        const auto* leg = colours_.leg(output);
        if (leg == nullptr) return text;
        const auto* channel = project::findChannel(project_, leg->channel);
        const std::string name = fmt::format("{} {}", channel->name, nameOf(leg->colour));
        for (auto at = text.find(name); at != text.npos; at = text.find(name, at + channel->name.size()))
            text.replace(at, name.size(), channel->name);
        return text;
    }
    [[nodiscard]] std::vector<Remedy> remedies(std::vector<Remedy> list) const {
        for (auto& remedy : list) {
            std::vector<project::FactEdit> edits;
            for (auto& edit : remedy.edits) {
                edit.path = path(edit.path);
                if (std::find(edits.begin(), edits.end(), edit) == edits.end()) edits.push_back(edit);
            }
            remedy.edits = std::move(edits);
        }
        return list;
    }
    [[nodiscard]] std::vector<PlanFinding> findings(const std::vector<PlanFinding>& list) const {
        std::vector<PlanFinding> told;
        for (const auto& finding : list) {
            auto made = finding;
            made.channel = id(finding.channel);
            made.text = text(finding.text, finding.channel);
            made.remedies = remedies(finding.remedies);
            // What the three have in common is said once.
            const bool known = std::any_of(told.begin(), told.end(), [&](const PlanFinding& each) {
                return each.id == made.id && each.channel == made.channel && each.severity == made.severity && each.text == made.text;
            });
            if (!known || colours_.leg(finding.channel) == nullptr) told.push_back(std::move(made));
        }
        return told;
    }
    [[nodiscard]] std::vector<ShownWorking> workings(std::vector<ShownWorking> list) const {
        for (auto& working : list)
            if (const auto* leg = colours_.leg(working.channel))
                working.title += fmt::format(", {}", nameOf(leg->colour)), working.channel = leg->channel;
        return list;
    }
    [[nodiscard]] std::vector<Missing> missing(const std::vector<Missing>& list) const {
        std::vector<Missing> told;
        std::set<std::string> known;
        for (auto each : list) {
            const bool own = each.path.ends_with("/pin");  // each colour has one of its own
            each.path = path(each.path);
            if (!own) each.label = text(each.label, each.channel);
            each.channel = id(each.channel);
            if (known.insert(each.path).second) told.push_back(std::move(each));
        }
        return told;
    }

private:
    const project::Project& project_;
    const ColoursApart& colours_;
};

// The worst of three cells speaks for all.
ChannelPlan merged(const std::vector<const ChannelPlan*>& legs, const project::Project& project, const project::Parts& parts,
                   const project::Channel& channel) {
    ChannelPlan one = *legs.front();
    one.id = channel.id, one.name = channel.name;
    // Other parts are compared by what is asked of the whole lamp.
    one.context = channelStage(readsOf(project, parts, channel), parts, nullptr, false)->plan.context;
    for (std::size_t s = 0; s < one.cells.size(); ++s)
        for (const auto* leg : legs)
            if (worse(one.cells[s].verdict, leg->cells[s].verdict) != one.cells[s].verdict) one.cells[s] = leg->cells[s];
    const auto cell = [&one](Stage stage) -> Cell& { return one.cells[static_cast<std::size_t>(stage)]; };
    for (const auto stage : {Stage::Need, Stage::Match, Stage::Feed})
        cell(stage).small += cell(stage).small.empty() ? "each colour" : ", each colour";
    cell(Stage::Pins).figure =
        joined(legs, " ", [](const ChannelPlan* leg) { return leg->cells[static_cast<std::size_t>(Stage::Pins)].figure; });
    // Three drivers, and one lamp.
    const auto* part = project::findActuator(parts, channel.actuator);
    const auto price = part != nullptr && !actuator::head(*part).drawer ? actuator::head(*part).price : std::nullopt;
    double sum = price ? si(*price) : 0.0;
    bool all = true;
    for (const auto* leg : legs) {
        all = all && leg->chosen && leg->chosen->price;
        if (all) sum += si(*leg->chosen->price) - (price ? si(*price) : 0.0);
    }
    if (all) cell(Stage::Log).figure = fmt::format("{} {:.2f}", project.brief.currency, sum);
    return one;
}

}  // namespace

Plan toldOfChannels(const project::Project& project, const project::Parts& parts, ColoursApart colours, Plan outputs) {
    const Teller tell(project, colours);
    Plan plan = outputs;
    plan.channels.clear(), plan.stages.clear();
    for (const auto& channel : project.channels) {
        std::vector<const ChannelPlan*> legs;
        for (std::size_t c = 0; c < outputs.channels.size(); ++c) {
            const auto& each = outputs.channels[c];
            if (tell.id(each.id) != channel.id) continue;
            legs.push_back(&each);
            if (!tell.isFirst(each.id)) continue;
            auto stage = std::make_shared<ChannelStage>(*outputs.stages[c]);
            if (each.id != channel.id) {
                stage->plan.id = channel.id, stage->plan.name = channel.name;
                stage->findings = tell.findings(stage->findings);
                for (auto& working : stage->workings) working.channel = channel.id, working.title += ", one colour";
                stage->missing = tell.missing(stage->missing);
            }
            plan.stages.push_back(std::move(stage));
        }
        plan.channels.push_back(legs.size() == 1 && legs.front()->id == channel.id ? *legs.front() : merged(legs, project, parts, channel));
    }
    plan.findings = tell.findings(outputs.findings);
    plan.workings = tell.workings(outputs.workings);
    plan.missing = tell.missing(outputs.missing);
    for (auto& use : plan.pins) use.user = tell.id(use.user);
    if (plan.program_error) plan.program_error->field = tell.path(plan.program_error->field);
    sumUp(plan);
    plan.apart = std::make_shared<const Apart>(Apart{std::move(colours), std::move(outputs)});
    return plan;
}

std::string channelOf(const Plan& plan, std::string_view output) {
    const auto* leg = plan.apart != nullptr ? plan.apart->colours.leg(output) : nullptr;
    return leg != nullptr ? leg->channel : std::string{output};
}

}  // namespace hinge::plan
