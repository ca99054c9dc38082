#include "stages/prove/fit_page.hpp"
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPainterPath>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>
#include "pictures/chart.hpp"
#include "quantity/text.hpp"
#include "shell/facts_panel.hpp"
#include "shell/labels.hpp"
#include "theme/marks.hpp"

namespace hinge::app {
namespace {

constexpr double degrees = 180.0 / std::numbers::pi;

// The line of the sheet that says it; nullptr when the facts do not allow one.
const proof::FitLine* lineOf(const proof::FitSheet& sheet, const std::string& channel, const char* what) {
    for (const auto& line : sheet.lines)
        if (line.channel == channel && line.what == what) return &line;
    return nullptr;
}

QPointF at(const QPointF& centre, double radius, double angle) {
    return centre + QPointF(radius * std::cos(angle), -radius * std::sin(angle));
}

}  // namespace

FitPicture::FitPicture(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("fitPicture");
}

void FitPicture::present(const QString& channel) {
    channel_ = channel;
    setMinimumHeight(px(220));
    update();
}

// Its move as a fan, the ways to where it strains beyond it, and the horn as it was fitted.
void FitPicture::drawHorn(QPainter& p, const QRectF& box, const project::Channel& channel, const plan::ChannelPlan& planned) const {
    const auto& c = colours();
    const auto& motion = planned.motion;
    const double per = *motion.pulse_per_angle, from = si(*motion.pulse_from), to = si(*motion.pulse_to);
    const double end = (to - from) / per, rest = (1.5e-3 - from) / per;
    const QPointF axle(box.center().x(), box.bottom() - box.height() * 0.16);
    const double reach = std::min(box.height() * 0.66, box.width() * 0.42);
    // Turned so that the middle of the move points up.
    const auto turned = [&](double a) { return std::numbers::pi / 2.0 - (a - end / 2.0); };
    const auto fan = [&](double a, double b, double radius, const QColor& fill) {
        p.setPen(Qt::NoPen);
        p.setBrush(fill);
        const QRectF circle(axle.x() - radius, axle.y() - radius, 2 * radius, 2 * radius);
        p.drawPie(circle, static_cast<int>(turned(b) * degrees * 16), static_cast<int>((turned(a) - turned(b)) * degrees * 16));
    };
    if (channel.calibration.pulse_min && channel.calibration.pulse_max) {
        fan((si(*channel.calibration.pulse_min) - from) / per, (si(*channel.calibration.pulse_max) - from) / per, reach * 0.7, c.line);
        say(p, at(axle, reach * 0.78, turned((si(*channel.calibration.pulse_min) - from) / per)), tr("strains"), Text::Small, c.soft,
            Qt::AlignHCenter);
        say(p, at(axle, reach * 0.78, turned((si(*channel.calibration.pulse_max) - from) / per)), tr("strains"), Text::Small, c.soft,
            Qt::AlignHCenter);
    }
    fan(0.0, end, reach * 0.92, c.hingeTint);
    for (const double a : {0.0, end}) {
        p.setPen(QPen(c.hinge, 1.5));
        p.drawLine(axle, at(axle, reach * 0.92, turned(a)));
    }
    say(p, at(axle, reach * 1.0, turned(0.0)), tr("start"), Text::Body, c.hinge, Qt::AlignHCenter);
    say(p, at(axle, reach * 1.0, turned(end)), text(display(Kind::Angle, end)), Text::Body, c.hinge, Qt::AlignHCenter);
    p.setPen(QPen(c.ink, 1.5, Qt::DashLine));
    p.drawLine(axle, at(axle, reach * 1.05, turned(rest)));
    say(p, at(axle, reach * 1.12, turned(rest)), tr("1.50 ms: %1").arg(text(display(Kind::Angle, rest))), Text::Figure, c.ink,
        Qt::AlignHCenter);
    // The horn, as measured; faint where nobody has.
    const bool known = channel.fit.horn_rest.has_value();
    const double horn = known ? si(*channel.fit.horn_rest) : rest;
    const auto* line = lineOf(document_->model().fit, channel.id, "horn at the middle pulse");
    p.setPen(QPen(known && line != nullptr && line->verdict == Verdict::Breaks ? c.breaks
                  : known                                                      ? c.ink
                                                                               : c.line,
                  px(7), Qt::SolidLine, Qt::RoundCap));
    p.drawLine(axle, at(axle, reach * 0.55, turned(horn)));
    p.setPen(QPen(c.ink, 2));
    p.setBrush(c.card);
    p.drawRect(QRectF(axle.x() - px(26), axle.y() - px(9), px(52), px(26)));
    p.drawEllipse(axle, px(7), px(7));
    say(p, {axle.x(), axle.y() + px(34)},
        known ? tr("horn measured at %1").arg(text(display(*channel.fit.horn_rest))) : tr("horn: not measured yet"), Text::Small,
        known ? c.ink : c.soft, Qt::AlignHCenter);
}

void FitPicture::drawBelt(QPainter& p, const QRectF& box, const project::Channel& channel) const {
    const auto& c = colours();
    const auto* line = lineOf(document_->model().fit, channel.id, "belt");
    const auto* move = std::get_if<project::MoveDemand>(&channel.demand);
    const auto& fit = channel.fit;
    const double driving = fit.driving_teeth                       ? si(*fit.driving_teeth)
                           : move != nullptr && move->pulley_teeth ? si(*move->pulley_teeth)
                                                                   : 20.0;
    const double driven = fit.driven_teeth ? si(*fit.driven_teeth) : driving;
    // Pulleys to each other as they are; the distance as it fits the paper.
    const double large = std::min(box.height() * 0.24, box.width() * 0.14), unit = large / std::max(driving, driven), y = box.center().y();
    const QPointF a(box.left() + box.width() * 0.16, y), b(box.right() - box.width() * 0.16, y);
    const double ra = unit * driving, rb = unit * driven, lean = std::asin(std::clamp((rb - ra) / (b.x() - a.x()), -1.0, 1.0));
    p.setPen(QPen(c.hinge, px(5)));
    p.setBrush(Qt::NoBrush);
    for (const int side : {1, -1}) {
        const QPointF n(-std::sin(lean), -side * std::cos(lean));
        p.drawLine(a + ra * n, b + rb * n);
    }
    QRectF ca(a.x() - ra, a.y() - ra, 2 * ra, 2 * ra), cb(b.x() - rb, b.y() - rb, 2 * rb, 2 * rb);
    const double lean_degrees = lean * degrees;
    p.drawArc(ca, static_cast<int>((90 + lean_degrees) * 16), static_cast<int>((180 - 2 * lean_degrees) * 16));
    p.drawArc(cb, static_cast<int>((-90 - lean_degrees) * 16), static_cast<int>((180 + 2 * lean_degrees) * 16));
    p.setPen(QPen(c.ink, 2));
    p.setBrush(c.card);
    for (const auto& [centre, radius, teeth] : {std::tuple{a, ra, driving}, std::tuple{b, rb, driven}}) {
        p.drawEllipse(centre, radius - px(5), radius - px(5));
        p.drawEllipse(centre, px(4), px(4));
        say(p, {centre.x(), centre.y() + radius + px(22)}, tr("%1 teeth").arg(teeth, 0, 'f', 0), Text::Body, c.ink, Qt::AlignHCenter);
    }
    p.setPen(QPen(c.ink, 1, Qt::DashLine));
    p.drawLine(a, b);
    say(p, {box.center().x(), y - px(6)}, fit.centres ? text(display(*fit.centres)) : tr("axle to axle: not measured yet"), Text::Figure,
        fit.centres ? c.ink : c.soft, Qt::AlignHCenter);
    if (line != nullptr) {
        p.setFont(textFont(Text::Figure));
        p.setPen(c.hinge);
        p.drawText(QRectF(box.left(), box.top() + px(4), box.width(), px(70)), Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap,
                   text(line->figure));
    }
}

// The arm as it bends, its root at the left, to its own proportions.
void FitPicture::drawArm(QPainter& p, const QRectF& box, const project::Channel& channel) const {
    const auto& c = colours();
    const auto& fit = channel.fit;
    const auto* line = lineOf(document_->model().fit, channel.id, "printed arm");
    const bool sized = fit.arm && fit.arm_height;
    const double length = box.width() * 0.72,
                 thick = sized ? std::clamp(length * si(*fit.arm_height) / si(*fit.arm), static_cast<double>(px(6)), box.height() * 0.3)
                               : px(20);
    const QPointF root(box.left() + box.width() * 0.12, box.center().y() - px(8));
    const double bend = line != nullptr && line->verdict == Verdict::Breaks ? px(34) : px(16);
    QPainterPath shape;
    const auto sag = [&](double s) { return bend * s * s * (3.0 - s) / 2.0; };  // a bar that is loaded at its end
    shape.moveTo(root + QPointF(0, -thick / 2));
    for (int i = 1; i <= 24; ++i) shape.lineTo(root + QPointF(length * i / 24.0, sag(i / 24.0) - thick / 2 * (1.0 - 0.35 * i / 24.0)));
    for (int i = 24; i >= 0; --i) shape.lineTo(root + QPointF(length * i / 24.0, sag(i / 24.0) + thick / 2 * (1.0 - 0.35 * i / 24.0)));
    shape.closeSubpath();
    p.setPen(QPen(c.hinge, 2));
    p.setBrush(c.hingeTint);
    p.drawPath(shape);
    // Its filling, a hatch as dense as it is.
    p.save();
    p.setClipPath(shape);
    p.setPen(QPen(c.hinge, 1));
    const double gap = px(4) / std::max(0.08, si(fit.infill));
    for (double x = root.x() - thick; x < root.x() + length + thick; x += gap)
        p.drawLine(QPointF(x, root.y() - px(80)), QPointF(x + px(80), root.y() + px(80)));
    p.restore();
    p.setPen(QPen(line != nullptr && line->verdict == Verdict::Breaks ? c.breaks : c.ink, px(4)));
    p.drawLine(root + QPointF(0, -thick), root + QPointF(0, thick));
    const QPointF tip = root + QPointF(length, sag(1.0));
    p.setPen(QPen(c.hinge, 2));
    p.drawLine(tip + QPointF(0, thick / 2), tip + QPointF(0, thick / 2 + px(26)));
    p.drawLine(tip + QPointF(0, thick / 2 + px(26)), tip + QPointF(-px(5), thick / 2 + px(18)));
    p.drawLine(tip + QPointF(0, thick / 2 + px(26)), tip + QPointF(px(5), thick / 2 + px(18)));
    if (fit.arm)
        say(p, {root.x() + length / 2, root.y() - thick / 2 - px(12)}, text(display(*fit.arm)), Text::Figure, c.ink, Qt::AlignHCenter);
    p.setFont(textFont(Text::Small));
    p.setPen(line != nullptr && line->verdict == Verdict::Breaks ? c.breaks : c.ink);
    p.drawText(QRectF(box.left(), box.bottom() - px(48), box.width(), px(46)), Qt::AlignHCenter | Qt::AlignBottom | Qt::TextWordWrap,
               line == nullptr || line->figure.empty() ? tr("not measured yet") : text(line->figure));
}

void FitPicture::drawCase(QPainter& p, const QRectF& box) const {
    const auto& c = colours();
    const auto& m = document_->model();
    const auto& brief = m.project.brief;
    const double w = si(*brief.box_width), h = si(*brief.box_height), d = si(*brief.box_depth);
    const double unit = std::min(box.width() * 0.5 / (w + 0.5 * d), box.height() * 0.5 / (h + 0.4 * d));
    const QRectF front(box.center().x() - unit * (w + 0.5 * d) / 2, box.center().y() - unit * (h - 0.4 * d) / 2, unit * w, unit * h);
    const QPointF back(unit * 0.5 * d, -unit * 0.4 * d);
    const bool hot = m.fit.inside && si(*m.fit.inside) - 273.15 > 60.0;
    p.setPen(QPen(c.ink, 2));
    p.setBrush(hot ? c.sparkTint : c.card);
    p.drawPolygon(QPolygonF{front.topLeft(), front.topRight(), front.topRight() + back, front.topLeft() + back});
    p.drawPolygon(QPolygonF{front.topRight(), front.bottomRight(), front.bottomRight() + back, front.topRight() + back});
    p.setBrush(c.sparkTint);
    p.drawRect(front);
    if (m.fit.inside)
        say(p, {front.center().x(), front.center().y() + px(4)}, text(display(*m.fit.inside)), Text::Title, hot ? c.breaks : c.spark,
            Qt::AlignHCenter);
    say(p, {front.center().x(), front.center().y() + px(22)}, tr("%1 inside").arg(text(display(m.fit.heat))), Text::Small, c.spark,
        Qt::AlignHCenter);
    say(p, {front.center().x(), front.bottom() + px(18)}, text(display(*brief.box_width)), Text::Small, c.ink, Qt::AlignHCenter);
    say(p, {front.left() - px(6), front.center().y()}, text(display(*brief.box_height)), Text::Small, c.ink, Qt::AlignRight);
    say(p, {front.topRight().x() + back.x() + px(6), front.top() + back.y() / 2}, text(display(*brief.box_depth)), Text::Small, c.ink);
    say(p, {box.center().x(), box.bottom() - px(12)}, tr("air round it %1").arg(text(display(brief.ambient))), Text::Small, c.soft,
        Qt::AlignHCenter);
}

void FitPicture::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& c = colours();
    p.fillRect(rect(), c.card);
    const auto& m = document_->model();
    const auto* channel = project::findChannel(m.project, channel_.toStdString());
    std::vector<std::pair<QString, std::function<void(const QRectF&)>>> drawings;
    if (channel != nullptr) {
        const auto* planned = plan::findChannel(m.plan, channel->id);
        if (planned != nullptr && planned->signal == plan::SignalKind::ServoPulse && planned->motion.pulse_from &&
            planned->motion.pulse_to && planned->motion.pulse_per_angle && *planned->motion.pulse_per_angle > 0.0)
            drawings.emplace_back(tr("horn and swing"), [&, planned](const QRectF& box) { drawHorn(p, box, *channel, *planned); });
        const auto* move = std::get_if<project::MoveDemand>(&channel->demand);
        if ((move != nullptr && move->way == project::MoveWay::Belt) || channel->fit.centres)
            drawings.emplace_back(tr("belt"), [&](const QRectF& box) { drawBelt(p, box, *channel); });
        if (channel->fit.print != demand::Print::None)
            drawings.emplace_back(tr("printed arm, held fast"), [&](const QRectF& box) { drawArm(p, box, *channel); });
    }
    if (m.project.brief.box_width && m.project.brief.box_height && m.project.brief.box_depth)
        drawings.emplace_back(tr("the case"), [&](const QRectF& box) { drawCase(p, box); });
    if (drawings.empty()) {
        p.setFont(textFont(Text::Body));
        p.setPen(c.soft);
        p.drawText(
            rect().adjusted(px(20), px(20), -px(20), 0), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
            tr("What is measured at the left is drawn here: horns and their swing, belts, printed arms, and the case with its warmth."));
        return;
    }
    const double each = static_cast<double>(width()) / static_cast<double>(drawings.size());
    for (std::size_t k = 0; k < drawings.size(); ++k) {
        const QRectF box(each * static_cast<double>(k) + px(8), px(24), each - px(16), height() - px(28));
        say(p, QPointF(box.center().x(), px(16)), drawings[k].first, Text::Small, c.soft, Qt::AlignHCenter);
        if (k > 0) {
            p.setPen(QPen(c.line, 1));
            p.drawLine(QPointF(each * static_cast<double>(k), px(10)), QPointF(each * static_cast<double>(k), height() - px(10)));
        }
        drawings[k].second(box);
    }
}

FitPage::FitPage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("fit");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    facts_ = new FactsPanel(document_);
    row->addWidget(facts_);
    auto* right = new QWidget;
    auto* column = new QVBoxLayout(right);
    sentence_ = new QLabel;
    sentence_->setObjectName("fitSentence");
    sentence_->setWordWrap(true);
    picture_ = new FitPicture(document_);
    auto* body = new QWidget;
    lines_ = new QVBoxLayout(body);
    auto* scroll = scrolled(body);
    scroll->setObjectName("fitLines");
    column->addWidget(sentence_);
    column->addWidget(picture_, 3);
    column->addWidget(scroll, 2);
    row->addWidget(right, 1);
}

void FitPage::present(const QString& channel) {
    channel_ = channel;
    facts_->setFixedWidth(px(248));
    facts_->present(project::Stage::Prove, channel);
    picture_->present(channel);
    build();
}

void FitPage::build() {
    const auto& c = colours();
    const auto& m = document_->model();
    QString key = themeKey() + channel_;
    int open = 0;
    const proof::FitLine* worst = nullptr;
    const auto mine = [&](const proof::FitLine& line) {
        return line.channel.empty() || line.channel == channel_.toStdString() || channel_.isEmpty();
    };
    for (const auto& line : m.fit.lines) {
        if (!mine(line)) continue;
        key += text(line.channel + line.what + line.figure + line.why) + QString::number(static_cast<int>(line.verdict));
        open += line.verdict == Verdict::Unknown ? 1 : 0;
        if (line.verdict == Verdict::Breaks || (line.verdict == Verdict::Tight && worst == nullptr)) worst = &line;
    }
    sentence_->setFont(textFont(Text::Sentence));
    sentence_->setText(worst != nullptr ? tr("%1: %2").arg(text(worst->what), text(worst->why))
                       : open > 0 ? tr("%1 still to be measured.").arg(open == 1 ? tr("One length is") : tr("%1 lengths are").arg(open))
                                  : tr("All that was measured fits."));
    findChild<QScrollArea*>("fitLines")->parentWidget()->layout()->setContentsMargins(px(14), px(8), px(14), px(6));
    if (key == built_) return;
    built_ = key;
    clear(lines_);
    lines_->setContentsMargins(0, 0, 0, 0);
    lines_->setSpacing(px(5));
    for (const auto& line : m.fit.lines) {
        if (!mine(line)) continue;
        const QColor colour = line.verdict == Verdict::Breaks  ? c.breaks
                              : line.verdict == Verdict::Tight ? c.tight
                              : line.verdict == Verdict::Holds ? c.hinge
                                                               : c.line;
        auto* frame = barred(colour);
        auto* inner = static_cast<QVBoxLayout*>(frame->layout());
        const auto* channel = project::findChannel(m.project, line.channel);
        const QString whose = channel != nullptr && channel_.isEmpty() ? text(channel->name) + ", " : QString();
        inner->addWidget(
            label(QString("%1%2: %3").arg(whose, text(line.what), line.figure.empty() ? tr("not measured yet") : text(line.figure)),
                  Text::Figure, c.ink));
        inner->addWidget(label(tr("%1. Look: %2.").arg(verdictWord(line.verdict), text(line.check)), Text::Small, c.soft));
        if (!line.why.empty()) inner->addWidget(label(text(line.why), Text::Small, colour));
        lines_->addWidget(frame);
    }
    if (lines_->count() == 0)
        lines_->addWidget(label(tr("Nothing here to measure: no horn, belt or printed part, and no case."), Text::Body, c.soft));
    lines_->addStretch(1);
}

}  // namespace hinge::app
