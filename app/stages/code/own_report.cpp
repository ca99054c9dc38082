#include "stages/code/own_report.hpp"
#include <QCoreApplication>
#include <algorithm>
#include "shell/document.hpp"
#include "theme/theme.hpp"

namespace hinge::app {

QString ownReportHtml(const std::vector<proof::OwnFact>& facts, const std::vector<firmware::Habit>& habits) {
    const auto tr = [](const char* words) { return QCoreApplication::translate("own", words); };
    const auto& c = colours();
    auto sorted = facts;
    const auto rank = [](Verdict verdict) {
        return verdict == Verdict::Breaks ? 0 : verdict == Verdict::Tight ? 1 : verdict == Verdict::Unknown ? 2 : 3;
    };
    std::stable_sort(sorted.begin(), sorted.end(), [&](const auto& a, const auto& b) { return rank(a.verdict) < rank(b.verdict); });
    const auto tone = [&](Verdict verdict) {
        return verdict == Verdict::Breaks ? c.breaks : verdict == Verdict::Tight ? c.tight : verdict == Verdict::Unknown ? c.soft : c.ink;
    };
    QString html = QString("<p style=\"color:%1; margin: 6px 0 4px 0;\">%2</p><table>")
                       .arg(c.soft.name(), tr("What it did, beside what the plan says"));
    for (const auto& fact : sorted)
        html += QString(
                    "<tr><td style=\"color:%1; padding: 2px 14px 2px 0;\"><b>%2</b></td><td style=\"padding: 2px 14px 2px 0;\">%3</td><td "
                    "style=\"padding: 2px 14px 2px 0;\">%4</td><td style=\"color:%5; padding: 2px 0;\">%6</td></tr>")
                    .arg(tone(fact.verdict).name(), text(std::string{word(fact.verdict)}), text(fact.what).toHtmlEscaped(),
                         text(fact.is).toHtmlEscaped(), c.soft.name(),
                         (fact.should.empty() ? QString() : tr("planned %1. ").arg(text(fact.should))).toHtmlEscaped() +
                             text(fact.text).toHtmlEscaped());
    html += QString("</table><p style=\"color:%1; margin: 14px 0 4px 0;\">%2</p>")
                .arg(c.soft.name(), habits.empty() ? tr("No habit was recognised in its source. That does not mean that there is none.")
                                                   : tr("Habits in its source, places to look at"));
    for (const auto& habit : habits)
        html += QString("<p style=\"margin: 0 0 8px 0;\"><span style=\"color:%1;\">%2</span>&nbsp;&nbsp;<code>%3</code><br>%4</p>")
                    .arg(c.time.name(), tr("line %1").arg(habit.line), text(habit.text).toHtmlEscaped(), text(habit.why).toHtmlEscaped());
    return html;
}

}  // namespace hinge::app
