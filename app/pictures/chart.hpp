#pragma once
#include <QPainter>
#include "quantity/text.hpp"
#include "theme/theme.hpp"

namespace hinge::app {

/// Writes one line of words with its baseline box ending at `at.y`; aligned left, right or centred
/// on `at.x`. `halo` paints the ground behind it first, so that it stays legible on a curve.
void say(QPainter& painter, const QPointF& at, const QString& words, Text size, const QColor& colour, Qt::Alignment align = Qt::AlignLeft,
         bool halo = false);

/// Maps numbers to pixels and draws a quiet grid with labelled axes.
struct Axes {
    QRectF box;
    double x0 = 0, x1 = 1, y0 = 0, y1 = 1;
    [[nodiscard]] double x(double v) const { return box.left() + (v - x0) / (x1 - x0) * box.width(); }
    [[nodiscard]] double y(double v) const { return box.bottom() - (v - y0) / (y1 - y0) * box.height(); }
    [[nodiscard]] QPointF at(double vx, double vy) const { return {x(vx), y(vy)}; }
    [[nodiscard]] double valueX(double pixel) const { return x0 + (pixel - box.left()) / box.width() * (x1 - x0); }
    [[nodiscard]] double valueY(double pixel) const { return y0 + (box.bottom() - pixel) / box.height() * (y1 - y0); }
    /// Grid lines and numbers, in the display units of the axes' kinds; titles at the axes' ends.
    void draw(QPainter& painter, Kind xKind, Kind yKind, const QString& xTitle, const QString& yTitle) const;
};

/// A round step that gives about `about` lines over a span.
[[nodiscard]] double roundStep(double span, int about);

}  // namespace hinge::app
