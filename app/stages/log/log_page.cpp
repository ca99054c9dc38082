#include "stages/log/log_page.hpp"
#include <QComboBox>
#include <QDateTime>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QResizeEvent>
#include <QStackedWidget>
#include <QTextBrowser>
#include <QUrl>
#include <QVBoxLayout>
#include "firmware/sketch.hpp"
#include "journal/cured.hpp"
#include "plan/wiring.hpp"
#include "quantity/text.hpp"
#include "shell/typed.hpp"
#include "shell/wrap_row.hpp"
#include "stages/log/history_view.hpp"
#include "stages/log/packet_page.hpp"
#include "stages/log/parts_account.hpp"
#include "stages/log/time_line.hpp"
#include "stages/log/upkeep_page.hpp"
#include "stages/tune/run_keeper.hpp"
#include "theme/theme.hpp"

namespace hinge::app {

LogPage::LogPage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("log");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(px(14), px(6), px(14), 0);
    auto* ways = new QWidget;
    auto* tabs = new WrapRow(ways);
    tabs->setContentsMargins(0, 0, 0, 0);
    tabs->setSpacing(px(6));
    const std::pair<const char*, QString> views[] = {
        {"logJournal", tr("Journal")},      {"logChanges", tr("Changes")}, {"logRuns", tr("Run log")}, {"logWiring", tr("Wiring")},
        {"logParts", tr("Parts and cost")}, {"logUpkeep", tr("Upkeep")},   {"logPacket", tr("Packet")}};
    for (std::size_t i = 0; i < std::size(views); ++i) {
        auto* tab = new QPushButton(views[i].second);
        tab->setObjectName(views[i].first);
        tab->setCheckable(true);
        connect(tab, &QPushButton::clicked, this, [this, i] { showView(static_cast<View>(i)); });
        tabs->addWidget(tab);
        tabs_.push_back(tab);
    }
    find_ = new QLineEdit;
    find_->setObjectName("findEntry");
    find_->setAccessibleName(tr("Find in the journal"));
    find_->setPlaceholderText(tr("find in the journal"));
    find_->setClearButtonEnabled(true);
    find_->setFixedWidth(px(190));
    connect(find_, &QLineEdit::textChanged, this, [this] { present(channel_); });
    tabs->addWidget(find_);
    outer->addWidget(ways);
    stack_ = new QStackedWidget;
    outer->addWidget(stack_, 1);
    auto* reading = new QWidget;
    auto* column = new QVBoxLayout(reading);
    column->setContentsMargins(0, px(4), 0, 0);
    makeEntryRow(column);
    time_ = new TimeLine(document_);
    connect(time_, &TimeLine::picked, this, [this](const QString& entry) {
        most_ = document_->model().project.journal.entries.size();  // the mark may belong to one that is not listed yet
        present(channel_);
        view_->scrollToAnchor("entry-" + entry);
    });
    column->addWidget(time_);
    view_ = new QTextBrowser;
    view_->setObjectName("journal");
    view_->setFrameShape(QFrame::NoFrame);
    view_->setOpenLinks(false);
    connect(view_, &QTextBrowser::anchorClicked, this, &LogPage::follow);
    column->addWidget(view_, 1);
    parts_ = new PartsAccount(document_);
    upkeep_ = new UpkeepPage(document_);
    packet_ = new PacketPage(document_);
    connect(packet_, &PacketPage::saveAsked, this, &LogPage::saveAsked);
    for (QWidget* page : {reading, static_cast<QWidget*>(parts_), static_cast<QWidget*>(upkeep_), static_cast<QWidget*>(packet_)})
        stack_->addWidget(page);
}

void LogPage::makeEntryRow(QVBoxLayout* column) {
    entryRow_ = new QWidget;
    auto* row = new QHBoxLayout(entryRow_);
    row->setContentsMargins(0, 0, 0, 0);
    kind_ = new QComboBox;
    kind_->setObjectName("entryKind");
    for (const auto& entry : Names<journal::EntryKind>::all)
        if (entry.value != journal::EntryKind::Run) kind_->addItem(tr(entry.label), entry.id);
    connect(kind_, &QComboBox::currentIndexChanged, this, &LogPage::showKind);
    line_ = new QLineEdit;
    line_->setObjectName("entryText");
    line_->setAccessibleName(tr("New entry of the journal"));
    line_->setPlaceholderText(tr("What changed, was measured, went wrong or was learnt"));
    stage_ = new QComboBox;
    stage_->setObjectName("entryStage");
    stage_->setToolTip(tr("Where the lesson comes up in the next gadget"));
    for (const auto& each : Names<project::Stage>::all) stage_->addItem(tr("comes up at %1").arg(tr(each.label)), each.id);
    part_ = new QComboBox;
    part_->setObjectName("entryPart");
    part_->setToolTip(tr("The part that is gone: it is one fewer in the drawer"));
    cost_ = new QLineEdit;
    cost_->setObjectName("entryCost");
    cost_->setAccessibleName(tr("What it cost"));
    cost_->setPlaceholderText(tr("cost"));
    cost_->setFixedWidth(px(64));
    attach_ = new QPushButton;
    attach_->setObjectName("entryPhoto");
    connect(attach_, &QPushButton::clicked, this, [this] {
        const QString file = QFileDialog::getOpenFileName(this, tr("A photo for this line"));
        if (!file.isEmpty()) attach(file);
    });
    auto* button = new QPushButton(tr("Add to the log"));
    button->setObjectName("addEntry");
    button->setProperty("main", true);
    connect(button, &QPushButton::clicked, this, &LogPage::add);
    connect(line_, &QLineEdit::returnPressed, this, &LogPage::add);
    row->addWidget(kind_);
    row->addWidget(line_, 1);
    for (QWidget* each : {static_cast<QWidget*>(stage_), static_cast<QWidget*>(part_), static_cast<QWidget*>(cost_),
                          static_cast<QWidget*>(attach_), static_cast<QWidget*>(button)})
        row->addWidget(each);
    said_ = new QLabel;
    said_->setObjectName("entrySaid");
    said_->setWordWrap(true);
    column->addWidget(entryRow_);
    column->addWidget(said_);
    showKind();
}

void LogPage::showKind() {
    const auto kind = named<journal::EntryKind>(kind_->currentData().toString().toStdString()).value_or(journal::EntryKind::Note);
    stage_->setVisible(kind == journal::EntryKind::Lesson);
    part_->setVisible(kind == journal::EntryKind::Failure);
    attach_->setText(photo_.isEmpty() ? tr("Photo…") : tr("Photo ✓"));
    attach_->setToolTip(photo_.isEmpty() ? tr("Kept in the project's own folder, and in the packet") : photo_);
}

void LogPage::refuse(const QString& why) {
    said_->setFont(textFont(Text::Body));
    said_->setStyleSheet(QString("color: %1;").arg(colours().breaks.name()));
    said_->setText(why);
    said_->setVisible(!why.isEmpty());
}

void LogPage::attach(const QString& file) {
    const auto [name, why] = document_->takePhoto(file);
    refuse(why);
    if (!name.isEmpty()) photo_ = name;
    showKind();
}

void LogPage::add() {
    if (line_->text().trimmed().isEmpty()) return refuse(tr("Write a line first: what happened, and what it was good for."));
    auto project = document_->model().project;
    auto entry = project::newEntry(
        project, "entry", named<journal::EntryKind>(kind_->currentData().toString().toStdString()).value_or(journal::EntryKind::Note),
        channel_.toStdString(), nowText());
    if (entry.kind == journal::EntryKind::Lesson) {
        entry.lesson = line_->text().toStdString();
        entry.stage = stage_->currentData().toString().toStdString();
    }
    entry.text = line_->text().toStdString();
    entry.photo = photo_.toStdString();
    if (!cost_->text().isEmpty()) {
        const auto cost = parse<Ratio>(typedNumber(cost_->text()));
        if (!cost || si(*cost) < 0.0) {
            cost_->selectAll();
            cost_->setFocus();
            return refuse(tr("The cost is a plain number, such as 4.20, in %1.").arg(text(project.brief.currency)));
        }
        entry.cost = *cost;
    }
    if (entry.kind == journal::EntryKind::Failure) {
        entry.part = part_->currentData().toString().toStdString();
        project = proof::noteFailure(std::move(project), std::move(entry));
    } else {
        project.journal.entries.push_back(std::move(entry));
    }
    line_->clear();
    cost_->clear();
    photo_.clear();
    refuse({});
    showKind();
    document_->replace(std::move(project));
}

void LogPage::follow(const QUrl& link) {
    const auto entry = static_cast<std::size_t>(link.path().mid(1).toULongLong());
    if (link.scheme() == "look") look(entry);
    if (link.scheme() == "open") {
        const QString file = QFileDialog::getOpenFileName(this, tr("A run log"), document_->folder(), tr("CSV (*.csv)"));
        if (!file.isEmpty()) readRuns(file);
    }
    if (link.scheme() == "close") looked_.reset(), present(channel_);
    if (link.scheme() == "more") most_ += 400, present(channel_);
    if (link.scheme() == "drop") {
        auto project = document_->model().project;
        std::erase_if(project.journal.entries, [&](const journal::Entry& each) { return text(each.id) == link.path().mid(1); });
        document_->replace(std::move(project));
        Q_EMIT document_->said(tr("The line is out of the journal; one undo brings it back."));
    }
    if (link.scheme() == "back") {
        const QString why = document_->goBack(entry);
        looked_.reset();
        Q_EMIT document_->said(why.isEmpty() ? tr("It is as it was then; what was newer stays in the list, and one undo takes this back.")
                                             : why);
    }
}

void LogPage::showView(View view) {
    shown_ = view;
    present(channel_);
    Q_EMIT viewShown();
}

void LogPage::resizeEvent(QResizeEvent* event) {
    if ((event->size().height() > px(430)) != (event->oldSize().height() > px(430))) present(channel_);
}

void LogPage::look(std::size_t entry) {
    looked_ = entry;
    shown_ = View::Changes;
    present(channel_);
}

void LogPage::present(const QString& channel) {
    channel_ = channel;
    const auto& c = colours();
    const auto& m = document_->model();
    for (std::size_t i = 0; i < tabs_.size(); ++i) tabs_[i]->setChecked(i == static_cast<std::size_t>(shown_));
    find_->setVisible(shown_ == View::Journal);
    stack_->setCurrentIndex(std::max(0, static_cast<int>(shown_) - static_cast<int>(View::Wiring)));
    switch (shown_) {
        case View::Parts: return parts_->present();
        case View::Upkeep: return upkeep_->present();
        case View::Packet: return packet_->present();
        default: break;
    }
    if (shown_ == View::Runs) readOwnRuns();
    entryRow_->setVisible(shown_ == View::Journal);
    said_->setVisible(shown_ == View::Journal && !said_->text().isEmpty());
    // On a low window the lines come first.
    time_->setVisible((shown_ == View::Journal || shown_ == View::Changes) && height() > px(430));
    time_->present(channel_);
    const QString chosen = part_->currentData().toString();
    part_->clear();
    part_->addItem(tr("no part is gone"), QString());
    if (const auto* of = project::findChannel(m.project, channel_.toStdString())) {
        for (const auto& id : {of->actuator, of->drive.part})
            if (!id.empty()) part_->addItem(text(proof::partName(m.parts, id)), text(id));
    }
    part_->setCurrentIndex(std::max(0, part_->findData(chosen)));
    view_->setFont(textFont(Text::Body));
    view_->setStyleSheet(QString("background-color: %1;").arg(c.card.name()));
    const QString style = QString(
                              "<style>td { padding: 3px 12px 3px 0; } .soft { color: %1; } h3 { margin-top: 14px; } a { color: %2; "
                              "text-decoration: none; } .was { color: %3; } .is { color: %2; }</style>")
                              .arg(c.soft.name(), c.hinge.name(), c.spark.name());
    view_->setHtml(style + (shown_ == View::Journal   ? journalHtml()
                            : shown_ == View::Changes ? changesHtml()
                            : shown_ == View::Runs    ? runsHtml()
                                                      : wiringHtml()));
}

namespace {
QString esc(const std::string& s) {
    return QString::fromStdString(s).toHtmlEscaped();
}
}  // namespace

QString LogPage::journalHtml() const {
    const auto& model = document_->model();
    const QString looked_for = find_->text().trimmed();
    std::vector<const journal::Entry*> entries;
    for (const auto& entry : model.project.journal.entries)
        if (looked_for.isEmpty() ||
            text(entry.text + " " + entry.lesson + " " + entry.settings + " " + entry.date).contains(looked_for, Qt::CaseInsensitive))
            entries.push_back(&entry);
    std::stable_sort(entries.begin(), entries.end(), [](const auto* a, const auto* b) { return a->date > b->date; });
    if (entries.empty())
        return "<p class='soft'>" +
               (looked_for.isEmpty() ? tr("Nothing yet: readings, runs and faults that were found come here by themselves; a line of your "
                                          "own goes in above.")
                                     : tr("No line has '%1' in it.").arg(looked_for.toHtmlEscaped())) +
               "</p>";
    QString html = "<table>";
    for (std::size_t k = 0; k < entries.size() && k < most_; ++k) {
        const auto& entry = *entries[k];
        const auto* of = project::findChannel(model.project, entry.channel);
        QString body = esc(entry.text);
        if (entry.cost) body += " · " + esc(model.project.brief.currency) + " " + QString::number(si(*entry.cost), 'f', 2);
        if (!entry.part.empty()) body += "<br><b>" + tr("Gone: ") + "</b>" + esc(proof::partName(model.parts, entry.part));
        if (!entry.settings.empty()) body += "<br><span class='soft'>" + esc(entry.settings) + "</span>";
        if (!entry.lesson.empty()) {
            const auto stage = named<project::Stage>(entry.stage);
            body += "<br><b>" + tr("Lesson: ") + "</b>" + (entry.lesson == entry.text ? QString() : esc(entry.lesson) + " ") +
                    "<span class='soft'>" + tr("comes up at %1").arg(tr(labelOf(stage.value_or(project::Stage::Need)))) + "</span>";
        }
        if (!entry.photo.empty()) {
            const QUrl place("photo:/" + QString::fromUtf8(QUrl::toPercentEncoding(text(entry.photo))));
            const QImage photo = document_->photo(entry.photo);
            if (!photo.isNull()) view_->document()->addResource(QTextDocument::ImageResource, place, photo);
            body +=
                "<br>" + (!photo.isNull()
                              ? QString("<img src='%1' height='%2'>").arg(place.toString(QUrl::FullyEncoded)).arg(px(120))
                              : "<span class='soft'>" +
                                    tr("its photo %1 is not in the project's photos folder any more").arg(esc(entry.photo)) + "</span>");
        }
        html += QString(
                    "<tr><td class='soft'><a name='entry-%1'></a>%2</td><td><b>%3</b></td><td class='soft'>%4</td><td>%5</td><td><a "
                    "href='drop:/%1' title='%6'>×</a></td></tr>")
                    .arg(esc(entry.id), esc(entry.date).replace('T', ' '), tr(labelOf(entry.kind)),
                         of != nullptr ? esc(of->name) : tr("all"), body, tr("Take this line out"));
    }
    html += "</table>";
    if (entries.size() > most_) html += QString("<p><a href='more:/0'>%1</a></p>").arg(tr("%1 older lines").arg(entries.size() - most_));
    return html;
}

// The list of states; one that is looked at stands above it, with all that differs from now.
QString LogPage::changesHtml() const {
    const auto& model = document_->model();
    const auto& history = document_->history();
    QString html;
    const auto table = [](const std::vector<ChangeLine>& lines) {
        QString rows = "<table>";
        for (const auto& line : lines)
            rows +=
                QString("<tr><td>%1</td><td class='soft'>%2</td><td class='was'>%3</td><td>→</td><td class='is'>%4</td></tr>")
                    .arg(line.whose.toHtmlEscaped(), line.fact.toHtmlEscaped(), line.before.isEmpty() ? "—" : line.before.toHtmlEscaped(),
                         line.after.isEmpty() ? "—" : line.after.toHtmlEscaped());
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
                if (std::none_of(model.wires.begin(), model.wires.end(),
                                 [&](const plan::Wire& now) { return now.from == wire.from && now.to == wire.to; }))
                    gone << esc(wire.from + " → " + wire.to);
            for (const auto& wire : model.wires)
                if (std::none_of(wires_then.begin(), wires_then.end(),
                                 [&](const plan::Wire& then) { return then.from == wire.from && then.to == wire.to; }))
                    come << esc(wire.from + " → " + wire.to);
            const auto sketch_then = plan::sketchOf(*earlier, plan_then);
            const bool same_sketch = sketch_then && model.sketch && sketch_then->text == model.sketch->text;
            html += "<p><b>" + tr("Wiring") + "</b>: " +
                    (gone.isEmpty() && come.isEmpty()
                         ? tr("the same")
                         : tr("then %1; now %2").arg(gone.isEmpty() ? "—" : gone.join(", "), come.isEmpty() ? "—" : come.join(", "))) +
                    ". <b>" + tr("Sketch") + "</b>: " +
                    (same_sketch    ? tr("the same")
                     : !sketch_then ? tr("there was none")
                                    : tr("another, plan %1").arg(esc(firmware::planMark(*sketch_then)))) +
                    ".</p>";
            html += QString("<p><a href='back:/%1'><b>%2</b></a> &nbsp; <a href='close:/0'>%3</a></p>")
                        .arg(*looked_)
                        .arg(tr("Go back to it"), tr("Close"));
        }
    }
    html += "<h3>" + tr("Every state, newest first") + "</h3><table>";
    for (const auto& line : historyLines(history, model.project))
        html += QString("<tr><td class='soft'>%1</td><td>%2</td><td><a href='look:/%3'>%4</a></td></tr>")
                    .arg(line.when.toHtmlEscaped(), line.what.toHtmlEscaped())
                    .arg(line.entry)
                    .arg(tr("look at it"));
    return html + "</table>";
}

// The gadget's own, written while it is on the link; read again when it has grown.
void LogPage::readOwnRuns() {
    const QFileInfo own(runLogOf(document_->folder()));
    if (document_->folder().isEmpty() || !own.exists() || (!runsFile_.isEmpty() && runsFile_ != own.filePath()) || own.size() == runsSize_)
        return;
    const auto text_of = files::readWhole(own.filePath().toStdString());
    auto rows = text_of ? journal::parseRunLog(*text_of) : tl::unexpected(text_of.error());
    runsSize_ = own.size();
    if (!rows)
        return Q_EMIT document_->said(
            tr("The gadget's own run log cannot be read: %1. Mend or remove %2.").arg(words(rows.error()), own.filePath()));
    runs_ = std::move(*rows);
    runsFile_ = own.filePath();
}

void LogPage::readRuns(const QString& file) {
    const auto text_of = files::readWhole(file.toStdString());
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
    if (runsFile_.isEmpty())
        return "<p>" +
               tr("While the gadget is on the link, in Tune, each of its runs is kept in runs.csv in the project's folder, and shown here. "
                  "From elsewhere: a CSV with a header: time (2026-11-25T14:30:00), and any of trigger, action, duration (s), amount, "
                  "current (A), fault.") +
               "</p>" + open;
    const auto t = journal::totalsOf(runs_);
    QString html = "<h3>" + QFileInfo(runsFile_).fileName().toHtmlEscaped() + "</h3><table>";
    const auto row = [&html](const QString& what, const QString& value) {
        html += QString("<tr><td class='soft'>%1</td><td><b>%2</b></td></tr>").arg(what, value);
    };
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
            html += "<p>" +
                    (judged->verdict == Verdict::Holds ? tr("It has stayed away for long enough: %1 sure that it is cured.")
                                                             .arg(text(display(judged->result.confidence_reached, 2)))
                                                       : tr("Not yet: %1 sure. It takes %2 days without a fault, in all, to be 95 % sure.")
                                                             .arg(text(display(judged->result.confidence_reached, 2)))
                                                             .arg(si(judged->result.needed_time) / 86'400.0, 0, 'f', 1)) +
                    "</p>";
    if (t.jumps > 0) html += "<p>" + tr("Its clock went back %1 times: nothing is counted across those.").arg(t.jumps) + "</p>";
    if (t.gaps > 0)
        html += "<p>" + tr("It was silent %1 times for far longer than usual: was it off, or was the log?").arg(t.gaps) + "</p>";
    return html + open;
}

QString LogPage::wiringHtml() const {
    QString html = "<table>";
    for (const auto& wire : document_->model().wires)
        html += QString("<tr><td>%1</td><td>→ %2</td><td class='soft'>%3</td></tr>").arg(esc(wire.from), esc(wire.to), esc(wire.note));
    return html + "</table>";
}

}  // namespace hinge::app
