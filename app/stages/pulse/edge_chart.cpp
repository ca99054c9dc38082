#include "stages/pulse/edge_chart.hpp"
#include <QKeyEvent>
#include <QMouseEvent>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>
#include "pictures/chart.hpp"

namespace hinge::app {

EdgeChart::EdgeChart(QWidget* parent) : QWidget(parent) {
    setObjectName("edgeChart");
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(280, 160);
    setAttribute(Qt::WA_OpaquePaintEvent);
}

void EdgeChart::show(const capture::Capture& capture) {
    names_.clear();
    for (const auto& signal : capture.signals) names_.push_back(QString::fromStdString(signal.name));
    lines_ = capture.lines;
    length_ = std::max(1e-9, capture.length);
    mark_.reset();
    setRange(0.0, length_);
}

void EdgeChart::setRange(double from, double to) {
    const double span = std::clamp(to - from, 1e-7, length_ * 1.02);
    from_ = std::clamp(from, -0.01 * length_, std::max(-0.01 * length_, length_ * 1.01 - span));
    to_ = from_ + span;
    update();
}

QRectF EdgeChart::plot() const {
    return QRectF(px(108), px(12), width() - px(122), height() - px(44));
}
double EdgeChart::x(double time) const {
    return plot().left() + (time - from_) / (to_ - from_) * plot().width();
}
double EdgeChart::timeAt(double at) const {
    return from_ + (at - plot().left()) / plot().width() * (to_ - from_);
}
int EdgeChart::rowAt(double y) const {
    if (lines_.empty()) return -1;
    const int row = static_cast<int>((y - plot().top()) / plot().height() * static_cast<double>(lines_.size()));
    return row < 0 || row >= static_cast<int>(lines_.size()) ? -1 : row;
}

std::optional<double> EdgeChart::edgeAt(const QPointF& point) const {
    const int row = rowAt(point.y());
    if (row < 0) return std::nullopt;
    const auto& edges = lines_[static_cast<std::size_t>(row)].edges;
    const double time = timeAt(point.x());
    const auto after = std::lower_bound(edges.begin(), edges.end(), time);
    std::optional<double> best;
    for (auto it = after == edges.begin() ? after : after - 1; it != edges.end() && it <= after; ++it)
        if (!best || std::abs(*it - time) < std::abs(*best - time)) best = *it;
    if (best && std::abs(x(*best) - point.x()) > px(14)) return std::nullopt;
    return best;
}

std::optional<double> EdgeChart::measured() const {
    if (!mark_ || !pointer_) return std::nullopt;
    const auto here = edgeAt(*pointer_);
    if (!here || *here == *mark_) return std::nullopt;
    return *here - *mark_;
}

// One column a pixel: a run of edges closer than that is a filled band.
void EdgeChart::paintLine(QPainter& p, const QRectF& row, const capture::Line& line) const {
    const auto& c = colours();
    const double high = row.top() + row.height() * 0.2, low = row.bottom() - row.height() * 0.2;
    p.setPen(QPen(c.line, 1));
    p.drawLine(QPointF(row.left(), low), QPointF(row.right(), low));
    if (line.first_level < 0) return;
    const auto& edges = line.edges;
    auto at = std::lower_bound(edges.begin(), edges.end(), from_);
    const auto levelAfter = [&](std::size_t count) { return (line.first_level + static_cast<int>(count & 1)) % 2; };
    int level = levelAfter(static_cast<std::size_t>(at - edges.begin()));
    double start = row.left();
    const QPen pen(c.time, 2.0, Qt::SolidLine, Qt::FlatCap);
    p.setPen(pen);
    while (start < row.right()) {
        const double until = at == edges.end() ? row.right() : std::min(row.right(), x(*at));
        const double y = level == 1 ? high : low;
        p.drawLine(QPointF(start, y), QPointF(until, y));
        if (at == edges.end() || x(*at) >= row.right()) break;
        // All edges that fall within this pixel.
        const double pixel_end = timeAt(until + 1.0);
        const auto next = std::lower_bound(at, edges.end(), pixel_end);
        const auto count = next - at;
        if (count <= 1) {
            p.drawLine(QPointF(until, high), QPointF(until, low));
            start = until;
        } else {
            // As far as the pulses stay closer than two pixels.
            auto last = next;
            double right = until + 1.0;
            while (right < row.right()) {
                const auto more = std::lower_bound(last, edges.end(), timeAt(right + 2.0));
                if (more == last) break;
                last = more;
                right += 2.0;
            }
            p.fillRect(QRectF(until, high, right - until, low - high), c.time);
            at = last;
            level = levelAfter(static_cast<std::size_t>(at - edges.begin()));
            start = right;
            continue;
        }
        ++at;
        level = 1 - level;
    }
}

void EdgeChart::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const auto& c = colours();
    p.fillRect(rect(), c.card);
    if (lines_.empty()) return;
    const QRectF box = plot();
    p.setRenderHint(QPainter::Antialiasing);
    const double step = roundStep(to_ - from_, 5);
    const int decimals = std::max(0, static_cast<int>(std::ceil(-std::log10(step) - 1e-9)));
    for (double t = std::ceil(from_ / step) * step; t <= to_; t += step) {
        p.setPen(QPen(c.line, 1));
        p.drawLine(QPointF(x(t), box.top()), QPointF(x(t), box.bottom()));
        say(p, {x(t), box.bottom() + px(18)}, QString::number(std::abs(t) < step / 1000 ? 0.0 : t, 'f', decimals) + " s", Text::Small,
            c.soft, Qt::AlignHCenter);
    }
    p.setRenderHint(QPainter::Antialiasing, false);
    const double row_height = box.height() / static_cast<double>(lines_.size());
    const int hovered = pointer_ ? rowAt(pointer_->y()) : -1;
    for (std::size_t i = 0; i < lines_.size(); ++i) {
        const QRectF row(box.left(), box.top() + row_height * static_cast<double>(i), box.width(), row_height);
        p.setFont(textFont(static_cast<int>(i) == hovered ? Text::Figure : Text::Small));
        p.setPen(c.ink);
        p.drawText(QRectF(px(4), row.top(), box.left() - px(12), row.height()), Qt::AlignVCenter | Qt::AlignRight,
                   p.fontMetrics().elidedText(names_[i], Qt::ElideRight, static_cast<int>(box.left()) - px(14)));
        p.save();
        p.setClipRect(row);
        paintLine(p, row, lines_[i]);
        p.restore();
    }
    p.setRenderHint(QPainter::Antialiasing);
    const auto rowMiddle = [&](int row) { return box.top() + row_height * (row + 0.5); };
    if (mark_) {
        p.setPen(QPen(c.ink, 1.4, Qt::DashLine));
        p.drawLine(QPointF(x(*mark_), box.top()), QPointF(x(*mark_), box.bottom()));
    }
    if (!pointer_ || hovered < 0) return;
    const auto here = edgeAt(*pointer_);
    if (!here) return;
    p.setPen(QPen(c.ink, 1.4));
    p.drawLine(QPointF(x(*here), rowMiddle(hovered) - row_height * 0.45), QPointF(x(*here), rowMiddle(hovered) + row_height * 0.45));
    QString words = QString::fromStdString(display(Kind::Duration, *here, 7));
    if (const auto span = measured()) {
        p.drawLine(QPointF(x(*mark_), rowMiddle(hovered)), QPointF(x(*here), rowMiddle(hovered)));
        words = tr("%1 apart, %2")
                    .arg(QString::fromStdString(display(Kind::Duration, std::abs(*span), 5)),
                         QString::fromStdString(display(Kind::Frequency, 1.0 / std::abs(*span), 4)));
    } else {
        // How long the level lasts that starts here.
        const auto& edges = lines_[static_cast<std::size_t>(hovered)].edges;
        const auto it = std::lower_bound(edges.begin(), edges.end(), *here);
        const bool rises = (lines_[static_cast<std::size_t>(hovered)].first_level + (it - edges.begin())) % 2 == 0;
        if (it != edges.end() && it + 1 != edges.end())
            words +=
                tr(": %1 for %2").arg(rises ? tr("high") : tr("low"), QString::fromStdString(display(Kind::Duration, *(it + 1) - *it, 4)));
    }
    say(p,
        {std::clamp(x(*here), box.left() + px(100), box.right() - px(100)),
         std::max(box.top() + px(14), rowMiddle(hovered) - row_height * 0.5)},
        words, Text::Figure, c.ink, Qt::AlignHCenter, true);
}

void EdgeChart::zoom(double factor, double about) {
    setRange(about - (about - from_) * factor, about + (to_ - about) * factor);
}

void EdgeChart::wheelEvent(QWheelEvent* event) {
    zoom(std::pow(0.8, event->angleDelta().y() / 120.0), timeAt(event->position().x()));
}

void EdgeChart::mousePressEvent(QMouseEvent* event) {
    setFocus();
    pressed_ = event->position();
    pressedFrom_ = from_;
    dragged_ = false;
}

void EdgeChart::mouseMoveEvent(QMouseEvent* event) {
    pointer_ = event->position();
    if (pressed_ && std::abs(event->position().x() - pressed_->x()) > 4) dragged_ = true;
    if (pressed_ && dragged_) {
        const double shift = (pressed_->x() - event->position().x()) / plot().width() * (to_ - from_);
        setRange(pressedFrom_ + shift, pressedFrom_ + shift + to_ - from_);
    }
    update();
}

void EdgeChart::mouseReleaseEvent(QMouseEvent* event) {
    if (pressed_ && !dragged_) mark_ = edgeAt(event->position()), markRow_ = rowAt(event->position().y());
    pressed_.reset();
    update();
}

void EdgeChart::mouseDoubleClickEvent(QMouseEvent*) {
    setRange(0.0, length_);
}

void EdgeChart::leaveEvent(QEvent*) {
    pointer_.reset();
    update();
}

void EdgeChart::keyPressEvent(QKeyEvent* event) {
    const double middle = (from_ + to_) / 2, span = to_ - from_;
    switch (event->key()) {
        case Qt::Key_Plus: return zoom(0.5, middle);
        case Qt::Key_Minus: return zoom(2.0, middle);
        case Qt::Key_Left: return setRange(from_ - span / 4, to_ - span / 4);
        case Qt::Key_Right: return setRange(from_ + span / 4, to_ + span / 4);
        case Qt::Key_Home: return setRange(0.0, length_);
        default: QWidget::keyPressEvent(event);
    }
}

}  // namespace hinge::app
