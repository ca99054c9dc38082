#pragma once
// Formulas set as in a book.
#include <QFont>
#include <QPainter>
#include <QString>
#include <QWidget>
#include <optional>
#include "working/formula.hpp"

namespace hinge::app {

/// Room that a formula takes: above and below its line.
struct FormulaRoom {
    double width = 0.0, up = 0.0, down = 0.0;
};
[[nodiscard]] FormulaRoom roomOf(const Math& math, const QFont& font);
/// @param at  where its line begins. Its symbols' boxes are added to `symbols`, where that is given.
struct FormulaSymbol {
    QRectF box;
    QString text;
};
void drawFormula(QPainter& p, const Math& math, const QFont& font, QPointF at, std::vector<FormulaSymbol>* symbols = nullptr);
/// Cut into lines of a width, before operators; a part that is wider by itself stands alone.
[[nodiscard]] std::vector<Math> inLines(const Math& math, const QFont& font, double width);

/// One formula as a widget: as many lines as it needs. Its line can be copied; a press on a symbol is told.
class FormulaLine final : public QWidget {
    Q_OBJECT
public:
    FormulaLine(const QString& line, const QColor& colour, QWidget* parent = nullptr);
    [[nodiscard]] QString line() const { return line_; }
    /// Where its symbols stand, as last painted.
    [[nodiscard]] const std::vector<FormulaSymbol>& symbols() const { return symbols_; }
    [[nodiscard]] bool hasHeightForWidth() const override { return true; }
    [[nodiscard]] int heightForWidth(int width) const override;
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override;
Q_SIGNALS:
    void symbolPressed(const QString& symbol);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

private:
    [[nodiscard]] std::optional<QString> symbolAt(QPointF at) const;
    QString line_;
    QColor colour_;
    QFont font_;
    Math math_;
    std::vector<FormulaSymbol> symbols_;
};

}  // namespace hinge::app
