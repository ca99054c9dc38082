#include "stages/log/upkeep_page.hpp"
#include <QCoreApplication>
#include <QDate>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include "pictures/chart.hpp"
#include "shell/labels.hpp"
#include "shell/typed.hpp"
#include "theme/marks.hpp"

namespace hinge::app {
namespace {

constexpr int aheadDays = 365;

QString dueWords(const proof::Due& due) {
    if (!due.days) return QCoreApplication::translate("UpkeepPage", "never done yet");
    if (*due.days < 0) return QCoreApplication::translate("UpkeepPage", "overdue by %1 days").arg(-*due.days);
    if (*due.days == 0) return QCoreApplication::translate("UpkeepPage", "due today");
    return QCoreApplication::translate("UpkeepPage", "in %1 days").arg(*due.days);
}

}  // namespace

UpkeepPicture::UpkeepPicture(QWidget* parent) : QWidget(parent) {
    setObjectName("upkeepPicture");
}

void UpkeepPicture::present(std::vector<proof::Due> due, const QDate& today) {
    due_ = std::move(due);
    first_ = static_cast<int>(today.toJulianDay());
    setFixedHeight(px(44) + px(22) * static_cast<int>(std::max<std::size_t>(1, due_.size())));
    update();
}

void UpkeepPicture::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& c = colours();
    p.fillRect(rect(), c.card);
    const double left = px(230), right = width() - px(16), floor = height() - px(20);
    const auto x = [&](double days) { return left + days / aheadDays * (right - left); };
    const QDate today = QDate::fromJulianDay(first_);
    for (QDate month(today.year(), today.month(), 1); today.daysTo(month) <= aheadDays; month = month.addMonths(1)) {
        const auto days = static_cast<double>(today.daysTo(month));
        if (days < 0) continue;
        p.setPen(QPen(c.line, 1));
        p.drawLine(QPointF(x(days), px(4)), QPointF(x(days), floor));
        say(p, {x(days) + px(3), floor + px(14)}, month.toString(month.month() == 1 ? "yyyy" : "MMM"), Text::Small, c.soft);
    }
    p.setPen(QPen(c.ink, 2));
    p.drawLine(QPointF(x(0), px(4)), QPointF(x(0), floor));
    say(p, {x(0), floor + px(14)}, tr("today"), Text::Small, c.ink, Qt::AlignRight);
    if (due_.empty()) say(p, QPointF(px(2), px(20)), tr("No care is decided yet."), Text::Body, c.soft);
    const QFontMetrics metrics(textFont(Text::Body));
    for (std::size_t k = 0; k < due_.size(); ++k) {
        const auto& due = due_[k];
        const double y = px(16) + px(22) * static_cast<double>(k);
        say(p, {px(2) + 0.0, y + px(4)}, metrics.elidedText(text(due.care.what), Qt::ElideRight, px(214)), Text::Body, c.ink);
        const QColor colour = verdictColour(due.verdict);
        if (!due.days) {
            p.setPen(QPen(colour, 1.5, Qt::DashLine));
            p.drawLine(QPointF(x(0), y), QPointF(right, y));
            continue;
        }
        const double every = std::max(1.0, si(due.care.every) / 86'400.0);
        p.setPen(QPen(colour, 2));
        p.drawLine(QPointF(x(0), y), QPointF(x(std::clamp(static_cast<double>(*due.days), 0.0, double{aheadDays})), y));
        for (double days = *due.days; days <= aheadDays; days += every) {
            const double at = x(std::max(0.0, days));
            p.setPen(QPen(colour, 2));
            p.setBrush(days == *due.days ? QBrush(colour) : QBrush(c.card));
            p.drawEllipse(QPointF(at, y), px(4), px(4));
        }
    }
}

UpkeepPage::UpkeepPage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("upkeep");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, px(8), 0, px(8));
    column->setSpacing(px(6));
    sentence_ = new QLabel;
    sentence_->setObjectName("upkeepSentence");
    sentence_->setWordWrap(true);
    said_ = new QLabel;
    said_->setObjectName("upkeepSaid");
    said_->setWordWrap(true);
    picture_ = new UpkeepPicture;
    auto* row = new QHBoxLayout;
    what_ = new QLineEdit;
    what_->setObjectName("careWhat");
    what_->setPlaceholderText(tr("what else has to be done again and again"));
    every_ = new QLineEdit;
    every_->setObjectName("careEvery");
    every_->setPlaceholderText(tr("every 6 weeks"));
    every_->setFixedWidth(px(120));
    auto* button = new QPushButton(tr("Take it up"));
    button->setObjectName("addCare");
    connect(button, &QPushButton::clicked, this, &UpkeepPage::add);
    connect(every_, &QLineEdit::returnPressed, this, &UpkeepPage::add);
    row->addWidget(what_, 1);
    row->addWidget(every_);
    row->addWidget(button);
    auto* body = new QWidget;
    rows_ = new QVBoxLayout(body);
    column->addWidget(sentence_);
    column->addWidget(picture_);
    column->addLayout(row);
    column->addWidget(said_);
    column->addWidget(scrolled(body), 1);
}

QDate UpkeepPage::today() const {
    return julian_ ? QDate::fromJulianDay(*julian_) : QDate::currentDate();
}

void UpkeepPage::setToday(const QDate& day) {
    julian_ = static_cast<int>(day.toJulianDay());
    present();
}

void UpkeepPage::add() {
    const QString what = what_->text().trimmed();
    if (what.isEmpty()) return;
    QString typed = every_->text().trimmed();
    if (typed.startsWith("every ")) typed.remove(0, 6);
    const auto every = parse<Duration>(typedNumber(typed));
    if (!every || si(*every) < 86'400.0) {
        said_->setText(every ? tr("Care comes at most once a day; what is oftener belongs to the routine.") : words(every.error()));
        said_->show();
        return every_->setFocus();
    }
    auto project = document_->model().project;
    std::vector<std::string> taken;
    for (const auto& care : project.journal.care) taken.push_back(care.id);
    journal::Care care;
    care.id = project::freshId("care", taken);
    care.what = what.toStdString();
    care.every = *every;
    project.journal.care.push_back(std::move(care));
    what_->clear();
    every_->clear();
    said_->clear();
    document_->replace(std::move(project));
}

void UpkeepPage::present() {
    const auto& c = colours();
    const auto& m = document_->model();
    const QDate day = today();
    const auto due = proof::careDue(m.project.journal.care, {day.year(), day.month(), day.day()});
    const auto proposed = proof::careProposed(m.project, m.parts, m.plan);
    const auto late = std::count_if(due.begin(), due.end(), [](const proof::Due& each) { return each.verdict == Verdict::Breaks; });
    sentence_->setFont(textFont(Text::Figure));
    said_->setFont(textFont(Text::Body));
    said_->setStyleSheet(QString("color: %1;").arg(c.breaks.name()));
    said_->setVisible(!said_->text().isEmpty());
    sentence_->setText(
        due.empty()
            ? tr("No care is decided. %1 things follow from its parts and its place: take up those that are right.").arg(proposed.size())
        : late > 0 ? tr("Overdue: %1 of %2.").arg(late).arg(due.size())
                   : tr("Nothing is overdue; next: %1, %2.").arg(text(due.front().care.what), dueWords(due.front())));
    picture_->present(due, day);
    build(due, proposed);
}

void UpkeepPage::build(const std::vector<proof::Due>& due, const std::vector<proof::Due>& proposed) {
    const auto& c = colours();
    QString key = themeKey() + QString::number(today().toJulianDay());
    for (const auto* list : {&due, &proposed})
        for (const auto& each : *list)
            key += text(each.care.id + each.care.what + each.care.done + each.reason) + QString::number(si(each.care.every));
    if (key == built_) return;
    built_ = key;
    clear(rows_);
    rows_->setContentsMargins(0, 0, px(8), 0);
    rows_->setSpacing(px(6));
    const auto line = [&](const proof::Due& each) {
        const auto* channel = project::findChannel(document_->model().project, each.care.channel);
        auto* frame = barred(each.proposed ? c.line : verdictColour(each.verdict), true);
        auto* inner = static_cast<QVBoxLayout*>(frame->layout());
        auto* row = new QHBoxLayout;
        row->setSpacing(px(6));
        row->addWidget(label((channel != nullptr ? text(channel->name) + ": " : QString()) + text(each.care.what), Text::Body, c.ink), 1);
        const auto button = [&](const QString& words_of, const QString& name, auto slot) {
            auto* made = new QPushButton(words_of);
            made->setObjectName(name + text(each.care.id));
            made->setFont(textFont(Text::Small));
            connect(made, &QPushButton::clicked, this, slot);
            row->addWidget(made);
        };
        const std::string now = today().toString(Qt::ISODate).toStdString();
        if (each.proposed)
            button(tr("Take it up"), "careTake_", [this, care = each.care] {
                auto project = document_->model().project;
                project.journal.care.push_back(care);
                document_->replace(std::move(project));
            });
        button(tr("Done today"), "careDone_",
               [this, care = each.care, now] { document_->replace(proof::careDone(document_->model().project, care, now)); });
        if (!each.proposed)
            button(tr("Give up"), "careDrop_", [this, id = each.care.id] {
                auto project = document_->model().project;
                std::erase_if(project.journal.care, [&](const journal::Care& care) { return care.id == id; });
                document_->replace(std::move(project));
            });
        inner->addLayout(row);
        QString small = tr("every %1").arg(text(displayPlain(each.care.every)));
        if (!each.proposed)
            small += ", " + dueWords(each) + (each.care.done.empty() ? QString() : tr(", last on %1").arg(text(each.care.done)));
        if (!each.reason.empty()) small += ": " + text(each.reason);
        inner->addWidget(label(small, Text::Small, c.soft));
        rows_->addWidget(frame);
    };
    for (const auto& each : due) line(each);
    if (!proposed.empty()) rows_->addWidget(label(tr("Its parts, its place and its use ask for these too"), Text::Small, c.time));
    for (const auto& each : proposed) line(each);
    rows_->addStretch(1);
}

}  // namespace hinge::app
