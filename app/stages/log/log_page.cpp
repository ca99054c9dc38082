#include "stages/log/log_page.hpp"
#include "firmware/sketch.hpp"
#include "journal/cured.hpp"
#include "journal/worth_it.hpp"
#include "plan/wiring.hpp"
#include "quantity/text.hpp"
#include "stages/log/history_view.hpp"
#include "theme/theme.hpp"
#include <QComboBox>
#include <QDateTime>
#include <QFileDialog>
#include <QFileInfo>
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
    auto* tabs = new QHBoxLayout;
    const std::pair<const char*, QString> views[] = {{"logJournal", tr("Journal")}, {"logChanges", tr("Changes")}, {"logRuns", tr("Run log")}, {"logWiring", tr("Wiring")}, {"logParts", tr("Parts and cost")}};
    for (std::size_t i = 0; i < std::size(views); ++i) {
        auto* tab = new QPushButton(views[i].second);
        tab->setObjectName(views[i].first);
        tab->setCheckable(true);
        connect(tab, &QPushButton::clicked, this, [this, i] { showView(static_cast<View>(i)); });
        tabs->addWidget(tab);
        tabs_.push_back(tab);
    }
    tabs->addStretch(1);
    outer->addLayout(tabs);
    entryRow_ = new QWidget;
    auto* row = new QHBoxLayout(entryRow_);
    row->setContentsMargins(0, 0, 0, 0);
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
    outer->addWidget(entryRow_);
    view_ = new QTextBrowser;
    view_->setObjectName("journal");
    view_->setFrameShape(QFrame::NoFrame);
    view_->setOpenLinks(false);
    connect(view_, &QTextBrowser::anchorClicked, this, [this](const QUrl& link) {
        const auto entry = static_cast<std::size_t>(link.path().mid(1).toULongLong());
        if (link.scheme() == "look") look(entry);
        if (link.scheme() == "open") {
            const QString file = QFileDialog::getOpenFileName(this, tr("A run log"), document_->folder(), tr("CSV (*.csv)"));
            if (!file.isEmpty()) readRuns(file);
        }
        if (link.scheme() == "close") looked_.reset(), present(channel_);
        if (link.scheme() == "back") {
            const QString why = document_->goBack(entry);
            looked_.reset();
            Q_EMIT document_->said(why.isEmpty() ? tr("It is as it was then; what was newer stays in the list, and one undo takes this back.") : why);
        }
    });
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

void LogPage::showView(View view) {
    shown_ = view;
    present(channel_);
}

void LogPage::look(std::size_t entry) {
    looked_ = entry;
    shown_ = View::Changes;
    present(channel_);
}

void LogPage::present(const QString& channel) {
    channel_ = channel;
    const auto& c = colours();
    for (std::size_t i = 0; i < tabs_.size(); ++i) tabs_[i]->setChecked(i == static_cast<std::size_t>(shown_));
    entryRow_->setVisible(shown_ == View::Journal);
    view_->setFont(textFont(Text::Body));
    view_->setStyleSheet(QString("background-color: %1;").arg(c.card.name()));
    const QString style = QString("<style>td { padding: 3px 12px 3px 0; } .soft { color: %1; } h3 { margin-top: 14px; } a { color: %2; text-decoration: none; } .was { color: %3; } .is { color: %2; }</style>").arg(c.soft.name(), c.hinge.name(), c.spark.name());
    view_->setHtml(style + (shown_ == View::Journal ? journalHtml() : shown_ == View::Changes ? changesHtml() : shown_ == View::Runs ? runsHtml() : shown_ == View::Wiring ? wiringHtml() : partsHtml()));
}

namespace {
QString esc(const std::string& s) { return QString::fromStdString(s).toHtmlEscaped(); }
}  // namespace

QString LogPage::journalHtml() const {
    const auto& model = document_->model();
    QString html = "<table>";
    auto entries = model.project.journal.entries;
    std::stable_sort(entries.begin(), entries.end(), [](const auto& a, const auto& b) { return a.date > b.date; });
    for (const auto& entry : entries) {
        const auto* of = project::findChannel(model.project, entry.channel);
        html += QString("<tr><td class='soft'>%1</td><td><b>%2</b></td><td class='soft'>%3</td><td>%4%5%6%7</td></tr>")
                    .arg(esc(entry.date).replace('T', ' '), tr(labelOf(entry.kind)), of != nullptr ? esc(of->name) : tr("all"), esc(entry.text), entry.settings.empty() ? "" : "<br><span class='soft'>" + esc(entry.settings) + "</span>",
                         entry.lesson.empty() || entry.lesson == entry.text ? "" : "<br><b>" + tr("Lesson: ") + "</b>" + esc(entry.lesson), entry.cost ? " · " + esc(model.project.brief.currency) + " " + QString::number(si(*entry.cost), 'f', 2) : "");
    }
    return html + "</table>" + (entries.empty() ? "<p class='soft'>" + tr("Nothing yet: readings, runs and faults that were found come here by themselves; a line of your own goes in above.") + "</p>" : QString());
}

// The list of states; one that is looked at stands above it, with all that differs from now.
QString LogPage::changesHtml() const {
    const auto& model = document_->model();
    const auto& history = document_->history();
    QString html;
    const auto table = [](const std::vector<ChangeLine>& lines) {
        QString rows = "<table>";
        for (const auto& line : lines) rows += QString("<tr><td>%1</td><td class='soft'>%2</td><td class='was'>%3</td><td>→</td><td class='is'>%4</td></tr>").arg(line.whose.toHtmlEscaped(), line.fact.toHtmlEscaped(), line.before.isEmpty() ? "—" : line.before.toHtmlEscaped(), line.after.isEmpty() ? "—" : line.after.toHtmlEscaped());
        return rows + "</table>";
    };
    if (looked_ && *looked_ < history.size()) {
        const auto earlier = history.at(*looked_);
        html += "<h3>" + tr("%1, against now").arg(esc(history.entry(*looked_).date).replace('T', ' ')) + "</h3>";
        if (!earlier) {
            html += "<p>" + words(earlier.error()).toHtmlEscaped() + "</p>";
        } else {
            const auto changes = store::changesBetween(*earlier, model.project);
            if (changes.empty()) html += "<p>" + tr("It is the same as now.") + "</p>";
            else html += table(changeLines(changes, model.project));
            // Wiring and firmware go together: what moved, and whether the sketch is another.
            const auto plan_then = plan::evaluate(*earlier, model.parts);
            const auto wires_then = plan::wiring(*earlier, model.parts, plan_then);
            QStringList gone, come;
            for (const auto& wire : wires_then)
                if (std::none_of(model.wires.begin(), model.wires.end(), [&](const plan::Wire& now) { return now.from == wire.from && now.to == wire.to; })) gone << esc(wire.from + " → " + wire.to);
            for (const auto& wire : model.wires)
                if (std::none_of(wires_then.begin(), wires_then.end(), [&](const plan::Wire& then) { return then.from == wire.from && then.to == wire.to; })) come << esc(wire.from + " → " + wire.to);
            const auto sketch_then = plan::sketchOf(*earlier, plan_then);
            const bool same_sketch = sketch_then && model.sketch && sketch_then->text == model.sketch->text;
            html += "<p><b>" + tr("Wiring") + "</b>: " + (gone.isEmpty() && come.isEmpty() ? tr("the same") : tr("then %1; now %2").arg(gone.isEmpty() ? "—" : gone.join(", "), come.isEmpty() ? "—" : come.join(", "))) + ". <b>" + tr("Sketch") + "</b>: " +
                    (same_sketch ? tr("the same") : !sketch_then ? tr("there was none") : tr("another, plan %1").arg(esc(firmware::planMark(*sketch_then)))) + ".</p>";
            html += QString("<p><a href='back:/%1'><b>%2</b></a> &nbsp; <a href='close:/0'>%3</a></p>").arg(*looked_).arg(tr("Go back to it"), tr("Close"));
        }
    }
    html += "<h3>" + tr("Every state, newest first") + "</h3><table>";
    for (const auto& line : historyLines(history, model.project))
        html += QString("<tr><td class='soft'>%1</td><td>%2</td><td><a href='look:/%3'>%4</a></td></tr>").arg(line.when.toHtmlEscaped(), line.what.toHtmlEscaped()).arg(line.entry).arg(tr("look at it"));
    return html + "</table>";
}

void LogPage::readRuns(const QString& file) {
    const auto text_of = store::readWhole(file.toStdString());
    auto rows = text_of ? journal::parseRunLog(*text_of) : tl::unexpected(text_of.error());
    if (!rows) {
        Q_EMIT document_->said(tr("%1 cannot be read as a run log: %2").arg(QFileInfo(file).fileName(), words(rows.error())));
        return;
    }
    runs_ = std::move(*rows);
    runsFile_ = file;
    showView(View::Runs);
}

// What a gadget has done, and whether a fault that used to come is gone.
QString LogPage::runsHtml() const {
    const QString open = QString("<p><a href='open:/0'><b>%1</b></a></p>").arg(tr("Open a run log…"));
    if (runsFile_.isEmpty()) return "<p>" + tr("A CSV with a header: time (2026-11-25T14:30:00), and any of trigger, action, duration (s), amount, current (A), fault.") + "</p>" + open;
    const auto t = journal::totalsOf(runs_);
    QString html = "<h3>" + QFileInfo(runsFile_).fileName().toHtmlEscaped() + "</h3><table>";
    const auto row = [&html](const QString& what, const QString& value) { html += QString("<tr><td class='soft'>%1</td><td><b>%2</b></td></tr>").arg(what, value); };
    row(tr("rows"), QString::number(t.rows));
    row(tr("over"), tr("%1 days").arg(t.days, 0, 'f', 1));
    row(tr("on for, in all"), text(display(Kind::Duration, t.on_time)));
    if (t.amount != 0.0) row(tr("amount, in all"), text(significant(t.amount, 4)));
    if (t.most_current) row(tr("largest current"), text(display(Kind::Current, *t.most_current)));
    row(tr("faults"), QString::number(t.faults));
    if (t.since_fault) row(tr("since the last fault"), tr("%1 days").arg(*t.since_fault / 86'400.0, 0, 'f', 1));
    if (t.between_faults) row(tr("from fault to fault before"), tr("%1 days").arg(*t.between_faults / 86'400.0, 0, 'f', 1));
    html += "</table>";
    if (t.between_faults && t.since_fault && *t.between_faults > 0.0)
        if (const auto judged = journal::cured({of<Duration>(*t.between_faults), of<Duration>(*t.since_fault)}))
            html += "<p>" + (judged->verdict == Verdict::Holds ? tr("It has stayed away for long enough: %1 sure that it is cured.").arg(text(display(judged->result.confidence_reached, 2)))
                                                              : tr("Not yet: %1 sure. It takes %2 days without a fault, in all, to be 95 % sure.").arg(text(display(judged->result.confidence_reached, 2))).arg(si(judged->result.needed_time) / 86'400.0, 0, 'f', 1)) + "</p>";
    if (t.jumps > 0) html += "<p>" + tr("Its clock went back %1 times: nothing is counted across those.").arg(t.jumps) + "</p>";
    if (t.gaps > 0) html += "<p>" + tr("It was silent %1 times for far longer than usual: was it off, or was the log?").arg(t.gaps) + "</p>";
    return html + open;
}

QString LogPage::wiringHtml() const {
    QString html = "<table>";
    for (const auto& wire : document_->model().wires) html += QString("<tr><td>%1</td><td>→ %2</td><td class='soft'>%3</td></tr>").arg(esc(wire.from), esc(wire.to), esc(wire.note));
    return html + "</table>";
}

QString LogPage::partsHtml() const {
    const auto& model = document_->model();
    const auto& account = model.account;
    QString html = "<table>";
    for (const auto& line : account.lines) html += QString("<tr><td>%1 ×</td><td>%2</td><td align='right'>%3</td></tr>").arg(line.needed).arg(esc(line.name), line.price ? QString::number(si(*line.price) * line.needed, 'f', 2) : tr("not known"));
    html += "</table>";
    const double cost = account.spent();
    journal::WorthIt worth;
    worth.parts_cost = of<Ratio>(std::max(0.0, cost));
    worth.hours = model.project.journal.hours;
    worth.hour_value = model.project.brief.hour_value;
    worth.minutes_saved_per_use = model.project.journal.minutes_saved_per_use;
    worth.uses_per_week = model.project.journal.uses_per_week;
    if (const auto worked = journal::worthIt(worth))
        html += "<p>" + (worked->result.payback_weeks ? tr("With your hours it costs %1 %2 and has paid for itself after %3 weeks.").arg(esc(model.project.brief.currency), QString::number(si(worked->result.total_cost), 'f', 2), QString::number(si(*worked->result.payback_weeks) / 604800.0, 'f', 0))
                                                      : tr("It costs %1 %2 with your hours. No time saved stands against that: it is made for its own sake.").arg(esc(model.project.brief.currency), QString::number(si(worked->result.total_cost), 'f', 2))) + "</p>";
    return html;
}

}  // namespace hinge::app
