#include "pictures/wiring_picture.hpp"
#include <QMouseEvent>
#include <QScrollArea>
#include <algorithm>
#include <cmath>
#include "drawing/bundles.hpp"

namespace hinge::app {
namespace {

using drawing::Stroke;

QPainterPath pathOf(const drawing::Line& line) {
    QPainterPath path;
    for (std::size_t k = 0; k < line.points.size(); ++k) {
        const QPointF at(line.points[k].x, line.points[k].y);
        if (k == 0) path.moveTo(at);
        else path.lineTo(at);
    }
    if (line.closed) path.closeSubpath();
    return path;
}

void paintWire(QPainter& p, const QPainterPath& path, const plan::WireRow& row) {
    const auto colour = plan::sleeveColour(row.colour);
    p.strokePath(path, QPen(colours().ink, colour ? 3.6 : 1.8, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
    if (colour) p.strokePath(path, QPen(QColor::fromRgb(*colour), 2.2, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
}

void paintLine(QPainter& p, const drawing::Line& line, const std::vector<plan::WireRow>& rows) {
    const auto& c = colours();
    const auto path = pathOf(line);
    switch (line.stroke) {
        case Stroke::Wire: paintWire(p, path, rows.at(static_cast<std::size_t>(line.wire))); return;
        case Stroke::Box: p.fillPath(path, c.paper); break;
        case Stroke::Flag: p.fillPath(path, c.hingeTint); break;
        case Stroke::Filled: p.fillPath(path, c.ink); break;
        case Stroke::Bundle: p.strokePath(path, QPen(c.soft, 4.0, Qt::SolidLine, Qt::FlatCap)); return;
        case Stroke::Symbol: break;
    }
    p.strokePath(path, QPen(line.stroke == Stroke::Flag ? c.hinge : c.ink, 1.3));
}

double distance(const drawing::Point& a, const drawing::Point& b, const QPointF& at) {
    const double dx = b.x - a.x, dy = b.y - a.y, length = dx * dx + dy * dy;
    const double t = length > 0.0 ? std::clamp(((at.x() - a.x) * dx + (at.y() - a.y) * dy) / length, 0.0, 1.0) : 0.0;
    return std::hypot(at.x() - a.x - t * dx, at.y() - a.y - t * dy);
}

}  // namespace

void paintDrawing(QPainter& p, const drawing::Drawing& drawing, const std::vector<plan::WireRow>& rows, int lit) {
    const auto& c = colours();
    QColor glow = c.spark;
    glow.setAlpha(120);
    for (const auto& line : drawing.lines)
        if (lit != drawing::no_wire && line.wire == lit && !line.closed)
            p.strokePath(pathOf(line), QPen(glow, 12.0, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    for (const auto& line : drawing.lines) paintLine(p, line, rows);
    for (const auto& disc : drawing.discs) {
        p.setPen(QPen(c.ink, 1.3));
        p.setBrush(disc.stroke == Stroke::Filled ? QBrush(c.ink) : QBrush(Qt::NoBrush));
        p.drawEllipse(QPointF(disc.at.x, disc.at.y), disc.radius, disc.radius);
    }
    for (const auto& words : drawing.words) {
        const bool shines = lit != drawing::no_wire && words.wire == lit;
        QFont font = textFont(Text::Body);
        font.setPixelSize(std::max(1, static_cast<int>(std::lround(words.size))));
        font.setBold(words.tone == drawing::Tone::Name || shines);
        p.setFont(font);
        p.setPen(words.tone == drawing::Tone::Soft && !shines ? c.soft : c.ink);
        const QString said = QString::fromStdString(words.text);
        const double wide = QFontMetricsF(font).horizontalAdvance(said);
        const double left = words.toward == drawing::Toward::Right  ? words.at.x
                            : words.toward == drawing::Toward::Left ? words.at.x - wide
                                                                    : words.at.x - wide / 2.0;
        p.drawText(QPointF(left, words.at.y), said);
    }
}

WiringPicture::WiringPicture(Document* document, QWidget* parent) : Picture(document, parent) {
    setObjectName("wiringPicture");
    setAccessibleName(tr("The wiring, drawn"));
    setFocusPolicy(Qt::TabFocus);
    setMinimumSize(100, 100);
}

void WiringPicture::redraw() {
    rows_ = plan::wireRows(model().project, model().wires);
    circuits_ = drawing::circuits(model().project, model().parts, model().plan, rows_);
    circuits_.push_back(drawing::bundles(model().project, model().parts, model().plan, rows_));
    if (lit_ >= static_cast<int>(rows_.size())) lit_ = drawing::no_wire;
    lay();
    update();
}

// A sheet that is wider than the page is drawn smaller.
double WiringPicture::drawnAt() const {
    const double room = width() - margin * size();
    return sheet_.width * size() > room && room > 0.0 ? room / sheet_.width : size();
}

void WiringPicture::lay() {
    const double room = std::max(100.0, width() / size() - margin);
    if (!only_) sheet_ = drawing::onSheet(circuits_, room);
    else {
        // The supply's comes first, and has no owner.
        const auto found = std::find_if(circuits_.begin(), circuits_.end(),
                                        [&](const drawing::Drawing& each) { return each.owner == only_->toStdString(); });
        sheet_ = found == circuits_.end() ? drawing::Sheet{} : drawing::onSheet({*found}, 0.0);
    }
    setMinimumHeight(static_cast<int>(std::ceil(sheet_.height * drawnAt() + margin * size())));
    Q_EMIT laid();
}

void WiringPicture::only(const QString& owner) {
    only_ = owner;
    redraw();
}

void WiringPicture::resizeEvent(QResizeEvent* event) {
    Picture::resizeEvent(event);
    lay();
}

void WiringPicture::light(int wire) {
    if (lit_ == wire) return;
    lit_ = wire;
    update();
}

void WiringPicture::draw(QPainter& p, const QRectF& /*box*/) {
    p.save();
    p.translate(corner());
    p.scale(drawnAt(), drawnAt());
    for (const auto& each : sheet_.drawings) paintDrawing(p, each, rows_, lit_);
    p.restore();
}

QRectF WiringPicture::placeOf(int wire) const {
    QRectF place;
    for (const auto& each : sheet_.drawings)
        for (const auto& line : each.lines)
            if (line.wire == wire) place |= pathOf(line).boundingRect().adjusted(-1, -1, 1, 1);
    return QRectF(corner() + place.topLeft() * drawnAt(), place.size() * drawnAt());
}

QRectF WiringPicture::placeOfDrawing(std::size_t k) const {
    return QRectF(corner() + QPointF(sheet_.at[k].x, sheet_.at[k].y) * drawnAt(),
                  QSizeF(sheet_.drawings[k].width, sheet_.drawings[k].height) * drawnAt());
}

QRectF WiringPicture::circuitOf(const QString& owner) const {
    for (std::size_t k = 0; k < sheet_.drawings.size(); ++k)
        if (sheet_.drawings[k].owner == owner.toStdString()) return placeOfDrawing(k);
    return {};
}

QRectF WiringPicture::circuitWith(int wire) const {
    for (std::size_t k = 0; k < sheet_.drawings.size(); ++k)
        for (const auto& run : sheet_.drawings[k].runs)
            if (run.wire == wire) return placeOfDrawing(k);
    return {};
}

std::vector<Spot> WiringPicture::spots() const {
    std::vector<Spot> all;
    for (const auto& each : sheet_.drawings)
        for (const auto& run : each.runs) {
            const auto& row = rows_.at(static_cast<std::size_t>(run.wire));
            all.push_back({placeOf(run.wire).adjusted(-4, -4, 4, 4).toRect(), text(drawing::markOf(row)),
                           tr("%1 to %2").arg(text(row.wire.from), text(row.wire.to)) +
                               (row.wire.note.empty() ? QString() : "; " + text(row.wire.note)),
                           tr("show it in the list"),
                           [self = const_cast<WiringPicture*>(this), wire = run.wire] { self->light(wire), Q_EMIT self->chosen(wire); },
                           run.wire == lit_});
        }
    return all;
}

void WiringPicture::bringIntoView(const QRect& place) {
    for (auto* up = parentWidget(); up != nullptr; up = up->parentWidget())
        if (auto* scroll = qobject_cast<QScrollArea*>(up))
            return scroll->ensureVisible(place.center().x(), place.center().y(), px(60), px(60));
}

int WiringPicture::wireAt(const QPointF& at) const {
    const QPointF on_sheet = (at - corner()) / drawnAt();
    int nearest = drawing::no_wire;
    double best = 7.0;
    for (const auto& each : sheet_.drawings)
        for (const auto& line : each.lines)
            for (std::size_t k = 1; line.wire != drawing::no_wire && k < line.points.size(); ++k)
                if (const double d = distance(line.points[k - 1], line.points[k], on_sheet); d < best) best = d, nearest = line.wire;
    return nearest;
}

void WiringPicture::mouseMoveEvent(QMouseEvent* event) {
    Picture::mouseMoveEvent(event);
    if (const int wire = wireAt(event->position()); wire != drawing::no_wire && wire != lit_) {
        light(wire);
        Q_EMIT pointedAt(wire);
    }
}

void WiringPicture::mousePressEvent(QMouseEvent* event) {
    const int wire = wireAt(event->position());
    if (wire == drawing::no_wire || event->button() != Qt::LeftButton) return;
    light(wire);
    Q_EMIT chosen(wire);
}

}  // namespace hinge::app
