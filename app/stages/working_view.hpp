#pragma once
#include "shell/document.hpp"

namespace hinge::app {

/// Which colour a block's bar has.
enum class Tone { Hinge, Spark, Time, Breaks, Plain };

/// One step or statement: what it is, its lines, and where it comes from.
struct WorkingBlock {
    Tone tone = Tone::Plain;
    QString meaning;
    QStringList lines;
    QString source;
    qsizetype formulas = 0;  ///< of its lines, how many are set as in a book
    QString symbol{};        ///< what they come to
};
struct WorkingGroup {
    QString heading;
    std::vector<WorkingBlock> blocks;
};
/// The working behind a workplace's figures: formula, numbers put in, value, source; for Routine
/// the proof, for Code the compile.
[[nodiscard]] std::vector<WorkingGroup> workingOf(const Model& model, project::Stage stage, const QString& channel);

}  // namespace hinge::app
