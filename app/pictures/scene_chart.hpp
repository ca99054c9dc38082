#pragma once
#include <QElapsedTimer>
#include <QTimer>
#include "pictures/picture.hpp"

namespace hinge::app {

/// One scene, played: a lane of blocks a channel, what was pressed, and under it the current that
/// the supply gives, with its limit and its worst instant. The play-head can be dragged, stepped and let run; at the right each output
/// stands as it is there.
class SceneChart : public Picture {
    Q_OBJECT
public:
    explicit SceneChart(Document* document, QWidget* parent = nullptr);
    /// Where the play-head stands [s].
    [[nodiscard]] double playHead() const { return playHead_; }
    /// Lets the play-head run to the end, at `speed` seconds a second; 0 stands still.
    void play(double speed);
    [[nodiscard]] bool playing() const { return timer_.isActive(); }
    /// To the next thing that happens, or back to the last one.
    void step(bool forward);
    /// Seconds that are shown.
    [[nodiscard]] double length() const;
Q_SIGNALS:
    void playHeadMoved(double seconds);
    void playingChanged();

protected:
    void draw(QPainter& painter, const QRectF& box) override;
    void drawScene(QPainter& painter, const QRectF& box);
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void movePlayHead(double pixel);
    [[nodiscard]] double topRoom() const;
    [[nodiscard]] double laneHeight(const QRectF& box) const;
    void drawEvents(QPainter& painter, const QRectF& box, double lanes);
    void drawBlock(QPainter& painter, const QRectF& box, double length, bool mine, bool back);
    void drawLanes(QPainter& painter, const QRectF& box);
    void drawCurrent(QPainter& painter, double gives, double most);
    void drawStanding(QPainter& painter, const QRectF& box);
    void drawPlayHead(QPainter& painter, const QRectF& box);
    Axes axes_;
    double playHead_ = 0.5;
    QTimer timer_;
    QElapsedTimer clock_;
    double speed_ = 0.0, from_ = 0.0;
};

}  // namespace hinge::app
