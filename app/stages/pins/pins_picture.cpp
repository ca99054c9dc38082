#include "stages/pins/pins_picture.hpp"
#include <algorithm>
#include <cmath>

namespace hinge::app {

void PinsPicture::pin(QPainter& p, const QRectF& box, const board::Pin& pin, const QPointF& at, bool left) {
    const auto& c = colours();
    const auto& m = model();
    const plan::PinUse* use = nullptr;
    for (const auto& entry : m.plan.pins)
        if (entry.pin == pin.name) use = &entry;
    const double out = left ? -1.0 : 1.0;
    const auto toward = left ? Qt::AlignRight : Qt::AlignLeft;
    const QColor colour = use == nullptr ? c.soft : use->verdict == Verdict::Breaks ? c.breaks : use->output ? c.spark : c.time;
    if (use != nullptr) {
        const bool mine = text(use->user) == channel_;
        const double far = left ? box.left() + px(150) : box.right() - px(150);
        p.setPen(QPen(colour, mine ? 4 : 2.5));
        p.drawLine(at, QPointF(far, at.y()));
        say(p, {far + out * px(7), at.y() + px(6)}, text(use->role), mine ? Text::Figure : Text::Small, colour, toward);
    } else if (!pin.shares.empty()) {
        say(p, at + QPointF(out * px(13), px(6)), text(std::string{pin.shares}), Text::Small, c.soft, toward);
    }
    p.setPen(QPen(c.ink, 1.2));
    p.setBrush(use != nullptr ? colour : c.card);
    p.drawRect(QRectF(at.x() - px(6), at.y() - px(6), px(12), px(12)));
    say(p, at + QPointF(-out * px(13), px(6)), text(std::string{pin.name}), use != nullptr ? Text::Figure : Text::Small, c.ink, left ? Qt::AlignLeft : Qt::AlignRight);
    if (pin.pwm_timer < 0) return;
    const QPointF dot = at + QPointF(-out * px(54), 0);
    p.setPen(Qt::NoPen);
    p.setBrush(c.time);
    p.drawEllipse(dot, px(7.5), px(7.5));
    p.setFont(textFont(Text::Small));
    p.setPen(c.card);
    p.drawText(QRectF(dot.x() - px(8), dot.y() - px(9), px(16), px(17)), Qt::AlignCenter, QString::number(pin.pwm_timer));
}

void PinsPicture::underPointer(QPainter& p, const QRectF& box, const board::Pin& pin) {
    QStringList can{tr("digital"), tr("pin-change interrupt")};
    if (pin.interrupt) can << tr("external interrupt");
    if (pin.analog) can << tr("analogue, 10 bits");
    if (pin.pwm_timer >= 0) can << tr("PWM, timer %1 output %2").arg(pin.pwm_timer).arg(pin.pwm_output);
    if (!pin.shares.empty()) can << tr("also %1").arg(text(std::string{pin.shares}));
    say(p, {box.right() - px(14), box.bottom() - px(8)}, text(std::string{pin.name}) + ": " + can.join(", "), Text::Body, colours().ink, Qt::AlignRight, true);
}

void PinsPicture::draw(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& family = board::family(model().project.board.form);
    const QRectF body(box.center().x() - box.width() * 0.17, box.top() + px(10), box.width() * 0.34, box.height() - px(66));
    p.setPen(QPen(c.ink, 2));
    p.setBrush(c.paper);
    p.drawRoundedRect(body, 10, 10);
    p.setFont(textFont(Text::Figure));
    p.setPen(c.ink);
    p.drawText(body.adjusted(px(34), px(10), -px(78), -px(60)), Qt::AlignCenter | Qt::TextWordWrap, text(std::string{family.name}));
    p.setFont(textFont(Text::Small));
    p.setPen(c.soft);
    p.drawText(body.adjusted(px(34), body.height() / 2 + px(14), -px(78), -px(10)), Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap,
               tr("%1 ground pins; %2 a pin, %3 in all").arg(family.ground_pins).arg(text(display(Kind::Current, family.pin_current, 2)), text(display(Kind::Current, family.total_current))));
    const board::Pin* pointed = nullptr;
    double nearest = px(10);
    const auto side = [&](bool left, std::size_t first, std::size_t last) {
        const double step = (body.height() - px(20)) / static_cast<double>(std::max<std::size_t>(14, last - first));
        for (std::size_t i = first; i < last; ++i) {
            const QPointF at(left ? body.left() : body.right(), body.top() + px(10) + step * (static_cast<double>(i - first) + 0.5));
            pin(p, box, family.pins[i], at, left);
            if (pointer_ && (pointer_->x() < body.center().x()) == left && std::abs(pointer_->y() - at.y()) < nearest) nearest = std::abs(pointer_->y() - at.y()), pointed = &family.pins[i];
        }
    };
    const auto split = static_cast<std::size_t>(std::find_if(family.pins.begin(), family.pins.end(), [](const board::Pin& x) { return x.analog; }) - family.pins.begin());
    side(false, 0, split);
    side(true, split, family.pins.size());
    if (pointed != nullptr) underPointer(p, box, *pointed);
    const auto pin_of = channel() != nullptr ? board::pinNamed(family, channel()->pin) : std::nullopt;
    if (!pin_of || pin_of->pwm_timer < 0) return;
    QStringList others;
    for (const auto& other : family.pins)
        if (other.pwm_timer == pin_of->pwm_timer && other.name != pin_of->name) others << text(std::string{other.name});
    const auto serves = board::timerServes(family, pin_of->pwm_timer);
    say(p, {box.left() + px(16), box.bottom() - px(30)}, tr("Timer %1 drives %2 and %3%4.").arg(pin_of->pwm_timer).arg(text(channel()->pin), others.join(tr(" and ")), serves.empty() ? QString() : tr("; it also keeps %1").arg(text(std::string{serves}))), Text::Body, c.time);
}

}  // namespace hinge::app
