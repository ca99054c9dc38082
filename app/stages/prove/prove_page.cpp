#include "stages/prove/prove_page.hpp"
#include "shell/labels.hpp"
#include "stages/prove/fault_page.hpp"
#include "stages/prove/reading_scale.hpp"
#include "theme/marks.hpp"
#include <QDateTime>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace hinge::app {
namespace {

bool isDone(const proof::Step& step) { return step.verdict == Verdict::Holds || !step.skipped.empty(); }

}  // namespace

ProvePage::ProvePage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("prove");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(0);
    auto* tabs = new QHBoxLayout;
    tabs->setContentsMargins(px(14), px(2), px(14), px(4));
    tabs->setSpacing(px(6));
    bringUp_ = new QPushButton(tr("First power-up"));
    bringUp_->setObjectName("proveBringUp");
    find_ = new QPushButton(tr("Find a fault"));
    find_->setObjectName("proveFaults");
    for (auto* tab : {bringUp_, find_}) tab->setCheckable(true), tabs->addWidget(tab);
    tabs->addStretch(1);
    connect(bringUp_, &QPushButton::clicked, this, [this] { showFaults(false); });
    connect(find_, &QPushButton::clicked, this, [this] { showFaults(true); });
    outer->addLayout(tabs);
    stack_ = new QStackedWidget;
    outer->addWidget(stack_, 1);
    auto* bring_up = new QWidget;
    stack_->addWidget(bring_up);
    faults_ = new FaultPage(document_);
    stack_->addWidget(faults_);
    bringUp_->setChecked(true);
    auto* row = new QHBoxLayout(bring_up);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    auto* steps = new QWidget;
    list_ = new QVBoxLayout(steps);
    auto* scroll = scrolled(steps);
    scroll->setObjectName("stepList");
    row->addWidget(scroll);
    auto* card = new QFrame;
    card->setObjectName("stepCard");
    auto* column = new QVBoxLayout(card);
    title_ = new QLabel;
    what_ = new QLabel;
    ready_ = new QLabel;
    caution_ = new QLabel;
    said_ = new QLabel;
    for (auto* each : {title_, what_, ready_, caution_, said_}) each->setWordWrap(true);
    said_->setObjectName("readingSaid");
    title_->setObjectName("stepTitle");
    scale_ = new ReadingScale;
    field_ = new QLineEdit;
    field_->setObjectName("reading");
    field_->setPlaceholderText(tr("what you read, with its unit"));
    field_->setToolTip(tr("The reading with its unit, or 'skip:' and the reason."));
    auto* entry = new QHBoxLayout;
    auto* record = new QPushButton(tr("Record"));
    record->setObjectName("recordReading");
    record->setProperty("main", true);
    connect(record, &QPushButton::clicked, this, [this] { take(field_->text()); });
    connect(field_, &QLineEdit::returnPressed, this, [this] { take(field_->text()); });
    entry->addWidget(field_, 1);
    entry->addWidget(record);
    entry->addStretch(1);
    column->addWidget(title_);
    column->addWidget(what_);
    column->addWidget(ready_);
    column->addWidget(caution_);
    column->addSpacing(8);
    column->addWidget(scale_);
    column->addLayout(entry);
    column->addWidget(said_);
    column->addStretch(1);
    row->addWidget(card, 1);
}

const proof::Step* ProvePage::inHand() const {
    const auto& steps = document_->model().steps;
    for (const auto& step : steps)
        if (text(step.id) == step_) return &step;
    for (const auto& step : steps)
        if (!isDone(step)) return &step;
    return steps.empty() ? nullptr : &steps.front();
}

void ProvePage::showFaults(bool on) {
    bringUp_->setChecked(!on);
    find_->setChecked(on);
    stack_->setCurrentIndex(on ? 1 : 0);
    if (on) faults_->present(channel_);
}

void ProvePage::choose(const QString& step) {
    step_ = step;
    said_->clear();
    field_->clear();
    build();
    showStep();
}

void ProvePage::present(const QString& channel) {
    channel_ = channel;
    faults_->present(channel);
    build();
    showStep();
}

void ProvePage::build() {
    const auto& c = colours();
    const auto* now = inHand();
    QString key = themeKey() + (now != nullptr ? text(now->id) : QString());
    for (const auto& step : document_->model().steps) key += text(step.id + step.title) + QString::number(static_cast<int>(step.verdict)) + text(step.skipped) + (step.reopened ? "r" : "");
    if (key == built_) return;
    built_ = key;
    clear(list_);
    findChild<QScrollArea*>("stepList")->setFixedWidth(px(288));
    findChild<QFrame*>("stepCard")->setStyleSheet(QString("QFrame#stepCard { background-color: %1; border: 0; border-left: 1px solid %2; }").arg(c.card.name(), c.line.name()));
    static_cast<QVBoxLayout*>(findChild<QFrame*>("stepCard")->layout())->setContentsMargins(px(24), px(10), px(24), px(12));
    list_->setContentsMargins(px(14), px(10), px(10), px(10));
    list_->setSpacing(px(5));
    int n = 0;
    for (const auto& step : document_->model().steps) {
        ++n;
        // A heading where a new phase begins: within one the order is free, between them it is not.
        if (n == 1 || step.phase != document_->model().steps[static_cast<std::size_t>(n) - 2].phase) list_->addWidget(label(text(step.phase), Text::Small, c.time));
        const bool current = now != nullptr && step.id == now->id;
        const QColor bar = step.verdict == Verdict::Breaks ? c.breaks : isDone(step) ? c.hinge : current ? c.ink : c.line;
        auto* frame = barred(bar, current);
        auto* inner = static_cast<QVBoxLayout*>(frame->layout());
        auto* button = new QPushButton(QString("%1 · %2").arg(n).arg(text(step.title)));
        button->setObjectName("step_" + text(step.id));
        button->setProperty("bare", true);
        button->setFont(textFont(current ? Text::Figure : Text::Body));
        button->setCursor(Qt::PointingHandCursor);
        connect(button, &QPushButton::clicked, this, [this, id = text(step.id)] { choose(id); });
        inner->addWidget(button);
        const QString state = !step.skipped.empty() ? tr("skipped: %1").arg(text(step.skipped)) : step.reopened ? tr("open again: what it was taken of has changed") : step.reading.empty() ? (step.least ? tr("%1 to %2").arg(text(display(step.kind, *step.least)), text(display(step.kind, *step.most))) : tr("not known yet"))
                                                                                                                  : tr("%1: %2").arg(text(step.reading), verdictWord(step.verdict));
        inner->addWidget(label(state, Text::Small, step.verdict == Verdict::Breaks ? c.breaks : c.soft));
        list_->addWidget(frame);
    }
    if (n == 0) list_->addWidget(label(tr("The steps follow from the channels; there are none yet."), Text::Body, c.soft));
    list_->addStretch();
}

void ProvePage::showStep() {
    const auto& c = colours();
    const auto* step = inHand();
    findChild<QFrame*>("stepCard")->setVisible(step != nullptr);
    if (step == nullptr) return;
    const auto dress = [&](QLabel* of, int size, bool bold, const QColor& colour) {
        QFont font = textFont(Text::Body);
        font.setPixelSize(px(size));
        font.setBold(bold);
        of->setFont(font);
        of->setStyleSheet(QString("color: %1; background-color: transparent;").arg(colour.name()));
    };
    dress(title_, 26, true, c.ink);
    dress(what_, 18, false, c.ink);
    dress(ready_, 14, false, c.soft);
    dress(caution_, 15, true, c.breaks);
    dress(said_, 15, true, step->verdict == Verdict::Breaks ? c.breaks : c.hinge);
    QFont large = textFont(Text::Body);
    large.setPixelSize(px(18));
    field_->setFont(large);
    scale_->setFixedHeight(px(190));
    title_->setText(text(step->title));
    what_->setText(text(step->what));
    ready_->setText(tr("Have ready: %1. Measure with: %2.").arg(text(step->ready), text(step->instrument)) + (step->reason.empty() ? QString() : tr("\nThe range: %1.").arg(text(step->reason))));
    caution_->setText(text(step->caution) + (step->caution.empty() || step->abort.empty() ? QString() : QString("\n")) + (step->abort.empty() ? QString() : tr("Stop at once: %1").arg(text(step->abort))));
    caution_->setVisible(!step->caution.empty() || !step->abort.empty());
    scale_->present(*step);
    if (!step->skipped.empty()) said_->setText(tr("Skipped: %1").arg(text(step->skipped)));
    else if (!step->reading.empty()) said_->setText(step->verdict == Verdict::Breaks ? tr("%1 is outside. Do not go on: find out why.").arg(text(step->reading)) : tr("%1: %2.").arg(text(step->reading), verdictWord(step->verdict)));
}

void ProvePage::take(const QString& typed) {
    const auto* step = inHand();
    if (step == nullptr || typed.trimmed().isEmpty()) return;
    const auto now = QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm").toStdString();
    const QString said = typed.trimmed();
    const auto refuse = [&](const QString& why) {
        said_->setStyleSheet(QString("color: %1; background-color: transparent;").arg(colours().breaks.name()));
        said_->setText(why);
    };
    std::string reading, skipped;
    if (said.startsWith("skip:")) {
        skipped = said.mid(5).trimmed().toStdString();
        if (skipped.empty()) return refuse(tr("A step is skipped only with a reason: 'skip: no scale at hand'."));
    } else {
        reading = said.toStdString();
        if (const auto verdict = proof::judge(*step, reading); !verdict) return refuse(words(verdict.error()));
    }
    field_->clear();
    // A step that holds makes room for the next; one that breaks stays in hand.
    const bool stays = !reading.empty() && proof::judge(*step, reading).value_or(Verdict::Unknown) != Verdict::Holds;
    const QString id = text(step->id);
    step_ = stays ? id : QString();
    said_->clear();
    document_->replace(proof::record(document_->model().project, *step, reading, skipped, now));
}

}  // namespace hinge::app
