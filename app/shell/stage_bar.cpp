#include "shell/stage_bar.hpp"
#include <QMouseEvent>
#include <QPainter>
#include "theme/theme.hpp"

namespace hinge::app {

bool StageBar::concernsAll(int stage) {
    using S = project::Stage;
    const auto s = static_cast<S>(stage);
    return s == S::Feed || s == S::Pins || s == S::Routine || s == S::Code || s == S::Log;
}

StageBar::StageBar(QWidget* parent) : SpotWidget(parent) {
    setObjectName("stages");
    setAccessibleName(tr("Stages"));
    setFocusPolicy(Qt::TabFocus);
    setFixedHeight(px(38));
}

void StageBar::present(int chosen, int edge) {
    setFixedHeight(px(38));
    chosen_ = chosen;
    edge_ = edge;
    update();
}

QRectF StageBar::cell(int stage) const {
    const double w = static_cast<double>(width() - edge_) / project::stageCount;
    return {edge_ + w * stage, 0.0, w, static_cast<double>(height())};
}

void StageBar::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const auto& c = colours();
    p.fillRect(rect(), c.paper);
    p.setFont(textFont(Text::Small));
    p.setPen(c.soft);
    if (edge_ > px(100))
        p.drawText(QRect(0, 0, edge_ - px(14), height()), Qt::AlignVCenter | Qt::AlignRight,
                   chosen_ >= 0 ? tr("Esc: crossbar") : tr("F1: handbook"));
    for (int s = 0; s < project::stageCount; ++s) {
        const QRectF box = cell(s);
        const bool on = s == chosen_;
        if (on) p.fillRect(box, c.strip);
        p.setPen(on ? c.stripInk : c.ink);
        p.setFont(textFont(Text::Figure));
        const bool all = concernsAll(s);
        p.drawText(box.adjusted(0, 0, 0, all ? -px(8) : 0), Qt::AlignCenter, tr(labelOf(static_cast<project::Stage>(s))));
        if (all) {
            p.setFont(textFont(Text::Small));
            p.setPen(on ? c.stripSoft : c.soft);
            p.drawText(box.adjusted(0, px(20), 0, 0), Qt::AlignHCenter | Qt::AlignTop, tr("all"));
        }
        if (s > 0 && !on && chosen_ < 0) {
            p.setPen(c.line);
            p.drawLine(box.topLeft(), box.bottomLeft());
        }
    }
    p.setPen(QPen(c.ink, 2));
    p.drawLine(0, height() - 1, width(), height() - 1);
    paintSpotInHand(p);
}

std::vector<Spot> StageBar::spots() const {
    std::vector<Spot> all;
    for (int s = 0; s < project::stageCount; ++s)
        all.push_back({cell(s).toRect(), tr(labelOf(static_cast<project::Stage>(s))),
                       concernsAll(s) ? tr("of the whole gadget") : QString(), tr("open"),
                       [self = const_cast<StageBar*>(this), s] { Q_EMIT self->chosen(s); }, s == chosen_});
    return all;
}

void StageBar::mousePressEvent(QMouseEvent* event) {
    for (int s = 0; s < project::stageCount; ++s)
        if (cell(s).contains(event->position())) Q_EMIT chosen(s);
}

}  // namespace hinge::app
