#include "stages/prove/prove_page.hpp"
#include <QDateTime>
#include <QFileDialog>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPixmap>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>
#include "pictures/wiring_picture.hpp"
#include "proof/test_sketch.hpp"
#include "shell/labels.hpp"
#include "shell/typed.hpp"
#include "shell/wrap_row.hpp"
#include "stages/prove/fault_page.hpp"
#include "stages/prove/fit_page.hpp"
#include "stages/prove/link_reader.hpp"
#include "stages/prove/probe_picture.hpp"
#include "stages/prove/reading_scale.hpp"
#include "stages/prove/samples_page.hpp"
#include "store/bundle.hpp"
#include "theme/marks.hpp"

namespace hinge::app {
namespace {

bool isDone(const proof::Step& step) {
    return step.verdict == Verdict::Holds || !step.skipped.empty();
}

}  // namespace

ProvePage::ProvePage(Document* document, LinkSession* session, QWidget* parent)
    : QWidget(parent), document_(document), reader_(new LinkReader(document, session, this)) {
    setObjectName("prove");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(0);
    auto* tabs = new QHBoxLayout;
    tabs->setContentsMargins(px(14), px(2), px(14), px(4));
    tabs->setSpacing(px(6));
    const std::pair<const char*, QString> views[] = {{"proveBringUp", tr("First power-up")},
                                                     {"proveSamples", tr("Pieces tried")},
                                                     {"proveFit", tr("Lengths and fits")},
                                                     {"proveFaults", tr("Find a fault")}};
    for (std::size_t i = 0; i < std::size(views); ++i) {
        auto* tab = new QPushButton(views[i].second);
        tab->setObjectName(views[i].first);
        tab->setCheckable(true);
        tabs->addWidget(tab);
        connect(tab, &QPushButton::clicked, this, [this, i] { showView(static_cast<View>(i)); });
        tabs_.push_back(tab);
    }
    tabs->addStretch(1);
    enlarge_ = new QPushButton(tr("At arm's length"));
    enlarge_->setObjectName("runnerLarge");
    enlarge_->setCheckable(true);
    enlarge_->setToolTip(tr("One step alone, large enough to read with both hands at the bench"));
    connect(enlarge_, &QPushButton::clicked, this, [this](bool on) { setLarge(on); });
    tabs->addWidget(enlarge_);
    outer->addLayout(tabs);
    stack_ = new QStackedWidget;
    outer->addWidget(stack_, 1);
    auto* bring_up = new QWidget;
    samples_ = new SamplesPage(document_);
    fit_ = new FitPage(document_);
    faults_ = new FaultPage(document_);
    for (QWidget* page : {bring_up, static_cast<QWidget*>(samples_), static_cast<QWidget*>(fit_), static_cast<QWidget*>(faults_)})
        stack_->addWidget(page);
    tabs_.front()->setChecked(true);
    auto* row = new QHBoxLayout(bring_up);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    auto* steps = new QWidget;
    list_ = new QVBoxLayout(steps);
    auto* scroll = scrolled(steps);
    scroll->setObjectName("stepList");
    // The step in hand into view, whenever the list has found its height.
    connect(scroll->verticalScrollBar(), &QScrollBar::rangeChanged, this, &ProvePage::seeStep);
    row->addWidget(scroll);
    auto* card = new QFrame;
    card->setObjectName("stepCard");
    makeCard(new QVBoxLayout(card));
    row->addWidget(scrolled(card), 1);  // on a low window the card scrolls rather than gives way
    connect(reader_, &LinkReader::progressed, this, &ProvePage::showStep);
    connect(reader_, &LinkReader::gaveUp, this, [this](const QString& why) {
        showStep();
        refuse(why);
    });
    connect(reader_, &LinkReader::took, this, [this](const QString& reading) { take(reading); });
}

void ProvePage::makeCard(QVBoxLayout* column) {
    for (auto** each : {&phase_, &title_, &what_, &range_, &ready_, &caution_, &said_, &photo_})
        *each = new QLabel, (*each)->setWordWrap(true);
    said_->setObjectName("readingSaid");
    title_->setObjectName("stepTitle");
    range_->setObjectName("stepRange");
    photo_->setObjectName("stepPhoto");
    scale_ = new ReadingScale;
    field_ = new QLineEdit;
    field_->setObjectName("reading");
    field_->setAccessibleName(tr("What you read"));
    field_->setPlaceholderText(tr("what you read, with its unit"));
    field_->setToolTip(tr("The reading with its unit, or 'skip:' and the reason."));
    const auto button = [&](const QString& words_of, const char* name, const QString& why, auto slot) {
        auto* made = new QPushButton(words_of);
        made->setObjectName(name);
        made->setToolTip(why);
        connect(made, &QPushButton::clicked, this, slot);
        return made;
    };
    auto* record = button(tr("Record"), "recordReading", tr("Judged at once against the range"), [this] { take(field_->text()); });
    record->setProperty("main", true);
    connect(field_, &QLineEdit::returnPressed, this, [this] { take(field_->text()); });
    link_ = button(tr("Take it over the link"), "readingOverLink", tr("The board reads it by itself; what has to move for it, moves"),
                   [this] { takeOverLink(); });
    skip_ = button(tr("Skip…"), "skipStep", tr("Only with a reason, which stays in the log"), [this] {
        field_->setText("skip: ");
        field_->setFocus();
    });
    attach_ = button(tr("Photo…"), "attachPhoto", tr("Kept in the project's own folder, and in the packet"), [this] {
        const QString file = QFileDialog::getOpenFileName(this, tr("A photo of this step"));
        if (!file.isEmpty()) attach(file);
    });
    test_ = button(tr("Its test sketch…"), "testSketch", tr("A sketch in which nothing moves but this channel"), [this] { saveTest(); });
    auto* entry = new QHBoxLayout;
    entry->addWidget(field_, 1);
    entry->addWidget(record);
    auto* more = new QWidget;
    auto* wrap = new WrapRow(more);
    wrap->setContentsMargins(0, 0, 0, 0);
    wrap->setSpacing(6);
    auto* back = button(tr("◂ Back"), "stepBack", tr("The step before"), [this] { walk(-1); });
    auto* next = button(tr("Next ▸"), "stepNext", tr("The step after; this one stays open"), [this] { walk(1); });
    for (auto* each : {link_, test_, attach_, skip_, back, next}) wrap->addWidget(each);
    column->addWidget(phase_);
    column->addWidget(title_);
    column->addWidget(what_);
    column->addWidget(ready_);
    column->addWidget(caution_);
    column->addWidget(range_);
    column->addSpacing(4);
    probe_ = new ProbePicture(document_);
    auto* pictures = new QHBoxLayout;
    pictures->addWidget(scale_, 1);
    pictures->addWidget(probe_, 1);
    column->addLayout(pictures);
    column->addLayout(entry);
    column->addWidget(said_);
    column->addWidget(more);
    column->addWidget(photo_);
    circuit_ = new WiringPicture(document_);
    column->addWidget(circuit_);
    column->addStretch(1);
}

void ProvePage::light(int wire) {
    circuit_->light(wire);
}

const proof::Step* ProvePage::inHand() const {
    const auto& steps = document_->model().steps;
    for (const auto& step : steps)
        if (text(step.id) == step_) return &step;
    for (const auto& step : steps)
        if (!isDone(step)) return &step;
    return steps.empty() ? nullptr : &steps.front();
}

void ProvePage::showView(View view) {
    reader_->cancel();
    for (std::size_t i = 0; i < tabs_.size(); ++i) tabs_[i]->setChecked(i == static_cast<std::size_t>(view));
    stack_->setCurrentIndex(static_cast<int>(view));
    enlarge_->setVisible(view == View::BringUp);
    present(channel_);
    Q_EMIT viewShown();
}

ProvePage::View ProvePage::view() const {
    return static_cast<View>(stack_->currentIndex());
}

void ProvePage::setLarge(bool on) {
    large_ = on;
    enlarge_->setChecked(on);
    built_.clear();
    build();
    showStep();
}

void ProvePage::walk(int by) {
    const auto& steps = document_->model().steps;
    const auto* now = inHand();
    for (std::size_t i = 0; i < steps.size() && now != nullptr; ++i)
        if (steps[i].id == now->id)
            return choose(text(steps[static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(static_cast<std::ptrdiff_t>(i) + by, 0,
                                                                                         static_cast<std::ptrdiff_t>(steps.size()) - 1))]
                                   .id));
}

void ProvePage::choose(const QString& step) {
    reader_->cancel();
    step_ = step;
    said_->clear();
    field_->clear();
    build();
    showStep();
}

void ProvePage::present(const QString& channel) {
    channel_ = channel;
    switch (static_cast<View>(stack_->currentIndex())) {
        case View::BringUp: build(), showStep(); return;
        case View::Samples: return samples_->present(channel);
        case View::Fit: return fit_->present(channel);
        case View::Faults: return faults_->present(channel);
    }
}

void ProvePage::build() {
    const auto& c = colours();
    const auto* now = inHand();
    findChild<QScrollArea*>("stepList")->setVisible(!large_);
    QString key = themeKey() + (now != nullptr ? text(now->id) : QString());
    for (const auto& step : document_->model().steps)
        key +=
            text(step.id + step.title) + QString::number(static_cast<int>(step.verdict)) + text(step.skipped) + (step.reopened ? "r" : "");
    if (key == built_) return;
    built_ = key;
    clear(list_);
    findChild<QScrollArea*>("stepList")->setFixedWidth(px(288));
    findChild<QFrame*>("stepCard")
        ->setStyleSheet(
            QString("QFrame#stepCard { background-color: %1; border: 0; border-left: 1px solid %2; }").arg(c.card.name(), c.line.name()));
    const int side = large_ ? px(60) : px(24);
    static_cast<QVBoxLayout*>(findChild<QFrame*>("stepCard")->layout())->setContentsMargins(side, px(10), side, px(12));
    list_->setContentsMargins(px(14), px(10), px(10), px(10));
    list_->setSpacing(px(5));
    int n = 0;
    for (const auto& step : document_->model().steps) {
        ++n;
        // A heading where a new phase begins: within one the order is free, between them it is not.
        if (n == 1 || step.phase != document_->model().steps[static_cast<std::size_t>(n) - 2].phase)
            list_->addWidget(label(text(step.phase), Text::Small, c.time));
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
        const QString state = !step.skipped.empty()  ? tr("skipped: %1").arg(text(step.skipped))
                              : step.reopened        ? tr("open again: what it was taken of has changed")
                              : step.reading.empty() ? text(proof::rangeText(step))
                                                     : tr("%1: %2").arg(text(step.reading), verdictWord(step.verdict));
        inner->addWidget(label(state, Text::Small, step.verdict == Verdict::Breaks ? c.breaks : c.soft));
        list_->addWidget(frame);
    }
    if (n == 0) list_->addWidget(label(tr("The steps follow from the channels; there are none yet."), Text::Body, c.soft));
    list_->addStretch();
    list_->activate();
    seeStep();
}

void ProvePage::seeStep() {
    const auto* now = inHand();
    auto* scroll = findChild<QScrollArea*>("stepList");
    const auto* button = now != nullptr ? findChild<QPushButton*>("step_" + text(now->id)) : nullptr;
    // Up and down only: a name that is wider than the list must not push it aside.
    if (button != nullptr)
        scroll->verticalScrollBar()->setValue(button->mapTo(scroll->widget(), QPoint()).y() - scroll->viewport()->height() / 2);
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
    const auto sized = [&](int usual, int far) { return large_ ? far : usual; };
    dress(phase_, sized(13, 20), false, c.time);
    dress(title_, sized(26, 40), true, c.ink);
    dress(what_, sized(18, 28), false, c.ink);
    dress(range_, sized(22, 48), true, c.hinge);
    dress(ready_, sized(14, 20), false, c.soft);
    dress(caution_, sized(15, 24), true, c.breaks);
    dress(said_, sized(15, 28), true, step->verdict == Verdict::Breaks ? c.breaks : c.hinge);
    dress(photo_, 14, false, c.soft);
    QFont type = textFont(Text::Body);
    type.setPixelSize(px(sized(18, 32)));
    field_->setFont(type);
    field_->setMinimumHeight(px(sized(30, 48)));
    scale_->setFixedHeight(px(large_ ? 118 : 160));
    const auto& steps = document_->model().steps;
    const auto place =
        std::find_if(steps.begin(), steps.end(), [&](const proof::Step& each) { return each.id == step->id; }) - steps.begin() + 1;
    phase_->setText(tr("%1 · step %2 of %3").arg(text(step->phase)).arg(place).arg(steps.size()));
    title_->setText(text(step->title));
    what_->setText(text(step->what));
    range_->setText(step->least ? tr("It should read %1").arg(text(proof::rangeText(*step)))
                                : tr("The plan does not know yet what to expect"));
    ready_->setText(tr("Have ready: %1. Measure with: %2.").arg(text(step->ready), text(step->instrument)) +
                    (step->reason.empty() || large_ ? QString() : tr("\nThe range: %1.").arg(text(step->reason))));
    caution_->setText(text(step->caution) + (step->caution.empty() || step->abort.empty() ? QString() : QString("\n")) +
                      (step->abort.empty() ? QString() : tr("Stop at once: %1").arg(text(step->abort))));
    caution_->setVisible(!step->caution.empty() || !step->abort.empty());
    scale_->present(*step);
    link_->setVisible(step->over_link != proof::OverLink::None);
    link_->setText(reader_->busy() ? tr("Stop reading") : tr("Take it over the link"));
    test_->setVisible(!step->channel.empty());
    if (reader_->busy()) said_->setText(reader_->doing());
    else if (!step->skipped.empty()) said_->setText(tr("Skipped: %1").arg(text(step->skipped)));
    else if (step->reopened) said_->setText(tr("Open again: what it was taken of has changed since."));
    else if (!step->reading.empty())
        said_->setText(step->verdict == Verdict::Breaks ? tr("%1 is outside. Do not go on: find out why.").arg(text(step->reading))
                                                        : tr("%1: %2.").arg(text(step->reading), verdictWord(step->verdict)));
    attach_->setText(step->photo.empty() ? tr("Photo…") : tr("Another photo…"));
    probe_->setFixedHeight(px(large_ ? 128 : 176));
    said_->setVisible(!said_->text().isEmpty());
    probe_->present(step);
    circuit_->setVisible(!large_);
    circuit_->only(text(step->channel));
    photo_->setVisible(!step->photo.empty());
    if (!step->photo.empty()) {
        const auto picture = QPixmap::fromImage(document_->photo(step->photo));
        if (picture.isNull())
            photo_->setText(
                tr("The photo %1 is not in the project's photos folder any more. Put it back, or attach another.").arg(text(step->photo)));
        else photo_->setPixmap(picture.scaled(px(320), px(200), Qt::KeepAspectRatio, Qt::SmoothTransformation));
    }
}

void ProvePage::refuse(const QString& why) {
    said_->setStyleSheet(QString("color: %1; background-color: transparent;").arg(colours().breaks.name()));
    said_->setText(why);
    said_->show();
}

void ProvePage::takeOverLink() {
    if (reader_->busy()) return reader_->cancel();
    const auto* step = inHand();
    if (step == nullptr) return;
    step_ = text(step->id);
    if (const QString why = reader_->begin(*step); !why.isEmpty()) refuse(why);
}

void ProvePage::attach(const QString& file) {
    const auto* step = inHand();
    if (step == nullptr) return;
    const auto [name, why] = document_->takePhoto(file);
    if (name.isEmpty()) return refuse(why);
    step_ = text(step->id);
    document_->replace(proof::attachPhoto(document_->model().project, *step, name.toStdString(), nowText()));
}

void ProvePage::saveTest() {
    const auto* step = inHand();
    if (step == nullptr) return;
    const auto& m = document_->model();
    const auto test = proof::testSketch(m.project, m.parts, step->channel);
    if (!test) return refuse(words(test.error()));
    const QString folder = QFileDialog::getExistingDirectory(this, tr("A folder for the test sketch"), document_->folder());
    if (folder.isEmpty()) return;
    std::vector<store::BundleFile> files{{test->sketch.name + "/" + test->sketch.name + ".ino", test->sketch.text}};
    for (const auto& beside : test->sketch.beside) files.push_back({test->sketch.name + "/" + beside.name, beside.text});
    if (const auto written = store::writeFolder(files, folder.toStdString()); !written) return refuse(words(written.error()));
    QStringList said;
    for (const auto& each : test->words) said << tr("'say %1': %2").arg(text(each.word), text(each.does));
    said_->show();
    said_->setText(tr("It is in %1. Upload it, then %2.").arg(folder + "/" + text(test->sketch.name), said.join("; ")));
}

void ProvePage::take(const QString& typed) {
    const auto* step = inHand();
    if (step == nullptr || typed.trimmed().isEmpty()) return;
    const auto now = nowText();
    const QString said = typed.trimmed();
    std::string reading, skipped;
    if (said.startsWith("skip:")) {
        skipped = said.mid(5).trimmed().toStdString();
        if (skipped.empty()) return refuse(tr("A step is skipped only with a reason: 'skip: no scale at hand'."));
    } else {
        reading = typedNumber(said);
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
