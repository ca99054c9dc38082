// What a bridge's lines do, and how it is turned round.
#include "driver/bridge_states.hpp"
#include "match/rank.hpp"
#include "plan/motion.hpp"
#include "stages/pulse/pulse_picture.hpp"

namespace hinge::app {

// The line that says which way, which turns at the end of the pause.
void PulsePicture::wayLine(QPainter& p, double left, double turned, double right, double low) {
    const auto& c = colours();
    const double high = low - px(20);
    p.drawPolyline(QPolygonF{{left, low}, {turned, low}, {turned, high}, {right, high}});
    say(p, {left - px(8), low}, text(channel()->direction_pin), Text::Small, c.ink, Qt::AlignRight);
    say(p, {left + px(4), low - px(6)}, tr("low: forwards"), Text::Small, c.soft);
    say(p, {right, high + px(16)}, tr("high: backwards"), Text::Small, c.soft, Qt::AlignRight);
}

// The lower switch of the same end, under the pulses of the upper one: what they leave, but for a pause too short to be seen beside them.
void PulsePicture::lowerSwitch(QPainter& p, const QRectF& box, const std::vector<routine::Pulse>& pulses) {
    const auto& c = colours();
    const double from = pulses.front().start, span = pulses.back().start + pulses.back().period - from;
    const auto x = [&](double t) { return box.left() + (t - from) / span * box.width(); };
    QPolygonF line;
    for (const auto& pulse : pulses)
        line << QPointF(x(pulse.start), box.bottom()) << QPointF(x(pulse.start + pulse.high), box.bottom())
             << QPointF(x(pulse.start + pulse.high), box.top()) << QPointF(x(pulse.start + pulse.period), box.top());
    p.setPen(QPen(c.time, 2.0, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(line);
    say(p, {box.left() - px(8), box.bottom()}, text(channel()->low_pin), Text::Small, c.ink, Qt::AlignRight);
    say(p, {box.left(), box.bottom() + px(18)},
        tr("the lower switch takes what is left, with a dead time of %1 each way").arg(text(display(planned()->dead_time->actual))),
        Text::Small, c.soft);
}

// A bridge with an input for each switch: the upper one of an end is chopped while that end is driven; the lower ones take what is left.
void PulsePicture::upperSwitches(QPainter& p, const std::array<double, 4>& x, double low) {
    const auto& c = colours();
    const double high = px(15), second = low + px(26);
    const auto line = [&](double bottom, double from, double to, const std::string& pin) {
        QPolygonF shape{{x[0], bottom}, {from, bottom}};
        const bool whole = si(channel()->signal.duty) >= 1.0;
        for (double at = from; at < to - px(7); at += px(7)) {
            shape << QPointF(at, bottom) << QPointF(at, bottom - high) << QPointF(at + px(whole ? 6 : 3), bottom - high)
                  << QPointF(at + px(whole ? 6 : 3), bottom);
        }
        shape << QPointF(x[3], bottom);
        p.drawPolyline(shape);
        say(p, {x[0] - px(8), bottom}, text(pin), Text::Small, c.ink, Qt::AlignRight);
    };
    line(low, x[0], x[1], channel()->pin);
    line(second, x[2], x[3], channel()->direction_pin);
    const bool brakes = channel()->signal.at_rest == project::AtRest::Brake;
    say(p, {(x[1] + x[2]) / 2, low - px(2)}, brakes ? tr("both lower ones closed: it brakes") : tr("all open: it coasts"), Text::Small,
        c.soft, Qt::AlignHCenter);
}

// A bridge's two inputs: high forwards and then chopped, chopped forwards and then high; in the pause between alike.
void PulsePicture::twoInputs(QPainter& p, const std::array<double, 4>& x, double low) {
    const auto& c = colours();
    const auto& signal = channel()->signal;
    const bool brakes = signal.at_rest == project::AtRest::Brake;
    const double high = px(15);
    const auto chopped = [&](QPolygonF& line, double from, double to, double bottom) {
        line << QPointF(from, bottom);
        for (double at = from; si(signal.duty) < 1.0 && at < to - px(7); at += px(7))
            line << QPointF(at, bottom) << QPointF(at, bottom - high) << QPointF(at + px(3), bottom - high) << QPointF(at + px(3), bottom);
        line << QPointF(to, bottom);
    };
    const auto steady = [&](QPolygonF& line, double from, double to, double bottom, bool up) {
        line << QPointF(from, bottom - (up ? high : 0.0)) << QPointF(to, bottom - (up ? high : 0.0));
    };
    const double second = low + px(26);
    QPolygonF one, other;
    steady(one, x[0], x[1], low, true), steady(one, x[1], x[2], low, brakes), chopped(one, x[2], x[3], low);
    chopped(other, x[0], x[1], second), steady(other, x[1], x[2], second, brakes), steady(other, x[2], x[3], second, true);
    p.drawPolyline(one);
    p.drawPolyline(other);
    say(p, {x[0] - px(8), low}, text(channel()->pin), Text::Small, c.ink, Qt::AlignRight);
    say(p, {x[0] - px(8), second}, text(channel()->direction_pin), Text::Small, c.ink, Qt::AlignRight);
    say(p, {(x[1] + x[2]) / 2, low - px(2)}, brakes ? tr("both high: it brakes") : tr("both low: it coasts"), Text::Small, c.soft,
        Qt::AlignHCenter);
}

// Forwards, let go, the pause at rest, backwards over the soft start; above it the line that says which way.
void PulsePicture::turnRound(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& signal = channel()->signal;
    const double pause = si(signal.turn_pause), soft = si(signal.soft_start), duty = si(signal.duty);
    const bool inputs = planned()->two_inputs;
    const Axes axes{box.adjusted(0, px(inputs ? 50 : 34), 0, 0), -0.5 * std::max(0.1, pause), pause + 1.5 * std::max(0.1, soft), -1.1, 1.1};
    axes.draw(p, Kind::Duration, Kind::Fraction, tr("time after it is let go"), tr("share of full power; below 0: backwards"));
    p.setPen(QPen(c.time, 2.5, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(QPolygonF{axes.at(axes.x0, duty), axes.at(0, duty), axes.at(0, 0), axes.at(pause, 0), axes.at(pause + soft, -duty),
                             axes.at(axes.x1, -duty)});
    if (planned()->switched_ends > 0) upperSwitches(p, {axes.box.left(), axes.x(0), axes.x(pause), axes.box.right()}, box.top() + px(2));
    else if (inputs) twoInputs(p, {axes.box.left(), axes.x(0), axes.x(pause), axes.box.right()}, box.top() + px(2));
    else wayLine(p, axes.box.left(), axes.x(pause), axes.box.right(), box.top() + px(2));
    p.setPen(QPen(c.ink, 1));
    const double mark = axes.y(0) + px(14);
    p.drawLine(QPointF(axes.x(0), mark), QPointF(axes.x(pause), mark));
    for (const double end : {0.0, pause}) p.drawLine(QPointF(axes.x(end), mark - px(4)), QPointF(axes.x(end), mark + px(4)));
    say(p, {(axes.x(0) + axes.x(pause)) / 2, mark + px(18)}, tr("at rest for %1").arg(text(display(signal.turn_pause))), Text::Figure,
        c.time, Qt::AlignHCenter, true);
    const auto& chosen = planned()->chosen;
    if (const auto most = plan::turnedAtSpeed(*planned()); most && chosen->starting)
        say(p, axes.at(axes.x1, 0.75) + QPointF(-px(8), 0),
            tr("starts with %1; without the pause up to %2").arg(text(display(*chosen->starting)), text(display(*most))), Text::Figure,
            c.spark, Qt::AlignRight, true);
}

double PulsePicture::bridge(QPainter& p, const QRectF& box) {
    const auto* part = project::findDriver(model().parts, channel()->drive.part);
    if (part == nullptr) return 0.0;
    const auto table = kinds::driverKind(*part).states(*part, !channel()->direction_pin.empty());
    if (table.states.empty()) return 0.0;
    const auto& c = colours();
    const double row = px(21), height = row * (static_cast<double>(table.states.size()) + 1.6);
    const double top = box.bottom() - height, column = px(table.lines.size() > 2 ? 54 : 86);
    p.setPen(QPen(c.line, 1));
    p.drawLine(QPointF(box.left() + px(54), top), QPointF(box.right() - px(20), top));
    double y = top + px(20);
    const double x = box.left() + px(54), words = x + column * static_cast<double>(table.lines.size());
    for (std::size_t i = 0; i < table.lines.size(); ++i)
        say(p, {x + column * static_cast<double>(i), y}, tr(table.lines[i].c_str()), Text::Small, c.soft);
    say(p, {words, y}, tr("the motor"), Text::Small, c.soft);
    for (const auto& state : table.states) {
        y += row;
        for (std::size_t i = 0; i < state.levels.size(); ++i)
            say(p, {x + column * static_cast<double>(i), y}, tr(state.levels[i].c_str()), Text::Figure,
                state.forbidden ? c.breaks : c.time);
        say(p, {words, y}, tr(state.motor.c_str()), Text::Figure, state.forbidden ? c.breaks : c.ink);
        say(p, {words + px(78), y}, tr(state.why.c_str()), Text::Small, c.ink);
    }
    return height + px(8);
}

}  // namespace hinge::app
