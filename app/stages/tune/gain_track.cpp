#include "stages/tune/gain_track.hpp"
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include "theme/theme.hpp"

namespace hinge::app {
namespace {
constexpr double edge = 6.0;  ///< px kept free at both ends for the handle
}

GainTrack::GainTrack(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(px(20));
}

QSize GainTrack::sizeHint() const {
    return {px(90), px(20)};
}

void GainTrack::setMost(double most) {
    most_ = std::max(1e-12, most);
    update();
}

void GainTrack::setValue(double value) {
    value_ = value;
    update();
}

void GainTrack::setHolds(double from, double to) {
    from_ = from;
    to_ = to;
    update();
}

double GainTrack::shareOf(double value) const {
    return std::clamp(std::cbrt(std::max(0.0, value) / most_), 0.0, 1.0);
}

void GainTrack::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& c = colours();
    const double middle = height() / 2.0, wide = width() - 2.0 * edge;
    const auto at = [&](double value) { return edge + wide * shareOf(value); };
    p.setPen(Qt::NoPen);
    p.setBrush(c.line);
    p.drawRoundedRect(QRectF(edge, middle - px(2), wide, px(4)), 2, 2);
    if (from_ <= to_) {
        p.setBrush(c.timeTint);
        p.drawRect(QRectF(at(from_), middle - px(4), std::max(2.0, at(to_) - at(from_)), px(8)));
    }
    p.setBrush(hasFocus() ? c.time : c.ink);
    p.drawRect(QRectF(at(value_) - px(3), middle - px(8), px(6), px(16)));
}

void GainTrack::take(double pixel) {
    value_ = valueAt(std::clamp((pixel - edge) / std::max(1.0, width() - 2.0 * edge), 0.0, 1.0));
    update();
    Q_EMIT moved(value_);
}

void GainTrack::mousePressEvent(QMouseEvent* event) {
    take(event->position().x());
}
void GainTrack::mouseMoveEvent(QMouseEvent* event) {
    if ((event->buttons() & Qt::LeftButton) != 0) take(event->position().x());
}

void GainTrack::keyPressEvent(QKeyEvent* event) {
    const double step = event->modifiers().testFlag(Qt::ShiftModifier) ? 0.05 : 0.01;
    const int way = event->key() == Qt::Key_Right || event->key() == Qt::Key_Up    ? 1
                    : event->key() == Qt::Key_Left || event->key() == Qt::Key_Down ? -1
                                                                                   : 0;
    if (way == 0) return QWidget::keyPressEvent(event);
    const double next = valueAt(std::clamp(shareOf(value_) + way * step, 0.0, 1.0));
    value_ = std::clamp(std::abs(next - value_) < grain_ ? value_ + way * grain_ : next, 0.0, most_);
    update();
    Q_EMIT moved(value_);
}

}  // namespace hinge::app
