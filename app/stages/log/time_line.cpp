#include "stages/log/time_line.hpp"
#include <QDateTime>
#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainterPath>
#include <QToolTip>
#include <algorithm>
#include <cmath>
#include "pictures/chart.hpp"

namespace hinge::app {
namespace {

using journal::EntryKind;

double secondsOf(const std::string& date) {
    auto when = QDateTime::fromString(text(date), Qt::ISODate);
    when.setTimeSpec(Qt::UTC);  // as written, whatever the zone
    return when.isValid() ? static_cast<double>(when.toSecsSinceEpoch()) : NAN;
}

QColor colourOf(EntryKind kind) {
    const auto& c = colours();
    switch (kind) {
        case EntryKind::Measurement: return c.hinge;
        case EntryKind::Failure: return c.breaks;
        case EntryKind::Cost: return c.spark;
        case EntryKind::Lesson: return c.time;
        default: return c.ink;
    }
}

// Told apart without colour: ring measured, cross failed, square paid, triangle learnt, bar run, dot noted or changed.
void drawKind(QPainter& p, const QPointF& at, double r, EntryKind kind) {
    const QColor colour = colourOf(kind);
    p.setPen(QPen(colour, 2));
    p.setBrush(colour);
    switch (kind) {
        case EntryKind::Measurement:
            p.setBrush(colours().card);
            p.drawEllipse(at, r, r);
            return;
        case EntryKind::Failure:
            p.drawLine(at + QPointF(-r, -r), at + QPointF(r, r));
            p.drawLine(at + QPointF(-r, r), at + QPointF(r, -r));
            return;
        case EntryKind::Cost: p.drawRect(QRectF(at.x() - r + 1, at.y() - r + 1, 2 * r - 2, 2 * r - 2)); return;
        case EntryKind::Lesson: p.drawPolygon(QPolygonF{at + QPointF(0, -r), at + QPointF(r, r - 1), at + QPointF(-r, r - 1)}); return;
        case EntryKind::Run: p.drawLine(at + QPointF(0, -r), at + QPointF(0, r)); return;
        default: p.drawEllipse(at, r - 1.5, r - 1.5);
    }
}

}  // namespace

TimeLine::TimeLine(Document* document, QWidget* parent) : SpotWidget(parent), document_(document) {
    setObjectName("timeLine");
    setAccessibleName(tr("The gadget's life"));
    setFocusPolicy(Qt::TabFocus);
    setMouseTracking(true);
}

QSize TimeLine::sizeHint() const {
    return {px(600), px(34) + px(20) * static_cast<int>(document_->model().project.channels.size() + 2) + px(44)};
}

void TimeLine::present(const QString& channel) {
    channel_ = channel;
    setFixedHeight(sizeHint().height());
    update();
}

// The stretch that is shown, and where its lanes lie.
struct TimeLine::Sheet {
    double first, span;  ///< s
    double left, right, top, lane;
    std::vector<std::pair<std::string, QString>> lanes;  ///< a channel's id and name; the first is all of them
    [[nodiscard]] double x(double t) const { return left + (t - first) / span * (right - left); }
    [[nodiscard]] double middle(std::size_t k) const { return top + lane * (static_cast<double>(k) + 0.5); }
    [[nodiscard]] double floor() const { return top + lane * static_cast<double>(lanes.size() + 1); }
};

std::optional<TimeLine::Sheet> TimeLine::sheet() const {
    const auto& m = document_->model();
    const auto& history = document_->history();
    double first = NAN, last = NAN;
    const auto reach = [&](double t) {
        if (std::isnan(t)) return;
        first = std::isnan(first) ? t : std::min(first, t);
        last = std::isnan(last) ? t : std::max(last, t);
    };
    for (const auto& entry : m.project.journal.entries) reach(secondsOf(entry.date));
    for (std::size_t k = 0; k < history.size(); ++k) reach(secondsOf(history.entry(k).date));
    if (std::isnan(first)) return std::nullopt;
    if (last - first < 86'400.0) first -= 43'200.0, last = std::max(last, first + 86'400.0);
    Sheet s{first,
            (last - first) * 1.04,
            static_cast<double>(px(110)),
            static_cast<double>(width() - px(14)),
            static_cast<double>(px(30)),
            static_cast<double>(px(20)),
            {{"", tr("all")}}};
    for (const auto& channel : m.project.channels) s.lanes.emplace_back(channel.id, text(channel.name));
    return s;
}

void TimeLine::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), colours().card);
    marks_.clear();
    drawLegend(p);
    const auto s = sheet();
    if (!s)
        return say(p, QPointF(px(2), px(44)),
                   tr("Nothing has happened yet: readings, changes and faults that were found come here by themselves."), Text::Body,
                   colours().soft);
    drawDays(p, *s);
    drawLanes(p, *s);
    drawChanges(p, *s);
    drawPaid(p, *s);
    drawEntries(p, *s);
    paintSpotInHand(p);
}

std::vector<Spot> TimeLine::spots() const {
    std::vector<Spot> all;
    for (const auto& mark : marks_)
        all.push_back({mark.box.toRect(), mark.words.section('\n', 0, 0), mark.words.section('\n', 1), tr("show it"),
                       [self = const_cast<TimeLine*>(this), entry = mark.entry] { Q_EMIT self->picked(entry); }, false});
    return all;
}

// What each kind's mark means, at the top.
void TimeLine::drawLegend(QPainter& p) const {
    double x = px(2);
    for (const auto kind :
         {EntryKind::Note, EntryKind::Measurement, EntryKind::Failure, EntryKind::Lesson, EntryKind::Cost, EntryKind::Run}) {
        const QString word = tr(labelOf(kind));
        drawKind(p, {x + px(6), static_cast<double>(px(12))}, px(4), kind);
        say(p, QPointF(x + px(16), px(16)), word, Text::Small, colours().soft);
        x += px(30) + QFontMetrics(textFont(Text::Small)).horizontalAdvance(word);
    }
}

// Days, or weeks, or months, as many as have room.
void TimeLine::drawDays(QPainter& p, const Sheet& s) const {
    const double days = s.span / 86'400.0;
    const double step = days <= 12 ? 1 : days <= 90 ? 7 : days <= 400 ? 30.4375 : days <= 1500 ? 91.3125 : 365.25;
    for (double d = std::ceil(s.first / 86'400.0 / step) * step * 86'400.0; d <= s.first + s.span; d += step * 86'400.0) {
        p.setPen(QPen(colours().line, 1));
        p.drawLine(QPointF(s.x(d), s.top), QPointF(s.x(d), s.floor() + px(26)));
        say(p, QPointF(s.x(d), s.floor() + px(40)),
            QDateTime::fromSecsSinceEpoch(static_cast<qint64>(d), Qt::UTC)
                .toString(days > 1500 ? "yyyy"
                          : days > 90 ? "MMM yyyy"
                                      : "d MMM"),
            Text::Small, colours().soft, Qt::AlignHCenter);
    }
}

void TimeLine::drawLanes(QPainter& p, const Sheet& s) const {
    const auto& c = colours();
    for (std::size_t k = 0; k < s.lanes.size(); ++k) {
        const bool mine = text(s.lanes[k].first) == channel_ && !channel_.isEmpty();
        if (mine) p.fillRect(QRectF(0, s.middle(k) - s.lane / 2, width(), s.lane), c.hingeTint);
        p.setPen(QPen(c.line, 1));
        p.drawLine(QPointF(s.left, s.middle(k)), QPointF(s.right, s.middle(k)));
        say(p, QPointF(s.left - px(10), s.middle(k) + px(4)), s.lanes[k].second, Text::Small, mine ? c.ink : c.soft, Qt::AlignRight);
    }
}

// Changes of the plan: a stroke each, longer where more changed at once.
void TimeLine::drawChanges(QPainter& p, const Sheet& s) const {
    const auto& history = document_->history();
    const double middle = s.middle(s.lanes.size());
    say(p, QPointF(s.left - px(10), middle + px(4)), tr("changes"), Text::Small, colours().soft, Qt::AlignRight);
    p.setPen(QPen(colours().time, 1.5));
    for (std::size_t k = 0; k < history.size(); ++k) {
        const double t = secondsOf(history.entry(k).date);
        if (std::isnan(t)) continue;
        const double half = std::min(s.lane / 2.0 - 1.0, 2.0 + 1.5 * static_cast<double>(history.entry(k).changes.size()));
        p.drawLine(QPointF(s.x(t), middle - half), QPointF(s.x(t), middle + half));
    }
}

// What was written down as paid, added up; the plan's parts stand in Parts and cost.
void TimeLine::drawPaid(QPainter& p, const Sheet& s) const {
    const auto& project = document_->model().project;
    std::vector<std::pair<double, double>> paid;
    for (const auto& entry : project.journal.entries)
        if (entry.cost && !std::isnan(secondsOf(entry.date))) paid.emplace_back(secondsOf(entry.date), si(*entry.cost));
    std::sort(paid.begin(), paid.end());
    double total = 0.0;
    for (const auto& each : paid) total += each.second;
    if (total <= 0.0) return;
    const double ground = s.floor() + px(24);
    QPainterPath stairs(QPointF(s.left, ground));
    double sum = 0.0;
    for (const auto& [t, cost] : paid) {
        stairs.lineTo(s.x(t), ground - sum / total * px(20));
        sum += cost;
        stairs.lineTo(s.x(t), ground - sum / total * px(20));
    }
    stairs.lineTo(s.right, stairs.currentPosition().y());
    p.setPen(QPen(colours().spark, 2));
    p.setBrush(Qt::NoBrush);
    p.drawPath(stairs);
    say(p, QPointF(s.left - px(10), s.floor() + px(18)), text(project.brief.currency) + " " + QString::number(total, 'f', 2), Text::Small,
        colours().spark, Qt::AlignRight);
}

void TimeLine::drawEntries(QPainter& p, const Sheet& s) {
    for (const auto& entry : document_->model().project.journal.entries) {
        const double t = secondsOf(entry.date);
        if (std::isnan(t)) continue;
        const auto at = std::find_if(s.lanes.begin(), s.lanes.end(), [&](const auto& each) { return each.first == entry.channel; });
        const QPointF point(s.x(t), s.middle(at == s.lanes.end() ? 0 : static_cast<std::size_t>(at - s.lanes.begin())));
        drawKind(p, point, px(5), entry.kind);
        marks_.push_back({QRectF(point.x() - px(8), point.y() - px(8), px(16), px(16)), text(entry.id),
                          text(entry.date).replace('T', ' ') + "\n" + text(entry.text)});
    }
}

const TimeLine::Mark* TimeLine::at(const QPointF& point) const {
    for (auto mark = marks_.rbegin(); mark != marks_.rend(); ++mark)
        if (mark->box.contains(point)) return &*mark;
    return nullptr;
}

void TimeLine::mousePressEvent(QMouseEvent* event) {
    if (const auto* mark = at(event->position())) Q_EMIT picked(mark->entry);
}

bool TimeLine::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const auto* mark = at(help->pos());
        QToolTip::showText(help->globalPos(), mark != nullptr ? mark->words : QString(), this);
        return true;
    }
    return QWidget::event(event);
}

}  // namespace hinge::app
