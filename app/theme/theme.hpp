#pragma once
#include <QColor>
#include <QFont>
#include <QPalette>
#include <QString>
#include "plan/plan.hpp"

namespace hinge::app {

/// Colours of one theme. Two families and a third for time; a quantity keeps its family everywhere.
struct Palette {
    QColor paper, card, line, ink, soft;
    QColor hinge, hingeTint, spark, sparkTint, time, timeTint;
    QColor breaks, tight;
    QColor strip, stripInk, stripSoft, stripBreaks, stripSpark, stripTrack;
};
[[nodiscard]] const Palette& lightPalette();
[[nodiscard]] const Palette& darkPalette();
/// The palette in use; set once at the start, and when the desktop's setting changes.
[[nodiscard]] const Palette& colours();
void useDark(bool dark);
[[nodiscard]] bool isDark();

[[nodiscard]] QColor colourOf(plan::Family family);
[[nodiscard]] QColor tintOf(plan::Family family);

/// B612 in the sizes of the house; pixel sizes follow the font scale.
enum class Text { Small, Body, Figure, Sentence, Title, Mono };
[[nodiscard]] QFont textFont(Text text);
void loadFonts();
/// Scale of all text and edges, 1 usual.
[[nodiscard]] double scale();
void setScale(double factor);
[[nodiscard]] int px(double size);

[[nodiscard]] QString houseStyle();
[[nodiscard]] QPalette housePalette();
/// Contrast of two colours as WCAG 2 defines it, 1 to 21.
[[nodiscard]] double contrast(const QColor& a, const QColor& b);

}  // namespace hinge::app
