#include "stages/prove/probe_picture.hpp"
#include <QPainter>
#include <QPainterPath>
#include "pictures/chart.hpp"

namespace hinge::app {
namespace {

// A box with its name inside, or under it where that is longer.
void block(QPainter& p, const QRectF& box, const QString& name, bool on) {
    const auto& c = colours();
    p.setPen(QPen(on ? c.ink : c.soft, on ? 2 : 1, on ? Qt::SolidLine : Qt::DashLine));
    p.setBrush(c.card);
    p.drawRect(box);
    p.setFont(textFont(Text::Small));
    p.setPen(on ? c.ink : c.soft);
    p.drawText(box.adjusted(px(4), px(2), -px(4), -px(2)), Qt::AlignCenter | Qt::TextWordWrap, name);
}

}  // namespace

ProbePicture::ProbePicture(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("probePicture");
    setMinimumHeight(px(60));
}

void ProbePicture::present(const proof::Step* step) {
    step_ = step != nullptr ? std::optional(*step) : std::nullopt;
    setVisible(step_.has_value());
    update();
}

// Where everything stands: supply, board, driver and part in a row, plus above, ground below.
struct ProbePicture::Row {
    double top, plus, floor, middle;
    QRectF supply, board, driver, part;
    bool power, driven;
    [[nodiscard]] double between() const { return (driver.right() + part.left()) / 2.0; }
    [[nodiscard]] double signal() const { return (board.right() + driver.left()) / 2.0; }
    [[nodiscard]] double feed() const { return (supply.right() + board.left()) / 2.0; }
    [[nodiscard]] double under() const { return (middle + floor) / 2.0; }
};

void ProbePicture::paintEvent(QPaintEvent*) {
    if (!step_ || width() < px(240)) return;  // no room for it: the words say the same
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto* channel = project::findChannel(document_->model().project, step_->channel);
    const double wide = std::min<double>(width() - px(8), px(760)), high = std::min<double>(height() - px(12), px(190));
    const double top = px(8), plus = top + high * 0.20, floor = top + high * 0.86, middle = (plus + floor) / 2.0;
    const QSizeF size(wide * 0.17, high * 0.34);
    const auto at = [&](double share) { return QRectF(QPointF(share * wide, middle - size.height() / 2.0), size); };
    // With the power off nothing but the part, or the grounds, is of interest.
    const Row row{top,
                  plus,
                  floor,
                  middle,
                  at(0.01),
                  at(0.28),
                  at(0.55),
                  at(0.82),
                  step_->kind != Kind::Resistance,
                  channel != nullptr && channel->drive.part != "straight_from_pin"};
    drawSupply(p, row, channel);
    if (channel != nullptr) drawChannel(p, row, *channel);
    drawInstrument(p, row, channel != nullptr);
}

void ProbePicture::drawSupply(QPainter& p, const Row& row, const project::Channel* channel) const {
    const auto& c = colours();
    const auto& board = document_->model().project.board;
    const std::string rail_id = channel != nullptr ? channel->rail : step_->id.starts_with("rail.") ? step_->id.substr(5) : board.rail;
    const auto* rail = project::findRail(document_->model().project, rail_id);
    const auto drop = [&](const QRectF& box) { p.drawLine(QPointF(box.center().x(), row.plus), QPointF(box.center().x(), box.top())); };
    p.setPen(QPen(row.power ? c.spark : c.line, 2));
    p.drawLine(QPointF(row.supply.center().x(), row.plus), QPointF(row.part.center().x(), row.plus));
    drop(row.supply);
    if (rail_id == board.rail) drop(row.board);
    if (channel != nullptr) drop(row.part);
    p.setPen(QPen(step_->id == "ground" ? c.ink : c.soft, 2));
    p.drawLine(QPointF(row.supply.center().x(), row.floor), QPointF((channel != nullptr ? row.part : row.driver).center().x(), row.floor));
    for (const auto& box : {row.supply, row.board})
        p.drawLine(QPointF(box.center().x(), box.bottom()), QPointF(box.center().x(), row.floor));
    say(p, {row.supply.left(), row.plus - px(6)}, rail != nullptr ? text(rail->name) : tr("plus"), Text::Small,
        row.power ? c.spark : c.soft);
    say(p, {row.supply.left(), row.floor + px(15)}, tr("ground"), Text::Small, c.soft);
    block(p, row.supply, rail != nullptr && rail->conversion != power::Conversion::Direct ? tr("supply and its converter") : tr("supply"),
          row.power);
    block(p, row.board, tr("board"), row.power && (step_->phase != "Supplies alone"));
}

// A signal from the board to the driver, and from there to the part.
void ProbePicture::drawChannel(QPainter& p, const Row& row, const project::Channel& channel) const {
    const auto& c = colours();
    p.setPen(QPen(c.time, 1.5));
    p.drawLine(QPointF(row.board.right(), row.middle), QPointF((row.driven ? row.driver : row.part).left(), row.middle));
    p.setPen(QPen(c.soft, 2));
    const QRectF& grounded = row.driven ? row.driver : row.part;
    p.drawLine(QPointF(grounded.center().x(), grounded.bottom()), QPointF(grounded.center().x(), row.floor));
    if (row.driven) {
        const auto* made = project::findDriver(document_->model().parts, channel.drive.part);
        p.drawLine(QPointF(row.driver.right(), row.middle), QPointF(row.part.left(), row.middle));
        block(p, row.driver, made != nullptr ? text(made->name).section(" · ", 0, 0) : tr("driver"), row.power);
    }
    block(p, row.part, text(channel.name), true);
}

void ProbePicture::drawMeter(QPainter& p, const QPointF& centre, const QString& letter, const std::vector<QPointF>& leads) const {
    const auto& c = colours();
    const double r = px(16);
    p.setPen(QPen(c.hinge, 2));
    p.setBrush(Qt::NoBrush);
    for (const auto& lead : leads) {
        p.drawLine(centre, lead);
        p.setBrush(c.hinge);
        p.drawEllipse(lead, px(3.5), px(3.5));
    }
    p.setBrush(c.hingeTint);
    p.drawEllipse(centre, r, r);
    say(p, {centre.x(), centre.y() + px(6)}, letter, Text::Figure, c.ink, Qt::AlignHCenter);
}

void ProbePicture::drawVoltmeter(QPainter& p, const Row& row, bool channel) const {
    const auto& [top, plus, floor, middle, supply, board, driver, part, power, driven] = row;
    const QString v = tr("V");
    if (step_->id.ends_with(".bridge"))
        drawMeter(p, {row.between(), row.under()}, v, {{driver.right(), driver.top() + px(8)}, {driver.right(), driver.bottom() - px(8)}});
    else if (step_->id.ends_with(".reference"))
        drawMeter(p, {row.between(), row.under()}, v, {{driver.right() - px(8), driver.top() + px(10)}, {row.between(), floor}});
    else if (channel && driven) drawMeter(p, {row.signal(), row.under()}, v, {{driver.left(), middle}, {row.signal(), floor}});
    else if (step_->id.starts_with("rail.")) drawMeter(p, {row.feed(), middle}, v, {{row.feed(), plus}, {row.feed(), floor}});
    else drawMeter(p, {row.signal(), row.under()}, v, {{board.center().x(), plus}, {board.center().x(), floor}});
}

void ProbePicture::drawInstrument(QPainter& p, const Row& row, bool channel) const {
    const auto& c = colours();
    const auto& [top, plus, floor, middle, supply, board, driver, part, power, driven] = row;
    switch (step_->kind) {
        case Kind::Resistance:
            if (step_->id.ends_with(".contact"))
                drawMeter(p, {row.between(), row.under()}, tr("Ω"),
                          {{driver.right(), driver.top() + px(8)}, {driver.right(), driver.bottom() - px(8)}});
            else if (channel)
                drawMeter(p, {part.center().x(), plus}, tr("Ω"), {{part.left() + px(6), part.top()}, {part.right() - px(6), part.top()}});
            else drawMeter(p, {driver.center().x(), middle}, tr("Ω"), {{board.center().x(), floor}, {driver.center().x(), floor}});
            return;
        case Kind::Voltage: return drawVoltmeter(p, row, channel);
        case Kind::Current: {
            // In the plus, which is opened for it.
            const double x = channel ? row.between() : row.feed(), reach = px(16) + px(10);
            return drawMeter(p, {x, plus}, tr("A"), {{x - reach, plus}, {x + reach, plus}});
        }
        case Kind::Temperature: {
            const QRectF hot = driven || !channel ? driver : part;
            return drawMeter(p, {hot.right() + px(2), hot.top() - px(8)}, tr("°C"), {});
        }
        default: break;
    }
    if (step_->over_link != proof::OverLink::None) {
        p.setPen(QPen(c.hinge, 2, Qt::DashLine));
        p.drawLine(QPointF(board.center().x(), board.top()), QPointF(board.center().x(), top));
        say(p, {board.center().x() + px(8), top + px(8)}, tr("over the link"), Text::Small, c.hinge);
    } else if (channel) {
        say(p, {part.center().x(), part.bottom() + px(16)}, tr("here, by eye and ruler"), Text::Small, c.hinge, Qt::AlignHCenter, true);
    }
}

}  // namespace hinge::app
