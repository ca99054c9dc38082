#include "stages/prove/fault_page.hpp"
#include <QDateTime>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include "pictures/chart.hpp"
#include "quantity/text.hpp"
#include "shell/labels.hpp"
#include "shell/wrap_row.hpp"

namespace hinge::app {
namespace {
constexpr std::size_t causes_shown = 6;
}

FaultPage::FaultPage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("faults");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    left_ = new QWidget;
    told_ = new QVBoxLayout(left_);
    auto* scroll = scrolled(left_);
    scroll->setObjectName("faultSeen");
    row->addWidget(scroll);
    auto* middle = new QWidget;
    auto* column = new QVBoxLayout(middle);
    column->setContentsMargins(px(24), px(10), px(24), px(12));
    auto* asking = new QWidget;
    asking_ = new QVBoxLayout(asking);
    asking_->setContentsMargins(0, 0, 0, 0);
    column->addWidget(asking);
    bars_ = new QWidget;
    bars_->setMinimumHeight(px(250));
    column->addWidget(bars_, 1);
    row->addWidget(middle, 1);
}

void FaultPage::present(const QString& channel) {
    if (channel != channel_) seen_.clear(), practice_.reset();
    channel_ = channel;
    built_.clear();
    build();
}

std::vector<proof::RankedCause> FaultPage::ranked() const {
    const auto& m = document_->model();
    return proof::FaultFinder(m.project, m.parts, m.plan, channel_.toStdString()).ranked(seen_);
}

void FaultPage::take(const std::string& test, const std::string& outcome) {
    takeBack(test);
    seen_.push_back({test, outcome});
    built_.clear();
    build();
}

void FaultPage::takeBack(const std::string& test) {
    std::erase_if(seen_, [&](const proof::Seen& each) { return each.test == test; });
    built_.clear();
    build();
}

void FaultPage::practise(std::uint32_t seed) {
    const auto& m = document_->model();
    std::vector<simulation::Fault> mine;
    for (const auto& fault : simulation::FaultyGadget::possible(m.project, m.parts, m.plan))
        if (text(fault.channel) == channel_) mine.push_back(fault);
    if (mine.empty()) return;
    hidden_ = mine[seed % mine.size()];
    auto gadget = simulation::FaultyGadget::make(m.project, m.parts, m.plan, hidden_);
    if (!gadget) return;
    practice_ = std::move(*gadget);
    seen_ = {{"symptom", practice_->symptom()}};
    built_.clear();
    build();
}

// What was found goes into the log: what it was, and what led there.
void FaultPage::keep() {
    const auto list = ranked();
    if (list.empty()) return;
    auto project = document_->model().project;
    auto entry = project::newEntry(project, "fault", journal::EntryKind::Failure, channel_.toStdString(), nowText());
    entry.text = list.front().cause.words;
    entry.lesson = list.front().cause.cure;
    entry.stage = nameOf(project::Stage::Prove);
    if (const auto* channel = project::findChannel(project, entry.channel)) entry.part = proof::partGone(*channel, list.front().cause.id);
    const proof::FaultFinder finder(project, document_->model().parts, document_->model().plan, channel_.toStdString());
    for (const auto& each : seen_)
        if (const auto* test = finder.findTest(each.test))
            for (const auto& outcome : test->outcomes)
                if (outcome.id == each.outcome)
                    entry.settings +=
                        (entry.settings.empty() ? "" : "; ") + (each.test == "symptom" ? outcome.words : test->words + " " + outcome.words);
    document_->replace(proof::noteFailure(std::move(project), std::move(entry)));
    Q_EMIT document_->said(tr("It is in the log, with what led there."));
}

void FaultPage::build() {
    const auto& m = document_->model();
    const auto& c = colours();
    QString key = themeKey() + channel_ + (practice_ ? "p" : "");
    for (const auto& each : seen_) key += text(each.test + each.outcome);
    if (key == built_) return;
    built_ = key;
    clear(told_);
    clear(asking_);
    findChild<QScrollArea*>("faultSeen")->setFixedWidth(px(288));
    told_->setContentsMargins(px(14), px(10), px(10), px(10));
    told_->setSpacing(px(5));
    const auto* channel = project::findChannel(m.project, channel_.toStdString());
    if (channel == nullptr) {
        asking_->addWidget(label(tr("Choose the channel that fails, at the left."), Text::Title, c.ink));
        update();
        return;
    }
    const proof::FaultFinder finder(m.project, m.parts, m.plan, channel_.toStdString());
    buildTold(finder);
    const bool named = std::any_of(seen_.begin(), seen_.end(), [](const proof::Seen& each) { return each.test == "symptom"; });
    if (!named) {
        asking_->addWidget(label(tr("%1: what is wrong with it?").arg(text(channel->name)), Text::Title, c.ink));
        addAnswers(proof::symptoms());
    } else if (finder.settled(seen_)) {
        buildSettled(finder);
    } else {
        buildNext(finder);
    }
    update();
}

QPushButton* FaultPage::button(const QString& words_of, const QString& name, const std::function<void()>& pressed) {
    auto* made = new QPushButton(words_of);
    made->setObjectName(name);
    made->setFont(textFont(Text::Body));
    connect(made, &QPushButton::clicked, this, pressed);
    return made;
}

void FaultPage::addAnswers(const proof::FaultTest& test) {
    auto* holder = new QWidget;
    auto* wrap = new WrapRow(holder);
    wrap->setContentsMargins(0, 0, 0, 0);
    wrap->setSpacing(px(6));
    for (const auto& outcome : test.outcomes)
        wrap->addWidget(
            button(text(outcome.words), "answer_" + text(outcome.id), [this, id = test.id, what = outcome.id] { take(id, what); }));
    asking_->addWidget(holder);
}

// What was seen so far, and practice.
void FaultPage::buildTold(const proof::FaultFinder& finder) {
    const auto& c = colours();
    told_->addWidget(label(tr("What was seen"), Text::Small, c.soft));
    for (const auto& each : seen_) {
        const auto* test = finder.findTest(each.test);
        if (test == nullptr) continue;
        auto* frame = barred(c.hinge);
        auto* inside = static_cast<QVBoxLayout*>(frame->layout());
        inside->addWidget(label(text(test->words), Text::Small, c.soft));
        for (const auto& outcome : test->outcomes)
            if (outcome.id == each.outcome) inside->addWidget(label(text(outcome.words), Text::Figure, c.ink));
        auto* back = button(tr("Take it back"), "back_" + text(each.test), [this, id = each.test] { takeBack(id); });
        back->setProperty("bare", true);
        back->setFont(textFont(Text::Small));
        inside->addWidget(back);
        told_->addWidget(frame);
    }
    if (seen_.empty()) told_->addWidget(label(tr("Nothing yet."), Text::Body, c.soft));
    if (practice_) told_->addWidget(label(tr("Practice: a made-up fault answers for the gadget."), Text::Small, c.time));
    auto* fault = button(practice_ ? tr("Another fault to practise") : tr("Practise with a made-up fault"), "practiseFault",
                         [this] { practise(static_cast<std::uint32_t>(QDateTime::currentMSecsSinceEpoch())); });
    told_->addWidget(fault);
    if (practice_)
        told_->addWidget(button(tr("Back to the real gadget"), "practiceOver", [this] {
            practice_.reset();
            seen_.clear();
            built_.clear();
            build();
        }));
    told_->addStretch(1);
}

// What it was.
void FaultPage::buildSettled(const proof::FaultFinder& finder) {
    const auto& c = colours();
    const auto best = finder.ranked(seen_).front();
    asking_->addWidget(
        label(best.probability > 0.85 ? text(best.cause.words) : tr("Most likely: %1").arg(text(best.cause.words)), Text::Title, c.ink));
    asking_->addWidget(label(text(best.cause.cure), Text::Sentence, c.hinge));
    if (practice_)
        asking_->addWidget(
            label(best.cause.id == hidden_.id ? tr("That is what was wrong.") : tr("It was another one: look at what the others are."),
                  Text::Figure, best.cause.id == hidden_.id ? c.hinge : c.breaks));
    auto* line = new QWidget;
    auto* wrap = new WrapRow(line);
    wrap->setContentsMargins(0, 0, 0, 0);
    wrap->setSpacing(px(6));
    if (!practice_) wrap->addWidget(button(tr("That was it: into the log"), "faultFound", [this] { keep(); }));
    wrap->addWidget(button(tr("Begin again"), "faultAgain", [this] {
        seen_.clear();
        built_.clear();
        build();
    }));
    asking_->addWidget(line);
}

// The test that tells most.
void FaultPage::buildNext(const proof::FaultFinder& finder) {
    const auto& c = colours();
    const auto list = finder.next(seen_);
    const auto& next = list.front();
    asking_->addWidget(label(text(next.test.words), Text::Title, c.ink));
    asking_->addWidget(label(tr("With: %1. About %2. It should settle some %3 of what is still open.")
                                 .arg(text(next.test.instrument),
                                      next.test.effort < 1.0   ? tr("half a minute")
                                      : next.test.effort < 2.0 ? tr("a minute")
                                                               : tr("%1 minutes").arg(next.test.effort, 0, 'f', 0),
                                      QString::number(100.0 * next.bits / std::max(0.01, finder.open(seen_)), 'f', 0) + " %"),
                             Text::Body, c.soft));
    if (!next.test.caution.empty()) asking_->addWidget(label(text(next.test.caution), Text::Body, c.breaks));
    if (practice_)
        asking_->addWidget(button(tr("Do it, and see"), "practiceAnswer", [this, id = next.test.id] { take(id, practice_->answer(id)); }));
    else addAnswers(next.test);
    if (list.size() > 1) {
        QStringList others;
        for (std::size_t k = 1; k < std::min<std::size_t>(4, list.size()); ++k) others << text(list[k].test.words);
        asking_->addWidget(label(tr("Or: %1").arg(others.join(" · ")), Text::Small, c.soft));
    }
}

// The causes as bars of probability, each with what speaks for it.
void FaultPage::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& c = colours();
    p.fillRect(QRectF(px(288), 0, width() - px(288), height()), c.card);
    if (project::findChannel(document_->model().project, channel_.toStdString()) == nullptr) return;
    const QRect place(bars_->mapTo(this, QPoint(0, 0)), bars_->size());
    const auto list = ranked();
    double y = place.top() + px(30);
    say(p, {static_cast<double>(place.left()), y - px(8)}, tr("What it may be, and how likely"), Text::Small, c.soft);
    for (std::size_t k = 0; k < std::min(causes_shown, list.size()) && y + px(34) < place.bottom(); ++k) {
        const auto& each = list[k];
        const double most = place.width() - px(90), share = each.probability;
        p.setPen(Qt::NoPen);
        p.setBrush(k == 0 ? c.hingeTint : c.line);
        p.drawRect(QRectF(place.left(), y, std::max(2.0, most * share), px(20)));
        say(p, {static_cast<double>(place.left()) + px(6), y + px(17)}, text(each.cause.words), Text::Body, c.ink);
        say(p, {static_cast<double>(place.right()), y + px(17)},
            share < 0.005 ? tr("under 1 %") : QString::number(share * 100.0, 'f', 0) + " %", Text::Figure, k == 0 ? c.hinge : c.soft,
            Qt::AlignRight);
        y += px(22);
        if (!each.because.empty()) {
            QString why = text(each.because.front());
            if (each.because.size() > 1) why += "; " + text(each.because[1]);
            p.setFont(textFont(Text::Small));
            say(p, {static_cast<double>(place.left()) + px(6), y + px(13)},
                p.fontMetrics().elidedText(why, Qt::ElideRight, static_cast<int>(most)), Text::Small, c.soft);
        }
        y += px(24);
    }
}

}  // namespace hinge::app
