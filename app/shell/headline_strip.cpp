#include "shell/headline_strip.hpp"
#include <QPainter>
#include <algorithm>
#include "quantity/text.hpp"
#include "theme/marks.hpp"

namespace hinge::app {

HeadlineStrip::HeadlineStrip(QWidget* parent) : SpotWidget(parent) {
    setObjectName("headline");
    setAccessibleName(tr("Headline"));
    setFixedHeight(px(66));
}

void HeadlineStrip::present(const Model& model, bool dirty) {
    setFixedHeight(px(66));
    const auto& h = model.plan.headline;
    name_ = text(h.name) + (dirty ? " *" : "");
    const auto n = model.project.channels.size();
    QString source;
    if (!model.project.sources.empty()) {
        const auto& s = model.project.sources.front();
        const auto volts = power::openVoltage(s);
        source = text(labelOf(s.kind)) + (volts ? " " + text(displayPlain(*volts)) : QString());
    }
    small_ = tr("%1 · %2 · %3").arg(n == 1 ? tr("one channel") : tr("%1 channels").arg(n), text(labelOf(model.project.board.form)), source);
    gauges_.clear();
    const auto* logic = project::findRail(model.project, model.project.board.rail);
    // Each source has its bar, the one nearest to its end first, and is asked the same: what it gives at its worst.
    QStringList all;
    for (const auto& each : h.sources) {
        const bool known = each.worst.has_value();
        const QString figure =
            known ? text(display(*each.worst)) + (each.promised ? tr(" of ") + text(display(*each.promised)) : QString()) : tr("not known");
        gauges_.push_back({tr("%1, at the most").arg(text(each.name)), figure,
                           known && each.promised ? std::optional(si(*each.worst) / si(*each.promised)) : std::nullopt});
        all << tr("%1: %2").arg(text(each.name), figure);
    }
    if (h.sources.empty()) gauges_.push_back({tr("Supply, at the most"), tr("not known"), std::nullopt});
    all << (h.worst_by_routine ? tr("At the most: when the cues, as they may fall together, ask for most at once.")
                               : tr("At the most: all of it starting at once, since no cue says what goes together."));
    setToolTip(all.join('\n'));
    // Beside the first source: where there is little room, the others give way to it.
    gauges_.insert(gauges_.begin() + 1,
                   {tr("%1, lowest").arg(logic != nullptr ? text(logic->name) : tr("The board's rail")),
                    h.lowest_logic && h.logic_floor ? tr("%1, floor %2").arg(text(display(*h.lowest_logic)), text(display(*h.logic_floor)))
                                                    : tr("not known"),
                    h.lowest_logic && h.logic_floor ? std::optional(si(*h.logic_floor) / si(*h.lowest_logic)) : std::nullopt});
    QStringList counts;
    if (h.breaks > 0) counts << tr("%1 breaks").arg(h.breaks);
    if (h.tight > 0) counts << tr("%1 tight").arg(h.tight);
    if (h.unknown > 0) counts << tr("%1 to find out").arg(h.unknown);
    findings_ = counts.isEmpty() ? tr("nothing breaks or is tight") : counts.join(" · ");
    to_do_ = h.to_do > 0 ? tr("%1 still to do").arg(h.to_do) : QString();
    update();
}

std::vector<Spot> HeadlineStrip::spots() const {
    std::vector<Spot> all{{rect(), name_, small_, {}, {}, false}};
    for (const auto& gauge : gauges_) all.push_back({rect(), gauge.label, gauge.figure, {}, {}, false});
    all.push_back({rect(), tr("Findings"), to_do_.isEmpty() ? findings_ : findings_ + ", " + to_do_, {}, {}, false});
    return all;
}

void HeadlineStrip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const auto& c = colours();
    p.fillRect(rect(), c.strip);
    p.setPen(c.stripInk);
    p.setFont(textFont(Text::Title));
    // Name first, then the findings; the gauges give way when there is no room for them.
    const int step = px(210), findings_wide = px(224);
    const int fits = std::clamp((width() - px(300) - findings_wide) / step, 0, static_cast<int>(gauges_.size()));
    const int right_block = fits * step + findings_wide;
    const QRect name_box(px(18), px(8), width() - right_block - px(36), px(30));
    p.drawText(name_box, Qt::AlignVCenter, p.fontMetrics().elidedText(name_, Qt::ElideRight, name_box.width()));
    p.setFont(textFont(Text::Small));
    p.setPen(c.stripSoft);
    p.drawText(QRect(px(18), px(38), name_box.width(), px(18)), Qt::AlignVCenter,
               p.fontMetrics().elidedText(small_, Qt::ElideRight, name_box.width()));
    int x = width() - right_block;
    for (int g = 0; g < fits; ++g) {
        const auto& gauge = gauges_[static_cast<std::size_t>(g)];
        p.setFont(textFont(Text::Small));
        p.setPen(c.stripSoft);
        p.drawText(QRect(x, px(8), px(200), px(18)), Qt::AlignVCenter, p.fontMetrics().elidedText(gauge.label, Qt::ElideMiddle, px(196)));
        p.setFont(textFont(Text::Body));
        p.setPen(c.stripInk);
        p.drawText(QRect(x, px(26), px(200), px(20)), Qt::AlignVCenter, gauge.figure);
        drawHeadroom(p, QRectF(x, px(49), px(176), px(6)), gauge.share, verdictOfShare(gauge.share), c.stripSpark, true);
        x += step;
    }
    p.setFont(textFont(Text::Small));
    p.setPen(c.stripSoft);
    p.drawText(QRect(x, px(8), findings_wide, px(18)), Qt::AlignVCenter, tr("Findings"));
    p.setFont(textFont(Text::Body));
    p.setPen(c.stripInk);
    p.drawText(QRect(x, px(26), findings_wide - px(8), px(20)), Qt::AlignVCenter,
               p.fontMetrics().elidedText(findings_, Qt::ElideRight, findings_wide - px(10)));
    p.setFont(textFont(Text::Small));
    p.setPen(c.stripSoft);
    p.drawText(QRect(x, px(44), findings_wide - px(8), px(16)), Qt::AlignVCenter, to_do_);
}

}  // namespace hinge::app
