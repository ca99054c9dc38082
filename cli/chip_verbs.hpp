#pragma once
#include "plan/plan.hpp"
#include "simulation/simulate.hpp"

namespace hinge::cli {

/// Says an error in one line and gives its exit status.
int report(const Error& error);
/// The events of a CSV file; none for an empty name. @error as parseEvents, NotFound
[[nodiscard]] Result<std::vector<simulation::Event>> scriptOf(const std::string& file);
/// `examine`: a maker's own firmware on the emulated board, against the plan.
int examine(const project::Project& project, const project::Parts& parts, const plan::Plan& plan, const std::string& firmware,
            const std::string& length, const std::string& events, bool json);
/// `upload`: onto the board on a port.
int uploadSketch(const project::Project& project, const plan::Plan& plan, const std::string& port, bool made_safe);

}  // namespace hinge::cli
