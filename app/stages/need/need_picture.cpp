#include "stages/need/need_picture.hpp"
#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace hinge::app {

NeedPicture::NeedPicture(Document* document, QWidget* parent) : HeadFlowPicture(document, false, parent) {
    clock_.setInterval(50);
    connect(&clock_, &QTimer::timeout, this, [this] {
        phase_ = (phase_ + 4) % 100;
        update();
    });
}

void NeedPicture::showEvent(QShowEvent*) { clock_.start(); }
void NeedPicture::hideEvent(QHideEvent*) { clock_.stop(); }

void NeedPicture::draw(QPainter& p, const QRectF& box) {
    if (channel() == nullptr || planned() == nullptr) return;
    const double split = box.left() + box.width() * 0.38;
    mechanism(p, QRectF(box.left() + px(20), box.top() + px(14), split - box.left() - px(30), box.height() - px(28)));
    curves(p, QRectF(split, box.top(), box.right() - split, box.height()));
}

// Tank, pump and tube up to the outlet; the lift is drawn to scale with the tank's 20 cm.
void NeedPicture::mechanism(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& demand = channel()->demand;
    const double bottom = box.bottom() - px(62);
    const double lift = demand.lift ? si(*demand.lift) : 0.3;
    const double room = bottom - box.top() - px(46);          // from the tank's floor to the highest outlet
    const double metre = room / std::max(0.35, std::max(0.0, lift) + 0.22);
    const double tank_high = std::max<double>(px(56), 0.2 * metre), water = tank_high * 0.72;
    const QRectF tank(box.left() + px(34), bottom - tank_high, box.width() * 0.56, tank_high);
    const double surface = bottom - water;
    const double riser = tank.left() + tank.width() * 0.74;
    const double outlet = surface - lift * metre;

    p.setPen(Qt::NoPen);
    p.setBrush(c.hingeTint);
    p.drawRect(QRectF(tank.left(), surface, tank.width(), water));
    p.setPen(QPen(c.ink, 2.2));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(QPolygonF{tank.topLeft(), tank.bottomLeft(), tank.bottomRight(), tank.topRight()});
    p.setPen(QPen(c.hinge, 1));
    p.drawLine(QPointF(tank.left(), surface), QPointF(tank.right(), surface));

    // The tube is drawn as wide as its bore, within reason, with the water's pulse running in it.
    const QPointF pump_at(tank.left() + tank.width() * 0.34, bottom - px(19));
    const double bore = std::clamp(demand.tube_diameter ? si(*demand.tube_diameter) * metre * 4 : 5.0, 4.0, static_cast<double>(px(14)));
    QPainterPath tube;
    tube.moveTo(pump_at + QPointF(px(13), -px(2)));
    tube.cubicTo(pump_at + QPointF(px(44), -px(2)), QPointF(riser, bottom - px(14)), QPointF(riser, surface - px(2)));
    tube.lineTo(riser, outlet);
    tube.lineTo(riser + px(34), outlet);
    p.setPen(QPen(c.ink, bore + 3, Qt::SolidLine, Qt::FlatCap, Qt::RoundJoin));
    p.drawPath(tube);
    p.setPen(QPen(c.hingeTint, bore, Qt::SolidLine, Qt::FlatCap, Qt::RoundJoin));
    p.drawPath(tube);
    QPen pulse(c.hinge, bore * 0.45, Qt::CustomDashLine, Qt::RoundCap, Qt::RoundJoin);
    pulse.setDashPattern({0.1, 4.0});
    pulse.setDashOffset(-phase_ / 100.0 * 4.1);
    p.setPen(pulse);
    p.drawPath(tube);
    p.setPen(Qt::NoPen);
    p.setBrush(c.hinge);
    const double fall = std::min(tank.bottom() - outlet, static_cast<double>(px(150)));
    for (int i = 0; i < 5; ++i) {
        const double way = std::fmod(phase_ / 100.0 + i / 5.0, 1.0);
        p.drawEllipse(QPointF(riser + px(37) + way * px(6), outlet + px(8) + way * way * fall), px(2.2), px(2.2) + way * px(2));
    }
    // The pump: an impeller that turns.
    p.setPen(QPen(c.ink, 2.2));
    p.setBrush(c.card);
    p.drawEllipse(pump_at, px(14), px(14));
    p.setPen(QPen(c.hinge, 2.2, Qt::SolidLine, Qt::RoundCap));
    for (int blade = 0; blade < 4; ++blade) {
        const double angle = (phase_ / 100.0 + blade) * 1.5707963;
        p.drawLine(pump_at, pump_at + QPointF(std::cos(angle), std::sin(angle)) * px(10));
    }
    // The lift, measured.
    const double ruler = riser - px(20);
    p.setPen(QPen(c.ink, 1));
    p.drawLine(QPointF(ruler, surface), QPointF(ruler, outlet));
    for (const double y : {surface, outlet}) p.drawLine(QPointF(ruler - px(5), y), QPointF(ruler + px(5), y));
    say(p, {ruler - px(6), (surface + outlet) / 2 + px(6)}, demand.lift ? text(display(*demand.lift)) : tr("lift?"), Text::Figure, c.hinge, Qt::AlignRight);

    const auto& pump = planned()->pump;
    const QString tube_words = demand.tube_length && demand.tube_diameter ? tr("%1 of tube, %2 inside").arg(text(displayPlain(*demand.tube_length)), text(displayPlain(*demand.tube_diameter))) : tr("tube not known");
    const QString asked = demand.volume && demand.run_time_limit ? tr("%1 within %2").arg(text(displayPlain(*demand.volume)), text(displayPlain(*demand.run_time_limit))) : tr("dose not known");
    say(p, {box.left(), bottom + px(24)}, asked, Text::Body, c.ink);
    say(p, {box.left(), bottom + px(42)}, tube_words, Text::Small, c.soft);
    if (pump.dose_time) say(p, {box.left(), bottom + px(60)}, (pump.measured_flow ? tr("by cup and clock a dose takes %1") : tr("with the pump chosen a dose takes %1")).arg(text(display(*pump.dose_time))), Text::Small, c.time);
}

}  // namespace hinge::app
