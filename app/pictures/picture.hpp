#pragma once
#include "shell/document.hpp"
#include "theme/theme.hpp"
#include <QPainter>
#include <QWidget>

namespace hinge::app {

/// Maps numbers to pixels and draws a quiet grid with labelled axes.
struct Axes {
    QRectF box;
    double x0 = 0, x1 = 1, y0 = 0, y1 = 1;
    [[nodiscard]] double x(double v) const { return box.left() + (v - x0) / (x1 - x0) * box.width(); }
    [[nodiscard]] double y(double v) const { return box.bottom() - (v - y0) / (y1 - y0) * box.height(); }
    [[nodiscard]] QPointF at(double vx, double vy) const { return {x(vx), y(vy)}; }
    [[nodiscard]] double valueX(double pixel) const { return x0 + (pixel - box.left()) / box.width() * (x1 - x0); }
    [[nodiscard]] double valueY(double pixel) const { return y0 + (box.bottom() - pixel) / box.height() * (y1 - y0); }
    /// Grid lines and numbers; units as display units of the axis' kind.
    void draw(QPainter& painter, Kind xKind, Kind yKind, const QString& xTitle, const QString& yTitle) const;
};

/// A round step that gives about `about` lines over a span.
[[nodiscard]] double roundStep(double span, int about);

/// The physics of one stage, drawn from the plan.
class Picture : public QWidget {
    Q_OBJECT
public:
    explicit Picture(Document* document, project::Stage stage, QWidget* parent = nullptr);
    void present(const QString& channel);
    /// Paints into any device: screen, PNG or SVG.
    void render(QPainter& painter, const QRectF& box);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

private:
    void need(QPainter& p, const QRectF& box);
    void brief(QPainter& p, const QRectF& box);
    void match(QPainter& p, const QRectF& box);
    void feed(QPainter& p, const QRectF& box);
    void pins(QPainter& p, const QRectF& box);
    void pulse(QPainter& p, const QRectF& box);
    void routine(QPainter& p, const QRectF& box);
    void sceneCurrent(QPainter& p, const QRectF& box, bool withOutputs);
    void curves(QPainter& p, const QRectF& box, bool withPumps);
    [[nodiscard]] const plan::ChannelPlan* planned() const { return plan::findChannel(document_->model().plan, channel_.toStdString()); }

    Document* document_;
    project::Stage stage_;
    QString channel_;
    Axes axes_;                      ///< of the last curve, for dragging and reading off
    std::optional<QPointF> ring_;
    bool dragging_ = false;
    std::optional<QPointF> pointer_;
};

}  // namespace hinge::app
