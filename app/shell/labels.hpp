#pragma once
// The few ready-made pieces that pages are laid out from.
#include <QString>
#include "theme/theme.hpp"

class QLayout;
class QFrame;
class QLabel;
class QPushButton;
class QScrollArea;
class QWidget;

namespace hinge::app {

/// A wrapped label in one of the house's sizes.
[[nodiscard]] QLabel* label(const QString& words, Text size, const QColor& colour);
/// A body that scrolls up and down only.
[[nodiscard]] QScrollArea* scrolled(QWidget* body);
/// A button in the small size, found by its name, that says on its tool-tip why one would press it.
[[nodiscard]] QPushButton* smallButton(const QString& words, const QString& name, const QString& why);
/// A frame with a coloured bar on its left and a vertical layout inside.
[[nodiscard]] QFrame* barred(const QColor& bar, bool onCard = false);
/// Empties a layout; its widgets are deleted when the event that asked for it is over.
void clear(QLayout* layout);
/// Changes with theme and text size: part of every 'is it shown already' key.
[[nodiscard]] QString themeKey();

}  // namespace hinge::app
