#include "stages/pins/pins_picture.hpp"
#include <algorithm>
#include <cmath>
#include "plan/pin_plan.hpp"

namespace hinge::app {

PinsPicture::PinsPicture(Document* document, QWidget* parent) : Picture(document, parent) {
    setAccessibleName(tr("The board's pins"));
    setFocusPolicy(Qt::TabFocus);
}

std::vector<Spot> PinsPicture::spots() const {
    std::vector<Spot> all;
    for (const auto& [pin, place] : places_) {
        QStringList says;
        for (const auto& use : model().plan.pins)
            if (use.pin == pin.name) says << text(use.role);
        if (says.isEmpty()) says << (pin.shares.empty() ? tr("free") : tr("free; also %1").arg(text(std::string{pin.shares})));
        all.push_back({place, text(std::string{pin.name}), says.join(", "), {}, {}, false});
    }
    return all;
}

void PinsPicture::light(std::optional<plan::WireRow> wire) {
    lit_ = std::move(wire);
    update();
}

void PinsPicture::pin(QPainter& p, const QRectF& box, const board::Pin& pin, const QPointF& at, bool left, double step) {
    const auto& c = colours();
    const auto& m = model();
    const plan::PinUse* use = nullptr;
    for (const auto& entry : m.plan.pins)
        if (entry.pin == pin.name) use = &entry;
    const double out = left ? -1.0 : 1.0;
    const auto toward = left ? Qt::AlignRight : Qt::AlignLeft;
    const QColor colour = use == nullptr ? c.soft : use->verdict == Verdict::Breaks ? c.breaks : use->output ? c.spark : c.time;
    const std::string end = "board " + std::string{pin.name};
    if (lit_ && (lit_->wire.from == end || lit_->wire.to == end)) {
        p.setPen(Qt::NoPen);
        p.setBrush(c.sparkTint);
        p.drawRoundedRect(QRectF(at.x() - px(16), at.y() - step * 0.48, px(32), step * 0.96), 4, 4);
        say(p, at + QPointF(out * px(20), -px(2)), text(lit_->label), Text::Small, c.spark, left ? Qt::AlignRight : Qt::AlignLeft, true);
    }
    if (use != nullptr) {
        const bool mine = text(use->user) == channel_;
        const double far = left ? box.left() + px(150) : box.right() - px(150);
        p.setPen(QPen(colour, mine ? 4 : 2.5));
        p.drawLine(at, QPointF(far, at.y()));
        say(p, {far + out * px(7), at.y() + px(6)}, text(use->role), mine && step > px(15) ? Text::Figure : Text::Small, colour, toward);
    } else if (!pin.shares.empty()) {
        say(p, at + QPointF(out * px(13), px(6)), text(std::string{pin.shares}), Text::Small, c.soft, toward);
    }
    p.setPen(QPen(c.ink, 1.2));
    p.setBrush(use != nullptr ? colour : c.card);
    const double half = std::min<double>(px(6), step * 0.38);
    p.drawRect(QRectF(at.x() - half, at.y() - half, 2 * half, 2 * half));
    say(p, at + QPointF(-out * px(13), px(6)), text(std::string{pin.name}), use != nullptr && step > px(15) ? Text::Figure : Text::Small,
        c.ink, left ? Qt::AlignLeft : Qt::AlignRight);
    if (pin.pwm_timer < 0) return;
    const QPointF dot = at + QPointF(-out * px(64), 0);
    const double radius = std::min<double>(px(7.5), step * 0.46);
    p.setPen(Qt::NoPen);
    p.setBrush(c.time);
    p.drawEllipse(dot, radius, radius);
    if (pin.pwm_timer == board::pooled_timer || radius < px(5.5)) return;
    p.setFont(textFont(Text::Small));
    p.setPen(c.card);
    p.drawText(QRectF(dot.x() - px(8), dot.y() - px(9), px(16), px(17)), Qt::AlignCenter, QString::number(pin.pwm_timer));
}

void PinsPicture::underPointer(QPainter& p, const QRectF& box, const board::Pin& pin) {
    QStringList can{tr("digital"), tr("pin-change interrupt")};
    if (pin.interrupt) can << tr("external interrupt");
    const auto& family = board::family(model().project.board.form);
    if (pin.analog) can << tr("analogue, %1 bits").arg(family.adc_bits);
    if (pin.pwm_timer >= 0)
        can << tr("PWM of %1").arg(text(board::timerName(family, pin.pwm_timer))) +
                   (pin.pwm_timer == board::pooled_timer ? QString() : tr(", output %1").arg(pin.pwm_output));
    if (pin.input_only) can.removeAll(tr("digital")), can.prepend(tr("reads only"));
    if (!pin.shares.empty()) can << tr("also %1").arg(text(std::string{pin.shares}));
    say(p, {box.right() - px(14), box.bottom() - px(26)}, text(std::string{pin.name}) + ": " + can.join(", "), Text::Body, colours().ink,
        Qt::AlignRight, true);
    const bool used =
        std::any_of(model().plan.pins.begin(), model().plan.pins.end(), [&](const plan::PinUse& use) { return use.pin == pin.name; });
    if (!used) return;
    QStringList others;
    for (const auto& name : plan::otherPins(model().project, model().plan, pin.name))
        if (others.size() < 6) others << text(name);
    say(p, {box.right() - px(14), box.bottom() - px(8)},
        others.isEmpty() ? tr("its wire can go nowhere else") : tr("its wire could go to %1").arg(others.join(", ")), Text::Body,
        colours().soft, Qt::AlignRight, true);
}

void PinsPicture::draw(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& family = board::family(model().project.board.form);
    const QRectF body(box.center().x() - box.width() * 0.17, box.top() + px(26), box.width() * 0.34, box.height() - px(98));
    p.setPen(QPen(c.ink, 2));
    p.setBrush(c.paper);
    p.drawRoundedRect(body, 10, 10);
    say(p, {body.center().x(), body.top() - px(9)}, text(std::string{family.name}), Text::Figure, c.ink, Qt::AlignHCenter);
    say(p, {body.center().x(), body.bottom() + px(17)},
        tr("%1 ground pins; %2 a pin, %3 in all")
            .arg(family.ground_pins)
            .arg(text(display(Kind::Current, family.pin_current, 2)), text(display(Kind::Current, family.total_current))),
        Text::Small, c.soft, Qt::AlignHCenter);
    places_.clear();
    const auto longest = std::max(static_cast<std::size_t>(family.on_left), family.pins.size() - static_cast<std::size_t>(family.on_left));
    const board::Pin* pointed = nullptr;
    double nearest = px(10);
    const auto side = [&](bool left, std::size_t first, std::size_t last) {
        const double step = (body.height() - px(20)) / static_cast<double>(std::max<std::size_t>(14, longest));
        for (std::size_t i = first; i < last; ++i) {
            const QPointF at(left ? body.left() : body.right(), body.top() + px(10) + step * (static_cast<double>(i - first) + 0.5));
            pin(p, box, family.pins[i], at, left, step);
            const double out = px(170);
            places_.emplace_back(family.pins[i],
                                 QRectF(left ? at.x() - out : at.x() - px(8), at.y() - step / 2.0, out + px(8), step).toRect());
            if (pointer_ && (pointer_->x() < body.center().x()) == left && std::abs(pointer_->y() - at.y()) < nearest)
                nearest = std::abs(pointer_->y() - at.y()), pointed = &family.pins[i];
        }
    };
    const auto split = static_cast<std::size_t>(family.on_left);
    side(true, 0, split);
    side(false, split, family.pins.size());
    if (pointed != nullptr) underPointer(p, box, *pointed);
    const auto pin_of = channel() != nullptr ? board::pinNamed(family, channel()->pin) : std::nullopt;
    const auto* planned = channel() != nullptr ? plan::findChannel(model().plan, channel()->id) : nullptr;
    if (planned != nullptr && planned->signal == plan::SignalKind::PartWaves && board::firesHalfWaves(family)) {
        say(p, {box.left() + px(16), box.bottom() - px(30)},
            family.phase_alarm
                ? tr("An alarm of the chip's clock times its firing.")
                : tr("%1 times its firing, and gives no PWM besides.").arg(text(board::timerName(family, family.phase_timer))),
            Text::Body, c.time);
        return;
    }
    if (!pin_of || pin_of->pwm_timer < 0) return;
    QStringList others;
    for (const auto& other : family.pins)
        if (pin_of->pwm_timer != board::pooled_timer && other.pwm_timer == pin_of->pwm_timer && other.name != pin_of->name)
            others << text(std::string{other.name});
    const auto serves = board::timerServes(family, pin_of->pwm_timer);
    say(p, {box.left() + px(16), box.bottom() - px(30)},
        others.isEmpty() ? tr("%1 drives %2.").arg(text(board::timerName(family, pin_of->pwm_timer)), text(channel()->pin))
                         : tr("%1 drives %2 and %3%4.")
                               .arg(text(board::timerName(family, pin_of->pwm_timer)), text(channel()->pin), others.join(tr(" and ")),
                                    serves.empty() ? QString() : tr("; it also keeps %1").arg(text(std::string{serves}))),
        Text::Body, c.time);
}

}  // namespace hinge::app
