#pragma once
#include "pictures/picture.hpp"

namespace hinge::app {

/// The tree as it feeds: each branch as wide as its current at the worst coincidence, each rail with its volts.
/// A press on a source or rail asks for its changes.
class TreePicture final : public Picture {
    Q_OBJECT
public:
    explicit TreePicture(Document* document, QWidget* parent = nullptr);
    [[nodiscard]] std::vector<Spot> spots() const override;
    /// Where a source's or rail's box stands; empty when it is not drawn.
    [[nodiscard]] QRectF boxOf(const QString& id) const;
Q_SIGNALS:
    void pressed(const QString& id, const QPoint& global);

protected:
    void draw(QPainter& painter, const QRectF& box) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    double figures(QPainter& painter, const QRectF& box, double y);
    void winding(QPainter& painter, const QRectF& box, double y);
    std::vector<std::pair<QString, QRectF>> boxes_;
};

}  // namespace hinge::app
