#include "pictures/chart.hpp"
#include <algorithm>
#include <cmath>

namespace hinge::app {

void say(QPainter& p, const QPointF& at, const QString& words, Text size, const QColor& colour, Qt::Alignment align, bool halo) {
    p.setFont(textFont(size));
    const double w = p.fontMetrics().horizontalAdvance(words) + 2;
    const double h = p.fontMetrics().height();
    const double x = align & Qt::AlignRight ? at.x() - w : align & Qt::AlignHCenter ? at.x() - w / 2 : at.x();
    const QRectF box(x, at.y() - h, w, h * 1.2);
    if (halo) {
        QColor ground = colours().card;
        ground.setAlphaF(0.86F);
        p.setPen(Qt::NoPen);
        p.setBrush(ground);
        p.drawRoundedRect(box.adjusted(-px(3), 0, px(3), 0), 3, 3);
    }
    p.setPen(colour);
    p.drawText(box, Qt::AlignVCenter, words);
}

double roundStep(double span, int about) {
    const double raw = span / std::max(1, about);
    const double power = std::pow(10.0, std::floor(std::log10(raw)));
    for (const double m : {1.0, 2.0, 5.0})
        if (raw <= m * power) return m * power;
    return 10.0 * power;
}

void Axes::draw(QPainter& p, Kind xKind, Kind yKind, const QString& xTitle, const QString& yTitle) const {
    const auto& c = colours();
    const auto xUnit = displayUnit(xKind, x1), yUnit = displayUnit(yKind, y1);
    const auto xStep = roundStep((x1 - x0) / xUnit.factor, static_cast<int>(box.width() / px(90))) * xUnit.factor;
    const auto yStep = roundStep((y1 - y0) / yUnit.factor, static_cast<int>(box.height() / px(55))) * yUnit.factor;
    const auto number = [](double v, double factor) { return QString::number(std::abs(v) < 1e-12 ? 0.0 : v / factor, 'g', 4); };
    for (double v = std::ceil(x0 / xStep - 1e-9) * xStep; v <= x1 * (1 + 1e-9); v += xStep) {
        p.setPen(QPen(c.line, 1));
        p.drawLine(QPointF(x(v), box.top()), QPointF(x(v), box.bottom()));
        say(p, QPointF(x(v), box.bottom() + px(16)), number(v, xUnit.factor), Text::Small, c.ink, Qt::AlignHCenter);
    }
    for (double v = std::ceil(y0 / yStep - 1e-9) * yStep; v <= y1 * (1 + 1e-9); v += yStep) {
        p.setPen(QPen(c.line, 1));
        p.drawLine(QPointF(box.left(), y(v)), QPointF(box.right(), y(v)));
        say(p, QPointF(box.left() - px(7), y(v) + px(6)), number(v, yUnit.factor), Text::Small, c.ink, Qt::AlignRight);
    }
    const auto titled = [](const QString& title, const std::string& unit) {
        return unit.empty() ? title : title + ", " + QString::fromStdString(unit);
    };
    say(p, QPointF(box.right(), box.bottom() + px(31)), titled(xTitle, xUnit.name), Text::Small, c.soft, Qt::AlignRight);
    say(p, QPointF(box.left() - px(36), box.top() - px(6)), titled(yTitle, yUnit.name), Text::Small, c.soft);
}

}  // namespace hinge::app
