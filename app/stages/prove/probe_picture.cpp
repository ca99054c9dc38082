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

void ProbePicture::paintEvent(QPaintEvent*) {
    if (!step_ || width() < px(240)) return;  // no room for it: the words say the same
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& c = colours();
    const auto& m = document_->model();
    const auto* channel = project::findChannel(m.project, step_->channel);
    // With the power off nothing but the part, or the grounds, is of interest.
    const bool power = step_->kind != Kind::Resistance;
    std::string rail_id = channel != nullptr ? channel->rail : step_->id.starts_with("rail.") ? step_->id.substr(5) : m.project.board.rail;
    const auto* rail = project::findRail(m.project, rail_id);
    const double wide = std::min<double>(width() - px(8), px(760)), high = std::min<double>(height() - px(12), px(190));
    const double top = px(8), plus = top + high * 0.20, floor = top + high * 0.86, middle = (plus + floor) / 2.0;
    const QSizeF size(wide * 0.17, high * 0.34);
    const auto at = [&](double share) { return QRectF(QPointF(share * wide, middle - size.height() / 2.0), size); };
    const QRectF supply = at(0.01), board = at(0.28), driver = at(0.55), part = at(0.82);
    const bool driven = channel != nullptr && channel->drive.part != "straight_from_pin";
    // Plus above, ground below; a signal from the board to the driver.
    p.setPen(QPen(power ? c.spark : c.line, 2));
    p.drawLine(QPointF(supply.center().x(), plus), QPointF(part.center().x(), plus));
    p.drawLine(QPointF(supply.center().x(), plus), QPointF(supply.center().x(), supply.top()));
    if (rail_id == m.project.board.rail) p.drawLine(QPointF(board.center().x(), plus), QPointF(board.center().x(), board.top()));
    if (channel != nullptr) p.drawLine(QPointF(part.center().x(), plus), QPointF(part.center().x(), part.top()));
    p.setPen(QPen(step_->id == "ground" ? c.ink : c.soft, 2));
    p.drawLine(QPointF(supply.center().x(), floor), QPointF((channel != nullptr ? part : driver).center().x(), floor));
    for (const auto& box : {supply, board}) p.drawLine(QPointF(box.center().x(), box.bottom()), QPointF(box.center().x(), floor));
    say(p, {supply.left(), plus - px(6)}, rail != nullptr ? text(rail->name) : tr("plus"), Text::Small, power ? c.spark : c.soft);
    say(p, {supply.left(), floor + px(15)}, tr("ground"), Text::Small, c.soft);
    block(p, supply, rail != nullptr && rail->conversion != power::Conversion::Direct ? tr("supply and its converter") : tr("supply"),
          power);
    block(p, board, tr("board"), power && (step_->phase != "Supplies alone"));
    if (channel != nullptr) {
        p.setPen(QPen(c.time, 1.5));
        p.drawLine(QPointF(board.right(), middle), QPointF((driven ? driver : part).left(), middle));
        if (driven) {
            const auto* made = project::findDriver(m.parts, channel->drive.part);
            p.setPen(QPen(c.soft, 2));
            p.drawLine(QPointF(driver.right(), middle), QPointF(part.left(), middle));
            p.drawLine(QPointF(driver.center().x(), driver.bottom()), QPointF(driver.center().x(), floor));
            block(p, driver, made != nullptr ? text(made->name).section(" · ", 0, 0) : tr("driver"), power);
        } else {
            p.setPen(QPen(c.soft, 2));
            p.drawLine(QPointF(part.center().x(), part.bottom()), QPointF(part.center().x(), floor));
        }
        block(p, part, text(channel->name), true);
    }
    // The instrument.
    const double r = px(16);
    const auto meter = [&](const QPointF& centre, const QString& letter, const std::vector<QPointF>& leads) {
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
    };
    const double between = (driver.right() + part.left()) / 2.0;
    switch (step_->kind) {
        case Kind::Resistance:
            if (step_->id.ends_with(".contact"))
                meter({between, (middle + floor) / 2.0}, tr("Ω"),
                      {{driver.right(), driver.top() + px(8)}, {driver.right(), driver.bottom() - px(8)}});
            else if (channel != nullptr)
                meter({part.center().x(), plus}, tr("Ω"), {{part.left() + px(6), part.top()}, {part.right() - px(6), part.top()}});
            else meter({driver.center().x(), middle}, tr("Ω"), {{board.center().x(), floor}, {driver.center().x(), floor}});
            return;
        case Kind::Voltage:
            if (step_->id.ends_with(".bridge"))
                meter({between, (middle + floor) / 2.0}, tr("V"),
                      {{driver.right(), driver.top() + px(8)}, {driver.right(), driver.bottom() - px(8)}});
            else if (step_->id.ends_with(".reference"))
                meter({between, (middle + floor) / 2.0}, tr("V"), {{driver.right() - px(8), driver.top() + px(10)}, {between, floor}});
            else if (channel != nullptr && driven)
                meter({(board.right() + driver.left()) / 2.0, (middle + floor) / 2.0}, tr("V"),
                      {{driver.left(), middle}, {(board.right() + driver.left()) / 2.0, floor}});
            else if (step_->id.starts_with("rail."))
                meter({(supply.right() + board.left()) / 2.0, middle}, tr("V"),
                      {{(supply.right() + board.left()) / 2.0, plus}, {(supply.right() + board.left()) / 2.0, floor}});
            else meter({(board.right() + driver.left()) / 2.0, middle}, tr("V"), {{board.center().x(), plus}, {board.center().x(), floor}});
            return;
        case Kind::Current: {
            // In the plus, which is opened for it.
            const double x = channel != nullptr ? between : (supply.right() + board.left()) / 2.0;
            meter({x, plus}, tr("A"), {{x - r - px(10), plus}, {x + r + px(10), plus}});
            return;
        }
        case Kind::Temperature: {
            const QRectF hot = driven || channel == nullptr ? driver : part;
            meter({hot.right() + px(2), hot.top() - px(8)}, tr("°C"), {});
            return;
        }
        default:
            if (step_->over_link != proof::OverLink::None) {
                p.setPen(QPen(c.hinge, 2, Qt::DashLine));
                p.drawLine(QPointF(board.center().x(), board.top()), QPointF(board.center().x(), top));
                say(p, {board.center().x() + px(8), top + px(8)}, tr("over the link"), Text::Small, c.hinge);
            } else if (channel != nullptr) {
                say(p, {part.center().x(), part.bottom() + px(16)}, tr("here, by eye and ruler"), Text::Small, c.hinge, Qt::AlignHCenter,
                    true);
            }
    }
}

}  // namespace hinge::app
