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
    /// What one painting shares between its parts.
    struct Sheet {
        double names = 0.0;  ///< px left of the plot
        double left = 0.0, right = 0.0, bottom = 0.0;
        double lanes_top = 0.0, lane = 0.0, lanes = 0.0;  ///< px: the first lane's top, a lane, all lanes
        std::vector<Column> columns;
        Axes amps, volts;
        [[nodiscard]] double at(std::size_t column) const { return left + static_cast<double>(column); }
    };
    /// A rail whose volts are drawn.
    struct Line {
        int section;
        QColor colour;
    };
    [[nodiscard]] std::vector<Column> columns(int count) const;
    [[nodiscard]] Sheet sheet(const QRectF& box) const;
    [[nodiscard]] double x(const Sheet& sheet, double time) const;
    [[nodiscard]] bool isMine(std::size_t output) const;
    [[nodiscard]] std::vector<Line> lines() const;
    void drawLanes(QPainter& painter, const Sheet& sheet) const;
    void drawStack(QPainter& painter, const Sheet& sheet) const;
    void drawAmps(QPainter& painter, const Sheet& sheet) const;
    void drawVolts(QPainter& painter, const Sheet& sheet) const;
    void drawLimits(QPainter& painter, const Sheet& sheet) const;
    void drawPointed(QPainter& painter, const Sheet& sheet) const;
    /// A ring with what it means beside it, on the side where there is room.
    void ring(QPainter& painter, const Sheet& sheet, const QPointF& at, double below, const QString& words, const QColor& colour) const;

    std::optional<simulation::SupplyDay> day_;
    QString whyNot_;
    double zero_ = 0.0, from_ = 0.0, to_ = 1.0;
    QRectF plot_;
    std::optional<double> grabbed_;
};

}  // namespace hinge::app
