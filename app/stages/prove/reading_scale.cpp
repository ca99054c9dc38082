#include "stages/prove/reading_scale.hpp"
#include <QPainter>
#include <algorithm>
#include <cmath>
#include "pictures/chart.hpp"
#include "shell/document.hpp"

namespace hinge::app {

ReadingScale::ReadingScale(QWidget* parent) : QWidget(parent) {
    setObjectName("readingScale");
    setMinimumHeight(120);
}

void ReadingScale::present(const proof::Step& step) {
    step_ = step;
    update();
}

void ReadingScale::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& c = colours();
    p.fillRect(rect(), c.card);
    if (!step_.least || !step_.most) {
        p.setFont(textFont(Text::Body));
        p.setPen(c.soft);
        p.drawText(
            rect(), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
            tr("The plan does not know yet what to expect here: settle Need, Match and Feed first. A reading is kept all the same."));
        return;
    }
    const auto reading = proof::readingOf(step_);
    const auto window = proof::scaleOf(step_, reading);
    const double left = px(20), right = width() - px(40), y = height() * 0.48;
    const auto x = [&](double v) { return left + (v - window.low) / (window.high - window.low) * (right - left); };
    const QRectF band(QPointF(x(*step_.least), y - px(38)), QPointF(x(*step_.most), y + px(38)));
    p.setPen(Qt::NoPen);
    p.setBrush(c.hingeTint);
    p.drawRect(band);
    p.setPen(QPen(c.ink, 2));
    p.drawLine(QPointF(left, y + px(38)), QPointF(right, y + px(38)));
    const auto unit = displayUnit(step_.kind, window.high);
    const double step = roundStep((window.high - window.low) / unit.factor, 7) * unit.factor;
    for (double v = std::ceil((window.low - unit.offset) / step) * step + unit.offset; v <= window.high + step * 1e-6; v += step) {
        p.setPen(QPen(c.ink, 1));
        p.drawLine(QPointF(x(v), y + px(38)), QPointF(x(v), y + px(44)));
        const double shown = (v - unit.offset) / unit.factor;
        say(p, {x(v), y + px(60)}, QString::number(std::abs(shown) < 1e-9 ? 0.0 : shown, 'g', 4), Text::Small, c.ink, Qt::AlignHCenter);
    }
    say(p, {right + px(8), y + px(60)}, text(unit.name), Text::Small, c.soft);
    for (const double limit : {*step_.least, *step_.most}) {
        p.setPen(QPen(c.hinge, 2));
        p.drawLine(QPointF(x(limit), y - px(38)), QPointF(x(limit), y + px(38)));
    }
    if (step_.expected) {
        p.setPen(QPen(c.hinge, 1, Qt::DashLine));
        p.drawLine(QPointF(x(*step_.expected), y - px(38)), QPointF(x(*step_.expected), y + px(38)));
        const auto words = tr("expected %1").arg(text(display(step_.kind, *step_.expected)));
        const double half = QFontMetricsF(textFont(Text::Figure)).horizontalAdvance(words) / 2.0;
        say(p, {std::max(x(*step_.expected), half), y - px(42)}, words, Text::Figure, c.hinge, Qt::AlignHCenter);
    }
    if (reading) {
        const QColor colour = step_.verdict == Verdict::Breaks ? c.breaks : c.ink;
        p.setPen(Qt::NoPen);
        p.setBrush(colour);
        p.drawPolygon(QPolygonF{{x(*reading), y + px(36)}, {x(*reading) - px(7), y - px(4)}, {x(*reading) + px(7), y - px(4)}});
        say(p, {x(*reading), y - px(4)}, text(display(step_.kind, *reading)), Text::Figure, colour, Qt::AlignHCenter, true);
    }
}

}  // namespace hinge::app
