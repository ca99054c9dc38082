#include "stages/match/match_picture.hpp"
#include <QLineF>
#include <QMouseEvent>
#include <algorithm>
#include "kinds/system_curve.hpp"

namespace hinge::app {

HeadFlowPicture::HeadFlowPicture(Document* document, bool withPumps, QWidget* parent) : Picture(document, parent), withPumps_(withPumps) {}

void HeadFlowPicture::draw(QPainter& p, const QRectF& box) {
    curves(p, box);
}

namespace {

// The chosen part where it lifts water; nullptr for none, or another.
const actuator::Part* liftingPart(const Model& model, const project::Channel& channel) {
    const auto* part = project::findActuator(model.parts, channel.actuator);
    return part != nullptr && kinds::actuatorKind(*part).lifting ? part : nullptr;
}
HeadCurve fullCurve(const actuator::Part& part) {
    return kinds::actuatorKind(part).lifting(part, 1.0);
}

}  // namespace

void HeadFlowPicture::pumps(QPainter& p, const HeadCurve& own, double mostHead) {
    const auto& c = colours();
    const auto* part = liftingPart(model(), *channel());
    const auto outline = [&](const HeadCurve& curve) {
        QPolygonF line;
        for (const auto& point : curve.points) line << axes_.at(point.x, point.y);
        return line;
    };
    QColor faint = c.soft;
    faint.setAlphaF(0.45F);
    const actuator::Part* nearest = nullptr;
    double best = px(9);
    std::vector<const actuator::Part*> others;
    for (const auto& each : model().parts.actuators)
        if (kinds::actuatorKind(each).lifting && &each != part) others.push_back(&each);
    for (const auto* each : others) {
        const auto line = outline(fullCurve(*each));
        p.setPen(QPen(faint, 1.4));
        p.drawPolyline(line);
        if (!pointer_) continue;
        for (qsizetype i = 1; i < line.size(); ++i) {
            const QLineF piece(line[i - 1], line[i]);
            const double along = std::clamp(
                QPointF::dotProduct(*pointer_ - piece.p1(), piece.p2() - piece.p1()) / std::max(1e-9, piece.length() * piece.length()), 0.0,
                1.0);
            const double away = QLineF(*pointer_, piece.pointAt(along)).length();
            if (away < best) best = away, nearest = each;
        }
    }
    if (nearest != nullptr) {
        p.setPen(QPen(c.ink, 2));
        p.drawPolyline(outline(fullCurve(*nearest)));
    }
    if (!own.points.empty()) {
        p.setPen(QPen(c.hinge, 3));
        p.drawPolyline(outline(own));
    }
    p.setClipping(false);
    // Names where a curve leaves the axis, so that nobody needs a legend.
    double below = axes_.box.top() - px(40);
    std::vector<std::pair<double, QString>> names;
    for (const auto* other : others)
        if (const double shut = fullCurve(*other).points.front().y; shut < mostHead && names.size() < 9)
            names.emplace_back(axes_.y(shut), text(actuator::head(*other).name));
    std::sort(names.begin(), names.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    for (const auto& [y, name] : names) {
        const double at = std::max(y - px(2), below + px(14));
        say(p, {axes_.box.left() + px(6), at}, name, Text::Small, c.soft, Qt::AlignLeft, true);
        below = at;
    }
    if (nearest != nullptr)
        say(p, *pointer_ + QPointF(px(10), -px(6)), text(actuator::head(*nearest).name), Text::Small, c.ink, Qt::AlignLeft, true);
}

void HeadFlowPicture::ringAt(QPainter& p, const QPointF& at, const QString& words) const {
    const auto& c = colours();
    p.setPen(QPen(c.hinge, 3));
    p.setBrush(c.card);
    p.drawEllipse(at, px(7), px(7));
    const bool left = at.x() > axes_.box.left() + axes_.box.width() * 0.62;
    say(p, at + QPointF(left ? -px(14) : px(14), px(20)), words, Text::Figure, c.hinge, left ? Qt::AlignRight : Qt::AlignLeft, true);
}

void HeadFlowPicture::curves(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    ring_.reset();
    if (planned() == nullptr || channel() == nullptr || !std::holds_alternative<project::PumpDemand>(channel()->demand)) return;
    auto demand = std::get<project::PumpDemand>(channel()->demand);
    if (dragged_) demand.lift = of<Length>(*dragged_);
    const auto& pump = *planned();
    const auto* part = liftingPart(model(), *channel());
    if (!demand.lift || !demand.tube_length || !demand.tube_diameter)
        return waits(p, box,
                     tr("Lift, tube length and bore are needed to draw what is asked. They stand in Need, with how to measure each."));
    HeadCurve own;
    if (withPumps_ && part != nullptr)
        own = kinds::actuatorKind(*part).lifting(*part, pump.chosen && pump.chosen->speed ? si(*pump.chosen->speed) : 1.0);
    const auto window = match::chartWindow(demand, pump.context->ask, own);
    axes_ = {box.adjusted(px(46), px(26), -px(18), -px(38)), 0.0, window.flow, 0.0, window.head};
    axes_.draw(p, Kind::VolumeFlow, Kind::Length, tr("flow"), tr("head"));
    p.save();
    p.setClipRect(axes_.box);
    p.setBrush(Qt::NoBrush);
    if (withPumps_) pumps(p, own, window.head);
    p.setClipRect(axes_.box);
    QPolygonF system;
    for (int i = 0; i <= 160; ++i) {
        const double q = window.flow * i / 160.0;
        if (const auto head = match::systemHead(demand, q); head && *head <= window.head) system << axes_.at(q, *head);
    }
    p.setPen(QPen(c.ink, 2));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(system);
    p.restore();
    if (!system.isEmpty()) {
        // Under the curve near its end: it only rises from there.
        const QPointF on = system[system.size() * 4 / 5];
        say(p, {std::min(on.x() + px(8), axes_.box.right() - px(104)), on.y() + px(24)}, tr("lift and tube ask"), Text::Small, c.ink,
            Qt::AlignLeft, true);
    }
    const double lift = si(*demand.lift);
    if (lift >= 0.0) {
        p.setPen(QPen(c.hinge, 1, Qt::DashLine));
        p.drawLine(axes_.at(0, lift), axes_.at(window.flow, lift));
        say(p, axes_.at(window.flow, lift) + QPointF(-px(4), px(16)), tr("lift %1").arg(text(display(*demand.lift))), Text::Small, c.hinge,
            Qt::AlignRight, true);
    }
    if (pump.context->ask.flow) {
        p.setPen(QPen(c.time, 1.5, Qt::DashLine));
        p.drawLine(axes_.at(si(*pump.context->ask.flow), 0), axes_.at(si(*pump.context->ask.flow), window.head));
        say(p, axes_.at(si(*pump.context->ask.flow), window.head) + QPointF(px(6), px(16)),
            tr("asked: %1").arg(text(display(*pump.context->ask.flow))), Text::Small, c.time, Qt::AlignLeft, true);
    }
    if (!withPumps_) {
        if (pump.context->ask.flow && pump.context->ask.head)
            ringAt(p, axes_.at(si(*pump.context->ask.flow), si(*pump.context->ask.head)),
                   tr("%1 of head").arg(text(display(*pump.context->ask.head))));
        return;
    }
    if (part != nullptr && !own.points.empty()) {
        const double first = std::min(own.points.front().y, window.head * 0.93);
        say(p, axes_.at(0, first) + QPointF(px(6), -px(2)), text(actuator::head(*part).name), Text::Figure, c.hinge, Qt::AlignLeft, true);
        const auto meets = dragged_                           ? match::crossing(demand, own)
                           : pump.chosen && pump.chosen->flow ? std::optional(si(*pump.chosen->flow))
                                                              : std::nullopt;
        if (meets) {
            const double head = match::systemHead(demand, *meets).value_or(lift);
            ring_ = axes_.at(*meets, std::min(head, window.head));
            ringAt(p, *ring_, tr("%1 at %2").arg(text(display(Kind::VolumeFlow, *meets)), text(display(Kind::Length, head))));
        }
    }
    if (pointer_ && axes_.box.contains(*pointer_) && !dragged_)
        say(p, {axes_.box.right(), axes_.box.top() - px(6)},
            tr("%1, %2").arg(text(display(Kind::VolumeFlow, axes_.valueX(pointer_->x()))),
                             text(display(Kind::Length, axes_.valueY(pointer_->y())))),
            Text::Small, c.soft, Qt::AlignRight);
}

std::optional<double> HeadFlowPicture::liftUnder(double pixel) const {
    const auto* part = channel() != nullptr ? liftingPart(model(), *channel()) : nullptr;
    if (part == nullptr || planned() == nullptr || !planned()->chosen || !planned()->chosen->speed) return std::nullopt;
    return match::liftAt(std::get<project::PumpDemand>(channel()->demand),
                         kinds::actuatorKind(*part).lifting(*part, si(*planned()->chosen->speed)), axes_.valueX(pixel));
}

void HeadFlowPicture::mousePressEvent(QMouseEvent* event) {
    if (withPumps_ && ring_ && QLineF(*ring_, event->position()).length() < px(16))
        dragged_ = si(*std::get<project::PumpDemand>(channel()->demand).lift);
}

void HeadFlowPicture::mouseMoveEvent(QMouseEvent* event) {
    if (dragged_)
        if (const auto lift = liftUnder(event->position().x())) dragged_ = *lift;
    if (withPumps_)
        setCursor(dragged_ || (ring_ && QLineF(*ring_, event->position()).length() < px(16)) ? Qt::SizeHorCursor : Qt::ArrowCursor);
    Picture::mouseMoveEvent(event);
}

void HeadFlowPicture::mouseReleaseEvent(QMouseEvent*) {
    if (!dragged_) return;
    const double lift = *dragged_;
    dragged_.reset();
    document_->apply(project::FactEdit{"channels/" + channel()->id + "/demand/lift", exactText(Kind::Length, lift)});
}

}  // namespace hinge::app
