#include "stages/need/brief_view.hpp"
#include <QCoreApplication>
#include "theme/text.hpp"

namespace hinge::app {
BriefView briefView(const Model& model) {
    BriefView view;
    for (const auto& missing : model.plan.missing)
        view.unknown.push_back({text(missing.label), text(missing.how), text(missing.channel), static_cast<int>(missing.stage)});
    for (const auto& finding : model.plan.findings)
        if (const auto* hazard = plan::hazardTitle(finding.id))
            view.hazards.push_back({tr(hazard), text(finding.text), text(finding.channel), static_cast<int>(finding.stage)});
    for (const auto* list : {&view.unknown, &view.hazards})
        for (const auto& line : *list) view.key += line.title + line.words;
    return view;
}

}  // namespace hinge::app
