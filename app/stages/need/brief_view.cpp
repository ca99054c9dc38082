#include "stages/need/brief_view.hpp"
#include <QCoreApplication>
#include "plan/gathered.hpp"
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
    std::vector<const plan::PlanFinding*> hazards;
    for (const auto& finding : model.plan.findings)
        if (plan::hazardTitle(finding.id) != nullptr) hazards.push_back(&finding);
    // What is the same of several channels is said once, with their names.
    for (const auto& once : plan::saidOnce(hazards, model.plan)) {
        const auto& first = *once.all.front();
        const QString title = tr(plan::hazardTitle(first.id));
        view.hazards.push_back({once.names.empty() ? title : tr("%1: %2").arg(title, text(once.names)), text(once.text),
                                text(first.channel), static_cast<int>(first.stage)});
    }
    for (const auto* list : {&view.unknown, &view.hazards})
        for (const auto& line : *list) view.key += line.title + line.words + line.path;
    return view;
}

}  // namespace hinge::app
