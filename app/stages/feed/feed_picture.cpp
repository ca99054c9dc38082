#include "stages/feed/feed_picture.hpp"
#include <QPainterPath>
#include <algorithm>

namespace hinge::app {

void FeedPicture::draw(QPainter& p, const QRectF& box) {
    // More rails want more room; the scene keeps at least the other half.
    const double split = box.left() + box.width() * (model().plan.rails.size() > 2 ? 0.5 : 0.41);
    tree(p, QRectF(box.left() + px(14), box.top() + px(8), split - box.left() - px(22), box.height() - px(16)));
    drawScene(p, QRectF(split, box.top(), box.right() - split, box.height()));
}

void FeedPicture::tree(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& m = model();
    const auto count = static_cast<double>(std::max<std::size_t>(1, m.plan.rails.size()));
    const double names = px(46);
    const double column = (box.width() - names) / count;
    double most = 0.05;
    for (const auto& rail : m.plan.rails)
        if (rail.starting) most = std::max(most, si(*rail.starting));
    const auto thick = [&](double amps) { return std::clamp(px(16) * amps / most, 1.5, static_cast<double>(px(16))); };
    const double top = box.top() + px(4);
    const double rails_at = top + px(118);
    const QPointF trunk(box.left() + names + (box.width() - names) / 2, top + px(32));
    const auto xOf = [&](std::size_t i) { return box.left() + names + column * (static_cast<double>(i) + 0.5); };

    for (std::size_t i = 0; i < m.plan.rails.size(); ++i) {
        const auto& rail = m.plan.rails[i];
        // A rail that hangs on another starts there, not at the source.
        QPointF from = trunk;
        const auto* decided = project::findRail(m.project, rail.id);
        for (std::size_t k = 0; decided != nullptr && k < m.plan.rails.size(); ++k)
            if (m.plan.rails[k].id == decided->from && k != i) from = QPointF(xOf(k), rails_at - px(20));
        const double x = xOf(i);
        QPainterPath branch;
        branch.moveTo(from);
        branch.cubicTo(QPointF(from.x(), from.y() + px(46)), QPointF(x, rails_at - px(56)), QPointF(x, rails_at));
        p.setPen(QPen(rail.verdict == Verdict::Breaks ? c.breaks : c.spark, thick(rail.starting ? si(*rail.starting) : 0.0), Qt::SolidLine, Qt::FlatCap));
        p.setBrush(Qt::NoBrush);
        p.drawPath(branch);
        const QRectF node(x - column / 2 + px(3), rails_at, column - px(6), px(56));
        p.setPen(QPen(rail.verdict == Verdict::Breaks ? c.breaks : c.ink, 1.5));
        p.setBrush(c.card);
        p.drawRoundedRect(node, 4, 4);
        p.setFont(textFont(Text::Figure));
        p.setPen(c.ink);
        p.drawText(node.adjusted(px(2), px(3), -px(2), -px(34)), Qt::AlignCenter, p.fontMetrics().elidedText(text(rail.name), Qt::ElideRight, static_cast<int>(node.width())));
        p.setFont(textFont(Text::Small));
        p.setPen(c.soft);
        const QString how = decided != nullptr ? tr(labelOf(decided->conversion)) : QString();
        p.drawText(node.adjusted(px(2), px(23), -px(2), -px(3)), Qt::AlignCenter | Qt::TextWordWrap, how);
    }
    // The source, on top of its branches.
    QString name = tr("no source yet");
    if (!m.project.sources.empty()) {
        const auto& s = m.project.sources.front();
        name = text(s.name) + (s.voltage ? " " + text(displayPlain(*s.voltage)) : "") + (s.current ? " " + text(displayPlain(*s.current)) : "");
    }
    p.setFont(textFont(Text::Figure));
    const double w = std::min<double>(box.width(), p.fontMetrics().horizontalAdvance(name) + px(28));
    const QRectF source(trunk.x() - w / 2, top, w, px(32));
    p.setPen(Qt::NoPen);
    p.setBrush(c.ink);
    p.drawRoundedRect(source, 4, 4);
    p.setPen(c.card);
    p.drawText(source, Qt::AlignCenter, name);

    double y = rails_at + px(86);
    const auto row = [&](const QString& label, auto value, const QColor& colour) {
        say(p, {box.left(), y}, label, Text::Small, c.soft);
        for (std::size_t i = 0; i < m.plan.rails.size(); ++i) say(p, {xOf(i) + column / 2 - px(5), y}, value(m.plan.rails[i]), Text::Figure, colour, Qt::AlignRight);
        p.setPen(QPen(c.line, 1));
        p.drawLine(QPointF(box.left(), y + px(5)), QPointF(box.right(), y + px(5)));
        y += px(25);
    };
    const int digits = m.plan.rails.size() > 2 ? 2 : 3;
    const auto amount = [digits](const auto& value) { return value ? text(display(*value, digits)) : tr("?"); };
    row(tr("volts"), [&](const plan::RailPlan& r) { return amount(r.voltage); }, c.spark);
    row(tr("at rest"), [&](const plan::RailPlan& r) { return amount(r.rest); }, c.spark);
    row(tr("running"), [&](const plan::RailPlan& r) { return amount(r.running); }, c.spark);
    row(tr("starting"), [&](const plan::RailPlan& r) { return amount(r.starting); }, c.spark);
    row(tr("jammed"), [&](const plan::RailPlan& r) { return amount(r.stalled); }, c.spark);
    row(tr("lowest"), [&](const plan::RailPlan& r) { return amount(r.lowest); }, c.spark);
    row(tr("fuse"), [&](const plan::RailPlan& r) {
        const auto* decided = project::findRail(m.project, r.id);
        return decided != nullptr && decided->fuse ? text(displayPlain(*decided->fuse)) : tr("none");
    }, c.ink);

    // The way the winding's current takes when the switch opens.
    if (channel() == nullptr || planned() == nullptr || y > box.bottom() - px(70)) return;
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
               fitted ? tr("%1, switched off: its current dies away through the diode, whose stripe points to +.").arg(text(channel()->name)) : tr("%1 has no way for its current when the switch opens.").arg(text(channel()->name)));
}

}  // namespace hinge::app
