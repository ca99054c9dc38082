#pragma once
#include "pictures/picture.hpp"

namespace hinge::app {

/// One scene, played: a lane of blocks a channel, what was pressed, and under it the current that
/// the supply gives, with its limit and its worst instant. The play-head can be dragged.
class SceneChart : public Picture {
    Q_OBJECT
public:
    using Picture::Picture;
    /// Where the play-head stands [s].
    [[nodiscard]] double playHead() const { return playHead_; }
Q_SIGNALS:
    void playHeadMoved(double seconds);

protected:
    void draw(QPainter& painter, const QRectF& box) override;
    void drawScene(QPainter& painter, const QRectF& box);
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

private:
    void movePlayHead(double pixel);
    Axes axes_;
    double playHead_ = 0.5;
};

}  // namespace hinge::app
