#pragma once
#include "pictures/picture.hpp"

namespace hinge::app {

/// Head over flow: what lift and tube ask and, on Match, what the pumps give. The ring where they
/// meet slides along the pump's curve; the lift follows it.
class HeadFlowPicture : public Picture {
    Q_OBJECT
public:
    HeadFlowPicture(Document* document, bool withPumps, QWidget* parent = nullptr);
    /// Where the ring stands, in widget coordinates; for tests and dragging.
    [[nodiscard]] std::optional<QPointF> ring() const { return ring_; }

protected:
    void draw(QPainter& painter, const QRectF& box) override;
    void curves(QPainter& painter, const QRectF& box);
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    void pumps(QPainter& painter, const HeadCurve& own, double mostHead);
    void ringAt(QPainter& painter, const QPointF& at, const QString& words) const;
    [[nodiscard]] std::optional<double> liftUnder(double pixel) const;
    bool withPumps_;
    Axes axes_;
    std::optional<QPointF> ring_;
    std::optional<double> dragged_;  ///< lift that the ring stands for while it is dragged [m]
};

}  // namespace hinge::app
