#pragma once
#include "pictures/picture.hpp"
#include "plan/wiring.hpp"

namespace hinge::app {

/// The board's pin rows with each wire, its role and its timer, from the family's data.
class PinsPicture final : public Picture {
    Q_OBJECT
public:
    explicit PinsPicture(Document* document, QWidget* parent = nullptr);
    [[nodiscard]] std::vector<Spot> spots() const override;
    /// The wire that is lit up, in list and drawing too; none: no wire.
    void light(std::optional<plan::WireRow> wire);

private:
    void draw(QPainter& painter, const QRectF& box) override;
    void pin(QPainter& painter, const QRectF& box, const board::Pin& pin, const QPointF& at, bool left, double step);
    void underPointer(QPainter& painter, const QRectF& box, const board::Pin& pin);
    std::optional<plan::WireRow> lit_;
    std::vector<std::pair<board::Pin, QRect>> places_;  ///< as they were drawn last
};

}  // namespace hinge::app
