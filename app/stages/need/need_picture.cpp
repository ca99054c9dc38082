#include "stages/need/need_picture.hpp"
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include "match/ability.hpp"
#include "stages/need/mechanism.hpp"

namespace hinge::app {

NeedPicture::NeedPicture(Document* document, QWidget* parent) : HeadFlowPicture(document, false, parent) {
    clock_.setInterval(50);
    connect(&clock_, &QTimer::timeout, this, [this] {
        phase_ = (phase_ + 4) % 100;
        update();
    });
}

void NeedPicture::showEvent(QShowEvent*) {
    clock_.start();
}
void NeedPicture::hideEvent(QHideEvent*) {
    clock_.stop();
}

void NeedPicture::draw(QPainter& p, const QRectF& box) {
    if (channel() == nullptr || planned() == nullptr) return;
    const double split = box.left() + box.width() * 0.4;
    const QRectF left(box.left() + px(20), box.top() + px(14), split - box.left() - px(30), box.height() - px(28)),
        right(split, box.top(), box.right() - split, box.height());
    if (std::holds_alternative<project::PumpDemand>(channel()->demand)) {
        mechanism(p, left);
        return curves(p, right);
    }
    drawMechanism(p, left, *channel(), planned()->context->ask, phase_ / 100.0);
    const auto& demand = channel()->demand;
    if (std::holds_alternative<project::BlowDemand>(demand)) return airAsked(p, right);
    if (const auto* heat = std::get_if<project::HeatDemand>(&demand)) return warming(p, right, *heat);
    if (std::holds_alternative<project::SwitchDemand>(demand)) return switching(p, right);
    stroke(p, right);
}

// Torque or force along the way, with the spread of the measurements as a band.
void NeedPicture::stroke(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& ask = planned()->context->ask;
    if (ask.over_stroke.size() < 2)
        return waits(p, box, tr("What is still unknown on the left is needed to draw what the load asks. Each has how to measure it."));
    double low = 0.0, high = 0.0, end = ask.over_stroke.back().x;
    for (const auto& point : ask.over_stroke) low = std::min(low, point.y), high = std::max(high, point.y);
    const double spread = ask.spread.value_or(0.0);
    const Axes axes{box.adjusted(px(60), px(30), -px(20), -px(40)), 0.0, std::max(1e-9, end * 1.04), low * (1.15 + spread),
                    std::max(1e-12, high * (1.2 + spread))};
    axes.draw(p, ask.x_kind, ask.y_kind, ask.x_kind == Kind::Angle ? tr("angle of the move") : tr("way"),
              ask.y_kind == Kind::Torque ? tr("torque asked") : tr("force asked"));
    QPolygonF line, band;
    for (const auto& point : ask.over_stroke) line << axes.at(point.x, point.y), band << axes.at(point.x, point.y * (1.0 + spread));
    for (auto point = ask.over_stroke.rbegin(); point != ask.over_stroke.rend(); ++point)
        band << axes.at(point->x, point->y * (1.0 - spread));
    if (spread > 0.0) {
        p.setPen(Qt::NoPen);
        p.setBrush(c.hingeTint);
        p.drawPolygon(band);
    }
    p.setPen(QPen(c.hinge, 3));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(line);
    // The worst place is found and marked.
    const auto worst = std::max_element(ask.over_stroke.begin(), ask.over_stroke.end(),
                                        [](const auto& a, const auto& b) { return std::abs(a.y) < std::abs(b.y); });
    const QPointF at = axes.at(worst->x, worst->y);
    p.setPen(QPen(c.hinge, 3));
    p.setBrush(c.card);
    p.drawEllipse(at, px(7), px(7));
    const QString about = spread > 0.0 ? tr(" ± %1 %").arg(std::lround(spread * 100.0)) : QString();
    const bool right = at.x() > axes.box.center().x();
    say(p, at + QPointF(right ? -px(12) : px(12), -px(14)),
        tr("asks most here: %1%2").arg(text(display(ask.y_kind, std::abs(worst->y))), about), Text::Figure, c.ink,
        right ? Qt::AlignRight : Qt::AlignLeft, true);
    if (low < 0.0) say(p, axes.at(end, low) + QPointF(0, px(14)), tr("below 0 it is held back"), Text::Small, c.soft, Qt::AlignRight, true);
    if (ask.speed && ask.torque)
        say(p, {axes.box.right() - px(6), axes.box.top() + px(16)},
            tr("at the shaft: %1, up to %2").arg(text(display(*ask.torque)), text(display(*ask.speed))), Text::Small, c.time,
            Qt::AlignRight, true);
    const double now = phase_ < 50 ? phase_ / 50.0 : 2.0 - phase_ / 50.0, place = now < 0.5 ? 2 * now * now : 1 - 2 * (1 - now) * (1 - now);
    p.setPen(QPen(c.soft, 1, Qt::DotLine));
    p.drawLine(axes.at(end * place, axes.y0), axes.at(end * place, axes.y1));
}

void NeedPicture::airAsked(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& ask = planned()->context->ask;
    if (!ask.flow || !ask.pressure)
        return waits(
            p, box, tr("The air asked for and what its way takes are needed first. A tube with water shows the pressure: 1 mm is 9.8 Pa."));
    const double flow = si(*ask.flow), pressure = si(*ask.pressure);
    const Axes axes{box.adjusted(px(56), px(30), -px(20), -px(40)), 0.0, flow * 1.7, 0.0, std::max(1.0, pressure * 2.4)};
    axes.draw(p, Kind::VolumeFlow, Kind::Pressure, tr("air"), tr("pressure"));
    QPolygonF line;
    for (int i = 0; i <= 100; ++i) {
        const double share = i / 100.0 * 1.55;
        line << axes.at(flow * share, pressure * share * share);
    }
    p.setPen(QPen(c.ink, 2));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(line);
    say(p, line.back() + QPointF(-px(6), -px(6)), tr("what its way takes"), Text::Small, c.ink, Qt::AlignRight, true);
    const QPointF at = axes.at(flow, pressure);
    p.setPen(QPen(c.hinge, 3));
    p.setBrush(c.card);
    p.drawEllipse(at, px(7), px(7));
    say(p, at + QPointF(px(12), px(20)), tr("%1 against %2").arg(text(display(*ask.flow)), text(display(*ask.pressure))), Text::Figure,
        c.hinge, Qt::AlignLeft, true);
}

void NeedPicture::warming(QPainter& p, const QRectF& box, const project::HeatDemand& heat) {
    const auto& c = colours();
    const auto& ask = planned()->context->ask;
    if (!ask.power || !heat.warm_up_time || !heat.temperature_rise)
        return waits(p, box, tr("Mass, temperature, time and loss are needed to draw how it warms."));
    const double time = si(*heat.warm_up_time), rise = si(*heat.temperature_rise), power = si(*ask.power);
    const Axes axes{box.adjusted(px(60), px(30), -px(20), -px(40)), 0.0, time * 2.0, 0.0, rise * 1.5};
    axes.draw(p, Kind::Duration, Kind::TemperatureDifference, tr("time"),
              heat.way == project::HeatWay::Warm   ? tr("above the air")
              : heat.way == project::HeatWay::Cool ? tr("below the air")
                                                   : tr("from the air's"));
    QPolygonF line;
    for (int i = 0; i <= 120; ++i) {
        const double t = time * 2.0 * i / 120.0;
        line << axes.at(t, std::min(rise * 1.5, match::warmedBy(heat, power, t)));
    }
    p.setPen(QPen(c.spark, 3));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(line);
    p.setPen(QPen(c.ink, 1.4, Qt::DashLine));
    p.drawLine(axes.at(0, rise), axes.at(axes.x1, rise));
    p.drawLine(axes.at(time, 0), axes.at(time, axes.y1));
    say(p, axes.at(axes.x1, rise) + QPointF(0, -px(6)), tr("wanted: %1").arg(text(display(*heat.temperature_rise))), Text::Small, c.ink,
        Qt::AlignRight, true);
    say(p, axes.at(time, axes.y1) + QPointF(px(6), px(14)), tr("within %1").arg(text(display(*heat.warm_up_time))), Text::Small, c.ink,
        Qt::AlignLeft, true);
    say(p, line[90] + QPointF(0, -px(14)), tr("with %1").arg(text(display(*ask.power))), Text::Figure, c.spark, Qt::AlignRight, true);
}

// What rushes in at switch-on, in multiples of what it takes.
void NeedPicture::switching(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const match::Context& context = planned()->context;
    if (!context.ask.power || !context.own)
        return waits(p, box, tr("How many watts it takes is needed first: printed on it, or volts times amps by a meter."));
    const double volts = match::supplyOf(context, context.rails.front());
    if (!(volts > 0.0)) return waits(p, box, tr("The volts that feed it are needed: choose its rail under Feed."));
    const auto load = match::contactLoad(context, *context.own);
    const double running = si(*context.ask.power) / volts, inrush = running * driver::usualInrush(load);
    const Axes axes{box.adjusted(px(56), px(30), -px(20), -px(60)), 0.0, 2.0, 0.0, std::max(inrush, running) * 1.3};
    axes.draw(p, Kind::Ratio, Kind::Current, QString(), tr("current"));
    p.fillRect(QRectF(axes.box.left() - px(6), axes.box.bottom() + 1, axes.box.width() + px(16), px(24)), c.card);
    const auto bar = [&](double x, double amps, const QColor& colour, const QString& name) {
        const QRectF column(axes.x(x) - px(40), axes.y(amps), px(80), axes.box.bottom() - axes.y(amps));
        p.fillRect(column, colour);
        say(p, {column.center().x(), column.top() - px(6)}, text(display(Kind::Current, amps)), Text::Figure, c.ink, Qt::AlignHCenter);
        say(p, {column.center().x(), axes.box.bottom() + px(18)}, name, Text::Small, c.ink, Qt::AlignHCenter);
    };
    bar(0.5, running, c.spark, tr("while it runs"));
    bar(1.5, inrush, c.sparkTint.darker(115), tr("at switch-on, %1 ×").arg(driver::usualInrush(load)));
    say(p, {box.right() - px(16), box.bottom() - px(8)}, tr("inrush of a %1 load: common practice").arg(tr(labelOf(load))), Text::Small,
        c.soft, Qt::AlignRight);
}

// Tank, pump and tube up to the outlet; the lift is drawn to scale with the tank's 20 cm.
void NeedPicture::mechanism(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& demand = std::get<project::PumpDemand>(channel()->demand);
    const double bottom = box.bottom() - px(62);
    const double lift = demand.lift ? si(*demand.lift) : 0.3;
    const double room = bottom - box.top() - px(46);  // from the tank's floor to the highest outlet
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
    say(p, {ruler - px(6), (surface + outlet) / 2 + px(6)}, demand.lift ? text(display(*demand.lift)) : tr("lift?"), Text::Figure, c.hinge,
        Qt::AlignRight);

    const auto& pump = *planned();
    const QString tube_words =
        demand.tube_length && demand.tube_diameter
            ? tr("%1 of tube, %2 inside").arg(text(displayPlain(*demand.tube_length)), text(displayPlain(*demand.tube_diameter)))
            : tr("tube not known");
    const QString asked = demand.volume && demand.run_time_limit
                              ? tr("%1 within %2").arg(text(displayPlain(*demand.volume)), text(displayPlain(*demand.run_time_limit)))
                              : tr("dose not known");
    say(p, {box.left(), bottom + px(24)}, asked, Text::Body, c.ink);
    say(p, {box.left(), bottom + px(42)}, tube_words, Text::Small, c.soft);
    if (pump.dose_time)
        say(p, {box.left(), bottom + px(60)},
            (pump.measured_flow ? tr("by cup and clock a dose takes %1") : tr("with the pump chosen a dose takes %1"))
                .arg(text(display(*pump.dose_time))),
            Text::Small, c.time);
}

}  // namespace hinge::app
