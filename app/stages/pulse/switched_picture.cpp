// A channel that is only on or off: its edges at the pin and at the load.
#include <QPainterPath>
#include <algorithm>
#include "driver/contact_rating.hpp"
#include "kinds/driver_kind.hpp"
#include "plan/firmware_model.hpp"
#include "plant/on_times.hpp"
#include "stages/pulse/pulse_picture.hpp"

namespace hinge::app {
namespace {

// A lane of high and low: edges in the lane's own x, low before the first.
void lane(QPainter& p, const QRectF& box, const std::vector<double>& edges, const QColor& line, const QColor& tint) {
    QPainterPath wave;
    wave.moveTo(box.left(), box.bottom());
    bool high = false;
    for (const double x : edges) {
        wave.lineTo(x, high ? box.top() : box.bottom());
        high = !high;
        wave.lineTo(x, high ? box.top() : box.bottom());
    }
    wave.lineTo(box.right(), high ? box.top() : box.bottom());
    QPainterPath filled = wave;
    filled.lineTo(box.right(), box.bottom());
    filled.closeSubpath();
    p.setPen(Qt::NoPen);
    p.setBrush(tint);
    p.drawPath(filled);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(line, 2.2, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
    p.drawPath(wave);
}

}  // namespace

void PulsePicture::switchedScene(QPainter& p, const QRectF& box, int output) {
    const auto& c = colours();
    const auto& scene = model().scene;
    const double length = scene ? std::max(1.0, scene->length) : 1.0;
    const Axes axes{box.adjusted(px(58), px(26), -px(14), -px(40)), 0.0, length, 0.0, 1.0};
    std::vector<plant::Edge> switched;
    if (scene)
        for (const auto& change : scene->switchings) switched.push_back({change.time, change.output, -1, change.on ? 1 : 0});
    const auto times = plant::onTimes(switched, output);
    std::vector<double> edges;
    for (const auto& time : times) {
        edges.push_back(axes.x(time.from));
        if (time.to) edges.push_back(axes.x(*time.to));
    }
    const QString in_all = text(display(Kind::Duration, plant::onFor(times, length), 3));
    for (double t = 0.0; t <= length * 1.0001; t += roundStep(length, 6)) {
        p.setPen(QPen(c.line, 1));
        p.drawLine(QPointF(axes.x(t), axes.box.top()), QPointF(axes.x(t), axes.box.bottom()));
        say(p, {axes.x(t), axes.box.bottom() + px(16)}, text(display(Kind::Duration, t, 3)), Text::Small, c.soft, Qt::AlignHCenter);
    }
    lane(p, axes.box, edges, c.time, c.timeTint);
    say(p, {axes.box.left(), axes.box.top() - px(10)}, tr("at %1, through the scene").arg(text(channel()->pin)), Text::Small, c.soft);
    say(p, {axes.box.right(), axes.box.top() - px(10)},
        !scene              ? tr("the scene is being played")
        : times.empty()     ? tr("never on in this scene")
        : times.size() == 1 ? tr("on once, for %1").arg(in_all)
                            : tr("on %1 times, %2 in all").arg(times.size()).arg(in_all),
        Text::Figure, c.time, Qt::AlignRight);
    say(p, {axes.box.left() - px(8), axes.box.top() + px(8)}, tr("on"), Text::Small, c.soft, Qt::AlignRight);
    say(p, {axes.box.left() - px(8), axes.box.bottom()}, tr("off"), Text::Small, c.soft, Qt::AlignRight);
}

// One switching on and off from close by: what stands at the pin, and what the load gets of it.
void PulsePicture::switchedClose(QPainter& p, const QRectF& box, bool contact) {
    const auto& c = colours();
    const driver::ContactTimes times;
    const double off_at = 0.022, length = 0.032, on_at = 0.002;
    const double high = (box.height() - px(96)) / 2.0;
    const QRectF pin(box.left() + px(58), box.top() + px(26), box.width() - px(72), high);
    const QRectF load(pin.left(), pin.bottom() + px(26), pin.width(), high);
    const auto x = [&](double t) { return pin.left() + t / length * pin.width(); };
    lane(p, pin, {x(on_at), x(off_at)}, c.time, c.timeTint);
    std::vector<double> edges;
    if (contact) {
        // It closes, springs open a few times for ever shorter, and stays.
        double at = on_at + times.pulls_in;
        edges.push_back(x(at));
        for (const double part : {0.22, 0.14, 0.16, 0.10, 0.18, 0.06}) at += part * times.bounces, edges.push_back(x(at));
        edges.push_back(x(off_at + times.lets_go));
    } else {
        edges = {x(on_at), x(off_at)};
    }
    lane(p, load, edges, c.spark, c.sparkTint);
    say(p, {pin.left(), pin.top() - px(10)}, tr("one switching from close by: at the pin"), Text::Small, c.soft);
    say(p, {load.left(), load.top() - px(8)}, tr("at the load"), Text::Small, c.soft);
    const auto span = [&](double from, double to, const QString& words) {
        const double y = load.bottom() + px(12);
        p.setPen(QPen(c.ink, 1));
        p.drawLine(QPointF(x(from), y), QPointF(x(to), y));
        for (const double end : {from, to}) p.drawLine(QPointF(x(end), y - px(4)), QPointF(x(end), y + px(4)));
        say(p, {x(from), y + px(18)}, words, Text::Figure, c.spark);
    };
    if (contact) {
        span(on_at, on_at + times.pulls_in,
             tr("pulls in after about %1, bounces for %2")
                 .arg(text(display(Kind::Duration, times.pulls_in, 1)), text(display(Kind::Duration, times.bounces, 1))));
        span(off_at, off_at + times.lets_go, tr("lets go after %1").arg(text(display(Kind::Duration, times.lets_go, 1))));
    } else {
        say(p, {load.left(), load.bottom() + px(30)},
            tr("Its switch follows within microseconds; the load itself may take longer: a motor runs up, a filament warms."), Text::Small,
            c.ink);
    }
}

void PulsePicture::switched(QPainter& p, const QRectF& box) {
    const auto* driver = project::findDriver(model().parts, channel()->drive.part);
    const bool contact = driver != nullptr && kinds::driverKind(*driver).contact;
    const QRectF upper(box.left(), box.top(), box.width(), box.height() * 0.46);
    switchedScene(p, upper, plan::outputOf(model().project, model().plan, channel()->id));
    switchedClose(p, QRectF(box.left(), upper.bottom() + px(14), box.width(), box.bottom() - upper.bottom() - px(14)), contact);
}

}  // namespace hinge::app
