#pragma once
#include "shell/document.hpp"

namespace hinge::app {

/// Facts that belong together, under a heading; an empty heading has none.
struct FactGroup {
    QString heading;
    std::vector<project::Fact> facts;
};
/// The few facts of a workplace: those of its stage, for the channel or for the whole gadget, with
/// the choices that the catalogue and the board offer.
[[nodiscard]] std::vector<FactGroup> factsOf(const Model& model, project::Stage stage, const QString& channel);

}  // namespace hinge::app
