#pragma once
#include <optional>
#include "pictures/chart.hpp"
#include "pictures/spots.hpp"
#include "shell/document.hpp"

namespace hinge::app {

/// The physics of one stage, drawn from the plan. A subclass draws; copying and saving as SVG or
/// PNG, and the pointer that reads values off, are here.
class Picture : public SpotWidget {
    Q_OBJECT
public:
    explicit Picture(Document* document, QWidget* parent = nullptr);
    void present(const QString& channel);
    /// Paints into any device: screen, PNG or SVG.
    void render(QPainter& painter, const QRectF& box);

protected:
    virtual void draw(QPainter& painter, const QRectF& box) = 0;
    void paintEvent(QPaintEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

    [[nodiscard]] const Model& model() const { return document_->model(); }
    [[nodiscard]] const project::Channel* channel() const { return project::findChannel(model().project, channel_.toStdString()); }
    [[nodiscard]] const plan::ChannelPlan* planned() const { return plan::findChannel(model().plan, channel_.toStdString()); }
    /// Said in the middle when there is nothing to draw yet: what it waits for.
    static void waits(QPainter& painter, const QRectF& box, const QString& words);

    Document* document_;
    QString channel_;
    std::optional<QPointF> pointer_;
};

}  // namespace hinge::app
