#pragma once
#include <QTimer>
#include "stages/match/match_picture.hpp"

namespace hinge::app {

/// The mechanism drawn from its numbers and running, and beside it what it asks:
/// head over flow, torque or force over the stroke, air, warmth, or the current at switch-on.
class NeedPicture final : public HeadFlowPicture {
    Q_OBJECT
public:
    explicit NeedPicture(Document* document, QWidget* parent = nullptr);

protected:
    void draw(QPainter& painter, const QRectF& box) override;
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void mechanism(QPainter& painter, const QRectF& box);
    void stroke(QPainter& painter, const QRectF& box);
    void airAsked(QPainter& painter, const QRectF& box);
    void warming(QPainter& painter, const QRectF& box, const project::HeatDemand& heat);
    void switching(QPainter& painter, const QRectF& box);
    QTimer clock_;
    int phase_ = 0;  ///< of the moving drops, 0 to 99
};

}  // namespace hinge::app
