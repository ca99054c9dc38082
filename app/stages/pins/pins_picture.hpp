#pragma once
#include "pictures/picture.hpp"

namespace hinge::app {

/// The board's pin rows with each wire, its role and its timer, from the family's data.
class PinsPicture final : public Picture {
    Q_OBJECT
public:
    using Picture::Picture;

private:
    void draw(QPainter& painter, const QRectF& box) override;
    void pin(QPainter& painter, const QRectF& box, const board::Pin& pin, const QPointF& at, bool left, double step);
    void underPointer(QPainter& painter, const QRectF& box, const board::Pin& pin);
};

}  // namespace hinge::app
