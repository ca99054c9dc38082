#include "stages/pulse/pulse_picture.hpp"
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include "driver/mains.hpp"
#include "match/rank.hpp"
#include "plan/motion.hpp"

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
    span_line(x(measured.start), x(measured.start + measured.period), box.bottom() + px(16),
              tr("period %1").arg(text(display(Kind::Duration, measured.period, 4))), px(20));
    span_line(x(measured.start), x(measured.start + measured.high), box.top() - px(12),
              tr("high %1, %2 of %3 steps").arg(text(display(Kind::Duration, measured.high))).arg(measured.level).arg(measured.steps),
              -px(4));
}

// A servo's frame, to scale.
void PulsePicture::frame(QPainter& p, const QRectF& wave, double pulse, const QString& name) {
    const auto& c = colours();
    const double length = 0.020;
    const auto x = [&](double t) { return wave.left() + t / (length * 1.25) * wave.width(); };
    QPainterPath line;
    line.moveTo(x(0), wave.bottom());
    for (const double start : {0.0, length}) {
        line.lineTo(x(start), wave.bottom());
        line.lineTo(x(start), wave.top());
        line.lineTo(x(start + pulse), wave.top());
        line.lineTo(x(start + pulse), wave.bottom());
    }
    line.lineTo(wave.right(), wave.bottom());
    p.setPen(QPen(c.time, 2.4, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
    p.setBrush(Qt::NoBrush);
    p.drawPath(line);
    say(p, {x(pulse) + px(8), wave.top() + px(14)}, tr("high %1").arg(text(display(Kind::Duration, pulse, 4))), Text::Figure, c.time);
    say(p, {wave.left(), wave.top() - px(8)}, name, Text::Small, c.ink);
    p.setPen(QPen(c.ink, 1));
    p.drawLine(QPointF(x(0), wave.bottom() + px(14)), QPointF(x(length), wave.bottom() + px(14)));
    say(p, {x(length / 2), wave.bottom() + px(30)}, tr("frame 20 ms"), Text::Small, c.soft, Qt::AlignHCenter);
}

// The coil's current: a pulse one way, nothing, a pulse the other way; below it the two pins.
void PulsePicture::latch(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const double pulse = si(*planned()->latch), whole = 10.0 * pulse;
    const auto& chosen = planned()->chosen;
    const double amps = chosen && chosen->motor ? si(*chosen->motor) : 1.0;
    const Axes axes{QRectF(box.left() + px(60), box.top() + px(40), box.width() - px(90), box.height() * 0.5), 0.0, whole, -1.3 * amps,
                    1.3 * amps};
    axes.draw(p, Kind::Duration, Kind::Current, tr("time"), tr("current in the coil"));
    const double on = 2.0 * pulse, off = 6.0 * pulse;
    QPolygonF line{axes.at(0, 0)};
    for (const auto& [at, way] : {std::pair{on, amps}, std::pair{off, -amps}})
        line << axes.at(at, 0) << axes.at(at, way) << axes.at(at + pulse, way) << axes.at(at + pulse, 0);
    line << axes.at(whole, 0);
    p.setPen(QPen(c.spark, 2.6, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(line);
    say(p, axes.at(on, amps) + QPointF(px(6), -px(8)),
        tr("on: %1 for %2").arg(text(display(Kind::Current, amps, 3)), text(display(*planned()->latch, 2))), Text::Figure, c.time);
    say(p, axes.at(off, -amps) + QPointF(px(6), px(20)), tr("off, or on stop: the other way"), Text::Figure, c.time);
    double top = axes.box.bottom() + px(70);
    const auto lane = [&](const QString& name, std::initializer_list<std::pair<double, double>> high) {
        const QRectF wave(axes.box.left(), top, axes.box.width(), px(40));
        const auto x = [&](double t) { return wave.left() + t / whole * wave.width(); };
        QPolygonF level{QPointF(x(0), wave.bottom())};
        for (const auto& [from, to] : high)
            level << QPointF(x(from), wave.bottom()) << QPointF(x(from), wave.top()) << QPointF(x(to), wave.top())
                  << QPointF(x(to), wave.bottom());
        if (high.size() == 0 || std::rbegin(high)->second < whole) level << QPointF(x(whole), wave.bottom());
        else level.removeLast();
        p.setPen(QPen(c.time, 2.2, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
        p.drawPolyline(level);
        say(p, {wave.left(), wave.top() - px(8)}, name, Text::Small, c.ink);
        top += px(84);
    };
    lane(tr("at %1: current").arg(text(channel()->pin)), {{on, on + pulse}, {off, off + pulse}});
    lane(tr("at %1: which way").arg(text(channel()->direction_pin)), {{off, whole}});
}

// Frames at rest and at its share either way, and between them the line from pulse to speed.
void PulsePicture::speed(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const double still = si(*planned()->motion.pulse_still), span = si(*planned()->motion.pulse_span), share = si(channel()->signal.duty);
    const auto& chosen = planned()->chosen;
    const bool back = routine::turnsRound(model().project.routine, channel()->id);
    std::vector<std::pair<double, QString>> frames{
        {still, tr("off: it stands still; pin %1").arg(text(channel()->pin))},
        {still + span * share, tr("on, at %1 of full speed").arg(text(display(channel()->signal.duty, 2)))}};
    if (back) frames.emplace_back(still - span * share, tr("the same backwards"));
    double top = box.top() + px(30);
    for (const auto& [pulse, name] : frames) {
        frame(p, QRectF(box.left() + px(54), top, box.width() - px(90), px(36)), pulse, name);
        top += px(94);
    }
    const double full = chosen && kinds::known(chosen->numbers.speed) ? chosen->numbers.speed : 1.0;
    const Axes axes{QRectF(box.left() + px(60), top, box.width() - px(90), box.bottom() - top - px(44)), still - span, still + span, -full,
                    full};
    if (axes.box.height() < px(80)) return;
    axes.draw(p, Kind::Duration, Kind::RotationSpeed, tr("pulse"), tr("speed under its load"));
    p.fillRect(QRectF(axes.at(back ? still - span * share : still, full), axes.at(still + span * share, -full)), c.timeTint);
    p.setPen(QPen(c.hinge, 2.6));
    p.drawLine(axes.at(still - span, -full), axes.at(still + span, full));
    say(p, axes.at(still, full) + QPointF(px(6), px(16)), tr("what cues use"), Text::Small, c.time, Qt::AlignLeft, true);
}

// A frame at each end of the move, to scale, and between them the map from pulse to angle.
void PulsePicture::servo(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& motion = planned()->motion;
    const auto& asked = planned()->context->ask;
    if (!motion.pulse_from || !motion.pulse_to || !asked.angle)
        return waits(
            p, box,
            tr("The servo's ends are not known yet. Horn off, from 1.5 ms, go on until it strains, then back a little: once each way."));
    const QRectF wave(box.left() + px(54), box.top() + px(34), box.width() - px(90), px(64));
    frame(p, wave, si(*motion.pulse_from), tr("at the start of the move, pin %1").arg(text(channel()->pin)));
    frame(p, wave.translated(0, px(126)), si(*motion.pulse_to), tr("at its end, %1 further").arg(text(display(*asked.angle, 2))));
    const double low = channel()->calibration.pulse_min ? si(*channel()->calibration.pulse_min) : 0.0,
                 high = channel()->calibration.pulse_max ? si(*channel()->calibration.pulse_max) : 0.003;
    const auto* part = match::partOf(planned()->context, model().parts, channel()->actuator);
    const double stated = part != nullptr ? kinds::actuatorKind(*part).range(*part) : kinds::unknown;
    const double range = kinds::known(stated) ? stated : 3.14;
    const Axes axes{QRectF(box.left() + px(60), box.top() + px(290), box.width() - px(90), box.bottom() - box.top() - px(334)), low, high,
                    0.0, range};
    if (axes.box.height() < px(80)) return;
    axes.draw(p, Kind::Duration, Kind::Angle, tr("pulse"), tr("angle of the servo"));
    p.fillRect(QRectF(axes.at(si(*motion.pulse_from), range), axes.at(si(*motion.pulse_to), 0)), c.timeTint);
    p.setPen(QPen(c.hinge, 2.6));
    p.drawLine(axes.at(low, 0), axes.at(high, range));
    say(p, axes.at((si(*motion.pulse_from) + si(*motion.pulse_to)) / 2, range) + QPointF(0, px(16)), tr("the move"), Text::Small, c.time,
        Qt::AlignHCenter, true);
}

// The rate over the move, and the first steps to scale.
void PulsePicture::steps(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& motion = planned()->motion;
    const auto& asked = planned()->context->ask;
    const bool goes_on = planned()->signal == plan::SignalKind::StepRate;
    if (!motion.peak_rate || (!goes_on && (!motion.steps || !asked.time || si(*motion.steps) < 2.0)))
        return waits(p, box, tr("Travel, time and a chosen stepper are needed: then the steps of one move stand here."));
    // What goes on is drawn up to its speed, a while at it, and down again.
    const double peak = si(*motion.peak_rate) * (goes_on ? si(channel()->signal.duty) : 1.0),
                 ramp_time = goes_on ? std::max(1e-3, si(channel()->signal.soft_start)) : si(*asked.time) / 2,
                 level_time = goes_on ? 2.0 * ramp_time : 0.0, time = 2.0 * ramp_time + level_time, acceleration = peak / ramp_time;
    const double count = motion.steps ? si(*motion.steps) : 0.0;
    const QRectF wave(box.left() + px(54), box.top() + px(50), box.width() - px(80), px(60));
    // Step k of a ramp from rest falls at √(2k/a).
    const int shown = 9;
    const auto at = [&](int k) { return std::sqrt(2.0 * k / acceleration); };
    const double span = at(shown) * 1.05;
    const auto x = [&](double t) { return wave.left() + t / span * wave.width(); };
    QPainterPath line;
    line.moveTo(wave.left(), wave.bottom());
    for (int k = 1; k <= shown; ++k) {
        const double start = at(k), width = std::max(2e-6, span * 0.006);
        line.lineTo(x(start), wave.bottom());
        line.lineTo(x(start), wave.top());
        line.lineTo(x(start + width), wave.top());
        line.lineTo(x(start + width), wave.bottom());
    }
    line.lineTo(wave.right(), wave.bottom());
    p.setPen(QPen(c.time, 2.2, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
    p.setBrush(Qt::NoBrush);
    p.drawPath(line);
    say(p, {wave.left(), wave.top() - px(12)}, tr("the first steps at %1, from rest").arg(text(channel()->pin)), Text::Small, c.ink);
    p.setPen(QPen(c.ink, 1));
    p.drawLine(QPointF(x(at(1)), wave.bottom() + px(14)), QPointF(x(at(2)), wave.bottom() + px(14)));
    say(p, {(x(at(1)) + x(at(2))) / 2, wave.bottom() + px(32)}, text(display(Kind::Duration, at(2) - at(1))), Text::Figure, c.time,
        Qt::AlignHCenter);
    const Axes axes{QRectF(box.left() + px(62), wave.bottom() + px(76), box.width() - px(90), box.bottom() - wave.bottom() - px(116)), 0.0,
                    time * 1.04, 0.0, peak * 1.18};
    axes.draw(p, Kind::Duration, Kind::Frequency, tr("time"), tr("steps a second"));
    const QPolygonF ramp{axes.at(0, 0), axes.at(ramp_time, peak), axes.at(ramp_time + level_time, peak), axes.at(time, 0)};
    p.setPen(Qt::NoPen);
    p.setBrush(c.timeTint);
    p.drawPolygon(ramp);
    p.setPen(QPen(c.time, 2.6));
    p.drawPolyline(ramp);
    say(p, axes.at(time / 2, peak) + QPointF(0, -px(8)),
        (goes_on ? tr("%1 until it is told to stop") : tr("%1 at the fastest")).arg(text(display(Kind::Frequency, peak))), Text::Figure,
        c.time, Qt::AlignHCenter, true);
    if (!goes_on) say(p, axes.at(time / 2, peak * 0.4), tr("%1 steps").arg(count), Text::Figure, c.ink, Qt::AlignHCenter);
}

// The mains over some periods, to scale, and what of them is let through.
struct PulsePicture::Mains {
    const plan::MainsPlan& plan;
    double period, span, delay;
    int shown;  ///< whole cycles, where there is a pattern
    QRectF wave;
    [[nodiscard]] bool cycles() const { return !plan.pattern.empty(); }
    [[nodiscard]] double x(double t) const { return wave.left() + t / span * wave.width(); }
    [[nodiscard]] double y(double t) const {
        return wave.center().y() - std::sin(2.0 * 3.14159265358979 * t / period) * wave.height() / 2.0;
    }
    [[nodiscard]] bool passes(double t) const {
        if (cycles()) return plan.pattern[static_cast<std::size_t>(std::min(shown - 1.0, t / period))] == '1';
        return std::fmod(t, period / 2.0) >= delay;
    }
};

void PulsePicture::mains(QPainter& p, const QRectF& box) {
    const auto& plan = *planned()->mains;
    const bool cycles = !plan.pattern.empty();
    const double period = 1.0 / si(plan.frequency);
    const int shown = cycles ? static_cast<int>(plan.pattern.size()) : 2;
    const Mains mains{plan,
                      period,
                      period * (cycles ? shown : 2.25),
                      plan.delay ? si(*plan.delay) : 0.0,
                      shown,
                      QRectF(box.left() + px(54), box.top() + px(60), box.width() - px(80), box.height() * (cycles ? 0.42 : 0.33))};
    mainsWave(p, box, mains);
    if (cycles) return mainsCycles(p, mains);
    const double below = mainsGate(p, mains);
    mainsCurve(p, QRectF(box.left() + px(62), below + px(64), box.width() - px(90), box.bottom() - below - px(104)), mains);
}

void PulsePicture::mainsWave(QPainter& p, const QRectF& box, const Mains& m) {
    const auto& c = colours();
    const int points = static_cast<int>(m.wave.width());
    p.setPen(Qt::NoPen);
    p.setBrush(c.sparkTint);
    QPainterPath through, line;
    for (int i = 0; i <= points; ++i) {
        const double t = m.span * i / points;
        const double at = m.passes(t) ? m.y(t) : m.wave.center().y();
        if (i == 0) through.moveTo(m.x(0), m.wave.center().y()), line.moveTo(m.x(0), m.y(0));
        through.lineTo(m.x(t), at);
        line.lineTo(m.x(t), m.y(t));
    }
    through.lineTo(m.x(m.span), m.wave.center().y());
    p.drawPath(through);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(c.soft, 1));
    p.drawPath(line);
    p.setPen(QPen(c.spark, 2.4));
    p.drawPath(through);
    p.setPen(QPen(c.ink, 1));
    p.drawLine(QPointF(m.wave.left(), m.wave.center().y()), QPointF(m.wave.right(), m.wave.center().y()));
    say(p, {m.wave.left(), box.top() + px(22)},
        tr("%1, %2: %3 of full power%4")
            .arg(text(display(m.plan.volts)), text(display(m.plan.frequency)), text(display(m.plan.share, 2)),
                 m.plan.to_hold ? tr(", which holds the temperature") : QString()),
        Text::Body, c.ink);
    say(p, {m.wave.left() - px(8), m.wave.top() + px(6)}, text(display(Kind::Voltage, si(m.plan.volts) * std::sqrt(2.0))), Text::Small,
        c.ink, Qt::AlignRight);
}

// Below the wave: how many cycles of how many, and the line that the pin gives.
void PulsePicture::mainsCycles(QPainter& p, const Mains& m) {
    const auto& c = colours();
    const auto on = static_cast<int>(std::count(m.plan.pattern.begin(), m.plan.pattern.end(), '1'));
    say(p, {m.wave.left(), m.wave.bottom() + px(26)},
        tr("%1 of %2 whole cycles, spread evenly; the pattern lasts %3").arg(on).arg(m.shown).arg(text(display(Kind::Duration, m.span))),
        Text::Figure, c.time);
    const QRectF lane(m.wave.left(), m.wave.bottom() + px(54), m.wave.width(), px(44));
    if (planned()->signal != plan::SignalKind::WholeCycles) {
        say(p, {lane.left(), lane.top()}, tr("As it is planned the sketch switches it fully on and off, by its routine."), Text::Body,
            c.ink);
        say(p, {lane.left(), lane.top() + px(22)}, tr("It gives such cycles where a share or a loop asks for them."), Text::Body, c.soft);
        return;
    }
    QPainterPath gate;
    gate.moveTo(lane.left(), lane.bottom());
    for (int k = 0; k < m.shown; ++k) {
        const double level = m.plan.pattern[static_cast<std::size_t>(k)] == '1' ? lane.top() : lane.bottom();
        gate.lineTo(m.x(k * m.period), level);
        gate.lineTo(m.x((k + 1) * m.period), level);
    }
    p.setPen(QPen(c.time, 2.2, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
    p.drawPath(gate);
    say(p, {lane.left(), lane.top() - px(6)}, tr("at %1").arg(text(channel()->pin)), Text::Small, c.ink);
    say(p, {lane.left(), lane.bottom() + px(30)}, tr("The relay waits for the next crossing by itself: no dimming, no noise."), Text::Body,
        c.ink);
    say(p, {lane.left(), lane.bottom() + px(52)}, tr("A lamp would flicker at this rhythm; a heater does not mind."), Text::Body, c.soft);
}

// A line that is high from one time after each crossing to another.
void PulsePicture::mainsLane(QPainter& p, const Mains& m, const QRectF& lane, double from, double until) {
    QPainterPath path;
    path.moveTo(lane.left(), from <= 0.0 ? lane.top() : lane.bottom());
    for (double crossing = 0.0; crossing < m.span + m.period; crossing += m.period / 2.0)
        for (const auto& [time, before, after] :
             {std::tuple{crossing + from, lane.bottom(), lane.top()}, {crossing + until, lane.top(), lane.bottom()}}) {
            if (time <= 0.0 || time >= m.span) continue;
            path.lineTo(m.x(time), before);
            path.lineTo(m.x(time), after);
        }
    path.lineTo(lane.right(), path.currentPosition().y());
    p.setPen(QPen(colours().time, 2.2, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
    p.setBrush(Qt::NoBrush);
    p.drawPath(path);
}

// What comes in at the crossings, and what goes out at the gate.
double PulsePicture::mainsGate(QPainter& p, const Mains& m) {
    const auto& c = colours();
    const double early = si(m.plan.early.value_or(Duration{}));
    const auto& at = model().project.board.crossing_pin;
    const QRectF crossings(m.wave.left(), m.wave.bottom() + px(36), m.wave.width(), px(18)),
        gate(m.wave.left(), m.wave.bottom() + px(82), m.wave.width(), px(28));
    if (planned()->signal != plan::SignalKind::PartWaves) {
        say(p, {gate.left(), crossings.top()}, tr("As it is planned the sketch switches it fully on and off, by its routine."), Text::Body,
            c.ink);
        say(p, {gate.left(), crossings.top() + px(22)},
            tr("It fires into each half-wave where it is dimmed, or a share or a loop asks for parts."), Text::Body, c.soft);
        return gate.bottom();
    }
    mainsLane(p, m, crossings, -early, early);
    say(p, {crossings.left() + px(4), crossings.top() - px(6)},
        tr("crossings, in at %1: the middle of each pulse, which begins %2 before it")
            .arg(at.empty() ? tr("a pin that is not chosen yet") : text(at), text(display(Kind::Duration, early, 2))),
        Text::Small, c.ink);
    mainsLane(p, m, gate, m.delay, si(m.plan.until.value_or(Duration{})));
    say(p, {gate.left() + px(4), gate.top() - px(6)}, tr("gate, at %1: held to just before the next crossing").arg(text(channel()->pin)),
        Text::Small, c.ink);
    p.setPen(QPen(c.ink, 1));
    const double mark = gate.bottom() + px(14);
    p.drawLine(QPointF(m.x(m.period), mark), QPointF(m.x(m.period + m.delay), mark));
    for (const double end : {m.period, m.period + m.delay}) p.drawLine(QPointF(m.x(end), mark - px(4)), QPointF(m.x(end), mark + px(4)));
    say(p, {m.x(m.period) + px(4), mark + px(20)}, tr("fires %1 after the crossing").arg(text(display(Kind::Duration, m.delay))),
        Text::Figure, c.time);
    return gate.bottom();
}

// What a delay gives.
void PulsePicture::mainsCurve(QPainter& p, const QRectF& box, const Mains& m) {
    const auto& c = colours();
    const Axes axes{box, 0.0, m.period / 2.0, 0.0, 1.08};
    if (axes.box.height() < px(70)) return;
    axes.draw(p, Kind::Duration, Kind::Fraction, tr("delay after the crossing"), tr("share of full power"));
    QPolygonF curve;
    for (int i = 0; i <= 120; ++i) {
        driver::PhaseAngle at;
        at.mains_frequency = m.plan.frequency;
        at.delay = of<Duration>(m.period / 2.0 * i / 120.0);
        if (const auto worked = driver::phaseAngle(at)) curve << axes.at(si(*at.delay), si(worked->result.power_fraction));
    }
    p.setPen(QPen(c.spark, 2.6));
    p.drawPolyline(curve);
    p.setPen(QPen(c.ink, 1.4));
    p.setBrush(c.spark);
    p.drawEllipse(axes.at(m.delay, si(m.plan.share)), px(5), px(5));
    p.setFont(textFont(Text::Small));
    p.setPen(c.ink);
    p.drawText(QRectF(axes.box.right() - px(230), axes.box.top() + px(2), px(228), px(64)), Qt::AlignRight | Qt::TextWordWrap,
               tr("For a resistance. The current of a coil runs on past the crossing: it gets more, and finds its gate still on."));
}

void PulsePicture::draw(QPainter& p, const QRectF& whole) {
    const auto& c = colours();
    if (planned() == nullptr || channel() == nullptr) return;
    QRectF box = whole;
    if (planned()->mains) return mains(p, box);
    if (planned()->latch) return latch(p, box);
    box.setBottom(whole.bottom() - bridge(p, whole));
    if (planned()->signal == plan::SignalKind::ServoPulse) return servo(p, box);
    if (planned()->motion.pulse_still) return speed(p, box);
    if (kinds::isSteps(planned()->signal)) return steps(p, box);
    if (planned()->signal == plan::SignalKind::Switched && !channel()->pin.empty()) return switched(p, box);
    if (!planned()->pwm)
        return waits(p, box,
                     tr("The pin is switched on and off, without pulses: no soft start and full power, or no pin with PWM chosen yet."));
    const auto& pwm = *planned()->pwm;
    const auto& signal = channel()->signal;
    // Nine pulses from the soft start, where the duty can be seen to grow; without one, the first nine.
    const double from = si(signal.soft_start) * 0.35;
    const auto pulses = routine::pulseTrain(pwm, planned()->closedFor(signal.duty), signal.soft_start, of<Duration>(from), 9);
    const bool apart = planned()->switched_ends > 0 && planned()->dead_time, inputs = planned()->two_inputs && !apart;
    const QString began = text(display(Kind::Duration, pulses.front().start));
    say(p, {box.left() + px(54), box.top() + px(18)},
        apart    ? tr("%1, upper switch; from %2").arg(text(channel()->pin), began)
        : inputs ? tr("%1 high, %2 low; from %3 on").arg(text(channel()->pin), text(channel()->direction_pin), began)
                 : (planned()->inverted ? tr("its wire; %1 low is on; from %2") : tr("at %1, from %2 after switch-on"))
                       .arg(text(channel()->pin), began),
        Text::Small, c.soft);
    say(p, {box.right() - px(20), box.top() + px(18)},
        tr("timer %1 · prescaler %2 · TOP %3 · %4").arg(si(pwm.timer)).arg(si(pwm.prescaler)).arg(si(pwm.top)).arg(tr(labelOf(pwm.mode))),
        Text::Body, c.ink, Qt::AlignRight);
    const QRectF wave(box.left() + px(54), box.top() + px(62), box.width() - px(76), box.height() * (apart ? 0.13 : inputs ? 0.19 : 0.27));
    const double volts = board::family(model().project.board.form).logic;
    say(p, {wave.left() - px(8), wave.top() + px(6)}, inputs ? tr("drives") : tr("%1 V").arg(volts), Text::Small, c.ink, Qt::AlignRight);
    say(p, {wave.left() - px(8), wave.bottom() + px(6)}, inputs ? tr("shorted") : tr("0 V"), Text::Small, c.ink, Qt::AlignRight);
    train(p, wave, pulses);
    if (apart) lowerSwitch(p, QRectF(wave.left(), wave.bottom() + px(46), wave.width(), px(24)), pulses);

    const double down = px(apart ? 116 : inputs ? 70 : 86);
    const QRectF below(box.left() + px(54), wave.bottom() + down, box.width() - px(76), box.bottom() - wave.bottom() - down - px(40));
    if (routine::turnsRound(model().project.routine, channel()->id)) return turnRound(p, below);
    const Axes axes{below, 0.0, std::max(0.02, si(signal.soft_start) * 1.6), 0.0, 1.08};
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
        say(p, axes.at(axes.x1, 0.1) + QPointF(-px(8), 0),
            si(signal.soft_start) > 0.0
                ? tr("starting draws %1 instead of %2").arg(text(display(*chosen->starting)), text(display(*chosen->stalled)))
                : tr("straight on draws %1").arg(text(display(*chosen->starting))),
            Text::Figure, c.spark, Qt::AlignRight, true);
}

}  // namespace hinge::app
