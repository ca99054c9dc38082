#pragma once
#include "shell/document.hpp"

namespace hinge::app {

struct BriefLine {
    QString title, words;
    QString channel;
    int stage = 0;
    QString path{};  ///< of a fact that can be typed on the spot
};
struct BriefView {
    std::vector<BriefLine> unknown, hazards;
    QString key;  ///< changes when anything shown does
};
/// What is still to be measured or decided, and the hazards that follow from the choices.
[[nodiscard]] BriefView briefView(const Model& model);

}  // namespace hinge::app
