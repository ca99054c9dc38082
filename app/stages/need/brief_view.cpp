#include "stages/need/brief_view.hpp"
#include <QCoreApplication>
#include "project/facts.hpp"
#include "theme/text.hpp"

namespace hinge::app {
BriefView briefView(const Model& model) {
    BriefView view;
    for (const auto& missing : model.plan.missing) {
        const auto fact = project::fact(model.project, missing.path);
        const bool typed = fact && fact->choices.empty() && fact->type == project::FactType::Quantity;
        view.unknown.push_back({text(missing.label), text(missing.how), text(missing.channel), static_cast<int>(missing.stage),
                                typed ? text(missing.path) : QString()});
    }
    // What is the same of several channels is said once, with their names.
    for (const auto& finding : plan::together(model.plan.findings, model.plan.channels))
        if (const auto* hazard = plan::hazardTitle(finding.id))
            view.hazards.push_back({tr(hazard), text(finding.text), text(finding.channel), static_cast<int>(finding.stage)});
    for (const auto* list : {&view.unknown, &view.hazards})
        for (const auto& line : *list) view.key += line.title + line.words + line.path;
    return view;
}

}  // namespace hinge::app
