#include "stages/need/mechanism.hpp"
#include <QCoreApplication>
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <numbers>
#include "pictures/chart.hpp"
#include "theme/text.hpp"

namespace hinge::app {
namespace {

using namespace hinge::project;
constexpr double pi = std::numbers::pi;

template <class Q>
QString value(const std::optional<Q>& quantity) {
    return quantity ? text(displayPlain(*quantity)) : QStringLiteral("?");
}

/// Pens and a few strokes that every mechanism shares.
struct Sketch {
    QPainter& p;
    QRectF box;
    double there;  ///< place along the stroke, 0 … 1, by the triangular speed profile
    double phase;
    const match::Ask& ask;
    const Palette& c = colours();

    void ink(double width = 2.2) { p.setPen(QPen(c.ink, width, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin)); }
    void hinge(double width = 3.0) { p.setPen(QPen(c.hinge, width, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin)); }
    void faint(double width = 1.4) { p.setPen(QPen(c.line, width, Qt::SolidLine, Qt::RoundCap)); }
    void ground(double y, double left, double right) {
        faint(1.4);
        p.drawLine(QPointF(left, y), QPointF(right, y));
        for (double x = left; x < right; x += px(12)) p.drawLine(QPointF(x, y), QPointF(x - px(6), y + px(7)));
    }
    void arrow(const QPointF& from, const QPointF& to, const QColor& colour, double width = 2.2) {
        p.setPen(QPen(colour, width, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(from, to);
        const QPointF along = to - from;
        const double length = std::hypot(along.x(), along.y());
        if (length < 2.0) return;
        const QPointF u = along / length, side(-u.y(), u.x());
        p.drawLine(to, to - u * px(8) + side * px(4));
        p.drawLine(to, to - u * px(8) - side * px(4));
    }
    void spoke(const QPointF& centre, double angle, double from, double to) {
        const QPointF u(std::cos(angle), std::sin(angle));
        p.drawLine(centre + u * from, centre + u * to);
    }
    void arc(const QPointF& centre, double radius, double from, double sweep, const QColor& colour, double width = 1.6) {
        p.setPen(QPen(colour, width));
        p.setBrush(Qt::NoBrush);
        p.drawArc(QRectF(centre.x() - radius, centre.y() - radius, 2 * radius, 2 * radius), static_cast<int>(from * 16 * 180 / pi),
                  static_cast<int>(sweep * 16 * 180 / pi));
    }
    void dot(const QPointF& at, double radius, const QColor& fill) {
        ink(2.2);
        p.setBrush(fill);
        p.drawEllipse(at, radius, radius);
    }
    void note(const QPointF& at, const QString& text, const QColor& colour, Qt::Alignment align = Qt::AlignLeft, Text size = Text::Figure) {
        say(p, at, text, size, colour, align, true);
    }
    void below(double row, const QString& text, const QColor& colour) {
        say(p, {box.left(), box.bottom() - px(36) + row * px(18)}, text, Text::Small, colour);
    }

    void arm(const TurnDemand& d) {
        const QPointF centre(box.left() + box.width() * 0.3, box.top() + box.height() * 0.58);
        const double reach = std::min(box.width() * 0.62, box.height() * 0.42), sweep = sweepOf(d);
        const double start = si(d.worst_angle), now = start + sweep * there;
        const auto at = [&](double angle, double r) { return centre + QPointF(std::cos(angle) * r, -std::sin(angle) * r); };
        arc(centre, reach, start, sweep, c.hingeTint, 6);
        faint();
        p.drawLine(centre, at(start, reach));
        p.drawLine(centre, at(start + sweep, reach));
        hinge(d.way == TurnWay::Hinge ? 8 : 5);
        p.drawLine(centre, at(now, reach));
        const QPointF tip = at(now, d.way == TurnWay::Hinge ? reach * 0.5 : reach);
        if (d.way == TurnWay::Lever) dot(tip, px(15), c.sparkTint);
        arrow(tip + QPointF(0, px(16)), tip + QPointF(0, px(46)), c.hinge);
        if (d.mass) note(tip + QPointF(px(8), px(50)), text(displayPlain(*d.mass)), c.hinge, Qt::AlignLeft, Text::Small);
        dot(centre, px(9), c.card);
        if (d.way == TurnWay::Hinge) ground(centre.y() + px(12), centre.x() - px(70), centre.x() + px(4));
        note(at(start + sweep / 2, reach * 0.3) + QPointF(px(6), 0), d.angle ? text(display(*d.angle, 2)) : tr("angle?"), c.time);
        note(centre + QPointF(-px(20), px(30)), tr("arm %1").arg(value(d.arm)), c.hinge, Qt::AlignLeft, Text::Small);
        below(0, tr("%1 in %2").arg(d.angle ? text(display(*d.angle, 2)) : "?", value(d.time)), c.ink);
    }
    void disc(const TurnDemand& d, const QPointF& centre, double reach) {
        const double now = d.speed ? phase * 2 * pi : sweepOf(d) * there;
        dot(centre, reach * 0.86, c.hingeTint);
        hinge(3);
        for (int spoke = 0; spoke < 6; ++spoke) {
            const double angle = now + spoke * pi / 3;
            p.drawLine(centre + QPointF(std::cos(angle), -std::sin(angle)) * reach * 0.2,
                       centre + QPointF(std::cos(angle), -std::sin(angle)) * reach * 0.8);
        }
        dot(centre + QPointF(std::cos(now), -std::sin(now)) * reach * 0.66, px(8), c.sparkTint);
        dot(centre, px(8), c.card);
        arc(centre, reach * 0.98, now + 0.3, 0.9, c.time, 2.4);
        note(centre + QPointF(0, reach + px(22)), tr("%1 across, %2").arg(value(d.diameter), value(d.mass)), c.hinge, Qt::AlignHCenter,
             Text::Small);
        below(0,
              d.speed ? tr("goes on at %1, reached in %2").arg(text(display(*d.speed, 2)), value(d.time))
                      : tr("%1 in %2").arg(value(d.angle), value(d.time)),
              c.ink);
    }
    void crank(const TurnDemand& d, const QPointF& centre, double reach) {
        const double turns = d.turns ? si(*d.turns) : 2.0, now = turns * 2 * pi * there;
        const QPointF tip = centre + QPointF(std::cos(now), -std::sin(now)) * reach * 0.7;
        faint(1.4);
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(centre, reach * 0.7, reach * 0.7);
        hinge(6);
        if (d.way == TurnWay::Valve) p.drawLine(centre - (tip - centre) * 0.9, tip);
        else p.drawLine(centre, tip);
        dot(tip, px(10), c.sparkTint);
        dot(centre, px(11), c.card);
        arrow(tip, tip + QPointF(-std::sin(now), -std::cos(now)) * px(42), c.hinge);
        note(tip + QPointF(px(14), -px(8)), d.pull ? text(displayPlain(*d.pull)) : tr("pull?"), c.hinge);
        note(centre + QPointF(0, reach), tr("%1 turns in %2").arg(d.turns ? QString::number(turns) : "?", value(d.time)), c.time,
             Qt::AlignHCenter, Text::Small);
        below(0, tr("hook at %1 from the axle").arg(value(d.pull_arm)), c.ink);
    }
    void steer(const TurnDemand& d, const QPointF& centre, double reach) {
        const double sweep = sweepOf(d), now = (there - 0.5) * sweep;
        ground(centre.y() + reach * 0.9, box.left() + px(10), box.right() - px(10));
        p.save();
        p.translate(centre);
        p.rotate(-now * 180 / pi);
        ink(2.4);
        p.setBrush(c.hingeTint);
        p.drawRoundedRect(QRectF(-reach * 0.24, -reach * 0.62, reach * 0.48, reach * 1.24), reach * 0.12, reach * 0.12);
        for (int i = -4; i <= 4; ++i) p.drawLine(QPointF(-reach * 0.24, i * reach * 0.13), QPointF(-reach * 0.08, i * reach * 0.13));
        p.restore();
        dot(centre, px(8), c.card);
        arc(centre, reach * 0.84, pi / 2 - sweep / 2, sweep, c.time, 2);
        note(centre + QPointF(reach * 0.5, px(4)), tr("%1 on it").arg(value(d.wheel_load)), c.hinge, Qt::AlignLeft, Text::Small);
        below(0, tr("seen from above, standing still: the print scrubs"), c.ink);
    }
    static double sweepOf(const TurnDemand& d) { return d.angle ? std::min(si(*d.angle), 2 * pi) : pi / 2; }

    void operator()(const TurnDemand& d) {
        const QPointF centre(box.center().x(), box.top() + box.height() * 0.44);
        const double reach = std::min(box.width() * 0.42, box.height() * 0.34);
        switch (d.way) {
            case TurnWay::Lever:
            case TurnWay::Hinge: return arm(d);
            case TurnWay::Disc: return disc(d, centre, reach);
            case TurnWay::Valve:
            case TurnWay::Crank: return crank(d, centre, reach);
            case TurnWay::Steer: return steer(d, centre, reach);
        }
    }

    void operator()(const MoveDemand& d) {
        const double mid = box.top() + box.height() * 0.42, left = box.left() + px(26), right = box.right() - px(26);
        const double at = left + px(24) + (right - left - px(72)) * there;
        const auto load = [&](double y, double w = 48) {
            ink();
            p.setBrush(c.sparkTint);
            p.drawRoundedRect(QRectF(at, y - px(30), px(w), px(30)), 4, 4);
            say(p, {at + px(w) / 2, y - px(10)}, value(d.mass), Text::Small, c.ink, Qt::AlignHCenter);
        };
        p.save();
        const double slope = std::clamp(si(d.incline), -0.7, 0.7);
        p.translate(box.center().x(), mid);
        p.rotate(-slope * 180 / pi);
        p.translate(-box.center().x(), -mid);
        switch (d.way) {
            case MoveWay::Belt:
            case MoveWay::Rope: {
                const double r = px(22), turn = there * 18;
                hinge(3);
                p.drawLine(QPointF(left, mid - r), QPointF(right, mid - r));
                p.drawLine(QPointF(left, mid + r), QPointF(right, mid + r));
                for (const double x : {left, right}) {
                    dot({x, mid}, r, c.hingeTint);
                    const int teeth = d.way == MoveWay::Belt ? 10 : 3;
                    for (int tooth = 0; tooth < teeth; ++tooth) spoke({x, mid}, turn + tooth * 2 * pi / teeth, r * 0.72, r * 0.95);
                    dot({x, mid}, px(4), c.card);
                }
                load(mid - r - px(2));
                arrow({at + px(52), mid - r - px(18)}, {at + px(88), mid - r - px(18)}, c.hinge);
                break;
            }
            case MoveWay::Screw:
                ground(mid + px(34), left, right);
                ink(2);
                p.setBrush(c.hingeTint);
                p.drawRect(QRectF(left, mid - px(7), right - left, px(14)));
                for (double x = left + std::fmod(there * 120, 12.0); x < right; x += px(12))
                    p.drawLine(QPointF(x, mid - px(7)), QPointF(x + px(6), mid + px(7)));
                load(mid - px(8));
                arrow({at + px(52), mid - px(26)}, {at + px(88), mid - px(26)}, c.hinge);
                break;
            case MoveWay::Rack: {
                ink(2);
                p.setBrush(c.hingeTint);
                p.drawRect(QRectF(left + there * px(40) - px(20), mid - px(6), right - left - px(40), px(12)));
                for (double x = left + there * px(40) - px(18); x < right - px(62) + there * px(40); x += px(10))
                    p.drawLine(QPointF(x, mid + px(6)), QPointF(x + px(4), mid + px(12)));
                const QPointF pinion(box.center().x(), mid + px(34));
                dot(pinion, px(22), c.card);
                for (int tooth = 0; tooth < 12; ++tooth) spoke(pinion, -there * 4 + tooth * pi / 6, px(17), px(22));
                load(mid - px(6));
                break;
            }
            case MoveWay::Wheels: {
                ground(mid + px(22), left - px(10), right + px(10));
                for (const double x : {at + px(8), at + px(58)}) {
                    dot({x, mid + px(6)}, px(16), c.hingeTint);
                    spoke({x, mid + px(6)}, there * 20, 0.0, px(15));
                }
                load(mid - px(6), 66);
                arrow({at + px(72), mid - px(20)}, {at + px(108), mid - px(20)}, c.hinge);
                break;
            }
        }
        p.restore();
        note({box.center().x(), mid + px(86)}, tr("%1 in %2").arg(value(d.travel), value(d.time)), c.time, Qt::AlignHCenter);
        below(0,
              d.pull ? tr("by the scale it moves at %1").arg(value(d.pull))
              : d.friction_coefficient
                  ? tr("friction %1, slope %2").arg(QString::number(si(*d.friction_coefficient)), text(display(d.incline, 2)))
                  : tr("slope %1").arg(text(display(d.incline, 2))),
              c.ink);
    }

    void operator()(const PressDemand& d) {
        const double mid = box.top() + box.height() * 0.42;
        const double stroke = px(64) * there;
        if (d.way == PressWay::Horn) {
            const QPointF axle(box.left() + box.width() * 0.3, mid);
            const double r = px(58), half = ask.angle ? si(*ask.angle) / 2 : 0.6;
            const double angle = (there - 0.5) * 2 * half;
            const QPointF tip = axle + QPointF(std::sin(angle) * r, -std::cos(angle) * r);
            const double end = axle.x() + px(96) + std::sin(angle) * r;
            ink(2);
            p.setBrush(c.card);
            p.drawRoundedRect(QRectF(axle.x() - px(26), mid - px(16), px(52), px(56)), 4, 4);
            hinge(7);
            p.drawLine(axle, tip);
            hinge(3);
            p.drawLine(tip, QPointF(end, tip.y()));
            dot(tip, px(5), c.card);
            dot(axle, px(8), c.hingeTint);
            ink(2);
            p.setBrush(c.sparkTint);
            p.drawRect(QRectF(end, tip.y() - px(14), px(16), px(28)));
            arrow({end + px(48), tip.y()}, {end + px(20), tip.y()}, c.hinge);
            note({end + px(34), tip.y() - px(12)}, value(d.force), c.hinge, Qt::AlignHCenter, Text::Small);
            arc(axle, r, pi / 2 - half, 2 * half, c.time, 2);
            note(axle + QPointF(0, px(72)), tr("horn %1").arg(value(d.horn)), c.hinge, Qt::AlignHCenter, Text::Small);
        } else {
            const double top = mid - px(40);
            ink(2);
            p.setBrush(c.hingeTint);
            p.drawRect(QRectF(box.left() + px(30), top, px(90), px(60)));
            hinge(9);
            p.drawLine(QPointF(box.left() + px(110), top + px(30)), QPointF(box.left() + px(140) + stroke, top + px(30)));
            ink(2);
            p.setBrush(c.sparkTint);
            p.drawRect(QRectF(box.left() + px(142) + stroke, top + px(10), px(16), px(40)));
            arrow({box.left() + px(200) + stroke, top + px(30)}, {box.left() + px(164) + stroke, top + px(30)}, c.hinge);
            note({box.left() + px(166) + stroke, top}, value(d.force), c.hinge, Qt::AlignLeft, Text::Small);
        }
        below(0, tr("%1 of stroke%2").arg(value(d.stroke), d.time ? tr(" in %1").arg(value(d.time)) : QString()), c.ink);
    }

    void operator()(const PumpDemand&) {}  // the tank and tube have a drawing of their own

    void operator()(const BlowDemand& d) {
        const double mid = box.top() + box.height() * 0.42;
        const QRectF room(box.left() + px(30), mid - px(80), box.width() - px(90), px(150));
        ink(2.2);
        p.setBrush(Qt::NoBrush);
        if (d.way == BlowWay::Hood) {
            p.drawPolyline(QPolygonF{room.bottomLeft(), room.topLeft() + QPointF(room.width() * 0.36, 0),
                                     room.topLeft() + QPointF(room.width() * 0.64, 0), room.bottomRight()});
        } else {
            p.drawRect(room);
        }
        if (d.way == BlowWay::Filter)
            for (int i = 0; i < 9; ++i)
                p.drawLine(QPointF(room.left(), room.top() + i * room.height() / 9),
                           QPointF(room.left() + px(14), room.top() + (i + 0.5) * room.height() / 9));
        if (d.way == BlowWay::Box) {
            p.setBrush(c.sparkTint);
            p.drawRoundedRect(QRectF(room.center().x() - px(34), room.bottom() - px(46), px(68), px(34)), 4, 4);
            say(p, {room.center().x(), room.bottom() - px(24)}, value(d.heat), Text::Small, c.ink, Qt::AlignHCenter);
        }
        // Air as it goes: dashes that run, faster where more is asked.
        QPen air(c.hinge, 2.4, Qt::CustomDashLine, Qt::RoundCap);
        air.setDashPattern({3.0, 4.0});
        air.setDashOffset(-phase * 28.0);
        p.setPen(air);
        const bool up = d.way == BlowWay::Hood;
        for (int i = 0; i < 5; ++i) {
            const double share = (i + 0.5) / 5;
            QPainterPath path;
            if (up) {
                path.moveTo(room.left() + share * room.width(), room.bottom() + px(22));
                path.quadTo(room.left() + share * room.width(), room.center().y(), room.left() + room.width() * (0.38 + 0.24 * share),
                            room.top() - px(18));
            } else {
                path.moveTo(room.left() - px(20), room.top() + share * room.height());
                path.lineTo(room.right() + px(8), room.center().y() + (share - 0.5) * px(34));
            }
            p.drawPath(path);
        }
        const QPointF hub = up ? QPointF(room.center().x(), room.top() - px(4)) : QPointF(room.right() + px(16), room.center().y());
        dot(hub, px(24), c.card);
        hinge(5);
        for (int blade = 0; blade < 5; ++blade) {
            const double angle = phase * 4 * pi + blade * 2 * pi / 5;
            p.drawLine(hub + QPointF(std::cos(angle), std::sin(angle)) * px(6),
                       hub + QPointF(std::cos(angle + 0.35), std::sin(angle + 0.35)) * px(19));
        }
        dot(hub, px(5), c.hingeTint);
        switch (d.way) {
            case BlowWay::Box: below(0, tr("it may warm by %1").arg(value(d.temperature_rise)), c.ink); break;
            case BlowWay::Room:
                below(0,
                      tr("%1, changed %2 times an hour")
                          .arg(value(d.volume), d.changes_per_hour ? QString::number(si(*d.changes_per_hour)) : "?"),
                      c.ink);
                break;
            case BlowWay::Hood:
            case BlowWay::Filter: below(0, tr("%1 open, %2 at its face").arg(value(d.area), value(d.face_velocity)), c.ink); break;
        }
    }

    void operator()(const SwitchDemand& d) {
        const double mid = box.top() + box.height() * 0.4;
        const bool on = phase > 0.35 && phase < 0.9;
        const double left = box.left() + px(6), right = box.right() - px(40), gap = left + (right - left) * 0.24, far = gap + px(44);
        ink(2.4);
        p.drawLine(QPointF(left, mid), QPointF(gap, mid));
        p.drawLine(QPointF(far, mid), QPointF(right - px(30), mid));
        const QPointF pivot(gap, mid);
        hinge(4);
        p.drawLine(pivot, on ? QPointF(far, mid) : QPointF(far - px(5), mid - px(24)));
        dot(pivot, px(4), c.card);
        dot({far, mid}, px(4), c.card);
        const QPointF lamp(right, mid);
        dot(lamp, px(30), on ? c.sparkTint : c.card);
        p.setPen(QPen(c.spark, 2.4, Qt::SolidLine, Qt::RoundCap));
        if (on)
            for (int ray = 0; ray < 8; ++ray) spoke(lamp, ray * pi / 4, px(36), px(46));
        say(p, lamp + QPointF(0, px(5)), value(d.power), Text::Figure, c.ink, Qt::AlignHCenter);
        ink(2.4);
        p.drawLine(lamp + QPointF(0, px(30)), QPointF(right, mid + px(70)));
        p.drawLine(QPointF(right, mid + px(70)), QPointF(left, mid + px(70)));
        note({left, mid - px(10)}, d.feeding == Feeding::Mains ? text(display(d.mains_voltage)) : tr("rail +"),
             d.feeding == Feeding::Mains ? c.breaks : c.spark, Qt::AlignLeft, Text::Small);
        below(0, tr("a %1 load%2").arg(QString::fromUtf8(labelOf(d.load)), d.dimmed ? tr(", dimmed") : QString()), c.ink);
        if (d.feeding == Feeding::Mains) below(1, tr("mains: see the cautions below"), c.breaks);
    }

    void operator()(const HeatDemand& d) {
        const double mid = box.top() + box.height() * 0.42;
        const QRectF wall(box.left() + px(36), mid - px(84), box.width() - px(76),
                          std::min<double>(px(156), box.bottom() - px(60) - (mid - px(84))));
        // What does both is drawn in turn.
        const bool warm = d.way == HeatWay::Warm || (d.way == HeatWay::Both && std::sin(phase * 2 * pi) >= 0.0);
        p.setPen(QPen(c.ink, 6));
        p.setBrush(warm ? c.sparkTint : c.timeTint);
        p.drawRect(wall);
        ink(2);
        p.setBrush(c.card);
        p.drawRoundedRect(QRectF(wall.center().x() - px(44), wall.bottom() - px(62), px(88), px(40)), 6, 6);
        say(p, {wall.center().x(), wall.bottom() - px(37)}, value(d.mass), Text::Figure, c.ink, Qt::AlignHCenter);
        p.setPen(QPen(warm ? c.spark : c.time, 2.6, Qt::SolidLine, Qt::RoundCap));
        for (int i = 0; i < 5; ++i) {
            QPainterPath wave;
            const double x = wall.left() + (i + 0.5) * wall.width() / 5, sway = std::sin(phase * 2 * pi + i) * px(4);
            wave.moveTo(x, wall.bottom() - px(72));
            wave.cubicTo(x - px(8) + sway, wall.bottom() - px(92), x + px(8) + sway, wall.bottom() - px(108), x, wall.top() + px(16));
            p.setBrush(Qt::NoBrush);
            p.drawPath(wave);
        }
        note({wall.right() - px(6), wall.top() - px(10)},
             tr("%1%2 in %3").arg(warm ? "+" : "−", value(d.temperature_rise), value(d.warm_up_time)), warm ? c.spark : c.time,
             Qt::AlignRight);
        below(0, tr("it loses %1").arg(value(d.loss_conductance)), c.ink);
    }
};

}  // namespace

double phaseAt(double share) {
    const double there = std::clamp(share, 0.0, 1.0);
    return (there < 0.5 ? std::sqrt(there / 2) : 1 - std::sqrt((1 - there) / 2)) / 2;
}

void drawMechanism(QPainter& painter, const QRectF& box, const Channel& channel, const match::Ask& ask, double phase) {
    // Half of the time there, half of it back, each speeding up to its middle and slowing after it.
    const double way = phase < 0.5 ? phase * 2 : 2 - phase * 2;
    const double there = way < 0.5 ? 2 * way * way : 1 - 2 * (1 - way) * (1 - way);
    Sketch sketch{painter, box, there, phase, ask};
    std::visit(sketch, channel.demand);
}

}  // namespace hinge::app
