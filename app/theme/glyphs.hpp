#pragma once
#include <QPainter>
#include <QString>

namespace hinge::app {

/// Draws one of our own glyphs (resources/glyphs/NAME.svg) in the theme's ink.
void drawGlyph(QPainter& painter, const QRectF& box, const QString& name);

}  // namespace hinge::app
