#pragma once
#include <QString>
#include "firmware/habits.hpp"
#include "proof/own_sketch.hpp"

namespace hinge::app {

/// What a sketch of the maker's own did and what stands in it, what breaks first.
[[nodiscard]] QString ownReportHtml(const std::vector<proof::OwnFact>& facts, const std::vector<firmware::Habit>& habits);

}  // namespace hinge::app
