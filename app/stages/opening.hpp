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
[[nodiscard]] Opening openingOf(const Model& model, project::Stage stage, const QString& channel);
/// Why there is no sketch: what it does not drive or read, or what is still missing.
[[nodiscard]] QString whyNoSketch(const Model& model);

}  // namespace hinge::app
