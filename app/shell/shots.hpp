#pragma once
#include "shell/main_window.hpp"

namespace hinge::app {

/// Renders every main view of the open project at 1280×800 as PNG into a folder.
/// @param which  "": those only; "all": every other picture too, for looking at; "prove", "log": those of one stage
/// @return       how many could not be written
[[nodiscard]] int shots(MainWindow& window, Document& document, const QString& folder, const QString& which);

}  // namespace hinge::app
