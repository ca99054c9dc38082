#pragma once
#include "pictures/picture.hpp"
#include "simulation/supply_day.hpp"

namespace hinge::app {

/// The supply over time: a lane a channel, the stacked amps from the source with its limit, and the volts of the
/// board's rail with the two limits that they must keep. The wheel zooms, a drag moves.
class SupplyChart final : public Picture {
    Q_OBJECT
public:
    using Picture::Picture;
    /// @param zero  s of the stretch that are called 0 on the axis
    void show(std::optional<simulation::SupplyDay> day, double zero, const QString& why_not);
    void setRange(double from, double to);
    [[nodiscard]] const std::optional<simulation::SupplyDay>& day() const { return day_; }

protected:
    void draw(QPainter& painter, const QRectF& box) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;

private:
    struct Column {
        bool any = false;
        double total = 0.0, source = 0.0, standing = 0.0;
        std::vector<double> amps;
        std::vector<double> low, high;  ///< volts per section
    };
    [[nodiscard]] std::vector<Column> columns(int count) const;

    std::optional<simulation::SupplyDay> day_;
    QString whyNot_;
    double zero_ = 0.0, from_ = 0.0, to_ = 1.0;
    QRectF plot_;
    std::optional<double> grabbed_;
};

}  // namespace hinge::app
