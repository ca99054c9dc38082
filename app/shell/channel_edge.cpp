#include "shell/channel_edge.hpp"
#include <QContextMenuEvent>
#include <QFontMetrics>
#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include "theme/glyphs.hpp"
#include "theme/marks.hpp"

namespace hinge::app {

ChannelEdge::ChannelEdge(QWidget* parent) : ScrolledRows(parent) {
    setObjectName("channels");
    setAccessibleName(tr("Channels"));
    setFocusPolicy(Qt::TabFocus);
}

int ChannelEdge::rowHeight(int height, int count) {
    return std::clamp(height / std::max(1, count), px(44), px(94));
}

void ChannelEdge::present(const Model& model, const QString& chosen, bool narrow) {
    rows_.clear();
    for (const auto& channel : model.plan.channels) {
        const auto* decided = project::findChannel(model.project, channel.id);
        const auto kind = project::channelKind(*decided);
        const auto* part = match::partOf(channel.context, model.parts, decided->actuator);
        QString small = part != nullptr && decided->actuator != match::own_load_id ? tr(kinds::nameOf(*part)) : tr(labelOf(kind));
        const auto* driver = project::findDriver(model.parts, decided->drive.part);
        const QString by =
            driver != nullptr && !kinds::driverKind(*driver).from_pin ? ", " + tr(kinds::driverKind(*driver).label) : QString();
        // The driver too, where there is room for both.
        if (QFontMetrics(textFont(Text::Small)).horizontalAdvance(small + by) <= px(118)) small += by;
        rows_.push_back({text(channel.id), text(channel.name), small, nameOf(kind), plan::worst(channel)});
    }
    chosen_ = chosen;
    narrow_ = narrow;
    update();
}

// The row below the last channel asks for another one.
int ChannelEdge::rowAt(int y) const {
    const int row = (y + offset_) / rowHeight(height(), static_cast<int>(rows_.size()));
    return row >= 0 && row <= static_cast<int>(rows_.size()) ? row : -1;
}

void ChannelEdge::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& c = colours();
    p.fillRect(rect(), c.paper);
    const int h = rowHeight(height(), static_cast<int>(rows_.size()));
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const QRect box(0, static_cast<int>(i) * h - offset_, width(), h);
        const auto& row = rows_[i];
        if (row.id == chosen_) {
            p.fillRect(box, c.card);
            p.fillRect(QRect(box.left(), box.top(), px(4), box.height()), c.hinge);
        }
        drawGlyph(p, QRectF(px(15), box.center().y() - px(12), px(24), px(24)), row.glyph);
        if (!narrow_) {
            p.setPen(c.ink);
            p.setFont(textFont(Text::Figure));
            p.drawText(QRect(px(52), box.center().y() - px(19), width() - px(70), px(20)), Qt::AlignVCenter,
                       p.fontMetrics().elidedText(row.name, Qt::ElideRight, width() - px(70)));
            p.setPen(c.soft);
            p.setFont(textFont(Text::Small));
            p.drawText(QRect(px(52), box.center().y() + px(1), width() - px(56), px(18)), Qt::AlignVCenter,
                       p.fontMetrics().elidedText(row.small, Qt::ElideRight, width() - px(56)));
        }
        drawMark(p, QRectF(box).adjusted(0, 1, -1, 0), row.verdict);
        p.setPen(c.line);
        p.drawLine(box.bottomLeft(), box.bottomRight());
    }
    const QRect add(0, static_cast<int>(rows_.size()) * h - offset_, width(), h);
    if (add.bottom() <= height() + h / 3) {
        const QPointF at(px(27), add.top() + std::min(h, px(60)) / 2.0);
        p.setPen(QPen(c.soft, 1.8, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(at + QPointF(-px(7), 0), at + QPointF(px(7), 0));
        p.drawLine(at + QPointF(0, -px(7)), at + QPointF(0, px(7)));
        if (!narrow_) {
            p.setFont(textFont(Text::Body));
            p.setPen(c.soft);
            p.drawText(QRectF(px(52), at.y() - px(12), width() - px(54), px(24)), Qt::AlignVCenter, tr("what else moves?"));
        }
    }
    p.setPen(c.line);
    p.drawLine(width() - 1, 0, width() - 1, height());
    paintSpotInHand(p);
}

std::vector<Spot> ChannelEdge::spots() const {
    auto* self = const_cast<ChannelEdge*>(this);
    const int h = rowHeight(height(), static_cast<int>(rows_.size()));
    const auto place = [&](std::size_t row) { return QRect(0, static_cast<int>(row) * h - offset_, width() - 1, h); };
    std::vector<Spot> all;
    for (std::size_t i = 0; i < rows_.size(); ++i)
        all.push_back({place(i), rows_[i].name, tr("%1; worst of its stages %2").arg(rows_[i].small, verdictWord(rows_[i].verdict)),
                       tr("open"), [self, id = rows_[i].id] { Q_EMIT self->chosen(id); }, rows_[i].id == chosen_});
    all.push_back({place(rows_.size()), tr("what else moves?"), {}, tr("add a channel"), [self] { Q_EMIT self->addAsked(); }, false});
    return all;
}

void ChannelEdge::mousePressEvent(QMouseEvent* event) {
    const int row = rowAt(static_cast<int>(event->position().y()));
    if (row < 0 || event->button() != Qt::LeftButton) return;
    if (row == static_cast<int>(rows_.size())) Q_EMIT addAsked();
    else Q_EMIT chosen(rows_[static_cast<std::size_t>(row)].id);
}

void ChannelEdge::contextMenuEvent(QContextMenuEvent* event) {
    const int row = rowAt(event->y());
    if (row >= 0 && row < static_cast<int>(rows_.size())) Q_EMIT menuAsked(rows_[static_cast<std::size_t>(row)].id, event->globalPos());
}

bool ChannelEdge::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const int row = rowAt(help->pos().y());
    if (row >= 0 && row < static_cast<int>(rows_.size())) {
        const auto& of = rows_[static_cast<std::size_t>(row)];
        QToolTip::showText(
            help->globalPos(),
            tr("%1: worst of its stages %2. Right click: rename, duplicate, move, remove.").arg(of.name, verdictWord(of.verdict)), this);
    }
    return true;
}

}  // namespace hinge::app
