#include "shell/edges.hpp"
#include "quantity/text.hpp"
#include "theme/theme.hpp"
#include <QHBoxLayout>
#include <QHelpEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QSvgRenderer>
#include <QToolTip>
#include <QVBoxLayout>

namespace hinge::app {
namespace {

void drawGlyph(QPainter& painter, const QRectF& box) {
    static QSvgRenderer renderer(QString(":/glyphs/pump.svg"));
    if (!isDark()) {
        renderer.render(&painter, box);
        return;
    }
    QPixmap pixmap(box.size().toSize() * 2);
    pixmap.fill(Qt::transparent);
    QPainter inner(&pixmap);
    renderer.render(&inner);
    inner.setCompositionMode(QPainter::CompositionMode_SourceIn);
    inner.fillRect(pixmap.rect(), colours().ink);
    inner.end();
    painter.drawPixmap(box, pixmap, QRectF(pixmap.rect()));
}

bool concernsAll(int stage) {
    using S = project::Stage;
    const auto s = static_cast<S>(stage);
    return s == S::Feed || s == S::Pins || s == S::Routine || s == S::Code || s == S::Log;
}

}  // namespace

HeadlineStrip::HeadlineStrip(QWidget* parent) : QWidget(parent) {
    setObjectName("headline");
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
        source = text(labelOf(s.kind)) + (s.voltage ? " " + text(displayPlain(*s.voltage)) : QString());
    }
    small_ = tr("%1 · %2 · %3").arg(n == 1 ? tr("one channel") : tr("%1 channels").arg(n), text(labelOf(model.project.board.form)), source);
    gauges_.clear();
    gauges_.push_back({tr("On the supply, worst coincidence"), h.worst_current ? text(display(*h.worst_current)) + (h.source_current ? tr(" of ") + text(display(*h.source_current)) : "") : tr("not known"),
                       h.worst_current && h.source_current ? std::optional(si(*h.worst_current) / si(*h.source_current)) : std::nullopt});
    gauges_.push_back({tr("Board's rail, lowest"), h.lowest_logic && h.logic_floor ? tr("%1, floor %2").arg(text(display(*h.lowest_logic)), text(display(*h.logic_floor))) : tr("not known"),
                       h.lowest_logic && h.logic_floor ? std::optional(si(*h.logic_floor) / si(*h.lowest_logic)) : std::nullopt});
    QStringList counts;
    if (h.breaks > 0) counts << tr("%1 breaks").arg(h.breaks);
    if (h.tight > 0) counts << tr("%1 tight").arg(h.tight);
    if (h.unknown > 0) counts << tr("%1 not known").arg(h.unknown);
    findings_ = counts.isEmpty() ? tr("all holds") : counts.join(" · ");
    update();
}

void HeadlineStrip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const auto& c = colours();
    p.fillRect(rect(), c.strip);
    p.setPen(c.stripInk);
    p.setFont(textFont(Text::Title));
    const int right_block = px(620);
    const QRect name_box(px(18), px(8), std::max(px(200), width() - right_block - px(24)), px(30));
    p.drawText(name_box, Qt::AlignVCenter, p.fontMetrics().elidedText(name_, Qt::ElideRight, name_box.width()));
    p.setFont(textFont(Text::Small));
    p.setPen(c.stripSoft);
    p.drawText(QRect(px(18), px(38), name_box.width(), px(18)), Qt::AlignVCenter, p.fontMetrics().elidedText(small_, Qt::ElideRight, name_box.width()));
    int x = width() - right_block;
    for (const auto& gauge : gauges_) {
        p.setFont(textFont(Text::Small));
        p.setPen(c.stripSoft);
        p.drawText(QRect(x, px(8), px(205), px(18)), Qt::AlignVCenter, gauge.label);
        p.setFont(textFont(Text::Body));
        p.setPen(c.stripInk);
        p.drawText(QRect(x, px(26), px(205), px(20)), Qt::AlignVCenter, gauge.figure);
        drawHeadroom(p, QRectF(x, px(50), px(180), px(6)), gauge.share, Verdict::Unknown, QColor("#d97a42"), true);
        x += px(212);
    }
    p.setFont(textFont(Text::Small));
    p.setPen(c.stripSoft);
    p.drawText(QRect(x, px(8), px(190), px(18)), Qt::AlignVCenter, tr("Findings"));
    p.setFont(textFont(Text::Body));
    p.setPen(c.stripInk);
    p.drawText(QRect(x, px(26), px(192), px(20)), Qt::AlignVCenter, findings_);
}

StageBar::StageBar(QWidget* parent) : QWidget(parent) {
    setObjectName("stages");
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
    p.drawText(QRect(px(16), 0, edge_ - px(16), height()), Qt::AlignVCenter, chosen_ >= 0 ? tr("Esc: crossbar") : tr("channels × stages"));
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
}

void StageBar::mousePressEvent(QMouseEvent* event) {
    for (int s = 0; s < project::stageCount; ++s)
        if (cell(s).contains(event->position())) emit chosen(s);
}

ChannelEdge::ChannelEdge(QWidget* parent) : QWidget(parent) { setObjectName("channels"); }

int ChannelEdge::rowHeight(int height, int count) { return std::clamp(count > 0 ? height / count : height, px(44), px(94)); }

void ChannelEdge::present(const Model& model, const QString& chosen, bool narrow) {
    rows_.clear();
    for (const auto& channel : model.plan.channels) {
        const auto* decided = project::findChannel(model.project, channel.id);
        QString small = tr(labelOf(decided->kind));
        if (const auto* part = project::findSwitch(model.parts, decided->drive.part)) small += ", " + tr(labelOf(part->switch_class));
        rows_.push_back({text(channel.id), text(channel.name), small, plan::worst(channel)});
    }
    chosen_ = chosen;
    narrow_ = narrow;
    update();
}

int ChannelEdge::rowAt(int y) const {
    const int h = rowHeight(height(), static_cast<int>(rows_.size()));
    const int row = y / h;
    return row >= 0 && row < static_cast<int>(rows_.size()) ? row : -1;
}

void ChannelEdge::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const auto& c = colours();
    p.fillRect(rect(), c.paper);
    const int h = rowHeight(height(), static_cast<int>(rows_.size()));
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const QRect box(0, static_cast<int>(i) * h, width(), h);
        const auto& row = rows_[i];
        if (row.id == chosen_) {
            p.fillRect(box, c.card);
            p.fillRect(QRect(box.left(), box.top(), px(4), box.height()), c.hinge);
        }
        drawGlyph(p, QRectF(px(14), box.center().y() - px(13), px(26), px(26)));
        if (!narrow_) {
            p.setPen(c.ink);
            p.setFont(textFont(Text::Figure));
            p.drawText(QRect(px(52), box.center().y() - px(20), width() - px(66), px(20)), Qt::AlignVCenter, p.fontMetrics().elidedText(row.name, Qt::ElideRight, width() - px(66)));
            p.setPen(c.soft);
            p.setFont(textFont(Text::Small));
            p.drawText(QRect(px(52), box.center().y(), width() - px(56), px(18)), Qt::AlignVCenter, p.fontMetrics().elidedText(row.small, Qt::ElideRight, width() - px(56)));
        }
        drawMark(p, QRectF(box), row.verdict);
        p.setPen(c.line);
        p.drawLine(box.bottomLeft(), box.bottomRight());
    }
    p.setPen(c.line);
    p.drawLine(width() - 1, 0, width() - 1, height());
}

void ChannelEdge::mousePressEvent(QMouseEvent* event) {
    const int row = rowAt(static_cast<int>(event->position().y()));
    if (row >= 0 && event->button() == Qt::LeftButton) emit chosen(rows_[static_cast<std::size_t>(row)].id);
}

void ChannelEdge::contextMenuEvent(QContextMenuEvent* event) {
    const int row = rowAt(event->y());
    if (row >= 0) emit menuAsked(rows_[static_cast<std::size_t>(row)].id, event->globalPos());
}

Crossbar::Crossbar(QWidget* parent) : QWidget(parent) {
    setObjectName("crossbar");
    setMouseTracking(true);
}

void Crossbar::present(const Model& model) {
    channels_ = model.plan.channels;
    update();
}

QString Crossbar::figure(int row, int stage) const { return text(channels_.at(static_cast<std::size_t>(row)).cells.at(static_cast<std::size_t>(stage)).figure); }

void Crossbar::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const auto& c = colours();
    p.fillRect(rect(), c.card);
    const double w = static_cast<double>(width()) / project::stageCount;
    const int h = ChannelEdge::rowHeight(height(), static_cast<int>(channels_.size()));
    for (std::size_t r = 0; r < channels_.size(); ++r)
        for (int s = 0; s < project::stageCount; ++s) {
            const auto& cell = channels_[r].cells[static_cast<std::size_t>(s)];
            const QRectF box(w * s, static_cast<double>(r) * h, w, h);
            if (concernsAll(s)) p.fillRect(box, c.paper.lighter(isDark() ? 108 : 101));
            p.setPen(c.line);
            p.drawLine(box.topLeft(), box.bottomLeft());
            p.drawLine(box.bottomLeft(), box.bottomRight());
            const QRectF inner = box.adjusted(px(9), px(8), -px(8), -px(8));
            const bool unknown = cell.verdict == Verdict::Unknown;
            p.setFont(textFont(Text::Figure));
            p.setPen(cell.verdict == Verdict::Breaks ? c.breaks : unknown && cell.figure.empty() ? c.soft : c.ink);
            const QString figure = cell.figure.empty() ? tr("not known") : text(cell.figure);
            QRectF used;
            p.drawText(inner.adjusted(0, 0, -px(4), 0), Qt::AlignTop | Qt::AlignLeft | Qt::TextWordWrap, figure, &used);
            if (h > px(60)) {
                p.setFont(textFont(Text::Small));
                p.setPen(c.soft);
                p.drawText(QRectF(QPointF(inner.left(), used.bottom() + px(2)), QPointF(inner.right(), inner.bottom() - px(10))), Qt::AlignTop | Qt::TextWordWrap, text(cell.small));
            }
            const QRectF bar(inner.left(), inner.bottom() - px(6), inner.width() * 0.9, px(6));
            if (cell.share || unknown) drawHeadroom(p, bar, unknown ? std::nullopt : cell.share, cell.verdict, colourOf(cell.family));
            drawMark(p, box.adjusted(0, 1, 0, 0), cell.verdict == Verdict::Unknown ? Verdict::Holds : cell.verdict);
            if (cell.verdict == Verdict::Breaks) {
                p.setPen(QPen(c.breaks, 2));
                p.drawRect(box.adjusted(1, 1, -1, -1));
            }
        }
}

void Crossbar::mousePressEvent(QMouseEvent* event) {
    const int h = ChannelEdge::rowHeight(height(), static_cast<int>(channels_.size()));
    const auto row = static_cast<std::size_t>(event->position().y() / h);
    const int stage = static_cast<int>(event->position().x() * project::stageCount / std::max(1, width()));
    if (row < channels_.size()) emit chosen(text(channels_[row].id), std::clamp(stage, 0, project::stageCount - 1));
}

bool Crossbar::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const int h = ChannelEdge::rowHeight(height(), static_cast<int>(channels_.size()));
        const auto row = static_cast<std::size_t>(help->pos().y() / h);
        const auto stage = static_cast<std::size_t>(std::clamp(help->pos().x() * project::stageCount / std::max(1, width()), 0, project::stageCount - 1));
        if (row < channels_.size()) {
            const auto& cell = channels_[row].cells[stage];
            QToolTip::showText(help->globalPos(), tr("%1: %2. %3").arg(tr(labelOf(static_cast<project::Stage>(stage))), verdictWord(cell.verdict), text(cell.small)), this);
        }
        return true;
    }
    return QWidget::event(event);
}

FindingsStrip::FindingsStrip(QWidget* parent) : QWidget(parent) {
    setObjectName("findings");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(scroll);
    body_ = new QWidget;
    scroll->setWidget(body_);
    new QVBoxLayout(body_);
}

void FindingsStrip::present(const Model& model, int stage, const QString& channel) {
    const auto& c = colours();
    QString key;
    std::vector<const plan::PlanFinding*> shown;
    for (const auto& finding : model.plan.findings) {
        if (stage >= 0 && static_cast<int>(finding.stage) != stage) continue;
        if (stage >= 0 && !channel.isEmpty() && !concernsAll(stage) && !finding.channel.empty() && text(finding.channel) != channel) continue;
        shown.push_back(&finding);
        key += text(finding.id) + text(finding.text);
        for (const auto& remedy : finding.remedies) key += text(remedy.label);
    }
    key += QString::number(stage) + (isDark() ? "d" : "l") + QString::number(scale());
    setFixedHeight(shown.empty() ? px(34) : px(static_cast<double>(std::min<std::size_t>(132, 22 + 32 * shown.size()))));
    setStyleSheet(QString("QWidget { background: %1; }").arg(c.card.name()));
    if (key == shown_) return;
    shown_ = key;
    auto* layout = static_cast<QVBoxLayout*>(body_->layout());
    while (auto* item = layout->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    layout->setContentsMargins(px(18), px(8), px(18), px(6));
    layout->setSpacing(px(4));
    if (shown.empty()) {
        auto* none = new QLabel(tr("Nothing breaks or is tight here."));
        none->setFont(textFont(Text::Body));
        none->setStyleSheet(QString("color: %1").arg(c.soft.name()));
        layout->addWidget(none);
    }
    int number = 0;
    for (const auto* finding : shown) {
        auto* row = new QWidget;
        auto* line = new QHBoxLayout(row);
        line->setContentsMargins(0, 0, 0, 0);
        const auto verdict = finding->severity == Severity::Stop ? Verdict::Breaks : Verdict::Tight;
        auto* mark = new QLabel(finding->severity == Severity::Note ? tr("note") : verdictWord(verdict));
        mark->setFont(textFont(Text::Figure));
        mark->setFixedWidth(px(70));
        mark->setStyleSheet(QString("color: %1").arg((finding->severity == Severity::Stop ? c.breaks : finding->severity == Severity::Warn ? c.tight : c.soft).name()));
        line->addWidget(mark);
        const auto* of_channel = plan::findChannel(model.plan, finding->channel);
        auto* where = new QPushButton((of_channel != nullptr ? text(of_channel->name) + " · " : QString()) + tr(labelOf(finding->stage)));
        where->setFlat(true);
        where->setFont(textFont(Text::Figure));
        where->setStyleSheet("QPushButton { border: 0; padding: 0; text-align: left; }");
        where->setFixedWidth(px(130));
        connect(where, &QPushButton::clicked, this, [this, id = text(finding->channel), s = static_cast<int>(finding->stage)] { emit goTo(id, s); });
        line->addWidget(where);
        auto* words_label = new QLabel(text(finding->text));
        words_label->setFont(textFont(Text::Body));
        words_label->setWordWrap(true);
        words_label->setTextInteractionFlags(Qt::TextSelectableByMouse);
        line->addWidget(words_label, 1);
        bool first = true;
        for (const auto& remedy : finding->remedies) {
            auto* button = new QPushButton(text(remedy.label));
            button->setObjectName(QString("remedy_%1_%2").arg(text(finding->id)).arg(number));
            button->setFont(textFont(Text::Body));
            button->setProperty("main", first);
            button->setToolTip(remedy.cost.empty() ? tr("Costs nothing. You can undo it.") : tr("Costs: %1. You can undo it.").arg(text(remedy.cost)));
            const QColor back = first ? c.ink : c.paper, front = first ? c.card : c.ink;
            button->setStyleSheet(QString("QPushButton { background: %1; color: %2; border: 1px solid %3; border-radius: 4px; padding: 3px 10px; }").arg(back.name(), front.name(), c.ink.name()));
            connect(button, &QPushButton::clicked, this, [this, edits = remedy.edits] { emit remedyPressed(edits); });
            line->addWidget(button);
            first = false;
        }
        layout->addWidget(row);
        ++number;
    }
    layout->addStretch();
}

}  // namespace hinge::app
