#include "stages/pulse/pulse_picture.hpp"
#include <QPainterPath>
#include <algorithm>

namespace hinge::app {

void PulsePicture::train(QPainter& p, const QRectF& box, const std::vector<routine::Pulse>& pulses) {
    const auto& c = colours();
    const double from = pulses.front().start, span = pulses.back().start + pulses.back().period - from;
    const auto x = [&](double t) { return box.left() + (t - from) / span * box.width(); };
    QPainterPath wave;
    wave.moveTo(box.left(), box.bottom());
    for (const auto& pulse : pulses) {
        wave.lineTo(x(pulse.start), box.bottom());
        if (pulse.high <= 0.0) continue;
        wave.lineTo(x(pulse.start), box.top());
        wave.lineTo(x(pulse.start + pulse.high), box.top());
        wave.lineTo(x(pulse.start + pulse.high), box.bottom());
    }
    wave.lineTo(box.right(), box.bottom());
    QPainterPath filled = wave;
    filled.closeSubpath();
    p.setPen(Qt::NoPen);
    p.setBrush(c.timeTint);
    p.drawPath(filled);
    p.setPen(QPen(c.time, 2.5, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
    p.setBrush(Qt::NoBrush);
    p.drawPath(wave);
    // One pulse measured: its period below, its high time above. The one under the pointer, else the middle.
    auto measured = pulses[pulses.size() / 2];
    if (pointer_ && box.adjusted(0, -px(20), 0, px(20)).contains(*pointer_))
        for (const auto& pulse : pulses)
            if (pointer_->x() >= x(pulse.start)) measured = pulse;
    const auto span_line = [&](double x0, double x1, double y, const QString& words, double up) {
        p.setPen(QPen(c.ink, 1));
        p.drawLine(QPointF(x0, y), QPointF(x1, y));
        for (const double end : {x0, x1}) p.drawLine(QPointF(end, y - px(4)), QPointF(end, y + px(4)));
        say(p, {(x0 + x1) / 2, y + up}, words, Text::Figure, c.time, Qt::AlignHCenter);
    };
    span_line(x(measured.start), x(measured.start + measured.period), box.bottom() + px(16), tr("period %1").arg(text(display(Kind::Duration, measured.period, 4))), px(20));
    span_line(x(measured.start), x(measured.start + measured.high), box.top() - px(12), tr("high %1, %2 of %3 steps").arg(text(display(Kind::Duration, measured.high))).arg(measured.level).arg(measured.steps), -px(4));
}

void PulsePicture::draw(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    if (planned() == nullptr || channel() == nullptr) return;
    if (!planned()->pwm) return waits(p, box, tr("The pin is switched on and off, without pulses: no soft start and full power, or no pin with PWM chosen yet."));
    const auto& pwm = *planned()->pwm;
    const auto& signal = channel()->signal;
    // Nine pulses from the soft start, where the duty can be seen to grow; without one, the first nine.
    const double from = si(signal.soft_start) * 0.35;
    const auto pulses = routine::pulseTrain(pwm, signal.duty, signal.soft_start, of<Duration>(from), 9);
    say(p, {box.left() + px(54), box.top() + px(18)}, tr("at %1, from %2 after switch-on").arg(text(channel()->pin), text(display(Kind::Duration, pulses.front().start))), Text::Small, c.soft);
    say(p, {box.right() - px(20), box.top() + px(18)}, tr("timer %1 · prescaler %2 · TOP %3 · %4").arg(si(pwm.timer)).arg(si(pwm.prescaler)).arg(si(pwm.top)).arg(tr(labelOf(pwm.mode))), Text::Body, c.ink, Qt::AlignRight);
    const QRectF wave(box.left() + px(54), box.top() + px(62), box.width() - px(76), box.height() * 0.27);
    const double volts = board::family(model().project.board.form).logic;
    say(p, {wave.left() - px(8), wave.top() + px(6)}, tr("%1 V").arg(volts), Text::Small, c.ink, Qt::AlignRight);
    say(p, {wave.left() - px(8), wave.bottom() + px(6)}, tr("0 V"), Text::Small, c.ink, Qt::AlignRight);
    train(p, wave, pulses);

    const Axes axes{QRectF(box.left() + px(54), wave.bottom() + px(86), box.width() - px(76), box.bottom() - wave.bottom() - px(126)), 0.0, std::max(0.02, si(signal.soft_start) * 1.6), 0.0, 1.08};
    axes.draw(p, Kind::Duration, Kind::Fraction, tr("time after switch-on"), tr("share of full power"));
    const auto ramp = routine::rampShape(pwm, signal.duty, signal.soft_start, of<Duration>(axes.x1), 400);
    QPolygonF line;
    for (const auto& point : ramp) line << axes.at(point.time, point.share);
    QColor band = c.timeTint;
    p.fillRect(QRectF(axes.at(pulses.front().start, 1.08), axes.at(pulses.back().start + pulses.back().period, 0)), band);
    p.setPen(QPen(c.time, 2.5));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(line);
    say(p, axes.at(pulses.front().start, 1.08) + QPointF(px(4), px(16)), tr("the pulses above"), Text::Small, c.time);
    const auto& chosen = planned()->chosen;
    if (chosen && chosen->starting && chosen->stalled)
        say(p, axes.at(axes.x1, 0.1) + QPointF(-px(8), 0), si(signal.soft_start) > 0.0 ? tr("starting draws %1 instead of %2").arg(text(display(*chosen->starting)), text(display(*chosen->stalled))) : tr("straight on draws %1").arg(text(display(*chosen->starting))), Text::Figure, c.spark, Qt::AlignRight, true);
}

}  // namespace hinge::app
