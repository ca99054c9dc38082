#pragma once
#include "pictures/picture.hpp"

namespace hinge::app {

/// What is asked against what parts can do: speed over torque, pressure over air, or bars of power,
/// force and current. The chosen part is solid; those compared beside it have lines of their own.
class AbilityPicture final : public Picture {
    Q_OBJECT
public:
    using Picture::Picture;
    /// Up to two others, by ids.
    void compare(std::vector<std::pair<std::string, std::string>> others) { others_ = std::move(others); }

protected:
    void draw(QPainter& painter, const QRectF& box) override;

private:
    struct Shown {
        const actuator::Part* part;
        const driver::DriverPart* driver;
        bool chosen;
    };
    /// What each part is able to do, in the order of the list.
    using Curves = std::vector<std::pair<Shown, std::vector<match::StrokePoint>>>;
    static void drawCurves(QPainter& painter, const Axes& axes, const Curves& curves);
    [[nodiscard]] std::vector<Shown> shown() const;
    void shaft(QPainter& painter, const QRectF& box);
    void air(QPainter& painter, const QRectF& box);
    void bars(QPainter& painter, const QRectF& box);
    std::vector<std::pair<std::string, std::string>> others_;
};

}  // namespace hinge::app
