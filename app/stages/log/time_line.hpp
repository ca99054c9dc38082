#pragma once
#include "pictures/spots.hpp"
#include "shell/document.hpp"

namespace hinge::app {

/// The gadget's life from left to right: a lane for each channel with what was written of it, the changes of the plan, and what it has cost
/// so far.
class TimeLine final : public SpotWidget {
    Q_OBJECT
public:
    explicit TimeLine(Document* document, QWidget* parent = nullptr);
    void present(const QString& channel);
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] std::vector<Spot> spots() const override;

Q_SIGNALS:
    /// An entry's mark was pressed.
    void picked(const QString& entry);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    bool event(QEvent* event) override;

private:
    struct Mark {
        QRectF box;
        QString entry, words;
    };
    struct Sheet;
    [[nodiscard]] const Mark* at(const QPointF& point) const;
    /// Null where nothing has a date yet.
    [[nodiscard]] std::optional<Sheet> sheet() const;
    void drawLegend(QPainter& painter) const;
    void drawDays(QPainter& painter, const Sheet& sheet) const;
    void drawLanes(QPainter& painter, const Sheet& sheet) const;
    void drawChanges(QPainter& painter, const Sheet& sheet) const;
    void drawPaid(QPainter& painter, const Sheet& sheet) const;
    void drawEntries(QPainter& painter, const Sheet& sheet);

    Document* document_;
    QString channel_;
    std::vector<Mark> marks_;
};

}  // namespace hinge::app
