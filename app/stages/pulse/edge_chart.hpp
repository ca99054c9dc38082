#pragma once
#include <QWidget>
#include <optional>
#include "capture/capture.hpp"

namespace hinge::app {

/// Lines of edges over time, from hours down to microseconds: the wheel zooms about the pointer, a drag
/// pans, a click marks an edge and the pointer measures from it to the nearest other one.
class EdgeChart final : public QWidget {
    Q_OBJECT
public:
    explicit EdgeChart(QWidget* parent = nullptr);
    /// Takes names, lines and length; shows all of it.
    void show(const capture::Capture& capture);
    void setRange(double from, double to);
    [[nodiscard]] double from() const { return from_; }
    [[nodiscard]] double to() const { return to_; }
    /// The nearest edge of the row under a point, within reach; for the pointer and for tests.
    [[nodiscard]] std::optional<double> edgeAt(const QPointF& point) const;
    /// From the marked edge to the one under the pointer.
    [[nodiscard]] std::optional<double> measured() const;

protected:
    void paintEvent(QPaintEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF plot() const;
    [[nodiscard]] double x(double time) const;
    [[nodiscard]] double timeAt(double x) const;
    [[nodiscard]] int rowAt(double y) const;
    void zoom(double factor, double about);
    void paintLine(QPainter& painter, const QRectF& row, const capture::Line& line) const;

    std::vector<QString> names_;
    std::vector<capture::Line> lines_;
    double length_ = 1.0, from_ = 0.0, to_ = 1.0;
    std::optional<QPointF> pointer_, pressed_;
    double pressedFrom_ = 0.0;
    bool dragged_ = false;
    std::optional<double> mark_;
    int markRow_ = -1;
};

}  // namespace hinge::app
