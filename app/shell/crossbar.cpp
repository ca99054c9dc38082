#include "shell/crossbar.hpp"
#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QHelpEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include "plan/cells.hpp"
#include "shell/channel_edge.hpp"
#include "shell/stage_bar.hpp"
#include "theme/marks.hpp"

namespace hinge::app {

Crossbar::Crossbar(QWidget* parent) : ScrolledRows(parent) {
    setObjectName("crossbar");
    setAccessibleName(tr("Crossbar: a row a channel, a column a stage"));
    setFocusPolicy(Qt::TabFocus);
    setMouseTracking(true);
}

void Crossbar::present(const Model& model) {
    channels_ = model.plan.channels;
    update();
}

// The row height of the edge beside it, whatever stands below the rows.
int Crossbar::rowHeight() const {
    return ChannelEdge::rowHeight(parentWidget() != nullptr ? parentWidget()->height() : height(), static_cast<int>(channels_.size()));
}

QString Crossbar::figure(int row, int stage) const {
    return text(channels_.at(static_cast<std::size_t>(row)).cells.at(static_cast<std::size_t>(stage)).figure);
}

void Crossbar::drawCell(QPainter& p, const QRectF& box, const plan::Cell& cell, bool small) {
    const auto& c = colours();
    const QRectF inner = box.adjusted(px(9), px(small ? 5 : 8), -px(8), -px(small ? 5 : 9));
    // What is only still to be done is told quietly; what has to be found out has the dashed mark.
    const bool unknown = cell.verdict == Verdict::Unknown && !cell.to_do;
    const QString figure = !cell.figure.empty() ? text(cell.figure) : cell.to_do ? tr("to do") : tr("not known");
    p.setFont(textFont(Text::Figure));
    p.setPen(cell.figure.empty() ? c.soft : c.ink);
    // The small print goes first when room is short, then the figure's second line.
    const double line = p.fontMetrics().height();
    const double room = inner.height() - px(10);
    QRectF used;
    if (room < 2 * line) {
        p.drawText(QRectF(inner.topLeft(), QSizeF(inner.width(), line)), Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(figure, Qt::ElideRight, static_cast<int>(inner.width())));
        used = QRectF(inner.topLeft(), QSizeF(inner.width(), line));
    } else {
        const QRectF two(inner.topLeft(), QSizeF(inner.width(), std::min(room, 2.1 * line)));
        p.drawText(two, Qt::AlignTop | Qt::AlignLeft | Qt::TextWordWrap, figure, &used);
    }
    p.setFont(textFont(Text::Small));
    const QRectF below(QPointF(inner.left(), used.bottom() + px(2)), QPointF(inner.right(), inner.bottom() - px(9)));
    if (below.height() >= p.fontMetrics().height()) {
        p.setPen(c.soft);
        const double lines = std::floor(below.height() / p.fontMetrics().height());
        p.drawText(QRectF(below.topLeft(), QSizeF(below.width(), lines * p.fontMetrics().height())), Qt::AlignTop | Qt::TextWordWrap,
                   text(cell.small));
    }
    const QRectF bar(inner.left(), inner.bottom() - px(5), inner.width() * 0.92, px(6));
    if (cell.share || unknown)
        drawHeadroom(p, bar, unknown ? std::nullopt : cell.share, cell.verdict,
                     cell.family == plan::Family::Hinge   ? c.hinge
                     : cell.family == plan::Family::Spark ? c.spark
                                                          : c.time);
    if (cell.verdict != Verdict::Unknown) drawMark(p, box.adjusted(0, 1, -1, 0), cell.verdict);
    if (cell.verdict == Verdict::Breaks) {
        p.setPen(QPen(c.breaks, 2));
        p.setBrush(Qt::NoBrush);
        p.drawRect(box.adjusted(1, 1, -1, -1));
    }
}

void Crossbar::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const auto& c = colours();
    p.fillRect(rect(), c.card);
    const double w = static_cast<double>(width()) / project::stageCount;
    const int h = rowHeight();
    for (std::size_t r = 0; r < channels_.size(); ++r)
        for (int s = 0; s < project::stageCount; ++s) {
            const QRectF box(w * s, static_cast<double>(r) * h - offset_, w, h);
            QColor ground = StageBar::concernsAll(s) ? c.paper : c.card;
            if (under_ && under_->first == static_cast<int>(r) && under_->second == s) ground = c.hingeTint;
            p.fillRect(box, ground);
            drawCell(p, box, channels_[r].cells[static_cast<std::size_t>(s)], h < px(60));
            p.setPen(c.line);
            if (s > 0) p.drawLine(box.topLeft(), box.bottomLeft());
            p.drawLine(box.bottomLeft(), box.bottomRight());
        }
    paintSpotInHand(p);
}

std::optional<std::pair<int, int>> Crossbar::cellAt(const QPointF& at) const {
    const int h = rowHeight();
    const int row = (static_cast<int>(at.y()) + offset_) / h;
    if (at.y() < 0 || row >= static_cast<int>(channels_.size())) return std::nullopt;
    return std::pair{row, std::clamp(static_cast<int>(at.x() * project::stageCount / std::max(1, width())), 0, project::stageCount - 1)};
}

std::vector<Spot> Crossbar::spots() const {
    auto* self = const_cast<Crossbar*>(this);
    std::vector<Spot> all;
    const int h = rowHeight();
    for (std::size_t row = 0; row < channels_.size(); ++row)
        for (int stage = 0; stage < project::stageCount; ++stage) {
            const auto& cell = channels_[row].cells[static_cast<std::size_t>(stage)];
            const int left = width() * stage / project::stageCount, right = width() * (stage + 1) / project::stageCount;
            const QString figure = cell.figure.empty() ? QString() : text(cell.figure) + ", ";
            all.push_back({QRect(left, static_cast<int>(row) * h - offset_, right - left, h),
                           text(channels_[row].name) + ", " + tr(labelOf(static_cast<project::Stage>(stage))),
                           figure + tr(plan::wordOf(cell)) + (cell.why.empty() ? QString() : ". " + text(cell.why)), tr("open"),
                           [self, id = text(channels_[row].id), stage] { Q_EMIT self->chosen(id, stage); }, false});
        }
    return all;
}

void Crossbar::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    if (const auto cell = cellAt(event->position())) Q_EMIT chosen(text(channels_[static_cast<std::size_t>(cell->first)].id), cell->second);
}

void Crossbar::mouseMoveEvent(QMouseEvent* event) {
    const auto now = cellAt(event->position());
    if (now != under_) {
        under_ = now;
        setCursor(now ? Qt::PointingHandCursor : Qt::ArrowCursor);
        update();
    }
}

void Crossbar::leaveEvent(QEvent*) {
    under_.reset();
    update();
}

void Crossbar::contextMenuEvent(QContextMenuEvent* event) {
    const auto at = cellAt(event->pos());
    if (!at) return;
    const auto& cell = channels_[static_cast<std::size_t>(at->first)].cells[static_cast<std::size_t>(at->second)];
    QMenu menu(this);
    menu.addAction(tr("Copy '%1'").arg(text(cell.figure)), this,
                   [figure = text(cell.figure)] { QApplication::clipboard()->setText(figure); });
    menu.exec(event->globalPos());
}

bool Crossbar::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    if (const auto at = cellAt(help->pos())) {
        const auto& channel = channels_[static_cast<std::size_t>(at->first)];
        const auto& cell = channel.cells[static_cast<std::size_t>(at->second)];
        QToolTip::showText(
            help->globalPos(),
            tr("%1, %2: %3. %4")
                .arg(text(channel.name), tr(labelOf(static_cast<project::Stage>(at->second))), tr(plan::wordOf(cell)), text(cell.why)),
            this);
    }
    return true;
}

}  // namespace hinge::app
