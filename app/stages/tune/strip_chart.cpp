#include "stages/tune/strip_chart.hpp"
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace hinge::app {

StripChart::StripChart(QWidget* parent) : QWidget(parent) {
    setObjectName("stripChart");
    setMouseTracking(true);
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMinimumSize(280, 180);
    setToolTip(tr("Wheel: more or less time. Drag: move. Right press: measure from there. Double click: follow again."));
}

void StripChart::show(const capture::Recording* recording, std::vector<StripLane> lanes) {
    recording_ = recording;
    lanes_ = std::move(lanes);
    update();
}

void StripChart::setRange(double span, std::optional<double> end) {
    span_ = std::clamp(span, 0.05, 86'400.0 * 7.0);
    end_ = end;
    update();
}

double StripChart::newest() const {
    return recording_ == nullptr || recording_->empty() ? 0.0 : recording_->time(recording_->size() - 1);
}

void StripChart::wheelEvent(QWheelEvent* event) {
    const double factor = std::pow(0.8, event->angleDelta().y() / 120.0), end = end_.value_or(std::max(span_, newest()));
    // What is under the mouse stays there; while it follows, the newest does.
    if (!end_ || axes_.empty()) return setRange(span_ * factor);
    const double at = axes_.front().valueX(event->position().x());
    const double span = std::clamp(span_ * factor, 0.05, 86'400.0 * 7.0);
    setRange(span, at + (end - at) * span / span_);
}

void StripChart::mousePressEvent(QMouseEvent* event) {
    pressed_ = event->position();
    pressedEnd_ = end_.value_or(std::max(span_, newest()));
    update();
}

void StripChart::mouseMoveEvent(QMouseEvent* event) {
    pointer_ = event->position();
    if ((event->buttons() & Qt::LeftButton) != 0 && pressed_ && !axes_.empty() && axes_.front().box.width() > 0.0) {
        const double moved = (event->position().x() - pressed_->x()) / axes_.front().box.width() * span_;
        end_ = std::max(0.0, pressedEnd_ - moved);
        if (*end_ >= newest() + span_ * 0.02) end_.reset();
    }
    update();
}

void StripChart::mouseDoubleClickEvent(QMouseEvent*) {
    end_.reset();
    pressed_.reset();
    update();
}

void StripChart::leaveEvent(QEvent*) {
    pointer_.reset();
    update();
}

QString StripChart::measured() const {
    if (!pressed_ || !pointer_ || axes_.empty()) return {};
    QString words = tr("%1 s").arg(std::abs(axes_.front().valueX(pointer_->x()) - axes_.front().valueX(pressed_->x())), 0, 'g', 3);
    for (std::size_t k = 0; k < axes_.size(); ++k)
        if (axes_[k].box.contains(*pressed_) && axes_[k].box.contains(*pointer_))
            words += tr(", %1 %2").arg(axes_[k].valueY(pointer_->y()) - axes_[k].valueY(pressed_->y()), 0, 'g', 3).arg(lanes_[k].unit);
    return words;
}

void StripChart::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& c = colours();
    p.fillRect(rect(), c.card);
    if (recording_ == nullptr || recording_->empty() || lanes_.empty()) {
        p.setFont(textFont(Text::Body));
        p.setPen(c.soft);
        p.drawText(QRectF(rect()).adjusted(px(40), 0, -px(40), 0), Qt::AlignCenter | Qt::TextWordWrap, waiting_);
        return;
    }
    const double end = end_.value_or(std::max(span_, newest())), begin = end - span_;
    const QRectF whole = QRectF(rect()).adjusted(px(52), px(24), -px(14), -px(36));
    const double gap = px(30),
                 height = (whole.height() - gap * static_cast<double>(lanes_.size() - 1)) / static_cast<double>(lanes_.size());
    axes_.clear();
    for (std::size_t k = 0; k < lanes_.size(); ++k) {
        const auto& lane = lanes_[k];
        Axes axes{QRectF(whole.left(), whole.top() + (height + gap) * static_cast<double>(k), whole.width(), height), begin, end, 0.0, 1.0};
        const auto columns = lane.signal < recording_->signals()
                                 ? recording_->columns(lane.signal, begin, end, static_cast<int>(axes.box.width()))
                                 : std::vector<capture::Recording::Column>{};
        const auto shown = [&lane](float value) { return lane.zero + lane.factor * static_cast<double>(value); };
        double low = 1e300, high = -1e300;
        for (const auto& column : columns)
            low = std::min({low, shown(column.least), shown(column.greatest)}),
            high = std::max({high, shown(column.least), shown(column.greatest)});
        if (low > high) low = 0.0, high = 1.0;
        if (lane.fromZero) low = std::min(low, 0.0), high = std::max(high, 0.0);
        if (high - low < 1e-9) high = low + 1.0;
        axes.y0 = low - (lane.fromZero && low >= 0.0 ? 0.0 : 0.08 * (high - low));
        axes.y1 = high + 0.08 * (high - low);
        const double step = roundStep(axes.y1 - axes.y0, std::max(1, static_cast<int>(height / px(44))));
        for (double y = std::ceil(axes.y0 / step - 1e-9) * step; y <= axes.y1; y += step) {
            p.setPen(QPen(c.line, 1));
            p.drawLine(QPointF(axes.box.left(), axes.y(y)), QPointF(axes.box.right(), axes.y(y)));
            say(p, {axes.box.left() - px(7), axes.y(y) + px(6)}, QString::number(std::abs(y) < 1e-9 ? 0.0 : y, 'g', 4), Text::Small, c.ink,
                Qt::AlignRight);
        }
        QPolygonF line;
        for (const auto& column : columns) {
            const double x = axes.box.left() + column.column + 0.5;
            line << QPointF(x, axes.y(shown(column.least)));
            if (column.least != column.greatest) line << QPointF(x, axes.y(shown(column.greatest)));
        }
        p.setPen(QPen(lane.colour, 1.8));
        p.setBrush(Qt::NoBrush);
        p.drawPolyline(line);
        say(p, {axes.box.left(), axes.box.top() - px(4)}, lane.title + (lane.unit.isEmpty() ? QString() : ", " + lane.unit), Text::Small,
            c.soft);
        if (!end_)
            say(p, {axes.box.right(), axes.box.top() - px(4)},
                tr("now %1 %2").arg(shown(recording_->value(lane.signal, recording_->size() - 1)), 0, 'g', 3).arg(lane.unit), Text::Figure,
                lane.colour, Qt::AlignRight);
        axes_.push_back(axes);
    }
    const double step = roundStep(span_, std::max(2, static_cast<int>(whole.width() / px(90))));
    for (double t = std::ceil(begin / step - 1e-9) * step; t <= end; t += step)
        if (t >= -1e-9)
            say(p, {axes_.front().x(t), whole.bottom() + px(16)},
                span_ > 600.0 ? tr("%1 min").arg(t / 60.0, 0, 'g', 5) : QString::number(std::abs(t) < 1e-9 ? 0.0 : t, 'g', 6) + " s",
                Text::Small, c.ink, Qt::AlignHCenter);
    say(p, {whole.right(), whole.bottom() + px(31)},
        end_ ? tr("board's time; it stands still here: double click to follow again")
             : tr("board's time, %1 samples").arg(recording_->size()),
        Text::Small, c.soft, Qt::AlignRight);
    if (pointer_) {
        p.setPen(QPen(c.soft, 1, Qt::DotLine));
        p.drawLine(QPointF(pointer_->x(), whole.top()), QPointF(pointer_->x(), whole.bottom()));
        if (pressed_ && (*pointer_ - *pressed_).manhattanLength() > 4) {
            p.drawLine(QPointF(pressed_->x(), whole.top()), QPointF(pressed_->x(), whole.bottom()));
            say(p, *pointer_ + QPointF(px(8), -px(6)), measured(), Text::Figure, c.ink, Qt::AlignLeft, true);
        }
    }
}

}  // namespace hinge::app
