#include "theme/marks.hpp"
#include <QObject>
#include <QPainterPath>

namespace hinge::app {

QString verdictWord(Verdict verdict) {
    switch (verdict) {
        case Verdict::Holds: return QObject::tr("holds");
        case Verdict::Tight: return QObject::tr("tight");
        case Verdict::Breaks: return QObject::tr("breaks");
        case Verdict::Unknown: return QObject::tr("not known");
    }
    return {};
}

QColor verdictColour(Verdict verdict) {
    const auto& c = colours();
    return verdict == Verdict::Breaks ? c.breaks : verdict == Verdict::Tight ? c.tight : verdict == Verdict::Holds ? c.hinge : c.soft;
}

void drawMark(QPainter& painter, const QRectF& box, Verdict verdict) {
    const auto& c = colours();
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const double s = px(12);
    const QPointF corner = box.topRight();
    if (verdict == Verdict::Tight) {
        painter.setPen(QPen(c.tight, 2));
        painter.drawLine(corner + QPointF(-s, 1), corner + QPointF(-1, s));
        painter.drawLine(corner + QPointF(-s, 1), corner + QPointF(-1, 1));
        painter.drawLine(corner + QPointF(-1, 1), corner + QPointF(-1, s));
    } else if (verdict == Verdict::Breaks) {
        QPainterPath path;
        path.moveTo(corner + QPointF(-s, 0));
        path.lineTo(corner);
        path.lineTo(corner + QPointF(0, s));
        path.lineTo(corner + QPointF(-s / 2, s * 0.6));
        path.lineTo(corner + QPointF(-s, s));
        path.closeSubpath();
        painter.fillPath(path, c.breaks);
    } else if (verdict == Verdict::Unknown) {
        painter.setPen(QPen(c.soft, 1, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(corner + QPointF(-s - 1, 2), QSizeF(s - 1, s - 3)));
    }
    painter.restore();
}

void drawHeadroom(QPainter& painter, const QRectF& box, std::optional<double> share, Verdict verdict, const QColor& colour, bool onStrip) {
    const auto& c = colours();
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const double h = box.height();
    if (!share) {
        if (verdict == Verdict::Unknown) {
            painter.setPen(QPen(onStrip ? c.stripSoft : c.soft, 1, Qt::DashLine));
            painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), h / 2, h / 2);
        }
        painter.restore();
        return;
    }
    const double limit = box.left() + box.width() * 0.82;  // where the tick stands
    painter.setPen(Qt::NoPen);
    painter.setBrush(onStrip ? c.stripTrack : c.line);
    painter.drawRoundedRect(box, h / 2, h / 2);
    const double end = box.left() + std::max(h, std::min(1.0, *share) * (limit - box.left()));
    painter.setBrush(colour);
    painter.drawRoundedRect(QRectF(box.topLeft(), QPointF(end - (*share > 1.0 ? 3 : 0), box.bottom())), h / 2, h / 2);
    if (*share > 1.0) {
        const double over = std::min(box.right(), limit + 3 + (*share - 1.0) * (limit - box.left()));
        painter.setBrush(onStrip ? c.stripBreaks : c.breaks);
        painter.drawRect(QRectF(QPointF(limit + 3, box.top()), QPointF(std::max(over, limit + 8), box.bottom())));
    } else if (verdict == Verdict::Tight) {
        painter.setPen(QPen(onStrip ? c.strip : c.card, 1.4));
        const double from = end - (end - box.left()) * 0.2;
        for (double x = from; x < end - 2; x += 4) painter.drawLine(QPointF(x, box.bottom()), QPointF(x + 3, box.top()));
    }
    painter.setPen(QPen(onStrip ? c.stripInk : c.ink, 2));
    painter.drawLine(QPointF(limit, box.top() - h * 0.5), QPointF(limit, box.bottom() + h * 0.5));
    painter.restore();
}

Verdict verdictOfShare(std::optional<double> share) {
    if (!share) return Verdict::Unknown;
    return *share > 1.0 ? Verdict::Breaks : *share > 0.8 ? Verdict::Tight : Verdict::Holds;
}

}  // namespace hinge::app
