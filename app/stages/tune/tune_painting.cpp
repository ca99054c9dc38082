// The gadget itself beside the chart, moving as the board says.
#include <QPainter>
#include <cmath>
#include "quantity/constants.hpp"
#include "quantity/text.hpp"
#include "stages/need/mechanism.hpp"
#include "stages/tune/tune_page.hpp"
#include "theme/text.hpp"

namespace hinge::app {

// The tank, falling as it pours, and the water in the cup.
void TunePage::drawTank(QPainter& p, const QRectF& box, const plant::Observation& seen) {
    const auto& c = colours();
    const double full = seen.tank + seen.poured;
    const double share = full > 0.0 ? seen.tank / full : 0.0;
    const QRectF tank(box.left(), box.top() + px(26), box.width(), box.height() * 0.34);
    p.setPen(Qt::NoPen);
    p.setBrush(c.hingeTint);
    const double surface = tank.bottom() - tank.height() * 0.88 * share;
    p.drawRect(QRectF(QPointF(tank.left(), surface), tank.bottomRight()));
    p.setPen(QPen(c.ink, 2));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(QPolygonF{tank.topLeft(), tank.bottomLeft(), tank.bottomRight(), tank.topRight()});
    say(p, {box.left(), box.top() + px(18)}, tr("tank %1").arg(text(display(Kind::Volume, seen.tank))), Text::Small, c.hinge);
    const auto output = static_cast<std::size_t>(std::max(0, session_.outputOf(channel_)));
    const bool runs = output < seen.duty.size() && seen.duty[output] > 0.0;
    const double x = tank.center().x();
    const QRectF cup(x - px(24), box.bottom() - px(74), px(48), px(50));
    if (runs) {
        p.setPen(QPen(c.hinge, 3));
        p.drawLine(QPointF(x, tank.bottom() + px(4)), QPointF(x, cup.bottom() - px(4)));
    }
    // The cup holds a fifth of a litre; it is emptied each time it is full.
    const double in_cup = std::fmod(seen.poured, 2e-4) / 2e-4;
    p.setPen(Qt::NoPen);
    p.setBrush(c.hingeTint);
    p.drawRect(QRectF(QPointF(cup.left(), cup.bottom() - cup.height() * in_cup), cup.bottomRight()));
    p.setPen(QPen(c.ink, 2));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(QPolygonF{cup.topLeft(), cup.bottomLeft(), cup.bottomRight(), cup.topRight()});
    say(p, {x, cup.bottom() + px(20)}, tr("poured %1").arg(text(display(Kind::Volume, seen.poured))), Text::Figure, c.hinge,
        Qt::AlignHCenter);
}

void TunePage::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& c = colours();
    const double left = controlsWidth();
    p.fillRect(QRectF(left, 0, width() - left, height()), c.card);
    p.setPen(c.line);
    p.drawLine(QPointF(left, 0), QPointF(left, height()));
    const int side = rightWidth();
    if (side == 0) return;
    const QRectF column(width() - side + px(12), px(46), side - px(24), height() - px(60));
    if (practising()) {
        // The score, large; it is the one thing this view is about.
        const auto& exercise = control::exercises()[static_cast<std::size_t>(exercise_)];
        p.setFont(textFont(Text::Title));
        const QRectF box(column.left(), column.bottom() - px(120), column.width(), px(110));
        p.setPen(Qt::NoPen);
        p.setBrush(c.line);
        p.drawRect(QRectF(box.left(), box.bottom() - px(10), box.width(), px(6)));
        p.setBrush(score_.met ? c.hinge : c.soft);
        p.drawRect(QRectF(box.left(), box.bottom() - px(10), box.width() * score_.points / 100.0, px(6)));
        p.setPen(QPen(c.ink, 2));
        p.drawLine(QPointF(box.left() + box.width() * 0.6, box.bottom() - px(15)), QPointF(box.left() + box.width() * 0.6, box.bottom()));
        say(p, {box.left(), box.bottom() - px(22)}, tr("%1 of 100 points").arg(score_.points), Text::Title, score_.met ? c.hinge : c.soft);
        if (score_.met) {
            p.setFont(textFont(Text::Body));
            p.setPen(c.ink);
            p.drawText(QRectF(box.left(), box.top() - px(60), box.width(), px(120)), Qt::AlignTop | Qt::TextWordWrap, text(exercise.why));
        }
        return;
    }
    const auto* decided = project::findChannel(document_->model().project, channel_.toStdString());
    const auto* planned = plan::findChannel(document_->model().plan, channel_.toStdString());
    if (decided == nullptr || planned == nullptr) return;
    if (view_ == View::Strip && session_.board() == nullptr) return;
    const auto seen = session_.board() != nullptr ? session_.board()->observe() : plant::Observation{};
    if (session_.board() != nullptr && std::holds_alternative<project::PumpDemand>(decided->demand))
        return drawTank(p, QRectF(column.left() + column.width() * 0.2, column.top(), column.width() * 0.6, column.height()), seen);
    // The gadget itself, moving as the board says.
    const QRectF box = view_ == View::Response ? QRectF(column.left() + px(10), column.bottom() - px(200), column.width() - px(20), px(180))
                                               : QRectF(column.left() + px(10), column.top() + px(20), column.width() - px(20), px(180));
    const int output = session_.outputOf(channel_);
    const auto machine = session_.machineOf(output);
    const auto& telemetry = session_.telemetry();
    const bool placed = plan::isPlaced(*planned);
    double share = telemetry.empty() || output < 0
                       ? 0.0
                       : static_cast<double>(telemetry.value(static_cast<std::size_t>(output), telemetry.size() - 1));
    QString under;
    if (case_ && case_->setup.rolls) {
        // A figure on its wheel, leaning as it does.
        const double lean = machine ? machine->value : std::get<plant::Balancer>(case_->setup.machine.machine).lean();
        const QPointF axle(box.center().x() + (machine ? std::fmod(machine->angle * 300.0, box.width() * 0.3) : 0.0),
                           box.bottom() - px(34));
        const double wheel = px(20), body = px(92);
        p.setPen(QPen(c.ink, 2));
        p.drawLine(QPointF(box.left(), axle.y() + wheel), QPointF(box.right(), axle.y() + wheel));
        const QPointF top = axle + QPointF(std::sin(lean) * body, -std::cos(lean) * body);
        p.setPen(QPen(c.hinge, 5, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(axle, top);
        p.setBrush(c.card);
        p.setPen(QPen(c.ink, 2));
        p.drawEllipse(top, px(9), px(9));
        p.drawEllipse(axle, wheel, wheel);
        const double turned = machine ? machine->angle / 0.04 : 0.0;
        p.drawLine(axle, axle + QPointF(std::sin(turned) * wheel, -std::cos(turned) * wheel));
        under = machine ? (machine->troubled ? tr("it lies")
                                             : tr("leans %1°").arg(std::abs(lean) < 8.7e-4 ? 0.0 : lean * 180.0 / constants::pi, 0, 'f', 1))
                        : tr("not running");
        say(p, {box.center().x(), box.bottom() + px(8)}, under, Text::Figure, machine && machine->troubled ? c.breaks : c.hinge,
            Qt::AlignHCenter);
        return;
    }
    if (machine && !placed) turning_ = std::fmod(machine->angle / (2.0 * constants::pi), 1.0);
    else if (!placed && share > 0.0) turning_ = std::fmod(turning_ + 0.005 * share, 1.0);
    drawMechanism(p, box, *decided, planned->context->ask, placed ? phaseAt(share) : turning_);
    if (machine && case_ && case_->scale.kind == Kind::RotationSpeed)
        say(p, {box.center().x(), box.bottom() + px(14)}, tr("%1 rpm").arg(machine->value * 60.0 / (2.0 * constants::pi), 0, 'f', 1),
            Text::Figure, c.hinge, Qt::AlignHCenter);
}

}  // namespace hinge::app
