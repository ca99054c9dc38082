#pragma once
#include "pictures/picture.hpp"
#include "stages/tune/response_view.hpp"

namespace hinge::app {

/// A loop's response: what was asked for, the target's band, this run over earlier ones, and the drive under it.
class ResponsePicture final : public Picture {
    Q_OBJECT
public:
    explicit ResponsePicture(Document* document, QWidget* parent = nullptr) : Picture(document, parent) {
        setObjectName("responsePicture");
    }
    void display(ResponseView view);
    [[nodiscard]] const ResponseView& view() const { return view_; }
    /// What the mouse has measured between two points, in words; empty: nothing.
    [[nodiscard]] QString measured() const;

protected:
    void draw(QPainter& painter, const QRectF& box) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

private:
    void setAxes(const QRectF& box);
    void drawGrid(QPainter& painter, const Axes& axes, double factor, const QString& unit, bool times);
    void drawGround(QPainter& painter);
    void drawCurves(QPainter& painter);
    void drawWords(QPainter& painter);
    void drawPointer(QPainter& painter);
    ResponseView view_;
    Axes upper_, lower_;
    std::optional<QPointF> pressed_, released_;  ///< s and value
};

}  // namespace hinge::app
