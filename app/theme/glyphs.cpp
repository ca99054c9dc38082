#include "theme/glyphs.hpp"
#include <QFile>
#include <QSvgRenderer>
#include "theme/theme.hpp"

namespace hinge::app {

void drawGlyph(QPainter& painter, const QRectF& box, const QString& name) {
    QFile file(":/glyphs/" + name + ".svg");
    if (!file.open(QIODevice::ReadOnly)) return;
    QByteArray svg = file.readAll();
    svg.replace(lightPalette().ink.name().toLatin1(), colours().ink.name().toLatin1());
    QSvgRenderer(svg).render(&painter, box);
}

}  // namespace hinge::app
