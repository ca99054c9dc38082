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

void SupplyChart::draw(QPainter& p, const QRectF& box) {
    const auto& c = colours();
    const auto& m = model();
    if (!day_ || day_->points.empty()) return waits(p, box, whyNot_);
    const auto& day = *day_;
    double names = px(58);
    for (const auto& output : day.outputs)
        names = std::max<double>(names, QFontMetrics(textFont(Text::Small)).horizontalAdvance(text(output.name)) + px(16));
    const double lane = std::min<double>(px(17), box.height() * 0.24 / std::max(1.0, static_cast<double>(day.outputs.size())));
    const double lanes_top = box.top() + px(8), lanes = lane * static_cast<double>(day.outputs.size());
    const double left = box.left() + names, right = box.right() - px(18), bottom = box.bottom() - px(34);
    const double rest = bottom - lanes_top - lanes - px(14);
    plot_ = QRectF(left, lanes_top, right - left, bottom - lanes_top);
    const auto x = [&](double t) { return left + (t - from_) / (to_ - from_) * (right - left); };
    const auto cols = columns(static_cast<int>(right - left));

    // Lanes.
    for (std::size_t o = 0; o < day.outputs.size(); ++o) {
        const double y = lanes_top + lane * static_cast<double>(o);
        const bool mine = text(day.outputs[o].channel) == channel_;
        say(p, {left - px(8), y + lane * 0.75}, text(day.outputs[o].name), Text::Small, c.ink, Qt::AlignRight);
        p.setPen(QPen(c.line, 1));
        p.drawLine(QPointF(left, y + lane - 1), QPointF(right, y + lane - 1));
        QColor fill = c.spark;
        if (!mine) fill.setAlphaF(0.5F);
        p.setPen(Qt::NoPen);
        p.setBrush(fill);
        for (std::size_t k = 0; k < day.changes.size(); ++k) {
            const auto phase = day.changes[k].phases[o];
            if (phase != plan::Phase::On && phase != plan::Phase::Moving) continue;
            const double start = std::max(from_, day.changes[k].time),
                         end = std::min(to_, k + 1 < day.changes.size() ? day.changes[k + 1].time : day.length);
            if (end <= start) continue;
            p.drawRect(QRectF(QPointF(x(start), y + px(2)), QPointF(std::max(x(end), x(start) + 1.5), y + lane - px(3))));
        }
    }

    // Amps: the board at the bottom, each channel on top of what is below it.
    const double gives = m.plan.headline.source_current ? si(*m.plan.headline.source_current) : 0.0;
    double most = 0.0;
    for (const auto& column : cols)
        if (column.any) most = std::max({most, column.total, column.source});
    most = std::max(1e-3, std::max(most * 1.2, std::min(gives * 1.1, most * 3.0)));
    const Axes amps{QRectF(left, lanes_top + lanes + px(26), right - left, rest * 0.5 - px(22)), from_ - zero_, to_ - zero_, 0.0, most};
    const Axes time_axis{QRectF(left, amps.box.bottom() + px(26), right - left, bottom - amps.box.bottom() - px(26)), from_ - zero_,
                         to_ - zero_, 0.0, 1.0};
    p.save();
    p.setClipRect(amps.box.adjusted(-names, -px(24), px(4), px(2)));
    amps.draw(p, Kind::Duration, Kind::Current, QString(), tr("from the supply"));
    p.restore();
    std::vector<double> below(cols.size(), 0.0);
    const auto band = [&](auto&& value, const QColor& fill, const QString& name) {
        QPolygonF up, down;
        double widest = 0.0, where = 0.0, middle = 0.0;
        for (std::size_t i = 0; i < cols.size(); ++i) {
            if (!cols[i].any) continue;
            const double add = std::max(0.0, value(cols[i]));
            const double px_x = left + static_cast<double>(i);
            up << QPointF(px_x, amps.y(below[i] + add));
            down.prepend(QPointF(px_x, amps.y(below[i])));
            if (add > widest) widest = add, where = px_x, middle = below[i] + add / 2;
            below[i] += add;
        }
        p.setPen(Qt::NoPen);
        p.setBrush(fill);
        p.drawPolygon(up + down);
        if (!name.isEmpty() && amps.y(0) - amps.y(widest) > px(12)) {
            const double w = QFontMetrics(textFont(Text::Small)).horizontalAdvance(name);
            say(p, {std::clamp(where + px(4), left + 0.0, right - w), amps.y(middle) + px(4)}, name, Text::Small, c.ink, Qt::AlignLeft,
                true);
        }
    };
    QColor grey = c.soft;
    grey.setAlphaF(0.45F);
    band([](const Column& col) { return col.standing; }, grey, tr("board"));
    for (std::size_t o = 0; o < day.outputs.size(); ++o) {
        QColor fill = c.spark;
        const bool mine = text(day.outputs[o].channel) == channel_;
        fill.setAlphaF(mine ? 1.0F : 0.28F + 0.09F * static_cast<float>(o % 3));
        band([o](const Column& col) { return col.amps[o]; }, fill, text(day.outputs[o].name));
    }
    QPolygonF drawn;
    for (std::size_t i = 0; i < cols.size(); ++i)
        if (cols[i].any) drawn << QPointF(left + static_cast<double>(i), amps.y(cols[i].source));
    p.setPen(QPen(c.spark, 1.8));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(drawn);
    if (gives > 0.0 && gives <= most) {
        p.setPen(QPen(c.ink, 2));
        p.drawLine(QPointF(left, amps.y(gives)), QPointF(right, amps.y(gives)));
        say(p, {right, amps.y(gives) - px(4)}, tr("the %1 gives %2").arg(text(day.names.front()), text(display(Kind::Current, gives))),
            Text::Small, c.ink, Qt::AlignRight, true);
    }
    if (day.peak_time >= from_ && day.peak_time <= to_) {
        const QPointF peak(x(day.peak_time), amps.y(day.peak));
        p.setPen(QPen(c.spark, 2));
        p.setBrush(c.card);
        p.drawEllipse(peak, px(4), px(4));
        const bool at_right = peak.x() > (left + right) / 2;
        say(p, peak + QPointF(at_right ? -px(9) : px(9), -px(4)), tr("most: %1").arg(text(display(Kind::Current, day.peak))), Text::Figure,
            c.spark, at_right ? Qt::AlignRight : Qt::AlignLeft, true);
    }

    // Volts of the board's rail, and of the rail of the chosen channel.
    const auto indexOf = [&](const std::string& id) {
        return static_cast<int>(std::find(day.ids.begin(), day.ids.end(), id) - day.ids.begin());
    };
    const int logic = indexOf(m.project.board.rail), own = channel() != nullptr ? indexOf(channel()->rail) : logic;
    const auto& family = board::family(m.project.board.form);
    struct Line {
        int section;
        QColor colour;
    };
    std::vector<Line> lines;
    if (own != logic && own < static_cast<int>(day.ids.size())) lines.push_back({own, c.time});
    if (logic < static_cast<int>(day.ids.size())) lines.push_back({logic, c.spark});
    double lowest = family.guaranteed_floor, highest = 0.0;
    for (const auto& line : lines)
        for (const auto& column : cols)
            if (column.any)
                lowest = std::min(lowest, column.low[static_cast<std::size_t>(line.section)]),
                highest = std::max(highest, column.high[static_cast<std::size_t>(line.section)]);
    const double room = std::max(0.2, highest - lowest) * 0.12;
    Axes volts{time_axis.box, from_ - zero_, to_ - zero_, std::max(0.0, lowest - room * 1.6), highest + room};
    volts.draw(p, Kind::Duration, Kind::Voltage, tr("time"), tr("volts"));
    const auto limit = [&](double value, const QString& words, Qt::PenStyle style) {
        if (value < volts.y0 || value > volts.y1) return;
        p.setPen(QPen(c.ink, 1.8, style));
        p.drawLine(QPointF(left, volts.y(value)), QPointF(right, volts.y(value)));
        say(p, {right, volts.y(value) - px(4)}, words, Text::Small, c.ink, Qt::AlignRight, true);
    };
    limit(family.guaranteed_floor,
          tr("board guaranteed down to %1 at %2")
              .arg(text(display(Kind::Voltage, family.guaranteed_floor)), text(display(Kind::Frequency, family.clock))),
          Qt::SolidLine);
    limit(family.brown_out, tr("it resets below %1").arg(text(display(Kind::Voltage, family.brown_out))), Qt::DashLine);
    for (const auto& line : lines) {
        const auto s = static_cast<std::size_t>(line.section);
        QPolygonF path;
        for (std::size_t i = 0; i < cols.size(); ++i) {
            if (!cols[i].any) continue;
            path << QPointF(left + static_cast<double>(i), volts.y(cols[i].high[s]));
            if (cols[i].high[s] > cols[i].low[s]) path << QPointF(left + static_cast<double>(i), volts.y(cols[i].low[s]));
        }
        p.setPen(QPen(line.colour, 2));
        p.setBrush(Qt::NoBrush);
        p.drawPolyline(path);
        if (!path.isEmpty())
            say(p, {left + px(6), path.front().y() - px(5)}, text(day.names[s]), Text::Small, line.colour, Qt::AlignLeft, true);
        const auto& low = day.lowest[s];
        if (low.time < from_ || low.time > to_) continue;
        const bool bad = line.section == logic && low.volts < family.guaranteed_floor;
        const QPointF at(x(low.time), volts.y(low.volts));
        p.setPen(QPen(bad ? c.breaks : line.colour, 2));
        p.setBrush(c.card);
        p.drawEllipse(at, px(4), px(4));
        const bool at_right = at.x() > (left + right) / 2;
        say(p, at + QPointF(at_right ? -px(9) : px(9), px(14)), tr("lowest: %1").arg(text(display(Kind::Voltage, low.volts, 4))),
            Text::Figure, bad ? c.breaks : line.colour, at_right ? Qt::AlignRight : Qt::AlignLeft, true);
    }
    // What stands under the pointer.
    if (!pointer_ || !plot_.contains(*pointer_)) return;
    const double t = from_ + (pointer_->x() - left) / (right - left) * (to_ - from_);
    const auto after =
        std::upper_bound(day.points.begin(), day.points.end(), t, [](double time, const auto& point) { return time < point.time; });
    if (after == day.points.begin()) return;
    const auto& point = *(after - 1);
    p.setPen(QPen(c.ink, 1, Qt::DotLine));
    p.drawLine(QPointF(pointer_->x(), lanes_top), QPointF(pointer_->x(), bottom));
    QString words = tr("%1: %2").arg(text(display(Kind::Duration, t - zero_, 4)), text(display(Kind::Current, point.source)));
    for (const auto& line : lines)
        words += QString(" · %1 %2")
                     .arg(text(day.names[static_cast<std::size_t>(line.section)]),
                          text(display(Kind::Voltage, point.volts[static_cast<std::size_t>(line.section)])));
    say(p, {right, amps.box.top() - px(3)}, words, Text::Small, c.ink, Qt::AlignRight, true);
}

}  // namespace hinge::app
