#include "stages/routine/colour_choice.hpp"
#include <QColorDialog>
#include <QCoreApplication>
#include "theme/text.hpp"

namespace hinge::app {

std::optional<std::string> chooseColour(QWidget* over, const std::string& now) {
    QColorDialog dialog(over);
    dialog.setObjectName("colourOfLamp");
    dialog.setWindowTitle(QCoreApplication::translate("RoutinePage", "The colour that it shines in"));
    dialog.setOption(QColorDialog::DontUseNativeDialog);
    dialog.setCurrentColor(now.empty() ? QColor(Qt::white) : QColor(text(now)));
    if (dialog.exec() != QDialog::Accepted) return std::nullopt;
    return dialog.currentColor().name().toStdString();
}

}  // namespace hinge::app
