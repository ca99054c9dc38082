#pragma once
// The history as a page shows it; no widget here.
#include <QString>
#include <vector>
#include "project/project.hpp"
#include "store/history.hpp"

namespace hinge::app {

/// One line of the list: when, and what in words.
struct HistoryLine {
    std::size_t entry = 0;
    QString when, what;
    int changes = 0;
};
/// A change for a person: whose it is, which fact, before and after.
struct ChangeLine {
    QString whose, fact, before, after;
};

/// Newest first, at most so many.
[[nodiscard]] std::vector<HistoryLine> historyLines(const store::History& history, const project::Project& now, std::size_t most = 400);
/// What differs, in a person's words; wires and firmware are not facts, and stand in the plan.
[[nodiscard]] std::vector<ChangeLine> changeLines(const std::vector<store::Change>& changes, const project::Project& now);

}  // namespace hinge::app
