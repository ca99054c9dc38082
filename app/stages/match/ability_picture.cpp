#include "stages/match/ability_picture.hpp"
#include <algorithm>
#include <cmath>
#include "match/ability.hpp"
#include "match/rank.hpp"
#include "theme/marks.hpp"

namespace hinge::app {
namespace {

// The chosen part first, then ink, then a dashed one: told apart by their stroke as well.
QPen penOf(std::size_t place, bool chosen) {
    const auto& c = colours();
    if (chosen) return QPen(c.hinge, 3);
    return place % 2 == 0 ? QPen(c.ink, 2.2) : QPen(c.ink, 2.2, Qt::DashLine);
}

}  // namespace

void AbilityPicture::drawCurves(QPainter& p, const Axes& axes, const Curves& curves) {
    for (std::size_t i = 0; i < curves.size(); ++i) {
        QPolygonF line;
        for (const auto& point : curves[i].second) line << axes.at(point.x, point.y);
        p.setPen(penOf(i, curves[i].first.chosen));
        p.drawPolyline(line);
    }
}

std::vector<AbilityPicture::Shown> AbilityPicture::shown() const {
    std::vector<Shown> list;
    const match::Context& context = planned()->context;
    const auto add = [&](const std::string& part_id, const std::string& driver_id, bool chosen) {
        const auto* part = match::partOf(context, model().parts, part_id);
        const auto* driver = project::findDriver(model().parts, driver_id);
        if (part != nullptr && driver != nullptr) list.push_back({part, driver, chosen});
    };
    add(channel()->actuator, channel()->drive.part, true);
    for (const auto& [part, driver] : others_)
        if (part != channel()->actuator || driver != channel()->drive.part) add(part, driver, false);
    return list;
}

void AbilityPicture::draw(QPainter& p, const QRectF& box) {
    if (planned() == nullptr || channel() == nullptr) return;
    const auto& ask = planned()->context->ask;
    if (!match::decisive(ask)) return waits(p, box, tr("What the load asks is not known yet: Need lists what to measure, and how."));
    if (std::holds_alternative<project::BlowDemand>(channel()->demand)) return air(p, box);
    if (ask.torque && ask.speed) return shaft(p, box);
    bars(p, box);
}

void AbilityPicture::shaft(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const match::Context& context = planned()->context;
    const double torque = si(*context.ask.torque), speed = si(*context.ask.speed), wanted = torque * context.ask.margin;
    Curves curves;
    double most_torque = wanted * 1.5, most_speed = speed * 1.8;
    for (const auto& each : shown()) {
        auto curve = match::abilityCurve(context, *each.part, *each.driver, context.rails.front());
        for (const auto& point : curve) {
            most_torque = std::max(most_torque, std::min(point.x * 1.12, wanted * 4));
            most_speed = std::max(most_speed, std::min(point.y * 1.12, speed * 6));
        }
        curves.emplace_back(each, std::move(curve));
    }
    const Axes axes{box.adjusted(px(64), px(28), -px(20), -px(40)), 0.0, most_torque, 0.0, most_speed};
    axes.draw(p, Kind::Torque, Kind::RotationSpeed, tr("torque at the load"), tr("speed"));
    p.save();
    p.setClipRect(axes.box);
    // Right of the margin's line and above the speed asked, a part has enough.
    p.fillRect(QRectF(axes.at(wanted, most_speed), axes.at(most_torque, speed)), c.hingeTint);
    p.setBrush(Qt::NoBrush);
    drawCurves(p, axes, curves);
    p.restore();
    if (const auto spread = context.ask.spread) {
        const QRectF band(axes.at(torque * (1 - *spread), most_speed), axes.at(torque * (1 + *spread), 0));
        QColor tint = c.hingeTint;
        tint.setAlphaF(0.6F);
        p.fillRect(band.intersected(axes.box), tint);
    }
    p.setPen(QPen(c.ink, 1.6));
    p.drawLine(axes.at(torque, 0), axes.at(torque, speed));
    p.drawLine(axes.at(0, speed), axes.at(torque, speed));
    p.setPen(QPen(c.ink, 1.6, Qt::DashLine));
    p.drawLine(axes.at(wanted, 0), axes.at(wanted, most_speed));
    say(p, axes.at(wanted, most_speed) + QPointF(px(6), px(16)), tr("with the margin: %1").arg(text(display(Kind::Torque, wanted))),
        Text::Small, c.ink, Qt::AlignLeft, true);
    p.setPen(QPen(c.hinge, 3));
    p.setBrush(c.card);
    const QPointF at = axes.at(torque, speed);
    p.drawEllipse(at, px(7), px(7));
    say(p, at + QPointF(px(10), px(22)), tr("asked: %1 at %2").arg(text(display(*context.ask.torque)), text(display(*context.ask.speed))),
        Text::Figure, c.hinge, Qt::AlignLeft, true);
    // Names where a curve is high and free: staggered, so that they do not lie on one another.
    double taken = -1e9;
    for (const auto& [each, curve] : curves) {
        if (curve.empty()) continue;
        const auto& last = curve.back();
        const auto& first = curve.front();
        const double x = std::min({std::max(first.x, last.x) * 0.55, most_torque * 0.62});
        double y = 0.0;
        for (std::size_t i = 1; i < curve.size(); ++i)
            if ((curve[i - 1].x - x) * (curve[i].x - x) <= 0.0 && curve[i].x != curve[i - 1].x)
                y = curve[i - 1].y + (curve[i].y - curve[i - 1].y) * (x - curve[i - 1].x) / (curve[i].x - curve[i - 1].x);
        QPointF place = axes.at(x, std::clamp(y, 0.0, most_speed * 0.96)) + QPointF(px(8), -px(6));
        if (std::abs(place.y() - taken) < px(15)) place.setY(taken + px(16));
        taken = place.y();
        const bool right = place.x() > axes.box.center().x();
        if (right) place.setX(axes.box.right() - px(6));
        say(p, place, text(actuator::head(*each.part).name), Text::Small, each.chosen ? c.hinge : c.ink,
            right ? Qt::AlignRight : Qt::AlignLeft, true);
    }
    if (curves.empty())
        say(p, {axes.box.center().x(), axes.box.top() + px(40)}, tr("Choose a part on the left: its curve is drawn here."), Text::Body,
            c.soft, Qt::AlignHCenter, true);
    if (pointer_ && axes.box.contains(*pointer_))
        say(p, {axes.box.right(), axes.box.top() - px(8)},
            tr("%1, %2").arg(text(display(Kind::Torque, axes.valueX(pointer_->x()))),
                             text(display(Kind::RotationSpeed, axes.valueY(pointer_->y())))),
            Text::Small, c.soft, Qt::AlignRight);
}

void AbilityPicture::air(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const match::Context& context = planned()->context;
    if (!context.ask.flow || !context.ask.pressure)
        return waits(p, box, tr("The air asked for and the pressure its way takes are needed: see Need."));
    const double flow = si(*context.ask.flow), pressure = si(*context.ask.pressure);
    Curves curves;
    double most_flow = flow * 1.6, most_pressure = std::max(1.0, pressure * 2.2);
    for (const auto& each : shown()) {
        auto curve = match::fanCurveHere(context, *each.part, *each.driver, context.rails.front());
        for (const auto& point : curve)
            most_flow = std::max(most_flow, std::min(point.x * 1.06, flow * 4)),
            most_pressure = std::max(most_pressure, std::min(point.y * 1.1, pressure * 8 + 20));
        curves.emplace_back(each, std::move(curve));
    }
    const Axes axes{box.adjusted(px(56), px(28), -px(20), -px(40)), 0.0, most_flow, 0.0, most_pressure};
    axes.draw(p, Kind::VolumeFlow, Kind::Pressure, tr("air"), tr("pressure"));
    p.save();
    p.setClipRect(axes.box);
    p.setBrush(Qt::NoBrush);
    QPolygonF system;
    for (int i = 0; i <= 120; ++i) {
        const double q = most_flow * i / 120.0, share = q / flow;
        system << axes.at(q, pressure * share * share);
    }
    p.setPen(QPen(c.ink, 2));
    p.drawPolyline(system);
    drawCurves(p, axes, curves);
    p.restore();
    p.setPen(QPen(c.time, 1.5, Qt::DashLine));
    p.drawLine(axes.at(flow, 0), axes.at(flow, most_pressure));
    say(p, axes.at(flow, most_pressure) + QPointF(px(6), px(16)), tr("asked: %1").arg(text(display(*context.ask.flow))), Text::Small,
        c.time, Qt::AlignLeft, true);
    if (!system.isEmpty()) {
        // Beside the curve where it is steep: at three quarters of the picture's height, or at its end.
        QPointF on = system.back();
        for (const auto& point : system)
            if (point.y() < axes.box.top() + axes.box.height() * 0.25) {
                on = point;
                break;
            }
        say(p, on + QPointF(-px(10), 0), tr("what its way takes"), Text::Small, c.ink, Qt::AlignRight, true);
    }
    for (const auto& [each, curve] : curves) {
        if (curve.empty()) continue;
        say(p, axes.at(0, std::min(curve.front().y, most_pressure * 0.95)) + QPointF(px(8), -px(4)), text(actuator::head(*each.part).name),
            Text::Small, each.chosen ? c.hinge : c.ink, Qt::AlignLeft, true);
        const auto numbers = match::judge(context, *each.part, *each.driver, context.rails.front());
        if (std::isnan(numbers.flow)) continue;
        const QPointF at = axes.at(numbers.flow, numbers.height);
        p.setPen(QPen(each.chosen ? c.hinge : c.ink, 3));
        p.setBrush(c.card);
        p.drawEllipse(at, px(6), px(6));
        if (each.chosen)
            say(p, at + QPointF(px(12), -px(8)),
                tr("%1 at %2").arg(text(display(Kind::VolumeFlow, numbers.flow)), text(display(Kind::Pressure, numbers.height))),
                Text::Figure, c.hinge, Qt::AlignLeft, true);
    }
}

// Power, force or current against their limits: for what is not a matter of speed. One row a pair; the
// drivers that could carry it stand below, each with the share of its own limit.
void AbilityPicture::bars(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const match::Context& context = planned()->context;
    const bool switched = std::holds_alternative<project::SwitchDemand>(channel()->demand);
    const bool heat = std::holds_alternative<project::HeatDemand>(channel()->demand);
    const auto list = shown();
    if (list.empty())
        return waits(p, box,
                     switched ? tr("Choose what is switched and by what: its current, its inrush and the heat in the switch stand here.")
                              : tr("Choose a part: what it can do against what is asked stands here."));
    double y = box.top() + px(24);
    const double left = box.left() + px(30), width = box.width() - px(60);
    const auto row = [&](const QString& name, double value, double limit, Kind kind, const QColor& colour, Verdict verdict) {
        const bool known = std::isfinite(value) && std::isfinite(limit) && limit > 0.0;
        say(p, {left, y}, name, Text::Small, c.ink);
        say(p, {left + width, y}, known ? tr("%1 of %2").arg(text(display(kind, value)), text(display(kind, limit))) : tr("not known"),
            Text::Small, verdict == Verdict::Breaks ? c.breaks : c.ink, Qt::AlignRight);
        const auto share = known ? std::optional(value / limit) : std::nullopt;
        drawHeadroom(p, QRectF(left, y + px(6), width, px(12)), share, known ? verdictOfShare(share) : Verdict::Unknown, colour);
        y += px(42);
    };
    if (!switched)
        for (const auto& each : list) {
            const auto n = match::judge(context, *each.part, *each.driver, context.rails.front());
            const QString name = text(actuator::head(*each.part).name);
            if (heat)
                row(tr("%1: power asked of what it gives").arg(name), si(*context.ask.power), n.ability, Kind::Power,
                    each.chosen ? c.spark : c.ink, n.verdict());
            else
                row(tr("%1: force asked, with its margin, of what it pulls warm").arg(name), si(*context.ask.force) * context.ask.margin,
                    n.ability, Kind::Force, each.chosen ? c.hinge : c.ink, n.verdict());
        }
    const auto& part = *list.front().part;
    const auto load = match::contactLoad(context, part);
    y += px(6);
    say(p, {left, y},
        tr("What could switch it: its current of what each carries, on a contact with the inrush of a %1 load").arg(tr(labelOf(load))),
        Text::Small, c.soft);
    y += px(26);
    auto drivers = match::driversFor(context, model().parts, part, 60);
    std::stable_partition(drivers.begin(), drivers.end(), [&](const match::Pairing& pair) { return pair.driver == channel()->drive.part; });
    for (const auto& pair : drivers) {
        if (y > box.bottom() - px(30)) break;
        const auto* driver = project::findDriver(model().parts, pair.driver);
        const bool contact = kinds::driverKind(*driver).contact;
        const double amps = contact ? pair.numbers.winding * driver::usualInrush(load) : pair.numbers.winding;
        const double limit = kinds::bornBy(*driver, context);
        const bool chosen = pair.driver == channel()->drive.part;
        const QString warm = pair.heat ? tr(", %1 of heat").arg(text(display(*pair.heat, 2))) : QString();
        row((chosen ? tr("chosen: %1%2") : tr("%1%2")).arg(text(pair.driver_name), warm), amps, limit, Kind::Current,
            chosen ? c.spark : c.soft, pair.verdict);
    }
}

}  // namespace hinge::app
