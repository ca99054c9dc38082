#pragma once
#include "plan/wiring.hpp"

namespace hinge::report {

/// The crossbar as SVG: a row a channel, a column a stage, each with its figure and verdict's mark.
[[nodiscard]] std::string crossbarSvg(const plan::Plan& plan);
/// Who is wired to whom, as SVG: board, driver and mover of each channel with the pins and rails between them; inputs below.
[[nodiscard]] std::string wiringSvg(const project::Project& project, const plan::Plan& plan);

}  // namespace hinge::report
