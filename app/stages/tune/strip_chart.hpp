#pragma once
#include <QWidget>
#include <optional>
#include "capture/recording.hpp"
#include "pictures/chart.hpp"

namespace hinge::app {

/// One lane of a strip chart.
struct StripLane {
    std::size_t signal = 0;
    QString title;
    double factor = 1.0, zero = 0.0;  ///< shown = zero + factor·value
    QString unit;
    QColor colour;
    bool fromZero = true;
};

/// Hours of telemetry at their full rate: runs with the newest sample, or is moved and stretched by the mouse. Pressing and
/// dragging measures.
class StripChart final : public QWidget {
    Q_OBJECT
public:
    explicit StripChart(QWidget* parent = nullptr);
    void show(const capture::Recording* recording, std::vector<StripLane> lanes);
    /// Seconds in sight; follows the newest sample while `end` is not given.
    void setRange(double span, std::optional<double> end = {});
    [[nodiscard]] double span() const { return span_; }
    [[nodiscard]] QString measured() const;
    /// Said while there is nothing to draw.
    void setWaiting(const QString& words) { waiting_ = words; }

protected:
    void paintEvent(QPaintEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    [[nodiscard]] double newest() const;
    const capture::Recording* recording_ = nullptr;
    std::vector<StripLane> lanes_;
    std::vector<Axes> axes_;
    double span_ = 10.0;
    std::optional<double> end_;
    std::optional<QPointF> pointer_, pressed_;
    double pressedEnd_ = 0.0;
    QString waiting_;
};

}  // namespace hinge::app
