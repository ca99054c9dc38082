#pragma once
#include <QString>
#include "shell/document.hpp"

namespace hinge::app {

/// What a workplace says first, and how to read its picture.
struct Opening {
    QString sentence;
    QString hint;
};
/// Made from the plan; no widget in it.
/// @param tab  the one that is open, of Prove and Log: their sentence is about that
[[nodiscard]] Opening openingOf(const Model& model, project::Stage stage, const QString& channel, int tab = 0);
/// Why there is no sketch: what it does not drive or read, or what is still missing.
[[nodiscard]] QString whyNoSketch(const Model& model);

}  // namespace hinge::app
