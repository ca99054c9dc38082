#include "stages/match/candidate_list.hpp"
#include "theme/marks.hpp"
#include <QMouseEvent>
#include <QPainter>

namespace hinge::app {

CandidateList::CandidateList(QWidget* parent) : QWidget(parent) {
    setObjectName("candidates");
    setMouseTracking(true);
}

int CandidateList::rowHeight() const { return px(72); }

void CandidateList::present(const Model& model, const QString& channel) {
    rows_.clear();
    const auto* planned = plan::findChannel(model.plan, channel.toStdString());
    const auto* decided = project::findChannel(model.project, channel.toStdString());
    if (planned != nullptr && decided != nullptr)
        for (const auto& p : planned->pump.ranked) {
            rows_.push_back({text(p.pump), text(p.part), text(p.pump_name), text(p.part_name), text(p.reason), p.verdict, p.pump == decided->actuator && p.part == decided->drive.part});
            if (rows_.size() >= 200) break;
        }
    setFixedHeight(static_cast<int>(rows_.size()) * rowHeight());
    update();
}

int CandidateList::rowAt(int y) const {
    const int row = y / rowHeight();
    return y >= 0 && row < count() ? row : -1;
}

QPoint CandidateList::rowCentre(int row) const { return {width() / 2, row * rowHeight() + rowHeight() / 2}; }

void CandidateList::paintEvent(QPaintEvent* event) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& c = colours();
    const int h = rowHeight();
    for (int i = std::max(0, event->rect().top() / h); i < count() && i * h < event->rect().bottom(); ++i) {
        const auto& row = rows_[static_cast<std::size_t>(i)];
        const QRect box(0, i * h, width(), h - px(5));
        p.fillRect(box, row.now ? c.card : i == under_ ? c.hingeTint : c.paper);
        const QColor bar = row.now ? c.hinge : row.verdict == Verdict::Breaks ? c.breaks : row.verdict == Verdict::Tight ? c.tight : row.verdict == Verdict::Unknown ? c.line : c.ink;
        p.fillRect(QRect(0, box.top(), px(4), box.height()), bar);
        const QRect inner = box.adjusted(px(12), px(3), -px(14), 0);
        p.setFont(textFont(Text::Figure));
        p.setPen(c.ink);
        p.drawText(QRect(inner.left(), inner.top(), inner.width(), px(18)), Qt::AlignVCenter, p.fontMetrics().elidedText(row.title, Qt::ElideRight, inner.width()));
        p.setFont(textFont(Text::Small));
        p.drawText(QRect(inner.left(), inner.top() + px(17), inner.width(), px(15)), Qt::AlignVCenter, p.fontMetrics().elidedText(row.with, Qt::ElideRight, inner.width()));
        p.setPen(row.verdict == Verdict::Breaks ? c.breaks : row.verdict == Verdict::Tight ? c.tight : c.soft);
        const QRect why(inner.left(), inner.top() + px(33), box.right() - inner.left() - px(4), box.bottom() - inner.top() - px(33));
        p.drawText(why, Qt::AlignTop | Qt::TextWordWrap, row.now ? tr("chosen, %1: %2").arg(verdictWord(row.verdict), row.reason) : tr("%1: %2").arg(verdictWord(row.verdict), row.reason));
        drawMark(p, QRectF(box).adjusted(0, 0, -1, 0), row.verdict);
    }
}

void CandidateList::mousePressEvent(QMouseEvent* event) {
    const int row = rowAt(static_cast<int>(event->position().y()));
    if (row >= 0) Q_EMIT chosen(rows_[static_cast<std::size_t>(row)].actuator, rows_[static_cast<std::size_t>(row)].part);
}

void CandidateList::mouseMoveEvent(QMouseEvent* event) {
    const int row = rowAt(static_cast<int>(event->position().y()));
    if (row != under_) {
        under_ = row;
        setToolTip(row >= 0 ? rows_[static_cast<std::size_t>(row)].reason : QString());
        update();
    }
}

void CandidateList::leaveEvent(QEvent*) {
    under_ = -1;
    update();
}

}  // namespace hinge::app
