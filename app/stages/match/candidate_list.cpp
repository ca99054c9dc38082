#include "stages/match/candidate_list.hpp"
#include <QMouseEvent>
#include <QPainter>
#include <QScrollArea>
#include <algorithm>
#include "theme/marks.hpp"

namespace hinge::app {

CandidateList::CandidateList(QWidget* parent) : SpotWidget(parent) {
    setObjectName("candidates");
    setAccessibleName(tr("Parts that could do it, the best first"));
    setFocusPolicy(Qt::TabFocus);
    setMouseTracking(true);
    idle_.setInterval(0);
    connect(&idle_, &QTimer::timeout, this, &CandidateList::workOutNext);
}

int CandidateList::rowHeight() const {
    return px(76);
}

int CandidateList::rowTop(int row) const {
    int top = row * rowHeight();
    for (int i = 0; i <= row && i < count(); ++i)
        if (rows_[static_cast<std::size_t>(i)].first) top += px(24);
    return top;
}

void CandidateList::present(const Model& model, const QString& channel) {
    rows_.clear();
    if (channel != channel_) compared_.clear();
    channel_ = channel;
    model_ = &model;
    const auto* planned = plan::findChannel(model.plan, channel.toStdString());
    const auto* decided = project::findChannel(model.project, channel.toStdString());
    if (planned != nullptr && decided != nullptr) {
        context_ = planned->context;
        for (const auto& p : match::candidates(context_, model.parts, 60)) {
            const QString with = p.rail_name.empty() ? text(p.driver_name) : tr("%1, on %2").arg(text(p.driver_name), text(p.rail_name));
            rows_.push_back({text(p.actuator),
                             text(p.driver),
                             text(p.rail),
                             text(p.actuator_name),
                             with,
                             text(p.reason),
                             p.verdict,
                             p.actuator == decided->actuator,
                             false,
                             rows_.empty(),
                             {},
                             p.verdict != Verdict::Breaks});
        }
        if (const auto* part = match::partOf(context_, model.parts, decided->actuator)) {
            bool first = true;
            for (const auto& p : match::driversFor(context_, model.parts, *part, 40)) {
                rows_.push_back({text(p.actuator),
                                 text(p.driver),
                                 text(decided->rail),
                                 text(p.driver_name),
                                 tr("for the part chosen"),
                                 text(p.reason),
                                 p.verdict,
                                 p.driver == decided->drive.part,
                                 true,
                                 first,
                                 {},
                                 true});
                first = false;
            }
        }
    }
    setFixedHeight(rows_.empty() ? px(60) : rowTop(count() - 1) + rowHeight());
    idle_.start();
    update();
}

// One loser at a time, between events, so that nothing waits for it.
void CandidateList::workOutNext() {
    for (auto& row : rows_) {
        if (row.worked) continue;
        row.worked = true;
        if (const auto* part = match::partOf(context_, model_->parts, row.actuator.toStdString()))
            row.change = text(match::changeToWin(context_, model_->parts, *part));
        if (!row.change.isEmpty()) update();
        return;
    }
    idle_.stop();
}

int CandidateList::rowAt(int y) const {
    for (int i = 0; i < count(); ++i)
        if (y >= rowTop(i) && y < rowTop(i) + rowHeight()) return i;
    return -1;
}

QPoint CandidateList::rowCentre(int row) const {
    return {width() / 2, rowTop(row) + rowHeight() / 2};
}
QPoint CandidateList::ringOf(int row) const {
    return {width() - px(14), rowTop(row) + px(30)};
}

std::vector<std::pair<std::string, std::string>> CandidateList::compared() const {
    std::vector<std::pair<std::string, std::string>> list;
    for (const auto& [part, driver] : compared_) list.emplace_back(part.toStdString(), driver.toStdString());
    return list;
}

void CandidateList::paintEvent(QPaintEvent* event) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& c = colours();
    const int h = rowHeight();
    if (rows_.empty()) {
        p.setFont(textFont(Text::Small));
        p.setPen(c.soft);
        p.drawText(rect().adjusted(0, px(4), -px(8), 0), Qt::TextWordWrap,
                   tr("No part of the catalogue does this kind of job. Add one under Gadget, Parts."));
        return;
    }
    for (int i = 0; i < count(); ++i) {
        const int top = rowTop(i);
        if (top + h < event->rect().top() || top - px(24) > event->rect().bottom()) continue;
        const auto& row = rows_[static_cast<std::size_t>(i)];
        if (row.first) {
            p.setFont(textFont(Text::Small));
            p.setPen(c.soft);
            p.drawText(QRect(0, top - px(22), width(), px(18)), Qt::AlignVCenter,
                       row.driver ? tr("Drivers for it, best first") : tr("Parts, best first; ring: compare"));
        }
        const QRect box(0, top, width(), h - px(5));
        p.fillRect(box, row.now ? c.card : i == under_ ? c.hingeTint : c.paper);
        const QColor bar = row.now                           ? c.hinge
                           : row.verdict == Verdict::Breaks  ? c.breaks
                           : row.verdict == Verdict::Tight   ? c.tight
                           : row.verdict == Verdict::Unknown ? c.line
                                                             : c.ink;
        p.fillRect(QRect(0, box.top(), px(4), box.height()), bar);
        const QRect inner = box.adjusted(px(12), px(3), -px(26), 0);
        p.setFont(textFont(Text::Figure));
        p.setPen(c.ink);
        p.drawText(QRect(inner.left(), inner.top(), inner.width(), px(18)), Qt::AlignVCenter,
                   p.fontMetrics().elidedText(row.title, Qt::ElideRight, inner.width()));
        p.setFont(textFont(Text::Small));
        p.drawText(QRect(inner.left(), inner.top() + px(17), inner.width(), px(15)), Qt::AlignVCenter,
                   p.fontMetrics().elidedText(row.with, Qt::ElideRight, inner.width()));
        p.setPen(row.verdict == Verdict::Breaks ? c.breaks : row.verdict == Verdict::Tight ? c.tight : c.soft);
        const QRect why(inner.left(), inner.top() + px(33), box.right() - inner.left() - px(4), box.bottom() - inner.top() - px(33));
        QString words = (row.now ? tr("chosen, %1: %2") : tr("%1: %2")).arg(verdictWord(row.verdict), row.reason);
        if (!row.change.isEmpty()) words = tr("%1. It would do %2.").arg(verdictWord(row.verdict), row.change);
        p.drawText(why, Qt::AlignTop | Qt::TextWordWrap, words);
        drawMark(p, QRectF(box).adjusted(0, 0, -1, 0), row.verdict);
        if (!row.driver) {
            const bool on = std::find(compared_.begin(), compared_.end(), std::pair(row.actuator, row.part)) != compared_.end();
            p.setPen(QPen(on ? c.hinge : c.soft, on ? 3 : 1.4));
            p.setBrush(on ? QBrush(c.card) : QBrush(Qt::NoBrush));
            p.drawEllipse(QPointF(ringOf(i)), px(5), px(5));
        }
    }
    paintSpotInHand(p);
}

void CandidateList::mousePressEvent(QMouseEvent* event) {
    const int row = rowAt(static_cast<int>(event->position().y()));
    if (row < 0) return;
    const auto& at = rows_[static_cast<std::size_t>(row)];
    if (!at.driver && (ringOf(row) - event->position().toPoint()).manhattanLength() < px(14)) {
        compare(row);
        return;
    }
    Q_EMIT chosen(at.actuator, at.part, at.rail);
}

void CandidateList::compare(int row) {
    const std::pair pair(rows_[static_cast<std::size_t>(row)].actuator, rows_[static_cast<std::size_t>(row)].part);
    const auto found = std::find(compared_.begin(), compared_.end(), pair);
    if (found != compared_.end()) compared_.erase(found);
    else compared_.push_back(pair);
    if (compared_.size() > 2) compared_.erase(compared_.begin());
    update();
    Q_EMIT comparedChanged();
}

std::vector<Spot> CandidateList::spots() const {
    auto* self = const_cast<CandidateList*>(this);
    std::vector<Spot> all;
    for (int row = 0; row < count(); ++row) {
        const auto& at = rows_[static_cast<std::size_t>(row)];
        const QString what = at.with.isEmpty() ? at.title : at.title + ", " + at.with;
        all.push_back({QRect(0, rowTop(row), width(), rowHeight()), what,
                       verdictWord(at.verdict) + (at.reason.isEmpty() ? QString() : ". " + at.reason), tr("try it"),
                       [self, row] {
                           const auto& now = self->rows_[static_cast<std::size_t>(row)];
                           Q_EMIT self->chosen(now.actuator, now.part, now.rail);
                       },
                       at.now});
        if (at.driver) continue;
        const bool compared = std::find(compared_.begin(), compared_.end(), std::pair(at.actuator, at.part)) != compared_.end();
        all.push_back({QRect(ringOf(row) - QPoint(px(12), px(12)), QSize(px(24), px(24))), tr("Compare %1").arg(what),
                       compared ? tr("compared") : tr("not compared"), tr("compare it"), [self, row] { self->compare(row); }, compared});
    }
    return all;
}

void CandidateList::bringIntoView(const QRect& place) {
    for (auto* up = parentWidget(); up != nullptr; up = up->parentWidget())
        if (auto* scroll = qobject_cast<QScrollArea*>(up)) return scroll->ensureVisible(0, place.center().y(), 0, rowHeight());
}

void CandidateList::mouseMoveEvent(QMouseEvent* event) {
    const int row = rowAt(static_cast<int>(event->position().y()));
    if (row != under_) {
        under_ = row;
        setToolTip(row >= 0 ? rows_[static_cast<std::size_t>(row)].reason : QString());
        update();
    }
}

void CandidateList::leaveEvent(QEvent*) {
    under_ = -1;
    update();
}

}  // namespace hinge::app
