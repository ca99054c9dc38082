#include "pictures/scene_chart.hpp"
#include <QFontMetrics>
#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>
#include <cmath>
#include "plan/apart.hpp"

namespace hinge::app {
namespace {

// What was pressed or happened, as a person would say it.
QString eventWords(const Model& model, const simulation::Event& event) {
    if (event.power_cut) return QObject::tr("power cut");
    if (event.stop) return QObject::tr("stop");
    if (event.clock_lost) return QObject::tr("time lost");
    if (event.link) return QObject::tr("link speaks");
    if (event.supply) return *event.supply < 1.0 ? QObject::tr("flat cell") : QObject::tr("full again");
    if (!event.jam.empty()) {
        const auto* channel = project::findChannel(model.project, event.jam);
        return QObject::tr("%1 jams").arg(channel != nullptr ? text(channel->name) : text(event.jam));
    }
    if (event.clock) return QObject::tr("clock set");
    if (!event.cue.empty()) {
        for (const auto& cue : model.project.routine.cues)
            if (cue.id == event.cue) return text(cue.name);
        return QObject::tr("started");
    }
    const auto* input = project::findInput(model.project, event.input);
    const QString name = input != nullptr ? text(input->name) : text(event.input);
    return event.active ? name : QObject::tr("%1 no more").arg(name);
}

}  // namespace

SceneChart::SceneChart(Document* document, QWidget* parent) : Picture(document, parent) {
    setFocusPolicy(Qt::ClickFocus);
    timer_.setInterval(33);
    connect(&timer_, &QTimer::timeout, this, [this] {
        playHead_ = std::min(length(), from_ + speed_ * static_cast<double>(clock_.elapsed()) / 1000.0);
        if (playHead_ >= length()) play(0.0);
        Q_EMIT playHeadMoved(playHead_);
        update();
    });
}

double SceneChart::length() const {
    return model().scene ? model().scene->length : 0.0;
}

void SceneChart::play(double speed) {
    if (speed <= 0.0 || !model().scene) {
        timer_.stop();
    } else {
        if (playHead_ >= length()) playHead_ = 0.0;
        speed_ = speed;
        from_ = playHead_;
        clock_.start();
        timer_.start();
    }
    Q_EMIT playingChanged();
}

void SceneChart::step(bool forward) {
    if (!model().scene) return;
    play(0.0);
    double next = forward ? length() : 0.0;
    const auto offer = [&](double time) {
        if (forward && time > playHead_ + 1e-6) next = std::min(next, time);
        if (!forward && time < playHead_ - 1e-6) next = std::max(next, time);
    };
    for (const auto& s : model().scene->switchings) offer(s.time);
    for (const auto& event : model().script) offer(event.time);
    playHead_ = next;
    Q_EMIT playHeadMoved(playHead_);
    update();
}

void SceneChart::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Right) return step(true);
    if (event->key() == Qt::Key_Left) return step(false);
    if (event->key() == Qt::Key_Space) return play(playing() ? 0.0 : 1.0);
    Picture::keyPressEvent(event);
}

void SceneChart::draw(QPainter& p, const QRectF& box) {
    drawScene(p, box);
}

void SceneChart::drawScene(QPainter& p, const QRectF& box) {
    const auto& m = model();
    if (!m.scene)
        return waits(p, box,
                     tr("The scene cannot be played yet: the routine needs a cue, and what it moves needs a part, a driver and a supply."));
    const auto& scene = *m.scene;
    const auto* supply = m.scene_supply ? &*m.scene_supply : nullptr;
    const double worst = supply != nullptr ? supply->drawn : 0.0;
    const auto& outputs = m.plan.program->outputs;
    const double lanes = topRoom() + laneHeight(box) * static_cast<double>(outputs.size());
    // What the source promises whose current is drawn: the first of the tree, which need not be the headline's.
    double gives = 0.0;
    for (const auto& source : m.plan.headline.sources)
        if (supply != nullptr && !supply->names.empty() && source.name == supply->names.front() && source.promised)
            gives = si(*source.promised);
    const double most = std::max(worst * 1.25, std::min(gives * 1.12, worst * 4));
    double names = px(58);
    for (const auto& output : outputs)
        names = std::max(names, QFontMetrics(textFont(Text::Small)).horizontalAdvance(text(output.name)) + 1.0 * px(16));
    axes_ = {box.adjusted(names, lanes + px(26), -px(56), -px(38)), 0.0, scene.length, 0.0, std::max(1e-3, most)};
    const auto& a = axes_;
    a.draw(p, Kind::Duration, Kind::Current, tr("time"), tr("from the supply"));
    drawEvents(p, box, lanes);
    drawLanes(p, box);
    drawCurrent(p, gives, most);
    drawStanding(p, box);
    drawPlayHead(p, box);
}

double SceneChart::topRoom() const {
    return px(34);
}
double SceneChart::laneHeight(const QRectF& box) const {
    const auto count = static_cast<double>(model().plan.program->outputs.size());
    return std::clamp((box.height() - topRoom() - px(150)) / std::max(1.0, count), 1.0 * px(17), 1.0 * px(26));
}

// What happened, above the lanes; the words take the next free row.
void SceneChart::drawEvents(QPainter& p, const QRectF& box, double lanes) {
    const auto& c = colours();
    const auto& m = model();
    const auto& scene = *m.scene;
    const auto& a = axes_;
    double taken[2] = {-1e9, -1e9};
    for (const auto& event : m.script) {
        if (event.time > scene.length) continue;
        // A contact that was only pressed: its end says nothing.
        const bool let_go = std::any_of(m.script.begin(), m.script.end(), [&](const simulation::Event& other) {
            return !event.input.empty() && !event.active && !event.reading && !event.rate && other.input == event.input && other.active &&
                   other.time < event.time && other.time > event.time - 1.0;
        });
        if (let_go) continue;
        const double x = a.x(event.time);
        const QString words = eventWords(m, event);
        p.setFont(textFont(Text::Small));
        const double w = p.fontMetrics().horizontalAdvance(words) + px(12);
        const int row = x > taken[0] ? 0 : 1;
        const bool room = x > taken[row];
        if (room) taken[row] = x + w;
        const double y = box.top() + px(14) + row * px(14);
        p.setPen(QPen(c.soft, 1));
        p.drawLine(QPointF(x, y + px(2)), QPointF(x, box.top() + lanes));
        if (room) say(p, {x + px(4), y + px(4)}, words, Text::Small, event.power_cut || event.stop ? c.breaks : c.ink);
    }
}

// A time that an output is on, with its length where that fits.
void SceneChart::drawBlock(QPainter& p, const QRectF& box_of, double length, bool mine, bool back) {
    const auto& c = colours();
    QColor fill = c.time;
    if (!mine) fill.setAlphaF(0.55F);
    // Backwards is the other way round in the picture too: bare, hatched where no word fits.
    p.setFont(textFont(Text::Small));
    const auto fits = [&](const QString& words) { return p.fontMetrics().horizontalAdvance(words) + px(10) < box_of.width(); };
    const QString time = text(display(Kind::Duration, length)), backwards = tr("back, %1").arg(time),
                  words = back && fits(backwards) ? backwards : time;
    p.setPen(back ? QPen(fill, px(2)) : QPen(Qt::NoPen));
    p.setBrush(!back ? QBrush(fill) : fits(words) ? QBrush(c.card) : QBrush(fill, Qt::BDiagPattern));
    p.drawRoundedRect(box_of, 3, 3);
    if (fits(words)) {
        p.setPen(back ? c.ink : c.card);
        p.drawText(box_of.adjusted(px(6), 0, 0, 0), Qt::AlignVCenter, words);
    }
}

void SceneChart::drawLanes(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& m = model();
    const auto& scene = *m.scene;
    const auto& a = axes_;
    const auto& outputs = m.plan.program->outputs;
    const double top_room = topRoom(), lane = laneHeight(box);
    for (std::size_t o = 0; o < outputs.size(); ++o) {
        const double y = box.top() + top_room + lane * static_cast<double>(o);
        const bool mine = text(plan::channelOf(m.plan, outputs[o].id)) == channel_;
        say(p, {a.box.left() - px(7), y + px(15)}, text(outputs[o].name), Text::Small, c.ink, Qt::AlignRight);
        const auto block = [&](double from, double to, bool back) {
            drawBlock(p, QRectF(QPointF(a.x(from), y + px(2)), QPointF(a.x(to), y + px(20))), to - from, mine, back);
        };
        double from = -1.0;
        bool back = false;
        for (const auto& s : scene.switchings) {
            if (s.output != static_cast<int>(o)) continue;
            if (s.on) from = s.time, back = s.back;
            else if (from >= 0.0) block(from, s.time, back), from = -1.0;
        }
        if (from >= 0.0) block(from, scene.length, back);
        p.setPen(c.line);
        p.drawLine(QPointF(a.box.left(), y + px(23)), QPointF(a.box.right(), y + px(23)));
    }
}

// What is drawn from the supply, over what it gives.
void SceneChart::drawCurrent(QPainter& p, double gives, double most) {
    const auto& c = colours();
    const auto& m = model();
    const auto& scene = *m.scene;
    const auto& a = axes_;
    const auto* supply = m.scene_supply ? &*m.scene_supply : nullptr;
    const double worst = supply != nullptr ? supply->drawn : 0.0;
    if (supply == nullptr)
        say(p, a.box.center(), tr("What it draws is not known yet: a part, its figures or a calibration is still missing."), Text::Small,
            c.soft, Qt::AlignHCenter);
    const double floor_current = supply != nullptr && !supply->points.empty() ? supply->points.front().standing : 0.0;
    if (supply != nullptr) {
        QPolygonF line;
        for (const auto& point : supply->points) line << a.at(point.time, point.drawn);
        QPolygonF area = line;
        area.prepend(a.at(0, 0));
        area << a.at(scene.length, 0);
        p.setPen(Qt::NoPen);
        p.setBrush(c.sparkTint);
        p.drawPolygon(area);
        QColor board = c.spark;
        board.setAlphaF(0.35F);
        p.setBrush(board);
        p.drawRect(QRectF(a.at(0, floor_current), a.at(scene.length, 0)));
        p.setPen(QPen(c.spark, 2));
        p.setBrush(Qt::NoBrush);
        p.drawPolyline(line);
        if (a.y(0) - a.y(floor_current) > px(13)) say(p, a.at(0, 0) + QPointF(px(6), -px(1)), tr("board and rest"), Text::Small, c.ink);
    }
    if (gives > 0.0 && gives <= most) {
        p.setPen(QPen(c.ink, 2));
        p.drawLine(a.at(0, gives), a.at(scene.length, gives));
        say(p, a.at(scene.length, gives) + QPointF(0, a.y(gives) - a.box.top() < px(24) ? px(14) : -px(3)),
            tr("%1 gives %2").arg(text(supply->names.front()), text(display(Kind::Current, gives))), Text::Small, c.ink, Qt::AlignRight,
            true);
    }
    if (supply != nullptr) {
        const QPointF peak = a.at(supply->drawn_time, worst);
        p.setPen(QPen(c.spark, 2));
        p.setBrush(c.card);
        p.drawEllipse(peak, px(5), px(5));
        const bool at_right = peak.x() > a.box.center().x();
        say(p, peak + QPointF(at_right ? -px(10) : px(10), -px(4)),
            tr("worst here: %1 at %2").arg(text(display(Kind::Current, worst)), text(display(Kind::Duration, supply->drawn_time))),
            Text::Figure, c.spark, at_right ? Qt::AlignRight : Qt::AlignLeft, true);
    }
}

// Each output as it stands at the play-head: a hand for what is sent to places, a filled disc for what is switched.
void SceneChart::drawStanding(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& scene = *model().scene;
    const auto& outputs = model().plan.program->outputs;
    const double lane = laneHeight(box), first = box.top() + topRoom() + lane / 2;
    const auto at_head =
        std::upper_bound(scene.samples.begin(), scene.samples.end(), playHead_, [](double time, const auto& s) { return time < s.time; });
    const auto* shown = at_head == scene.samples.begin() ? nullptr : &*std::prev(at_head);
    for (std::size_t o = 0; o < outputs.size() && shown != nullptr && o < shown->places.size(); ++o) {
        const double share = std::clamp(shown->places[o], 0.0, 1.0), r = px(7);
        const QPointF middle(axes_.box.right() + px(17), first + lane * static_cast<double>(o));
        const bool placed = outputs[o].kind != routine::OutputKind::Switched;
        p.setPen(QPen(placed ? c.hinge : c.spark, 1.4));
        p.setBrush(c.card);
        p.drawEllipse(middle, r, r);
        if (placed) {
            p.drawLine(middle, middle + QPointF(r * std::cos(3.49 - 3.84 * share), -r * std::sin(3.49 - 3.84 * share)));
        } else if (share > 0.0) {
            p.setBrush(c.spark);
            p.drawPie(QRectF(middle - QPointF(r, r), QSizeF(2 * r, 2 * r)), 90 * 16, -static_cast<int>(360 * 16 * share));
        }
        say(p, middle + QPointF(px(10), px(4)), QString::number(100 * share, 'f', 0), Text::Small, share > 0.0 ? c.ink : c.soft);
    }
}

// The play-head, and what stands under it.
void SceneChart::drawPlayHead(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& m = model();
    const auto& scene = *m.scene;
    const auto& a = axes_;
    const auto* supply = m.scene_supply ? &*m.scene_supply : nullptr;
    const double top_room = topRoom();
    const double head = std::clamp(playHead_, 0.0, scene.length);
    const double hx = a.x(head);
    p.setPen(QPen(c.ink, 1.6));
    p.drawLine(QPointF(hx, box.top() + top_room - px(8)), QPointF(hx, a.box.bottom()));
    p.setPen(Qt::NoPen);
    p.setBrush(c.ink);
    p.drawPolygon(QPolygonF{
        {hx - px(6), box.top() + top_room - px(14)}, {hx + px(6), box.top() + top_room - px(14)}, {hx, box.top() + top_room - px(5)}});
    const double t = pointer_ && a.box.contains(*pointer_) ? a.valueX(pointer_->x()) : head;
    const double value = supply != nullptr ? supply->drawnAt(t) : 0.0;
    if (supply != nullptr)
        say(p, {a.box.right(), a.box.top() - px(6)},
            tr("%1 at %2").arg(text(display(Kind::Current, value)), text(display(Kind::Duration, t))), Text::Small, c.soft, Qt::AlignRight);
}

void SceneChart::movePlayHead(double pixel) {
    if (!model().scene) return;
    playHead_ = std::clamp(axes_.valueX(pixel), 0.0, model().scene->length);
    Q_EMIT playHeadMoved(playHead_);
    update();
}

void SceneChart::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton && event->position().x() >= axes_.box.left() - px(8)) movePlayHead(event->position().x());
}

void SceneChart::mouseMoveEvent(QMouseEvent* event) {
    if ((event->buttons() & Qt::LeftButton) != 0) movePlayHead(event->position().x());
    Picture::mouseMoveEvent(event);
}

}  // namespace hinge::app
