#pragma once
// What says a verdict besides its colour, so that it reads in grey.
#include <QPainter>
#include <optional>
#include "theme/theme.hpp"

namespace hinge::app {

/// The word a person reads: holds, tight, breaks, not known.
[[nodiscard]] QString verdictWord(Verdict verdict);
/// Its colour on paper and card: never the only sign.
[[nodiscard]] QColor verdictColour(Verdict verdict);
/// The mark in the upper right corner of a box: an open triangle (tight), a filled square with a
/// notch (breaks), a dashed outline (not known); holds has none.
void drawMark(QPainter& painter, const QRectF& box, Verdict verdict);
/// The headroom bar: value against its limit. Holds ends before the tick; tight has its last fifth
/// hatched; breaks has a gap at the tick and a blunt end beyond it; not known is a dashed outline.
/// @param share  value over limit; nullopt draws the outline when the verdict is not known
void drawHeadroom(QPainter& painter, const QRectF& box, std::optional<double> share, Verdict verdict, const QColor& colour,
                  bool onStrip = false);
/// The verdict of a share alone: above 1 breaks, above 0.8 tight.
[[nodiscard]] Verdict verdictOfShare(std::optional<double> share);

}  // namespace hinge::app
