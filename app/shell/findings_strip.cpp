#include "shell/findings_strip.hpp"
#include <QFontMetrics>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include "shell/labels.hpp"
#include "shell/stage_bar.hpp"
#include "theme/marks.hpp"

namespace hinge::app {

FindingsStrip::FindingsStrip(QWidget* parent) : QWidget(parent) {
    setObjectName("findings");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 2, 0, 0);
    auto* body = new QWidget;
    body->setObjectName("findingsBody");
    layout_ = new QVBoxLayout(body);
    scroll_ = scrolled(body);
    outer->addWidget(scroll_);
    setAttribute(Qt::WA_StyledBackground);
}

void FindingsStrip::fold(bool folded) {
    folded_ = folded;
    setFixedHeight(folded_ ? std::min(full_, px(34)) : full_);
}

void FindingsStrip::present(const Model& model, int stage, const QString& channel, bool told) {
    const auto& c = colours();
    QString key = QString::number(stage) + themeKey() + (told ? "t" : "");
    std::vector<const plan::PlanFinding*> shown;
    std::size_t lines = 0, remedied = 0;
    for (const auto& finding : model.plan.findings) {
        if (stage >= 0 && static_cast<int>(finding.stage) != stage) continue;
        if (stage >= 0 && !channel.isEmpty() && !StageBar::concernsAll(stage) && !finding.channel.empty() &&
            text(finding.channel) != channel)
            continue;
        if (told && finding.severity == Severity::Note && plan::hazardTitle(finding.id) != nullptr) continue;
        shown.push_back(&finding);
        key += text(finding.id) + text(finding.text);
        for (const auto& remedy : finding.remedies) key += text(remedy.label);
    }
    const auto groups = plan::gathered(shown);
    // On the crossbar the notes come last, and as one line; a stage's own cautions stand where they belong.
    const auto notes =
        std::count_if(groups.begin(), groups.end(), [](const auto& each) { return each.first().severity == Severity::Note; });
    const bool folds = stage < 0 && notes > 2, hides = folds && !notesShown_;
    for (const auto& group : groups) {
        const bool open = opened_.contains(keyOf(group));
        if (hides && group.first().severity == Severity::Note) continue;
        for (const auto* finding : group.all) {
            lines += std::max<std::size_t>(1, finding->remedies.size());
            remedied += finding->remedies.size();
            if (!open) break;
        }
    }
    lines += folds ? 1 : 0;
    key += QString::number(notesShown_) + opened_.values().join('|');
    full_ = shown.empty() ? px(36) : std::min(px(132), px(16) + px(26) * static_cast<int>(lines) + px(6) * static_cast<int>(remedied));
    fold(folded_);
    if (key == shown_) return;
    shown_ = key;
    setStyleSheet(QString("QWidget#findings { border: 0; border-top: 2px solid %1; background-color: %2; } QWidget#findingsBody { "
                          "background-color: %2; }")
                      .arg(c.ink.name(), c.card.name()));
    clear(layout_);
    layout_->setContentsMargins(px(18), px(6), px(18), px(6));
    layout_->setSpacing(px(3));
    if (shown.empty()) layout_->addWidget(label(tr("Nothing breaks or is tight here."), Text::Body, c.soft));
    remedies_ = 0;
    bool notesBegun = false;
    for (const auto& group : groups) {
        const bool note = group.first().severity == Severity::Note;
        if (note && folds && !std::exchange(notesBegun, true)) addNotes(model, groups);
        if (!note || !hides) addGroup(model, group);
    }
    layout_->addStretch();
}

QPushButton* FindingsStrip::button(const plan::Remedy& remedy, const plan::PlanFinding& finding, bool first) {
    auto* made = new QPushButton(text(remedy.label));
    made->setObjectName(QString("remedy_%1_%2").arg(text(finding.id)).arg(remedies_++));
    made->setFont(textFont(Text::Body));
    made->setProperty("main", first);
    made->setToolTip(remedy.cost.empty() ? tr("You can undo it.") : tr("Costs: %1. You can undo it.").arg(text(remedy.cost)));
    connect(made, &QPushButton::clicked, this, [this, edits = remedy.edits] { Q_EMIT remedyPressed(edits); });
    return made;
}

// Where it is: the stage always reads whole; a long channel's name gives way.
QPushButton* FindingsStrip::place(const Model& model, const plan::PlanFinding& finding) {
    const auto* of_channel = plan::findChannel(model.plan, finding.channel);
    const QString at_stage = tr(labelOf(finding.stage)), name = of_channel != nullptr ? text(of_channel->name) : QString();
    const QFontMetrics metrics(textFont(Text::Figure));
    auto* where =
        new QPushButton(name.isEmpty() ? at_stage
                                       : metrics.elidedText(name, Qt::ElideRight, px(138) - metrics.horizontalAdvance(" · " + at_stage)) +
                                             " · " + at_stage);
    where->setProperty("bare", true);
    where->setFont(textFont(Text::Figure));
    where->setFixedWidth(px(146));
    where->setToolTip(name.isEmpty() ? at_stage : name + " · " + at_stage);
    where->setCursor(Qt::PointingHandCursor);
    connect(where, &QPushButton::clicked, this,
            [this, id = text(finding.channel), s = static_cast<int>(finding.stage)] { Q_EMIT goTo(id, s); });
    return where;
}

QString FindingsStrip::keyOf(const plan::Gathered& group) {
    return text(group.first().id) + QString::number(static_cast<int>(group.first().stage));
}

// What is alike speaks once, with the names of the others; each can be looked at, and one press cures them all.
void FindingsStrip::addGroup(const Model& model, const plan::Gathered& group) {
    const bool open = opened_.contains(keyOf(group));
    if (group.all.size() == 1 || open) {
        for (const auto* finding : group.all) addFinding(model, *finding);
        if (group.all.size() > 1) addMore(tr("These %1 are alike.").arg(group.all.size()), tr("gather them"), keyOf(group));
        return;
    }
    addFinding(model, group.first());
    auto* row = addMore(tr("Likewise %1.").arg(text(plan::othersOf(group, model.plan))), tr("each by itself"), keyOf(group));
    if (std::any_of(group.all.begin(), group.all.end(), [](const auto* each) { return each->remedies.empty(); })) return;
    std::vector<project::FactEdit> edits;
    for (const auto* each : group.all) edits.insert(edits.end(), each->remedies.front().edits.begin(), each->remedies.front().edits.end());
    auto* all = new QPushButton(tr("The same for all %1").arg(group.all.size()));
    all->setObjectName("remedyAll_" + text(group.first().id));
    all->setFont(textFont(Text::Body));
    all->setToolTip(tr("Each by its own first remedy. You can undo it."));
    connect(all, &QPushButton::clicked, this, [this, edits] { Q_EMIT remedyPressed(edits); });
    row->addWidget(all);
}

QHBoxLayout* FindingsStrip::addMore(const QString& words, const QString& press, const QString& key) {
    auto* row = new QWidget;
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(px(232), 0, 0, 0);
    line->addWidget(label(words, Text::Body, colours().soft), 1);
    auto* opens = new QPushButton(press);
    opens->setObjectName("alike_" + key);
    opens->setProperty("bare", true);
    opens->setFont(textFont(Text::Small));
    opens->setCursor(Qt::PointingHandCursor);
    connect(opens, &QPushButton::clicked, this, [this, key] {
        if (!opened_.remove(key)) opened_.insert(key);
        Q_EMIT foldAsked();
    });
    line->addWidget(opens);
    layout_->addWidget(row);
    return line;
}

// All notes in one line, by what they are about.
void FindingsStrip::addNotes(const Model& model, const std::vector<plan::Gathered>& groups) {
    const auto& c = colours();
    QStringList about;
    int count = 0;
    for (const auto& group : groups) {
        if (group.first().severity != Severity::Note) continue;
        count += static_cast<int>(group.all.size());
        const auto* channel = plan::findChannel(model.plan, group.first().channel);
        const QString where = tr(labelOf(group.first().stage));
        about << (channel == nullptr      ? where
                  : group.all.size() == 1 ? text(channel->name) + " · " + where
                                          : tr("%1 of %2 channels").arg(where).arg(group.all.size()));
    }
    about.removeDuplicates();
    auto* row = new QWidget;
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    auto* mark = label(tr("note"), Text::Figure, c.soft);
    mark->setFixedWidth(px(74));
    line->addWidget(mark);
    auto* words = label(QString(), Text::Body, c.soft);
    words->setText(QFontMetrics(words->font())
                       .elidedText(tr("%1 notes, nothing to mend: %2").arg(count).arg(about.join(", ")), Qt::ElideRight,
                                   std::max(px(620), width() - px(260))));
    words->setToolTip(about.join('\n'));
    line->addWidget(words, 1);
    auto* shows = new QPushButton(notesShown_ ? tr("fold them") : tr("show them"));
    shows->setObjectName("showNotes");
    shows->setProperty("bare", true);
    shows->setFont(textFont(Text::Small));
    shows->setCursor(Qt::PointingHandCursor);
    connect(shows, &QPushButton::clicked, this, [this] {
        notesShown_ = !notesShown_;
        Q_EMIT foldAsked();
    });
    line->addWidget(shows);
    layout_->addWidget(row);
}

void FindingsStrip::addFinding(const Model& model, const plan::PlanFinding& finding) {
    const auto& c = colours();
    auto* row = new QWidget;
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    const bool note = finding.severity == Severity::Note, stop = finding.severity == Severity::Stop;
    auto* mark = label(note ? tr("note") : verdictWord(stop ? Verdict::Breaks : Verdict::Tight), Text::Figure,
                       stop   ? c.breaks
                       : note ? c.soft
                              : c.tight);
    mark->setFixedWidth(px(74));
    line->addWidget(mark);
    line->addWidget(place(model, finding));
    auto* words_of = label(text(finding.text), Text::Body, c.ink);
    words_of->setTextInteractionFlags(Qt::TextSelectableByMouse);
    line->addWidget(words_of, 1);
    if (!finding.remedies.empty()) line->addWidget(button(finding.remedies.front(), finding, true));
    layout_->addWidget(row);
    // Alternatives, indented under it, each with what it costs.
    for (std::size_t i = 1; i < finding.remedies.size(); ++i) {
        const auto& remedy = finding.remedies[i];
        auto* other = new QWidget;
        auto* inner = new QHBoxLayout(other);
        inner->setContentsMargins(px(214), 0, 0, 0);
        inner->addWidget(
            label(remedy.cost.empty() ? tr("This cures it too.") : tr("This cures it too: %1.").arg(text(remedy.cost)), Text::Body, c.soft),
            1);
        inner->addWidget(button(remedy, finding, false));
        layout_->addWidget(other);
    }
}

}  // namespace hinge::app
