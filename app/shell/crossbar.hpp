#pragma once
#include <QWidget>
#include <optional>
#include <utility>
#include "shell/document.hpp"

class QPainter;

namespace hinge::app {

/// The whole grid: one cell a channel and stage.
class Crossbar final : public QWidget {
    Q_OBJECT
public:
    explicit Crossbar(QWidget* parent = nullptr);
    void present(const Model& model);
    /// The figure of a cell, for tests and copying.
    [[nodiscard]] QString figure(int row, int stage) const;
    /// Rows scroll together with the other edge when there are too many to fit.
    void setOffset(int pixels);
Q_SIGNALS:
    void wheeled(int pixels);
    void chosen(const QString& channel, int stage);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    bool event(QEvent* event) override;

private:
    int offset_ = 0;
    [[nodiscard]] int rowHeight() const;
    void drawCell(QPainter& painter, const QRectF& box, const plan::Cell& cell, bool small);
    [[nodiscard]] std::optional<std::pair<int, int>> cellAt(const QPointF& at) const;
    std::vector<plan::ChannelPlan> channels_;
    std::optional<std::pair<int, int>> under_;  ///< row and stage below the pointer
};

}  // namespace hinge::app
