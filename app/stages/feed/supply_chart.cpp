#include "stages/feed/supply_chart.hpp"
#include <QMouseEvent>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

namespace hinge::app {

void SupplyChart::show(std::optional<simulation::SupplyDay> day, double zero, const QString& why_not) {
    day_ = std::move(day);
    whyNot_ = why_not;
    zero_ = zero;
    from_ = 0.0;
    to_ = day_ ? day_->length : 1.0;
    update();
}

void SupplyChart::setRange(double from, double to) {
    if (!day_) return;
    const double shortest = 20e-6, span = std::clamp(to - from, shortest, day_->length);
    from_ = std::clamp(from, 0.0, day_->length - span);
    to_ = from_ + span;
    update();
}

void SupplyChart::wheelEvent(QWheelEvent* event) {
    if (!day_ || !plot_.isValid()) return;
    const double here = from_ + (event->position().x() - plot_.left()) / plot_.width() * (to_ - from_),
                 factor = std::pow(0.998, event->angleDelta().y());
    setRange(here - (here - from_) * factor, here + (to_ - here) * factor);
    event->accept();
}

void SupplyChart::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton) grabbed_ = event->position().x();
    Picture::mousePressEvent(event);
}

void SupplyChart::mouseMoveEvent(QMouseEvent* event) {
    if (grabbed_ && (event->buttons() & Qt::LeftButton) && plot_.isValid()) {
        const double by = (*grabbed_ - event->position().x()) / plot_.width() * (to_ - from_);
        grabbed_ = event->position().x();
        setRange(from_ + by, to_ + by);
    }
    Picture::mouseMoveEvent(event);
}

void SupplyChart::mouseDoubleClickEvent(QMouseEvent*) {
    if (day_) setRange(0.0, day_->length);
}

// What each column of pixels holds: the largest sum of amps and the extremes of the volts.
std::vector<SupplyChart::Column> SupplyChart::columns(int count) const {
    std::vector<Column> list(static_cast<std::size_t>(std::max(1, count)));
    const auto& points = day_->points;
    const auto sections = day_->ids.size();
    const double width = (to_ - from_) / static_cast<double>(list.size());
    const auto put = [&](Column& column, const simulation::SupplyDay::Point& point) {
        double total = point.standing;
        for (const double a : point.amps) total += a;
        if (!column.any || total > column.total) column.total = total, column.amps = point.amps, column.standing = point.standing;
        column.source = column.any ? std::max(column.source, point.source) : point.source;
        if (!column.any) column.low = column.high = point.volts;
        for (std::size_t s = 0; s < sections; ++s)
            column.low[s] = std::min(column.low[s], point.volts[s]), column.high[s] = std::max(column.high[s], point.volts[s]);
        column.any = true;
    };
    auto at = std::lower_bound(points.begin(), points.end(), from_, [](const auto& point, double time) { return point.time < time; });
    const simulation::SupplyDay::Point* before = at != points.begin() ? &*(at - 1) : nullptr;
    for (std::size_t i = 0; i < list.size(); ++i) {
        const double until = from_ + width * static_cast<double>(i + 1);
        // Between two looks the lines are straight; where a change is, two looks share one instant.
        if (before != nullptr) {
            const double here = from_ + width * static_cast<double>(i);
            if (at != points.end() && at->time > before->time) {
                const double share = std::clamp((here - before->time) / (at->time - before->time), 0.0, 1.0);
                auto point = *before;
                const auto mix = [share](double a, double b) { return a + (b - a) * share; };
                for (std::size_t s = 0; s < sections; ++s) point.volts[s] = mix(before->volts[s], at->volts[s]);
                for (std::size_t o = 0; o < point.amps.size(); ++o) point.amps[o] = mix(before->amps[o], at->amps[o]);
                point.source = mix(before->source, at->source);
                put(list[i], point);
            } else {
                put(list[i], *before);
            }
        }
        for (; at != points.end() && at->time < until; ++at) put(list[i], *at), before = &*at;
    }
    return list;
}

SupplyChart::Sheet SupplyChart::sheet(const QRectF& box) const {
    const auto& day = *day_;
    Sheet s;
    s.names = px(58);
    for (const auto& output : day.outputs)
        s.names = std::max<double>(s.names, QFontMetrics(textFont(Text::Small)).horizontalAdvance(text(output.name)) + px(16));
    s.lane = std::min<double>(px(17), box.height() * 0.24 / std::max(1.0, static_cast<double>(day.outputs.size())));
    s.lanes_top = box.top() + px(8), s.lanes = s.lane * static_cast<double>(day.outputs.size());
    s.left = box.left() + s.names, s.right = box.right() - px(18), s.bottom = box.bottom() - px(34);
    s.columns = columns(static_cast<int>(s.right - s.left));
    const double gives = model().plan.headline.source_current ? si(*model().plan.headline.source_current) : 0.0;
    double most = 0.0;
    for (const auto& column : s.columns)
        if (column.any) most = std::max({most, column.total, column.source});
    most = std::max(1e-3, std::max(most * 1.2, std::min(gives * 1.1, most * 3.0)));
    const double rest = s.bottom - s.lanes_top - s.lanes - px(14), width = s.right - s.left;
    s.amps = {QRectF(s.left, s.lanes_top + s.lanes + px(26), width, rest * 0.5 - px(22)), from_ - zero_, to_ - zero_, 0.0, most};
    double lowest = board::family(model().project.board.form).guaranteed_floor, highest = 0.0;
    for (const auto& line : lines())
        for (const auto& column : s.columns)
            if (column.any)
                lowest = std::min(lowest, column.low[static_cast<std::size_t>(line.section)]),
                highest = std::max(highest, column.high[static_cast<std::size_t>(line.section)]);
    const double room = std::max(0.2, highest - lowest) * 0.12;
    s.volts = {QRectF(s.left, s.amps.box.bottom() + px(26), width, s.bottom - s.amps.box.bottom() - px(26)), from_ - zero_, to_ - zero_,
               std::max(0.0, lowest - room * 1.6), highest + room};
    return s;
}

double SupplyChart::x(const Sheet& s, double time) const {
    return s.left + (time - from_) / (to_ - from_) * (s.right - s.left);
}

bool SupplyChart::isMine(std::size_t output) const {
    return text(day_->outputs[output].channel) == channel_;
}

std::vector<SupplyChart::Line> SupplyChart::lines() const {
    const auto& ids = day_->ids;
    const auto indexOf = [&](const std::string& id) { return static_cast<int>(std::find(ids.begin(), ids.end(), id) - ids.begin()); };
    const int logic = indexOf(model().project.board.rail), own = channel() != nullptr ? indexOf(channel()->rail) : logic;
    std::vector<Line> lines;
    if (own != logic && own < static_cast<int>(ids.size())) lines.push_back({own, colours().time});
    if (logic < static_cast<int>(ids.size())) lines.push_back({logic, colours().spark});
    return lines;
}

void SupplyChart::drawLanes(QPainter& p, const Sheet& s) const {
    const auto& c = colours();
    const auto& day = *day_;
    for (std::size_t o = 0; o < day.outputs.size(); ++o) {
        const double y = s.lanes_top + s.lane * static_cast<double>(o);
        say(p, {s.left - px(8), y + s.lane * 0.75}, text(day.outputs[o].name), Text::Small, c.ink, Qt::AlignRight);
        p.setPen(QPen(c.line, 1));
        p.drawLine(QPointF(s.left, y + s.lane - 1), QPointF(s.right, y + s.lane - 1));
        QColor fill = c.spark;
        if (!isMine(o)) fill.setAlphaF(0.5F);
        p.setPen(Qt::NoPen);
        p.setBrush(fill);
        for (std::size_t k = 0; k < day.changes.size(); ++k) {
            const auto phase = day.changes[k].phases[o];
            if (phase != plan::Phase::On && phase != plan::Phase::Moving) continue;
            const double start = std::max(from_, day.changes[k].time),
                         end = std::min(to_, k + 1 < day.changes.size() ? day.changes[k + 1].time : day.length);
            if (end <= start) continue;
            p.drawRect(QRectF(QPointF(x(s, start), y + px(2)), QPointF(std::max(x(s, end), x(s, start) + 1.5), y + s.lane - px(3))));
        }
    }
}

// The board at the bottom, each channel on top of what is below it.
void SupplyChart::drawStack(QPainter& p, const Sheet& s) const {
    const auto& c = colours();
    std::vector<double> below(s.columns.size(), 0.0);
    const auto band = [&](auto&& value, const QColor& fill, const QString& name) {
        QPolygonF up, down;
        double widest = 0.0, where = 0.0, middle = 0.0;
        for (std::size_t i = 0; i < s.columns.size(); ++i) {
            if (!s.columns[i].any) continue;
            const double add = std::max(0.0, value(s.columns[i]));
            up << QPointF(s.at(i), s.amps.y(below[i] + add));
            down.prepend(QPointF(s.at(i), s.amps.y(below[i])));
            if (add > widest) widest = add, where = s.at(i), middle = below[i] + add / 2;
            below[i] += add;
        }
        p.setPen(Qt::NoPen);
        p.setBrush(fill);
        p.drawPolygon(up + down);
        if (name.isEmpty() || s.amps.y(0) - s.amps.y(widest) <= px(12)) return;
        const double w = QFontMetrics(textFont(Text::Small)).horizontalAdvance(name);
        say(p, {std::clamp(where + px(4), s.left, s.right - w), s.amps.y(middle) + px(4)}, name, Text::Small, c.ink, Qt::AlignLeft, true);
    };
    QColor grey = c.soft;
    grey.setAlphaF(0.45F);
    band([](const Column& column) { return column.standing; }, grey, tr("board"));
    for (std::size_t o = 0; o < day_->outputs.size(); ++o) {
        QColor fill = c.spark;
        fill.setAlphaF(isMine(o) ? 1.0F : 0.28F + 0.09F * static_cast<float>(o % 3));
        band([o](const Column& column) { return column.amps[o]; }, fill, text(day_->outputs[o].name));
    }
}

void SupplyChart::drawAmps(QPainter& p, const Sheet& s) const {
    const auto& c = colours();
    const auto& day = *day_;
    p.save();
    p.setClipRect(s.amps.box.adjusted(-s.names, -px(24), px(4), px(2)));
    s.amps.draw(p, Kind::Duration, Kind::Current, QString(), tr("from the supply"));
    p.restore();
    drawStack(p, s);
    QPolygonF drawn;
    for (std::size_t i = 0; i < s.columns.size(); ++i)
        if (s.columns[i].any) drawn << QPointF(s.at(i), s.amps.y(s.columns[i].source));
    p.setPen(QPen(c.spark, 1.8));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(drawn);
    const double gives = model().plan.headline.source_current ? si(*model().plan.headline.source_current) : 0.0;
    if (gives > 0.0 && gives <= s.amps.y1) {
        p.setPen(QPen(c.ink, 2));
        p.drawLine(QPointF(s.left, s.amps.y(gives)), QPointF(s.right, s.amps.y(gives)));
        say(p, {s.right, s.amps.y(gives) - px(4)}, tr("the %1 gives %2").arg(text(day.names.front()), text(display(Kind::Current, gives))),
            Text::Small, c.ink, Qt::AlignRight, true);
    }
    if (day.peak_time >= from_ && day.peak_time <= to_)
        ring(p, s, {x(s, day.peak_time), s.amps.y(day.peak)}, -px(4), tr("most: %1").arg(text(display(Kind::Current, day.peak))), c.spark);
}

void SupplyChart::ring(QPainter& p, const Sheet& s, const QPointF& at, double below, const QString& words, const QColor& colour) const {
    p.setPen(QPen(colour, 2));
    p.setBrush(colours().card);
    p.drawEllipse(at, px(4), px(4));
    const bool at_right = at.x() > (s.left + s.right) / 2;
    say(p, at + QPointF(at_right ? -px(9) : px(9), below), words, Text::Figure, colour, at_right ? Qt::AlignRight : Qt::AlignLeft, true);
}

void SupplyChart::drawLimits(QPainter& p, const Sheet& s) const {
    const auto& family = board::family(model().project.board.form);
    const auto limit = [&](double value, const QString& words, Qt::PenStyle style) {
        if (value < s.volts.y0 || value > s.volts.y1) return;
        p.setPen(QPen(colours().ink, 1.8, style));
        p.drawLine(QPointF(s.left, s.volts.y(value)), QPointF(s.right, s.volts.y(value)));
        say(p, {s.right, s.volts.y(value) - px(4)}, words, Text::Small, colours().ink, Qt::AlignRight, true);
    };
    limit(family.guaranteed_floor,
          tr("board guaranteed down to %1 at %2")
              .arg(text(display(Kind::Voltage, family.guaranteed_floor)), text(display(Kind::Frequency, family.clock))),
          Qt::SolidLine);
    limit(family.brown_out, tr("it resets below %1").arg(text(display(Kind::Voltage, family.brown_out))), Qt::DashLine);
}

// Of the board's rail, and of the rail of the chosen channel.
void SupplyChart::drawVolts(QPainter& p, const Sheet& s) const {
    const auto& c = colours();
    const auto& day = *day_;
    s.volts.draw(p, Kind::Duration, Kind::Voltage, tr("time"), tr("volts"));
    drawLimits(p, s);
    for (const auto& line : lines()) {
        const auto section = static_cast<std::size_t>(line.section);
        QPolygonF path;
        for (std::size_t i = 0; i < s.columns.size(); ++i) {
            const auto& column = s.columns[i];
            if (!column.any) continue;
            path << QPointF(s.at(i), s.volts.y(column.high[section]));
            if (column.high[section] > column.low[section]) path << QPointF(s.at(i), s.volts.y(column.low[section]));
        }
        p.setPen(QPen(line.colour, 2));
        p.setBrush(Qt::NoBrush);
        p.drawPolyline(path);
        if (!path.isEmpty())
            say(p, {s.left + px(6), path.front().y() - px(5)}, text(day.names[section]), Text::Small, line.colour, Qt::AlignLeft, true);
        const auto& low = day.lowest[section];
        if (low.time < from_ || low.time > to_) continue;
        const auto& board = model().project.board;
        const bool bad = day.ids[section] == board.rail && low.volts < board::family(board.form).guaranteed_floor;
        ring(p, s, {x(s, low.time), s.volts.y(low.volts)}, px(14), tr("lowest: %1").arg(text(display(Kind::Voltage, low.volts, 4))),
             bad ? c.breaks : line.colour);
    }
}

// What stands under the pointer.
void SupplyChart::drawPointed(QPainter& p, const Sheet& s) const {
    if (!pointer_ || !plot_.contains(*pointer_)) return;
    const auto& day = *day_;
    const double t = from_ + (pointer_->x() - s.left) / (s.right - s.left) * (to_ - from_);
    const auto after =
        std::upper_bound(day.points.begin(), day.points.end(), t, [](double time, const auto& point) { return time < point.time; });
    if (after == day.points.begin()) return;
    const auto& point = *(after - 1);
    p.setPen(QPen(colours().ink, 1, Qt::DotLine));
    p.drawLine(QPointF(pointer_->x(), s.lanes_top), QPointF(pointer_->x(), s.bottom));
    QString words = tr("%1: %2").arg(text(display(Kind::Duration, t - zero_, 4)), text(display(Kind::Current, point.source)));
    for (const auto& line : lines())
        words += QString(" · %1 %2")
                     .arg(text(day.names[static_cast<std::size_t>(line.section)]),
                          text(display(Kind::Voltage, point.volts[static_cast<std::size_t>(line.section)])));
    say(p, {s.right, s.amps.box.top() - px(3)}, words, Text::Small, colours().ink, Qt::AlignRight, true);
}

void SupplyChart::draw(QPainter& p, const QRectF& box) {
    if (!day_ || day_->points.empty()) return waits(p, box, whyNot_);
    const Sheet s = sheet(box);
    plot_ = QRectF(s.left, s.lanes_top, s.right - s.left, s.bottom - s.lanes_top);
    drawLanes(p, s);
    drawAmps(p, s);
    drawVolts(p, s);
    drawPointed(p, s);
}

}  // namespace hinge::app
