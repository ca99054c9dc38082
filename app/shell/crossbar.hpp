#pragma once
#include <optional>
#include <utility>
#include "shell/document.hpp"
#include "shell/scrolled_rows.hpp"

class QPainter;

namespace hinge::app {

/// The whole grid: one cell a channel and stage.
class Crossbar final : public ScrolledRows {
    Q_OBJECT
public:
    explicit Crossbar(QWidget* parent = nullptr);
    void present(const Model& model);
    /// The figure of a cell, for tests and copying.
    [[nodiscard]] QString figure(int row, int stage) const;
    [[nodiscard]] std::vector<Spot> spots() const override;
Q_SIGNALS:
    void chosen(const QString& channel, int stage);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    bool event(QEvent* event) override;

private:
    [[nodiscard]] int rowHeight() const;
    void drawCell(QPainter& painter, const QRectF& box, const plan::Cell& cell, bool small);
    [[nodiscard]] std::optional<std::pair<int, int>> cellAt(const QPointF& at) const;
    std::vector<plan::ChannelPlan> channels_;
    std::optional<std::pair<int, int>> under_;  ///< row and stage below the pointer
};

}  // namespace hinge::app
