#include "stages/tune/response_picture.hpp"
#include <QMouseEvent>
#include <algorithm>
#include <cmath>

namespace hinge::app {
namespace {

// At most two points a pixel column.
QPolygonF thinned(const Axes& axes, const std::vector<QPointF>& points) {
    QPolygonF line;
    int column = -1;
    double first = 0, low = 0, high = 0, last = 0;
    const auto put = [&] {
        if (column < 0) return;
        line << QPointF(column, first);
        if (low < first || high > first) line << QPointF(column, low) << QPointF(column, high);
        line << QPointF(column, last);
    };
    for (const auto& point : points) {
        if (point.x() < axes.x0 - 0.05 * (axes.x1 - axes.x0) || point.x() > axes.x1) continue;
        const double y = axes.y(point.y());
        const int here = static_cast<int>(axes.x(point.x()));
        if (here != column) {
            put();
            column = here;
            first = low = high = y;
        }
        low = std::min(low, y);
        high = std::max(high, y);
        last = y;
    }
    put();
    return line;
}

}  // namespace

void ResponsePicture::display(ResponseView view) {
    view_ = std::move(view);
    update();
}

void ResponsePicture::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    pressed_ = QPointF(upper_.valueX(event->position().x()), upper_.valueY(event->position().y()));
    released_.reset();
    update();
}

void ResponsePicture::mouseMoveEvent(QMouseEvent* event) {
    if ((event->buttons() & Qt::LeftButton) != 0 && pressed_)
        released_ = QPointF(upper_.valueX(event->position().x()), upper_.valueY(event->position().y()));
    Picture::mouseMoveEvent(event);
}

QString ResponsePicture::measured() const {
    if (!pressed_ || !released_) return {};
    return tr("%1 s, %2 %3")
        .arg(std::abs(released_->x() - pressed_->x()), 0, 'g', 3)
        .arg(released_->y() - pressed_->y(), 0, 'g', 3)
        .arg(view_.unit);
}

void ResponsePicture::draw(QPainter& p, const QRectF& box) {
    const auto& v = view_;
    if (v.curves.empty()) return waits(p, box, tr("Here comes the response: what was asked for, and what it did."));
    setAxes(box);
    drawGround(p);
    drawCurves(p);
    drawWords(p);
    drawPointer(p);
}

void ResponsePicture::setAxes(const QRectF& box) {
    const auto& v = view_;
    const QRectF whole = box.adjusted(px(52), px(26), -px(16), -px(34));
    const double gap = px(46), share = 0.66;
    // Room for what belongs to the story: the step, and swings up to as much again.
    double low = std::min(v.before, v.wanted), high = std::max(v.before, v.wanted);
    const double step = std::max(high - low, v.band * 2.0);
    for (const auto& curve : v.curves) {
        const double most = curve.role == ResponseCurve::Role::Earlier ? (v.rolls ? 0.0 : 0.5 * step) : step;
        for (const auto& point : curve.reading)
            low = std::min(low, std::max(point.y(), std::min(v.before, v.wanted) - (v.rolls ? most : 0.3 * most))),
            high = std::max(high, std::min(point.y(), std::max(v.before, v.wanted) + most));
    }
    high += 0.12 * step, low -= (low < std::min(v.before, v.wanted) ? 0.05 : 0.02) * step;
    double lowest = 0.0;
    for (const auto& curve : v.curves)
        for (const auto& point : curve.drive) lowest = std::min(lowest, point.y());
    upper_ = {QRectF(whole.left(), whole.top(), whole.width(), (whole.height() - gap) * share), v.from, v.to, low, high};
    lower_ = {QRectF(whole.left(), upper_.box.bottom() + gap, whole.width(), whole.bottom() - upper_.box.bottom() - gap), v.from, v.to,
              lowest < 0.0 ? -1.05 : 0.0, 1.05};
}

void ResponsePicture::drawGrid(QPainter& p, const Axes& axes, double factor, const QString& unit, bool times) {
    const auto& c = colours();
    const double y_step = roundStep((axes.y1 - axes.y0) * factor, static_cast<int>(axes.box.height() / px(52))) / factor;
    for (double y = std::ceil(axes.y0 / y_step - 1e-9) * y_step; y <= axes.y1; y += y_step) {
        p.setPen(QPen(c.line, 1));
        p.drawLine(QPointF(axes.box.left(), axes.y(y)), QPointF(axes.box.right(), axes.y(y)));
        say(p, {axes.box.left() - px(7), axes.y(y) + px(6)}, QString::number(std::abs(y) < 1e-9 ? 0.0 : y * factor, 'g', 4) + unit,
            Text::Small, c.ink, Qt::AlignRight);
    }
    const double x_step = roundStep(axes.x1 - axes.x0, static_cast<int>(axes.box.width() / px(80)));
    if (times)
        for (double x = std::ceil(axes.x0 / x_step - 1e-9) * x_step; x <= axes.x1 + 1e-9; x += x_step)
            say(p, {axes.x(x), axes.box.bottom() + px(17)}, QString::number(std::abs(x) < 1e-9 ? 0.0 : x, 'g', 4) + " s", Text::Small,
                c.ink, Qt::AlignHCenter);
}

// The band of the target, from the step on, and the two grids.
void ResponsePicture::drawGround(QPainter& p) {
    const auto& c = colours();
    const auto& v = view_;
    p.setPen(Qt::NoPen);
    p.setBrush(c.hingeTint);
    const double begins = v.rolls ? v.from : 0.0;
    p.drawRect(QRectF(QPointF(upper_.x(begins), upper_.y(v.wanted + v.band)), QPointF(upper_.box.right(), upper_.y(v.wanted - v.band)))
                   .normalized());
    drawGrid(p, upper_, 1.0, "", false);
    drawGrid(p, lower_, 100.0, " %", true);
    say(p, {upper_.box.left() - px(7), upper_.box.top() - px(4)}, v.rolls ? tr("lean, %1").arg(v.unit) : v.unit, Text::Small, c.hinge,
        Qt::AlignRight);
    say(p, {lower_.box.right(), lower_.box.top() - px(5)}, v.driveTitle, Text::Small, c.spark, Qt::AlignRight);
}

void ResponsePicture::drawCurves(QPainter& p) {
    const auto& c = colours();
    const auto& v = view_;
    p.save();
    p.setClipRect(upper_.box.adjusted(0, -px(6), 0, px(6)));
    p.setBrush(Qt::NoBrush);
    // What was asked for.
    p.setPen(QPen(c.ink, 1.4, Qt::DashLine));
    if (v.rolls) p.drawLine(upper_.at(v.from, v.wanted), upper_.at(v.to, v.wanted));
    else
        p.drawPolyline(
            QPolygonF{upper_.at(v.from, v.before), upper_.at(0.0, v.before), upper_.at(0.0, v.wanted), upper_.at(v.to, v.wanted)});
    for (const auto& curve : v.curves) {
        if (curve.role == ResponseCurve::Role::Earlier) {
            QColor grey = c.soft;
            grey.setAlphaF(0.45F);
            p.setPen(QPen(grey, 1.2));
            p.drawPolyline(thinned(upper_, curve.reading));
        } else if (curve.role == ResponseCurve::Role::Model) {
            p.setPen(QPen(c.hinge, 1.2, Qt::DotLine));
            p.drawPolyline(thinned(upper_, curve.reading));
        } else {
            p.setPen(QPen(c.hinge, v.rolls ? 1.3 : 2.2));
            p.drawPolyline(thinned(upper_, curve.reading));
        }
    }
    p.restore();
    p.save();
    p.setClipRect(lower_.box.adjusted(0, -2, 0, 2));
    for (const auto& curve : v.curves) {
        if (curve.role == ResponseCurve::Role::Earlier) continue;
        p.setPen(QPen(c.spark, curve.role == ResponseCurve::Role::Now ? 1.8 : 1.0,
                      curve.role == ResponseCurve::Role::Now ? Qt::SolidLine : Qt::DotLine));
        p.drawPolyline(thinned(lower_, curve.drive));
    }
    p.restore();
}

// An earlier one is named where it is farthest from the target, on its own line; the peak, and when it has settled.
void ResponsePicture::drawWords(QPainter& p) {
    const auto& c = colours();
    const auto& v = view_;
    double taken = -1e9;
    for (const auto& curve : v.curves) {
        if (curve.role != ResponseCurve::Role::Earlier || curve.reading.empty()) continue;
        QPointF far = curve.reading.back();
        for (const auto& point : curve.reading)
            if (point.x() > 0.15 * v.to && point.x() < 0.7 * v.to && point.y() < upper_.y1 &&
                std::abs(point.y() - v.wanted) > std::abs(far.y() - v.wanted))
                far = point;
        const QPointF at(std::min(upper_.x(far.x()) + px(8), upper_.box.right() - px(190)),
                         std::clamp(upper_.y(far.y()) + px(14), upper_.box.top() + px(14), upper_.box.bottom() - px(4)));
        if (std::abs(at.y() - taken) < px(16)) continue;
        taken = at.y();
        say(p, at, curve.name + ": " + curve.note, Text::Small, c.soft, Qt::AlignLeft, true);
    }
    for (const auto& curve : v.curves)
        if (curve.role == ResponseCurve::Role::Model && !curve.reading.empty() && !v.rolls) {
            const auto point = curve.reading[curve.reading.size() * 2 / 3];
            say(p, {upper_.x(point.x()), upper_.y(v.wanted - v.band) + px(18)}, tr("dotted: the model"), Text::Small, c.hinge,
                Qt::AlignHCenter, true);
        }
    if (v.peak && !v.rolls) {
        const QPointF top = upper_.at(v.peak->x(), v.peak->y());
        p.setPen(QPen(c.ink, 1));
        p.drawLine(top, top + QPointF(px(34), -px(16)));
        say(p, top + QPointF(px(38), -px(12)), v.peakWords, Text::Small, c.ink, Qt::AlignLeft, true);
    }
    if (v.settled && !v.rolls) {
        const double y = upper_.box.bottom() + px(12);
        p.setPen(QPen(c.time, 1.6));
        p.drawLine(QPointF(upper_.x(0.0), y), QPointF(upper_.x(*v.settled), y));
        for (const double x : {upper_.x(0.0), upper_.x(*v.settled)}) p.drawLine(QPointF(x, y - px(4)), QPointF(x, y + px(4)));
        say(p, {upper_.x(*v.settled) + px(8), y + px(6)}, tr("settles in %1 s").arg(*v.settled, 0, 'g', 2), Text::Small, c.time);
    }
}

// The mouse reads off, and measures from where it was pressed.
void ResponsePicture::drawPointer(QPainter& p) {
    const auto& c = colours();
    const auto& v = view_;
    if (pressed_ && released_) {
        const QPointF a = upper_.at(pressed_->x(), pressed_->y()), b = upper_.at(released_->x(), released_->y());
        p.setPen(QPen(c.ink, 1, Qt::DotLine));
        p.drawRect(QRectF(a, b).normalized());
        say(p, b + QPointF(px(8), -px(4)), measured(), Text::Figure, c.ink, Qt::AlignLeft, true);
    } else if (pointer_ && upper_.box.contains(*pointer_)) {
        const double t = upper_.valueX(pointer_->x());
        for (const auto& curve : v.curves) {
            if (curve.role != ResponseCurve::Role::Now || curve.reading.empty()) continue;
            const auto near = std::lower_bound(curve.reading.begin(), curve.reading.end(), t,
                                               [](const QPointF& point, double time) { return point.x() < time; });
            if (near == curve.reading.end()) continue;
            const QPointF at = upper_.at(near->x(), near->y());
            p.setPen(QPen(c.ink, 1));
            p.setBrush(c.card);
            p.drawEllipse(at, px(3), px(3));
            say(p, at + QPointF(px(8), -px(8)), tr("%1 s: %2 %3").arg(near->x(), 0, 'f', 2).arg(near->y(), 0, 'g', 3).arg(v.unit),
                Text::Figure, c.ink, Qt::AlignLeft, true);
        }
    }
}

}  // namespace hinge::app
