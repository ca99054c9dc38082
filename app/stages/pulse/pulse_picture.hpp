#pragma once
#include "pictures/picture.hpp"
#include "routine/pulse_train.hpp"

namespace hinge::app {

/// The pulses as they will stand at the pin, to scale, from the register values; below them the
/// whole soft start.
class PulsePicture final : public Picture {
    Q_OBJECT
public:
    using Picture::Picture;

protected:
    void draw(QPainter& painter, const QRectF& box) override;

private:
    void frame(QPainter& painter, const QRectF& wave, double pulse, const QString& name);
    void speed(QPainter& painter, const QRectF& box);
    void latch(QPainter& painter, const QRectF& box);
    /// On and off: through the scene, and one switching from close by.
    void switched(QPainter& painter, const QRectF& box);
    void switchedScene(QPainter& painter, const QRectF& box, int output);
    void switchedClose(QPainter& painter, const QRectF& box, bool contact);
    void servo(QPainter& painter, const QRectF& box);
    void steps(QPainter& painter, const QRectF& box);
    struct Mains;
    /// The mains with the part that is let through; below it the gate, and what a delay gives.
    void mains(QPainter& painter, const QRectF& box);
    void mainsWave(QPainter& painter, const QRectF& box, const Mains& mains);
    void mainsCycles(QPainter& painter, const Mains& mains);
    /// @return the lane's lower edge
    double mainsGate(QPainter& painter, const Mains& mains);
    void mainsLane(QPainter& painter, const Mains& mains, const QRectF& lane, double from, double until);
    void mainsCurve(QPainter& painter, const QRectF& box, const Mains& mains);
    /// What the bridge does at each state of its inputs; the height it took.
    double bridge(QPainter& painter, const QRectF& box);
    /// What a turn round looks like, for what cues send both ways.
    void turnRound(QPainter& painter, const QRectF& box);
    void wayLine(QPainter& painter, double left, double turned, double right, double low);
    /// @param x  where it begins, is let go, is turned, and ends
    void twoInputs(QPainter& painter, const std::array<double, 4>& x, double low);
    void lowerSwitch(QPainter& painter, const QRectF& box, const std::vector<routine::Pulse>& pulses);
    void upperSwitches(QPainter& painter, const std::array<double, 4>& x, double low);
    void train(QPainter& painter, const QRectF& box, const std::vector<routine::Pulse>& pulses);
};

}  // namespace hinge::app
