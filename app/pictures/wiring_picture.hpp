#pragma once
#include "drawing/circuit.hpp"
#include "pictures/picture.hpp"

namespace hinge::app {

/// Paints a drawing at its own size: one unit is a px of the painter.
/// @param lit  row of the list that is lit up; drawing::no_wire: none
void paintDrawing(QPainter& painter, const drawing::Drawing& drawing, const std::vector<plan::WireRow>& rows, int lit = drawing::no_wire);

/// Every circuit of the gadget on one sheet as wide as the page. A wire that is pointed at is lit up, and told.
class WiringPicture final : public Picture {
    Q_OBJECT
public:
    explicit WiringPicture(Document* document, QWidget* parent = nullptr);
    /// Draws anew what the project is now.
    void redraw();
    /// Of all circuits only that of a channel or input, as wide as the widget; empty: the supply's.
    void only(const QString& owner);
    void light(int wire);
    [[nodiscard]] std::vector<Spot> spots() const override;
    [[nodiscard]] int lit() const { return lit_; }
    /// Where a wire or a channel's circuit lies on the widget; empty where there is none.
    [[nodiscard]] QRectF placeOf(int wire) const;
    [[nodiscard]] QRectF circuitOf(const QString& owner) const;
    [[nodiscard]] QRectF circuitWith(int wire) const;
    [[nodiscard]] const drawing::Sheet& sheet() const { return sheet_; }
    /// A wire by the nearest of its lines; drawing::no_wire where none is within reach.
    [[nodiscard]] int wireAt(const QPointF& at) const;

Q_SIGNALS:
    void pointedAt(int wire);
    void chosen(int wire);
    void laid();  ///< where things lie has changed

protected:
    void draw(QPainter& painter, const QRectF& box) override;
    void resizeEvent(QResizeEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void bringIntoView(const QRect& place) override;

private:
    void lay();
    [[nodiscard]] QRectF placeOfDrawing(std::size_t k) const;
    static constexpr double margin = 28.0;
    [[nodiscard]] double size() const { return 1.2 * scale(); }
    /// Dots for each unit of the sheet, and where its corner lies.
    [[nodiscard]] double drawnAt() const;
    [[nodiscard]] QPointF corner() const { return QPointF(0.5 * margin, 0.36 * margin) * size(); }
    std::optional<QString> only_;
    std::vector<plan::WireRow> rows_;
    std::vector<drawing::Drawing> circuits_;
    drawing::Sheet sheet_;
    int lit_ = drawing::no_wire;
};

}  // namespace hinge::app
