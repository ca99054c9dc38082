#include "stages/log/log_page.hpp"
#include "journal/worth_it.hpp"
#include "quantity/text.hpp"
#include "theme/theme.hpp"
#include <QComboBox>
#include <QDateTime>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QTextBrowser>
#include <QVBoxLayout>

namespace hinge::app {

LogPage::LogPage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("log");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(px(14), px(6), px(14), 0);
    auto* row = new QHBoxLayout;
    kind_ = new QComboBox;
    kind_->setObjectName("entryKind");
    for (const auto& entry : Names<journal::EntryKind>::all)
        if (entry.value != journal::EntryKind::Run) kind_->addItem(tr(entry.label), entry.id);
    line_ = new QLineEdit;
    line_->setObjectName("entryText");
    line_->setPlaceholderText(tr("What changed, was measured, went wrong or was learnt"));
    cost_ = new QLineEdit;
    cost_->setObjectName("entryCost");
    cost_->setPlaceholderText(tr("cost"));
    cost_->setFixedWidth(px(70));
    auto* button = new QPushButton(tr("Add to the log"));
    button->setObjectName("addEntry");
    connect(button, &QPushButton::clicked, this, &LogPage::add);
    connect(line_, &QLineEdit::returnPressed, this, &LogPage::add);
    row->addWidget(kind_);
    row->addWidget(line_, 1);
    row->addWidget(cost_);
    row->addWidget(button);
    outer->addLayout(row);
    view_ = new QTextBrowser;
    view_->setObjectName("journal");
    view_->setFrameShape(QFrame::NoFrame);
    outer->addWidget(view_, 1);
}

void LogPage::add() {
    if (line_->text().trimmed().isEmpty()) return;
    auto project = document_->model().project;
    std::vector<std::string> taken;
    for (const auto& entry : project.journal.entries) taken.push_back(entry.id);
    journal::Entry entry;
    entry.id = project::freshId("entry", taken);
    entry.date = QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm").toStdString();
    entry.kind = named<journal::EntryKind>(kind_->currentData().toString().toStdString()).value_or(journal::EntryKind::Note);
    entry.channel = channel_.toStdString();
    if (entry.kind == journal::EntryKind::Lesson) entry.lesson = line_->text().toStdString();
    entry.text = line_->text().toStdString();
    if (!cost_->text().isEmpty()) {
        const auto cost = parse<Ratio>(cost_->text().toStdString());
        if (!cost) {
            cost_->setToolTip(tr("A plain number, such as 4.20"));
            cost_->selectAll();
            cost_->setFocus();
            return;
        }
        entry.cost = *cost;
    }
    project.journal.entries.push_back(std::move(entry));
    line_->clear();
    cost_->clear();
    document_->replace(std::move(project));
}

void LogPage::present(const QString& channel) {
    channel_ = channel;
    const auto& c = colours();
    const auto& model = document_->model();
    view_->setFont(textFont(Text::Body));
    view_->setStyleSheet(QString("background-color: %1;").arg(c.card.name()));
    QString html = QString("<style>td { padding: 3px 12px 3px 0; } .soft { color: %1; } h3 { margin-top: 14px; }</style>").arg(c.soft.name());
    const auto esc = [](const std::string& s) { return QString::fromStdString(s).toHtmlEscaped(); };
    html += "<h3>" + tr("Journal, newest first") + "</h3><table>";
    auto entries = model.project.journal.entries;
    std::stable_sort(entries.begin(), entries.end(), [](const auto& a, const auto& b) { return a.date > b.date; });
    double extra = 0.0;
    for (const auto& entry : entries) {
        if (entry.cost) extra += si(*entry.cost);
        const auto* of = project::findChannel(model.project, entry.channel);
        html += QString("<tr><td class='soft'>%1</td><td><b>%2</b></td><td class='soft'>%3</td><td>%4%5%6%7</td></tr>")
                    .arg(esc(entry.date).replace('T', ' '), tr(labelOf(entry.kind)), of != nullptr ? esc(of->name) : tr("all"), esc(entry.text), entry.settings.empty() ? "" : "<br><span class='soft'>" + esc(entry.settings) + "</span>",
                         entry.lesson.empty() || entry.lesson == entry.text ? "" : "<br><b>" + tr("Lesson: ") + "</b>" + esc(entry.lesson), entry.cost ? " · " + esc(model.project.brief.currency) + " " + QString::number(si(*entry.cost), 'f', 2) : "");
    }
    html += "</table><h3>" + tr("Wiring") + "</h3><table>";
    for (const auto& wire : model.wires) html += QString("<tr><td>%1</td><td>→ %2</td><td class='soft'>%3</td></tr>").arg(esc(wire.from), esc(wire.to), esc(wire.note));
    html += "</table><h3>" + tr("Parts and cost") + "</h3><table>";
    double cost = extra;
    for (const auto& line : model.partLines) {
        html += QString("<tr><td>%1 ×</td><td>%2</td><td align='right'>%3</td></tr>").arg(line.count).arg(esc(line.name), line.price ? QString::number(si(*line.price) * line.count, 'f', 2) : tr("not known"));
        if (line.price) cost += si(*line.price) * line.count;
    }
    if (extra != 0.0) html += QString("<tr><td></td><td>%1</td><td align='right'>%2</td></tr>").arg(tr("from the journal"), QString::number(extra, 'f', 2));
    html += QString("<tr><td></td><td><b>%1</b></td><td align='right'><b>%2 %3</b></td></tr></table>").arg(tr("known so far"), esc(model.project.brief.currency), QString::number(cost, 'f', 2));
    journal::WorthIt worth;
    worth.parts_cost = of<Ratio>(std::max(0.0, cost));
    worth.hours = model.project.journal.hours;
    worth.hour_value = model.project.brief.hour_value;
    worth.minutes_saved_per_use = model.project.journal.minutes_saved_per_use;
    worth.uses_per_week = model.project.journal.uses_per_week;
    if (const auto worked = journal::worthIt(worth))
        html += "<p>" + (worked->result.payback_weeks ? tr("With your hours it costs %1 %2 and has paid for itself after %3 weeks.").arg(esc(model.project.brief.currency), QString::number(si(worked->result.total_cost), 'f', 2), QString::number(si(*worked->result.payback_weeks) / 604800.0, 'f', 0))
                                                      : tr("It costs %1 %2 with your hours. No time saved stands against that: it is made for its own sake.").arg(esc(model.project.brief.currency), QString::number(si(worked->result.total_cost), 'f', 2))) + "</p>";
    view_->setHtml(html);
}

}  // namespace hinge::app
