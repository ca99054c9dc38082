#include "pictures/picture.hpp"
#include "quantity/text.hpp"
#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QFileDialog>
#include <QMenu>
#include <QMouseEvent>
#include <QPainterPath>
#include <QSvgGenerator>
#include <cmath>

namespace hinge::app {
namespace {

void say(QPainter& p, const QPointF& at, const QString& words, Text size, const QColor& colour, Qt::Alignment align = Qt::AlignLeft) {
    p.setFont(textFont(size));
    p.setPen(colour);
    const double w = p.fontMetrics().horizontalAdvance(words) + 2;
    const double x = align & Qt::AlignRight ? at.x() - w : align & Qt::AlignHCenter ? at.x() - w / 2 : at.x();
    p.drawText(QRectF(x, at.y() - p.fontMetrics().height(), w, p.fontMetrics().height() * 1.2), Qt::AlignVCenter, words);
}

}  // namespace

double roundStep(double span, int about) {
    const double raw = span / std::max(1, about);
    const double power = std::pow(10.0, std::floor(std::log10(raw)));
    for (const double m : {1.0, 2.0, 5.0, 10.0})
        if (raw <= m * power) return m * power;
    return 10.0 * power;
}

void Axes::draw(QPainter& p, Kind xKind, Kind yKind, const QString& xTitle, const QString& yTitle) const {
    const auto& c = colours();
    const auto xUnit = displayUnit(xKind, x1), yUnit = displayUnit(yKind, y1);
    const auto xStep = roundStep((x1 - x0) / xUnit.factor, static_cast<int>(box.width() / px(90))) * xUnit.factor;
    const auto yStep = roundStep((y1 - y0) / yUnit.factor, static_cast<int>(box.height() / px(55))) * yUnit.factor;
    for (double v = std::ceil(x0 / xStep) * xStep; v <= x1 * (1 + 1e-9); v += xStep) {
        p.setPen(QPen(c.line, 1));
        p.drawLine(QPointF(x(v), box.top()), QPointF(x(v), box.bottom()));
        say(p, QPointF(x(v), box.bottom() + px(16)), QString("%1").arg(std::abs(v) < 1e-12 ? 0.0 : v / xUnit.factor, 0, 'g', 4), Text::Small, c.ink, Qt::AlignHCenter);
    }
    for (double v = std::ceil(y0 / yStep) * yStep; v <= y1 * (1 + 1e-9); v += yStep) {
        p.setPen(QPen(c.line, 1));
        p.drawLine(QPointF(box.left(), y(v)), QPointF(box.right(), y(v)));
        say(p, QPointF(box.left() - px(8), y(v) + px(6)), QString("%1").arg(std::abs(v) < 1e-12 ? 0.0 : v / yUnit.factor, 0, 'g', 4), Text::Small, c.ink, Qt::AlignRight);
    }
    say(p, QPointF(box.right(), box.bottom() + px(32)), xTitle + ", " + text(xUnit.name), Text::Small, c.soft, Qt::AlignRight);
    say(p, QPointF(box.left() - px(36), box.top() - px(6)), yTitle + ", " + text(yUnit.name), Text::Small, c.soft);
}

Picture::Picture(Document* document, project::Stage stage, QWidget* parent) : QWidget(parent), document_(document), stage_(stage) {
    setObjectName("picture");
    setMouseTracking(true);
    setMinimumSize(300, 200);
}

void Picture::present(const QString& channel) {
    channel_ = channel;
    update();
}

void Picture::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), colours().card);
    render(p, QRectF(rect()));
}

void Picture::render(QPainter& p, const QRectF& box) {
    p.setRenderHint(QPainter::Antialiasing);
    ring_.reset();
    using S = project::Stage;
    switch (stage_) {
        case S::Need: planned() == nullptr ? brief(p, box) : need(p, box); break;
        case S::Match: match(p, box); break;
        case S::Feed: feed(p, box); break;
        case S::Pins: pins(p, box); break;
        case S::Pulse: pulse(p, box); break;
        case S::Routine: routine(p, box); break;
        default: break;
    }
}

void Picture::brief(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& model = document_->model();
    double y = box.top() + px(30);
    const auto heading = [&](const QString& words) {
        say(p, {box.left() + px(14), y}, words, Text::Figure, c.ink);
        y += px(24);
    };
    const auto line = [&](const QString& name, const QString& how, const QColor& colour) {
        p.fillRect(QRectF(box.left() + px(14), y - px(15), px(3), px(34)), colour);
        say(p, {box.left() + px(26), y}, name, Text::Body, c.ink);
        p.setFont(textFont(Text::Small));
        p.setPen(c.soft);
        const QRectF room(box.left() + px(26), y + px(3), box.width() - px(50), px(34));
        p.drawText(room, Qt::TextWordWrap, how);
        y += px(46);
    };
    heading(tr("Still unknown, and how to find out"));
    if (model.plan.missing.empty()) line(tr("nothing"), tr("every figure that the plan needs is there"), c.hinge);
    int n = 0;
    for (const auto& missing : model.plan.missing) {
        if (++n > 7) break;
        line(text(missing.label), text(missing.how), c.soft);
    }
    y += px(8);
    heading(tr("Be careful of"));
    for (const auto& finding : model.plan.findings) {
        if (finding.id != "water-near" && finding.id != "restart-unattended" && finding.id != "capacitor-stored" && finding.id != "clock-lost") continue;
        if (y > box.bottom() - px(40)) break;
        line(text(finding.id == "water-near" ? "Water near electricity" : finding.id == "clock-lost" ? "The clock is lost in a power cut" : finding.id == "capacitor-stored" ? "A charged capacitor" : "It starts by itself"), text(finding.text), c.spark);
    }
}

// Head over flow: what lift and tube ask, and, for Match, what the pumps give.
void Picture::curves(QPainter& p, const QRectF& box, bool withPumps) {
    const auto& c = colours();
    const auto* plan_of = planned();
    const auto* channel = project::findChannel(document_->model().project, channel_.toStdString());
    if (plan_of == nullptr || channel == nullptr) return;
    const auto& pump = plan_of->pump;
    const auto* part = project::findPump(document_->model().parts, channel->actuator);
    if (!channel->demand.lift || !channel->demand.tube_length || !channel->demand.tube_diameter) {
        say(p, box.center(), tr("Lift, tube length and bore are needed to draw what is asked."), Text::Body, c.soft, Qt::AlignHCenter);
        return;
    }
    double most_flow = pump.ask.flow ? si(*pump.ask.flow) * 1.8 : 2e-5;
    double most_head = std::max(0.2, si(*channel->demand.lift) * 1.8);
    HeadCurve own;
    if (withPumps && part != nullptr) {
        own = match::curveAt(*part, pump.chosen && pump.chosen->speed ? si(*pump.chosen->speed) : 1.0);
        most_flow = std::max(most_flow, own.points.back().x * 1.08);
        most_head = std::max(most_head, std::min(own.points.front().y * 1.15, si(*channel->demand.lift) * 6 + 2));
    }
    if (const auto end = match::systemHead(channel->demand, most_flow)) most_head = std::max(most_head, std::min(*end * 1.05, most_head * 2));
    axes_ = {box.adjusted(px(46), px(26), -px(18), -px(38)), 0.0, most_flow, 0.0, most_head};
    axes_.draw(p, Kind::VolumeFlow, Kind::Length, tr("flow"), tr("head"));
    p.save();
    p.setClipRect(axes_.box);
    const auto draw = [&](const HeadCurve& curve, const QPen& pen) {
        QPolygonF line;
        for (const auto& point : curve.points) line << axes_.at(point.x, point.y);
        p.setPen(pen);
        p.setBrush(Qt::NoBrush);
        p.drawPolyline(line);
    };
    if (withPumps)
        for (const auto& other : document_->model().parts.pumps)
            if (part == nullptr || other.id != part->id) draw(other.curve, QPen(c.line, 1.4));
    QPolygonF system;
    for (int i = 0; i <= 120; ++i) {
        const double q = most_flow * i / 120.0;
        if (const auto head = match::systemHead(channel->demand, q)) system << axes_.at(q, *head);
    }
    p.setPen(QPen(c.ink, 2));
    p.drawPolyline(system);
    if (withPumps && part != nullptr) draw(own, QPen(c.hinge, 3));
    p.restore();
    if (!system.isEmpty()) {
        const QPointF end = system[static_cast<int>(system.size()) * 2 / 3];
        say(p, end + QPointF(0, -px(8)), tr("what lift and tube ask"), Text::Small, c.ink, Qt::AlignHCenter);
    }
    p.setPen(QPen(c.hinge, 1, Qt::DashLine));
    p.drawLine(axes_.at(0, si(*channel->demand.lift)), axes_.at(most_flow, si(*channel->demand.lift)));
    say(p, axes_.at(most_flow, si(*channel->demand.lift)) + QPointF(-px(4), px(16)), tr("lift %1").arg(text(displayPlain(*channel->demand.lift))), Text::Small, c.hinge, Qt::AlignRight);
    if (pump.ask.flow) {
        p.setPen(QPen(c.time, 1.5, Qt::DashLine));
        p.drawLine(axes_.at(si(*pump.ask.flow), 0), axes_.at(si(*pump.ask.flow), most_head));
        say(p, axes_.at(si(*pump.ask.flow), most_head) + QPointF(px(6), px(16)), tr("asked: %1").arg(text(display(*pump.ask.flow))), Text::Small, c.time);
    }
    if (!withPumps && pump.ask.flow && pump.ask.head) {
        const QPointF at = axes_.at(si(*pump.ask.flow), si(*pump.ask.head));
        p.setPen(QPen(c.hinge, 3));
        p.setBrush(c.card);
        p.drawEllipse(at, px(6), px(6));
        say(p, at + QPointF(px(12), -px(6)), tr("%1 of head").arg(text(display(*pump.ask.head))), Text::Figure, c.hinge);
    }
    if (withPumps && part != nullptr && !own.points.empty()) {
        say(p, axes_.at(own.points.front().x, std::min(own.points.front().y, most_head)) + QPointF(px(8), px(2)), text(part->name), Text::Small, c.hinge);
        if (pump.chosen && pump.chosen->flow && pump.chosen->head) {
            const QPointF at = axes_.at(si(*pump.chosen->flow), si(*pump.chosen->head));
            ring_ = at;
            p.setPen(QPen(c.hinge, 3));
            p.setBrush(c.card);
            p.drawEllipse(at, px(7), px(7));
            say(p, at + QPointF(px(12), -px(8)), tr("%1 at %2").arg(text(display(*pump.chosen->flow)), text(display(*pump.chosen->head))), Text::Figure, c.hinge);
        }
    }
    if (pointer_ && axes_.box.contains(*pointer_) && !dragging_)
        say(p, {axes_.box.right(), axes_.box.top() - px(6)}, tr("%1, %2").arg(text(display(Kind::VolumeFlow, axes_.valueX(pointer_->x()))), text(display(Kind::Length, axes_.valueY(pointer_->y())))), Text::Small, c.soft, Qt::AlignRight);
}

void Picture::need(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto* channel = project::findChannel(document_->model().project, channel_.toStdString());
    const double split = box.left() + box.width() * 0.36;
    // The gadget: tank, pump, tube up to the outlet, drawn to the lift.
    const QRectF left(box.left() + px(20), box.top() + px(20), split - box.left() - px(30), box.height() - px(50));
    const double floor = left.bottom() - px(6);
    const QRectF tank(left.left(), floor - px(110), left.width() * 0.62, px(104));
    const double surface = tank.top() + px(26);
    p.setPen(Qt::NoPen);
    p.setBrush(c.hingeTint);
    p.drawRect(QRectF(tank.left(), surface, tank.width(), tank.bottom() - surface));
    p.setPen(QPen(c.ink, 2));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(QPolygonF{tank.topLeft(), tank.bottomLeft(), tank.bottomRight(), tank.topRight()});
    const double lift = channel->demand.lift ? si(*channel->demand.lift) : 0.3;
    const double room = surface - left.top() - px(40);
    const double outlet = surface - room * std::clamp(lift / std::max(0.5, lift), 0.1, 1.0);
    const QPointF pump_at(tank.left() + tank.width() * 0.4, tank.bottom() - px(18));
    QPainterPath drawn;
    drawn.moveTo(pump_at + QPointF(px(12), 0));
    drawn.cubicTo(pump_at + QPointF(px(50), 0), QPointF(tank.left() + tank.width() * 0.75, tank.bottom() - px(20)), QPointF(tank.left() + tank.width() * 0.75, surface - px(10)));
    drawn.lineTo(tank.left() + tank.width() * 0.75, outlet);
    drawn.lineTo(tank.left() + tank.width() * 0.75 + px(36), outlet);
    p.setPen(QPen(c.hinge, 4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.drawPath(drawn);
    p.setPen(QPen(c.ink, 2));
    p.setBrush(c.card);
    p.drawEllipse(pump_at, px(13), px(13));
    p.drawLine(pump_at + QPointF(-px(6), px(6)), pump_at + QPointF(px(6), -px(6)));
    p.drawLine(pump_at + QPointF(-px(6), -px(6)), pump_at + QPointF(px(6), px(6)));
    p.setPen(Qt::NoPen);
    p.setBrush(c.hinge);
    const QPointF drip(tank.left() + tank.width() * 0.75 + px(38), outlet);
    for (int i = 0; i < 4; ++i) p.drawEllipse(drip + QPointF(px(2) + i * px(1.5), px(14) + i * px(17)), px(2.4), px(3.6));
    // The lift, measured.
    const double ruler = tank.left() + tank.width() * 0.75 - px(24);
    p.setPen(QPen(c.ink, 1));
    p.drawLine(QPointF(ruler, surface), QPointF(ruler, outlet));
    p.drawLine(QPointF(ruler - px(4), surface), QPointF(ruler + px(4), surface));
    p.drawLine(QPointF(ruler - px(4), outlet), QPointF(ruler + px(4), outlet));
    say(p, {ruler - px(6), (surface + outlet) / 2}, channel->demand.lift ? text(displayPlain(*channel->demand.lift)) : tr("lift?"), Text::Figure, c.hinge, Qt::AlignRight);
    const QString tube_words = channel->demand.tube_length && channel->demand.tube_diameter ? tr("%1 of tube, %2 bore").arg(text(displayPlain(*channel->demand.tube_length)), text(displayPlain(*channel->demand.tube_diameter))) : tr("tube not known");
    say(p, {left.left(), left.bottom() + px(18)}, tube_words, Text::Small, c.soft);
    const auto* plan_of = planned();
    if (plan_of->pump.dose_time) say(p, {left.left(), left.top() + px(8)}, tr("one dose: %1").arg(text(display(*plan_of->pump.dose_time))), Text::Figure, c.time);
    curves(p, QRectF(split, box.top(), box.right() - split, box.height()), false);
}

void Picture::match(QPainter& p, const QRectF& box) { curves(p, box, true); }

void Picture::sceneCurrent(QPainter& p, const QRectF& box, bool withOutputs) {
    const auto& c = colours();
    const auto& model = document_->model();
    if (!model.scene) {
        say(p, box.center(), tr("The scene cannot be played yet: the routine or the pump is not settled."), Text::Body, c.soft, Qt::AlignHCenter);
        return;
    }
    const auto& scene = *model.scene;
    const double top_lanes = withOutputs ? px(30) + px(26) * static_cast<double>(model.project.channels.size()) : px(10);
    const double gives = model.plan.headline.source_current ? si(*model.plan.headline.source_current) : 0.0;
    const double most = std::max(scene.peak_current * 1.25, std::min(gives * 1.15, scene.peak_current * 4));
    Axes axes{box.adjusted(px(52), top_lanes + px(18), -px(18), -px(38)), 0.0, scene.length, 0.0, most};
    axes_ = axes;
    axes.draw(p, Kind::Duration, Kind::Current, tr("time"), tr("from the supply"));
    if (withOutputs)
        for (std::size_t o = 0; o < model.project.channels.size(); ++o) {
            const double y = box.top() + px(22) + px(26) * static_cast<double>(o);
            say(p, {axes.box.left() - px(6), y + px(12)}, text(model.project.channels[o].name), Text::Small, c.ink, Qt::AlignRight);
            double from = -1.0;
            for (const auto& s : scene.switchings) {
                if (s.output != static_cast<int>(o)) continue;
                if (s.on) from = s.time;
                else if (from >= 0.0) {
                    const QRectF block(QPointF(axes.x(from), y), QPointF(axes.x(s.time), y + px(18)));
                    p.setPen(Qt::NoPen);
                    p.setBrush(c.time);
                    p.drawRoundedRect(block, 3, 3);
                    p.setFont(textFont(Text::Small));
                    p.setPen(c.card);
                    p.drawText(block.adjusted(px(6), 0, 0, 0), Qt::AlignVCenter, text(display(Kind::Duration, s.time - from)));
                    from = -1.0;
                }
            }
            p.setPen(c.line);
            p.drawLine(QPointF(axes.box.left(), y + px(22)), QPointF(axes.box.right(), y + px(22)));
        }
    QPolygonF area;
    area << axes.at(0, 0);
    QPolygonF rest;
    double floor_current = scene.samples.empty() ? 0.0 : scene.samples.front().current;
    for (const auto& s : scene.samples) area << axes.at(s.time, s.current);
    area << axes.at(scene.length, 0);
    p.setPen(Qt::NoPen);
    p.setBrush(c.sparkTint);
    p.drawPolygon(area);
    p.setBrush(QColor(c.spark.red(), c.spark.green(), c.spark.blue(), 90));
    p.drawRect(QRectF(axes.at(0, floor_current), axes.at(scene.length, 0)));
    p.setPen(QPen(c.spark, 2));
    p.setBrush(Qt::NoBrush);
    QPolygonF line = area.mid(1, area.size() - 2);
    p.drawPolyline(line);
    say(p, axes.at(0, floor_current) + QPointF(px(6), px(14)), tr("board"), Text::Small, c.ink);
    if (gives > 0.0 && gives <= most) {
        p.setPen(QPen(c.ink, 2));
        p.drawLine(axes.at(0, gives), axes.at(scene.length, gives));
        say(p, axes.at(scene.length, gives) + QPointF(0, -px(4)), tr("the supply gives %1").arg(text(display(Kind::Current, gives))), Text::Small, c.ink, Qt::AlignRight);
    }
    const QPointF peak = axes.at(scene.peak_time, scene.peak_current);
    p.setPen(QPen(c.spark, 2));
    p.setBrush(c.card);
    p.drawEllipse(peak, px(5), px(5));
    say(p, peak + QPointF(px(10), -px(4)), tr("%1 at %2").arg(text(display(Kind::Current, scene.peak_current)), text(display(Kind::Duration, scene.peak_time))), Text::Figure, c.spark);
    if (pointer_ && axes.box.contains(*pointer_)) {
        p.setPen(QPen(c.ink, 1, Qt::DotLine));
        p.drawLine(QPointF(pointer_->x(), axes.box.top()), QPointF(pointer_->x(), axes.box.bottom()));
        const double t = axes.valueX(pointer_->x());
        double value = floor_current;
        for (const auto& s : scene.samples)
            if (s.time <= t) value = s.current;
        say(p, {axes.box.right(), axes.box.top() - px(4)}, tr("%1 at %2").arg(text(display(Kind::Current, value)), text(display(Kind::Duration, t))), Text::Small, c.soft, Qt::AlignRight);
    }
}

void Picture::feed(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& model = document_->model();
    const double split = box.left() + box.width() * 0.38;
    const QRectF tree(box.left() + px(14), box.top() + px(10), split - box.left() - px(20), box.height() - px(20));
    const double most = std::max(0.1, model.plan.headline.worst_current ? si(*model.plan.headline.worst_current) : 0.5);
    const auto thick = [&](double amps) { return std::clamp(14.0 * amps / most, 1.5, 14.0); };
    const QPointF top(tree.center().x(), tree.top() + px(16));
    const QRectF source(top.x() - px(70), top.y() - px(14), px(140), px(30));
    const auto count = std::max<std::size_t>(1, model.plan.rails.size());
    for (std::size_t i = 0; i < model.plan.rails.size(); ++i) {
        const auto& rail = model.plan.rails[i];
        const auto* decided = project::findRail(model.project, rail.id);
        const double x = tree.left() + tree.width() * (static_cast<double>(i) + 0.5) / static_cast<double>(count);
        const double amps = rail.starting ? si(*rail.starting) : 0.05;
        const double end = tree.top() + px(150);
        QPainterPath branch;
        branch.moveTo(top + QPointF(0, px(14)));
        branch.cubicTo(QPointF(top.x(), top.y() + px(70)), QPointF(x, top.y() + px(50)), QPointF(x, end));
        p.setPen(QPen(rail.verdict == Verdict::Breaks ? c.breaks : c.spark, thick(amps), Qt::SolidLine, Qt::FlatCap));
        p.setBrush(Qt::NoBrush);
        p.drawPath(branch);
        const QRectF node(x - tree.width() / static_cast<double>(count) / 2 + px(4), end, tree.width() / static_cast<double>(count) - px(8), px(48));
        p.setPen(QPen(c.ink, 1.5));
        p.setBrush(c.card);
        p.drawRoundedRect(node, 4, 4);
        p.setFont(textFont(Text::Figure));
        p.setPen(c.ink);
        p.drawText(node.adjusted(0, px(4), 0, -px(22)), Qt::AlignCenter, text(rail.name));
        p.setFont(textFont(Text::Small));
        p.setPen(c.soft);
        p.drawText(node.adjusted(0, px(22), 0, 0), Qt::AlignCenter, decided != nullptr ? tr(labelOf(decided->conversion)) : QString());
        double y = node.bottom() + px(22);
        const auto fact = [&](const QString& name, const QString& value, const QColor& colour) {
            say(p, {node.left() + px(2), y}, name, Text::Small, c.soft);
            say(p, {node.right() - px(2), y}, value, Text::Figure, colour, Qt::AlignRight);
            y += px(22);
        };
        const auto amount = [&](const auto& value) { return value ? text(display(*value)) : tr("not known"); };
        fact(tr("volts"), amount(rail.voltage), c.spark);
        fact(tr("at rest"), amount(rail.rest), c.spark);
        fact(tr("running"), amount(rail.running), c.spark);
        fact(tr("starting"), amount(rail.starting), c.spark);
        fact(tr("jammed"), amount(rail.stalled), c.spark);
        fact(tr("lowest"), amount(rail.lowest), rail.verdict == Verdict::Breaks ? c.breaks : c.spark);
        if (decided != nullptr) fact(tr("fuse"), decided->fuse ? text(displayPlain(*decided->fuse)) : tr("none"), c.ink);
    }
    p.setPen(Qt::NoPen);
    p.setBrush(c.ink);
    p.drawRoundedRect(source, 4, 4);
    p.setPen(c.card);
    p.setFont(textFont(Text::Body));
    QString name = tr("no source");
    if (!model.project.sources.empty()) {
        const auto& s = model.project.sources.front();
        name = text(s.name) + (s.voltage ? " " + text(displayPlain(*s.voltage)) : "") + (s.current ? " " + text(displayPlain(*s.current)) : "");
    }
    p.drawText(source, Qt::AlignCenter, name);
    const auto* channel = project::findChannel(model.project, channel_.toStdString());
    if (channel != nullptr) {
        const double y = tree.bottom() - px(30);
        say(p, {tree.left(), y}, channel->drive.flyback_diode ? tr("%1: at switch-off its current dies through the diode,").arg(text(channel->name)) : tr("%1 has no flyback path!").arg(text(channel->name)), Text::Small, channel->drive.flyback_diode ? c.soft : c.breaks);
        if (channel->drive.flyback_diode) say(p, {tree.left(), y + px(15)}, tr("stripe to the plus side of the pump."), Text::Small, c.soft);
    }
    sceneCurrent(p, QRectF(split, box.top(), box.right() - split, box.height()), true);
}

void Picture::pins(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& model = document_->model();
    const auto& family = board::family(model.project.board.form);
    const QRectF body(box.center().x() - box.width() * 0.17, box.top() + px(24), box.width() * 0.34, box.height() - px(60));
    p.setPen(QPen(c.ink, 2));
    p.setBrush(c.paper);
    p.drawRoundedRect(body, 10, 10);
    p.setFont(textFont(Text::Figure));
    p.setPen(c.ink);
    p.drawText(body.adjusted(px(50), px(10), -px(50), -px(10)), Qt::AlignCenter | Qt::TextWordWrap, text(std::string{family.name}));
    const auto side = [&](bool left, std::size_t first, std::size_t last) {
        const double step = body.height() / static_cast<double>(last - first + 1);
        for (std::size_t i = first; i < last; ++i) {
            const auto& pin = family.pins[i];
            const double y = body.top() + step * (static_cast<double>(i - first) + 0.8);
            const double x = left ? body.left() : body.right();
            const plan::PinUse* use = nullptr;
            for (const auto& entry : model.plan.pins)
                if (entry.pin == pin.name) use = &entry;
            p.setPen(QPen(c.ink, 1.2));
            p.setBrush(use != nullptr ? (use->verdict == Verdict::Breaks ? c.breaks : use->output ? c.spark : c.time) : c.card);
            p.drawRect(QRectF(x - px(6), y - px(6), px(12), px(12)));
            const double in = left ? x + px(12) : x - px(12);
            say(p, {in, y + px(6)}, text(std::string{pin.name}), Text::Small, c.ink, left ? Qt::AlignLeft : Qt::AlignRight);
            if (pin.pwm_timer >= 0) {
                const double d = left ? x + px(46) : x - px(46);
                p.setPen(Qt::NoPen);
                p.setBrush(c.time);
                p.drawEllipse(QPointF(d, y), px(6.5), px(6.5));
                p.setFont(textFont(Text::Small));
                p.setPen(c.card);
                p.drawText(QRectF(d - px(7), y - px(8), px(14), px(16)), Qt::AlignCenter, QString::number(pin.pwm_timer));
            }
            if (use != nullptr) {
                const bool mine = text(use->user) == channel_;
                const QColor colour = use->verdict == Verdict::Breaks ? c.breaks : use->output ? c.spark : c.time;
                p.setPen(QPen(colour, mine ? 4 : 2.5));
                const double far = left ? box.left() + px(120) : box.right() - px(120);
                p.drawLine(QPointF(x + (left ? -px(6) : px(6)), y), QPointF(far, y));
                say(p, {left ? far - px(6) : far + px(6), y + px(6)}, text(use->role), mine ? Text::Figure : Text::Body, colour, left ? Qt::AlignRight : Qt::AlignLeft);
            } else if (!pin.shares.empty()) {
                say(p, {left ? x - px(12) : x + px(12), y + px(6)}, text(std::string{pin.shares}), Text::Small, c.soft, left ? Qt::AlignRight : Qt::AlignLeft);
            }
        }
    };
    side(false, 0, 14);
    side(true, 14, family.pins.size());
    const auto* channel = project::findChannel(model.project, channel_.toStdString());
    if (channel != nullptr)
        if (const auto pin = board::pinNamed(family, channel->pin); pin && pin->pwm_timer >= 0) {
            QString others;
            for (const auto& other : family.pins)
                if (other.pwm_timer == pin->pwm_timer && other.name != pin->name) others += text(std::string{other.name}) + " ";
            const auto serves = board::timerServes(pin->pwm_timer);
            say(p, {box.left() + px(16), box.bottom() - px(12)}, tr("Timer %1 also drives %2%3").arg(pin->pwm_timer).arg(others.trimmed(), serves.empty() ? "" : tr(" and keeps ") + text(std::string{serves})), Text::Body, c.time);
        }
    if (pointer_) {
        for (std::size_t i = 0; i < family.pins.size(); ++i) {
            const bool left = i >= 14;
            const std::size_t first = left ? 14 : 0, last = left ? family.pins.size() : 14;
            const double y = body.top() + body.height() / static_cast<double>(last - first + 1) * (static_cast<double>(i - first) + 0.8);
            if (std::abs(pointer_->y() - y) > px(9) || (pointer_->x() < body.center().x()) != left) continue;
            const auto& pin = family.pins[i];
            QStringList can{tr("digital"), tr("pin-change interrupt")};
            if (pin.interrupt) can << tr("external interrupt");
            if (pin.analog) can << tr("analogue, 10 bits");
            if (pin.pwm_timer >= 0) can << tr("PWM, timer %1 output %2").arg(pin.pwm_timer).arg(pin.pwm_output);
            if (!pin.shares.empty()) can << tr("also %1").arg(text(std::string{pin.shares}));
            say(p, {box.right() - px(12), box.bottom() - px(12)}, text(std::string{pin.name}) + ": " + can.join(", "), Text::Body, c.ink, Qt::AlignRight);
        }
    }
}

void Picture::pulse(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto* plan_of = planned();
    const auto* channel = project::findChannel(document_->model().project, channel_.toStdString());
    if (plan_of == nullptr || channel == nullptr || !plan_of->pump.pwm) {
        say(p, box.center(), tr("No pulses: the pin is switched on and off."), Text::Body, c.soft, Qt::AlignHCenter);
        return;
    }
    const auto& pwm = *plan_of->pump.pwm;
    const double period = 1.0 / si(pwm.actual_frequency);
    const auto steps = static_cast<std::int32_t>(si(pwm.steps));
    const auto ramp = static_cast<std::int32_t>(std::lround(si(channel->signal.soft_start) * 1000));
    const auto permille = static_cast<std::int32_t>(std::lround(si(channel->signal.duty) * 1000));
    // Pulses from the middle of the ramp, where the duty can be seen to grow.
    const int shown = 9;
    const double from = ramp > 0 ? si(channel->signal.soft_start) * 0.3 : 0.0;
    const QRectF train(box.left() + px(52), box.top() + px(56), box.width() - px(74), box.height() * 0.3);
    const auto levelAt = [&](double t) { return routine::rampLevel(permille, steps, std::max<std::int32_t>(1, static_cast<std::int32_t>(t * 1000.0) + 1), ramp); };
    QPainterPath wave;
    wave.moveTo(train.left(), train.bottom());
    double first_high = 0.0, first_start = 0.0;
    int first_level = 0;
    const double span = shown * period;
    for (int k = 0; k < shown; ++k) {
        const double start = from + k * period;
        const int level = levelAt(start);
        const double high = static_cast<double>(level) / steps;
        const double x0 = train.left() + train.width() * k / shown;
        const double x1 = x0 + train.width() / shown * high;
        wave.lineTo(x0, train.bottom());
        wave.lineTo(x0, train.top());
        wave.lineTo(x1, train.top());
        if (high < 1.0) wave.lineTo(x1, train.bottom());
        if (k == 4) first_high = x1, first_start = x0, first_level = level;
    }
    wave.lineTo(train.right(), levelAt(from + span) >= steps ? train.top() : train.bottom());
    p.setPen(QPen(c.time, 2.5));
    p.setBrush(Qt::NoBrush);
    p.drawPath(wave);
    const double volts = board::family(document_->model().project.board.form).logic;
    say(p, {train.left() - px(8), train.top() + px(6)}, QString("%1 V").arg(volts), Text::Small, c.ink, Qt::AlignRight);
    say(p, {train.left() - px(8), train.bottom() + px(6)}, "0 V", Text::Small, c.ink, Qt::AlignRight);
    say(p, {train.left(), train.top() - px(26)}, tr("at %1, from %2 after switch-on").arg(text(channel->pin), text(display(Kind::Duration, from))), Text::Small, c.soft);
    const double dim = train.bottom() + px(24);
    p.setPen(QPen(c.ink, 1));
    p.drawLine(QPointF(first_start, dim), QPointF(first_start + train.width() / shown, dim));
    p.drawLine(QPointF(first_start, dim - 4), QPointF(first_start, dim + 4));
    p.drawLine(QPointF(first_start + train.width() / shown, dim - 4), QPointF(first_start + train.width() / shown, dim + 4));
    say(p, {first_start + train.width() / shown / 2, dim + px(20)}, tr("period %1").arg(text(display(Kind::Duration, period, 4))), Text::Figure, c.time, Qt::AlignHCenter);
    p.drawLine(QPointF(first_start, train.top() - px(8)), QPointF(first_high, train.top() - px(8)));
    say(p, {(first_start + first_high) / 2, train.top() - px(10)}, tr("high %1, %2 of %3").arg(text(display(Kind::Duration, period * first_level / steps, 3))).arg(first_level).arg(steps), Text::Figure, c.time, Qt::AlignHCenter);
    // The whole soft start below: level against time, and the current it lets through.
    Axes axes{QRectF(box.left() + px(52), train.bottom() + px(86), box.width() - px(74), box.bottom() - train.bottom() - px(130)), 0.0, std::max(0.05, si(channel->signal.soft_start) * 1.6), 0.0, 1.08};
    axes.draw(p, Kind::Duration, Kind::Fraction, tr("time after switch-on"), tr("share of full power"));
    QPolygonF ramp_line;
    for (int i = 0; i <= 400; ++i) {
        const double t = axes.x1 * i / 400.0;
        ramp_line << axes.at(t, static_cast<double>(levelAt(t)) / steps);
    }
    p.setPen(QPen(c.time, 2.5));
    p.drawPolyline(ramp_line);
    p.fillRect(QRectF(axes.at(from, 1.08), axes.at(from + span, 0)), QColor(c.time.red(), c.time.green(), c.time.blue(), 40));
    say(p, axes.at(from + span, 1.08) + QPointF(px(4), px(16)), tr("the pulses above"), Text::Small, c.time);
    say(p, {box.right() - px(20), box.top() + px(24)}, tr("timer %1, prescaler %2, TOP %3, %4").arg(si(pwm.timer)).arg(si(pwm.prescaler)).arg(si(pwm.top)).arg(tr(labelOf(pwm.mode))), Text::Body, c.ink, Qt::AlignRight);
    if (plan_of->pump.chosen && plan_of->pump.chosen->starting && plan_of->pump.chosen->stalled)
        say(p, axes.at(axes.x1, 0.12) + QPointF(-px(6), 0), tr("starting draws %1 instead of %2").arg(text(display(*plan_of->pump.chosen->starting)), text(display(*plan_of->pump.chosen->stalled))), Text::Figure, c.spark, Qt::AlignRight);
}

void Picture::routine(QPainter& p, const QRectF& box) { sceneCurrent(p, box, true); }

void Picture::mousePressEvent(QMouseEvent* event) {
    if (stage_ == project::Stage::Match && ring_ && QLineF(*ring_, event->position()).length() < px(16)) dragging_ = true;
}

void Picture::mouseMoveEvent(QMouseEvent* event) {
    pointer_ = event->position();
    update();
}

void Picture::mouseReleaseEvent(QMouseEvent* event) {
    if (!dragging_) return;
    dragging_ = false;
    // The ring slides along the pump's curve: the lift is what is left there after the tube's friction.
    const auto* channel = project::findChannel(document_->model().project, channel_.toStdString());
    const auto* plan_of = planned();
    const auto* part = channel != nullptr ? project::findPump(document_->model().parts, channel->actuator) : nullptr;
    if (part == nullptr || plan_of == nullptr || !plan_of->pump.chosen || !plan_of->pump.chosen->speed) return;
    const auto lift = match::liftAt(channel->demand, match::curveAt(*part, si(*plan_of->pump.chosen->speed)), axes_.valueX(event->position().x()));
    if (lift) document_->apply(project::FactEdit{"channels/" + channel->id + "/demand/lift", exactText(Kind::Length, *lift)});
}

void Picture::contextMenuEvent(QContextMenuEvent* event) {
    QMenu menu(this);
    auto* copy = menu.addAction(tr("Copy this picture"));
    auto* save = menu.addAction(tr("Save as SVG or PNG…"));
    const auto* chosen = menu.exec(event->globalPos());
    if (chosen == copy) {
        QApplication::clipboard()->setPixmap(grab());
    } else if (chosen == save) {
        const QString file = QFileDialog::getSaveFileName(this, tr("Save the picture"), "picture.svg", tr("Pictures (*.svg *.png)"));
        if (file.endsWith(".png")) {
            grab().save(file);
        } else if (!file.isEmpty()) {
            QSvgGenerator svg;
            svg.setFileName(file);
            svg.setSize(size());
            svg.setViewBox(rect());
            QPainter painter(&svg);
            render(painter, QRectF(rect()));
        }
    }
}

}  // namespace hinge::app
