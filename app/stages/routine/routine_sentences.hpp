#pragma once
#include "shell/document.hpp"

namespace hinge::app {

/// The routine as sentences, each changeable word a link to its fact ("fact:path").
[[nodiscard]] QString routineHtml(const Model& model);

}  // namespace hinge::app
