#include "stages/feed/tree_picture.hpp"
#include <QMouseEvent>
#include <QPainterPath>
#include <algorithm>
#include <functional>

namespace hinge::app {

QRectF TreePicture::boxOf(const QString& id) const {
    for (const auto& [known, box] : boxes_)
        if (known == id) return box;
    return {};
}

TreePicture::TreePicture(Document* document, QWidget* parent) : Picture(document, parent) {
    setAccessibleName(tr("Sources and rails, as they feed"));
    setFocusPolicy(Qt::TabFocus);
}

std::vector<Spot> TreePicture::spots() const {
    std::vector<Spot> all;
    for (const auto& [id, box] : boxes_) {
        const auto* source = project::findSource(model().project, id.toStdString());
        const auto* rail = project::findRail(model().project, id.toStdString());
        QString value;
        for (const auto& each : model().plan.rails)
            if (text(each.id) == id && each.lowest) value = tr("lowest %1").arg(text(display(*each.lowest)));
        all.push_back(
            {box.toRect(),
             source != nullptr ? text(source->name)
             : rail != nullptr ? text(rail->name)
                               : id,
             value, tr("change it"),
             [self = const_cast<TreePicture*>(this), id = id, at = mapToGlobal(box.center().toPoint())] { Q_EMIT self->pressed(id, at); },
             false});
    }
    return all;
}

void TreePicture::mousePressEvent(QMouseEvent* event) {
    for (const auto& [id, box] : boxes_)
        if (event->button() == Qt::LeftButton && box.contains(event->position())) {
            Q_EMIT pressed(id, event->globalPosition().toPoint());
            return;
        }
    Picture::mousePressEvent(event);
}

namespace {

// Sources and rails with their depth and a column of their own for each end of the tree.
struct Node {
    QString id, name, how;
    int depth = 0, feed = -1;
    double column = 0.0;
    std::optional<Current> amps;
    std::optional<Voltage> volts;
    Verdict verdict = Verdict::Holds;
    bool source = false, standby = false;
};

std::vector<Node> nodesOf(const Model& m) {
    std::vector<Node> nodes;
    for (const auto& source : m.project.sources) {
        Node node{text(source.id), text(source.name), text(labelOf(source.kind))};
        node.source = true;
        node.standby = !source.instead_of.empty();
        node.volts = power::openVoltage(source);
        for (const auto& planned : m.plan.sources)
            if (planned.id == source.id) node.amps = planned.most ? planned.most : planned.starting;
        nodes.push_back(node);
    }
    for (bool found = true; found;) {
        found = false;
        for (const auto& rail : m.project.rails) {
            const auto known = [&](const QString& id) {
                return std::find_if(nodes.begin(), nodes.end(), [&](const Node& n) { return n.id == id; });
            };
            if (known(text(rail.id)) != nodes.end()) continue;
            const auto feed = known(text(rail.from));
            if (feed == nodes.end()) continue;
            Node node{text(rail.id), text(rail.name), tr(labelOf(rail.conversion))};
            node.feed = static_cast<int>(feed - nodes.begin());
            node.depth = feed->depth + 1;
            for (const auto& planned : m.plan.rails)
                if (planned.id == rail.id)
                    node.amps = planned.most ? planned.most : planned.starting, node.volts = planned.voltage,
                    node.verdict = planned.verdict;
            for (const auto& finding : m.plan.findings)
                if (finding.stage == project::Stage::Feed && finding.severity == Severity::Stop &&
                    finding.text.find(rail.name) != std::string::npos)
                    node.verdict = Verdict::Breaks;
            nodes.push_back(node);
            found = true;
        }
    }
    return nodes;
}

void drawBox(QPainter& p, const Node& node, const QRectF& frame) {
    const auto& c = colours();
    const double wide = frame.width();
    p.setPen(QPen(node.source && !node.standby      ? c.ink
                  : node.verdict == Verdict::Breaks ? c.breaks
                                                    : c.ink,
                  1.5, node.standby ? Qt::DashLine : Qt::SolidLine));
    p.setBrush(node.source && !node.standby ? c.ink : c.card);
    p.drawRoundedRect(frame, 4, 4);
    const QColor ink = node.source && !node.standby ? c.card : c.ink;
    p.setFont(textFont(Text::Figure));
    p.setPen(ink);
    const QString title = node.name + (node.volts ? " · " + text(display(*node.volts, 3)) : QString());
    p.drawText(frame.adjusted(px(4), px(4), -px(4), -px(22)), Qt::AlignCenter,
               p.fontMetrics().elidedText(title, Qt::ElideRight, static_cast<int>(wide - px(8))));
    p.setFont(textFont(Text::Small));
    p.setPen(node.source && !node.standby ? c.card : c.soft);
    QString how = node.standby ? tr("instead") : node.how;
    if (node.amps) how += " · " + text(display(*node.amps, 3));
    p.drawText(frame.adjusted(px(4), px(23), -px(4), -px(3)), Qt::AlignCenter,
               p.fontMetrics().elidedText(how, Qt::ElideRight, static_cast<int>(wide - px(8))));
}

}  // namespace

void TreePicture::draw(QPainter& p, const QRectF& whole) {
    const auto& c = colours();
    const auto& m = model();
    const QRectF box = whole.adjusted(px(14), px(8), -px(8), -px(8));
    boxes_.clear();
    std::vector<Node> nodes = nodesOf(m);
    if (nodes.empty()) return waits(p, box, tr("No supply yet. Press here to add a wall adapter, a battery or a USB port."));
    int deepest = 0;
    double next = 0.0;
    const std::function<void(std::size_t)> place = [&](std::size_t i) {
        double sum = 0.0;
        int children = 0;
        for (std::size_t k = i + 1; k < nodes.size(); ++k)
            if (nodes[k].feed == static_cast<int>(i)) place(k), sum += nodes[k].column, ++children;
        nodes[i].column = children > 0 ? sum / children : next++;
        deepest = std::max(deepest, nodes[i].depth);
    };
    for (std::size_t i = 0; i < nodes.size(); ++i)
        if (nodes[i].source) place(i);
    const double column = box.width() / std::max(1.0, next),
                 level = std::min<double>(px(150), (box.height() * 0.5 - px(40)) / std::max(1, deepest));
    double most = 0.05;
    for (const auto& node : nodes)
        if (node.amps) most = std::max(most, si(*node.amps));
    const auto thick = [&](const std::optional<Current>& amps) {
        return amps ? std::clamp<double>(px(20) * si(*amps) / most, 1.5, px(20)) : 1.5;
    };
    const auto centre = [&](const Node& n) {
        return QPointF(box.left() + column * (n.column + 0.5), box.top() + px(24) + level * n.depth);
    };
    const double high = px(46), wide = std::min<double>(column - px(8), px(150));
    for (const auto& node : nodes) {
        if (node.feed < 0) continue;
        const auto from = centre(nodes[static_cast<std::size_t>(node.feed)]), to = centre(node);
        QPainterPath branch;
        branch.moveTo(from + QPointF(0, high / 2));
        branch.cubicTo(QPointF(from.x(), from.y() + level * 0.55), QPointF(to.x(), to.y() - level * 0.5),
                       QPointF(to.x(), to.y() - high / 2));
        p.setPen(QPen(node.verdict == Verdict::Breaks ? c.breaks : c.spark, thick(node.amps), Qt::SolidLine, Qt::FlatCap));
        p.setBrush(Qt::NoBrush);
        p.drawPath(branch);
    }
    for (const auto& node : nodes) {
        const auto at = centre(node);
        boxes_.emplace_back(node.id, QRectF(at.x() - wide / 2, at.y() - high / 2, wide, high));
        drawBox(p, node, boxes_.back().second);
    }
    winding(p, box, figures(p, box, box.top() + px(24) + level * deepest + high / 2 + px(34)));
}

// The same in figures, a row a rail: there is room for as many as there are. Gives where it ends.
double TreePicture::figures(QPainter& p, const QRectF& box, double y) {
    const auto& c = colours();
    const auto& m = model();
    const QStringList heads{tr("at rest"), tr("running"), tr("worst"), tr("jammed"), tr("lowest"), tr("fuse")};
    const double names = px(86), cell = (box.width() - names) / static_cast<double>(heads.size());
    for (int k = 0; k < heads.size(); ++k) say(p, {box.left() + names + cell * (k + 1), y}, heads[k], Text::Small, c.soft, Qt::AlignRight);
    const auto amount = [](const auto& value) { return value ? text(display(*value, 2)) : tr("?"); };
    for (const auto& rail : m.plan.rails) {
        y += px(22);
        if (y > box.bottom()) break;
        const auto* decided = project::findRail(m.project, rail.id);
        p.setFont(textFont(Text::Small));
        say(p, {box.left(), y}, p.fontMetrics().elidedText(text(rail.name), Qt::ElideRight, static_cast<int>(names)), Text::Small, c.ink);
        const QString cells[] = {amount(rail.rest),
                                 amount(rail.running),
                                 amount(rail.most ? rail.most : rail.starting),
                                 amount(rail.stalled),
                                 amount(rail.least ? rail.least : rail.lowest),
                                 decided != nullptr && decided->fuse ? text(displayPlain(*decided->fuse)) : tr("none")};
        for (int k = 0; k < 6; ++k)
            say(p, {box.left() + names + cell * (k + 1), y}, cells[k], Text::Small, k == 5 ? c.ink : c.spark, Qt::AlignRight);
        p.setPen(QPen(c.line, 1));
        p.drawLine(QPointF(box.left(), y + px(5)), QPointF(box.right(), y + px(5)));
    }
    return y;
}

void TreePicture::winding(QPainter& p, const QRectF& box, double y) {
    const auto& c = colours();
    // The way the winding's current takes when the switch opens.
    if (channel() == nullptr || planned() == nullptr || y > box.bottom() - px(74)) return;
    const auto& extras = planned()->protection;
    if (std::none_of(extras.begin(), extras.end(), [](const match::Protection& extra) { return extra.what == "flyback diode"; })) return;
    const bool fitted = channel()->drive.flyback_diode;
    const QRectF loop(box.left() + px(8), y + px(16), px(84), px(58));
    p.setPen(QPen(c.ink, 1.6));
    p.setBrush(Qt::NoBrush);
    p.drawLine(loop.topLeft(), loop.topRight());
    p.drawLine(loop.bottomLeft(), loop.bottomRight());
    p.drawLine(loop.topRight(), loop.bottomRight());
    p.setBrush(c.hingeTint);
    p.drawEllipse(QPointF(loop.right(), loop.center().y()), px(12), px(12));
    p.setFont(textFont(Text::Small));
    p.setPen(c.ink);
    p.drawText(QRectF(loop.right() - px(10), loop.center().y() - px(10), px(20), px(20)), Qt::AlignCenter, "M");
    const QColor diode = fitted ? c.spark : c.breaks;
    p.setPen(QPen(diode, 1.8, fitted ? Qt::SolidLine : Qt::DashLine));
    p.drawLine(loop.topLeft(), loop.bottomLeft());
    if (fitted) {
        const QPointF mid(loop.left(), loop.center().y());
        p.setBrush(diode);
        p.drawPolygon(QPolygonF{mid + QPointF(-px(8), px(8)), mid + QPointF(px(8), px(8)), mid + QPointF(0, -px(6))});
        p.drawLine(mid + QPointF(-px(8), -px(6)), mid + QPointF(px(8), -px(6)));
    }
    say(p, {loop.left() + px(14), loop.top() + px(4)}, "+", Text::Figure, c.spark, Qt::AlignLeft, true);
    p.setFont(textFont(Text::Small));
    p.setPen(fitted ? c.soft : c.breaks);
    p.drawText(QRectF(loop.right() + px(22), loop.top() - px(4), box.right() - loop.right() - px(22), px(80)), Qt::TextWordWrap,
               fitted
                   ? tr("%1, switched off: its current dies away through the diode, whose stripe points to +.").arg(text(channel()->name))
                   : tr("%1 has no way for its current when the switch opens.").arg(text(channel()->name)));
}

}  // namespace hinge::app
