#pragma once
#include "plan/wiring.hpp"

namespace hinge::report {

/// The crossbar as SVG: a row a channel, a column a stage, each with its figure and verdict's mark.
[[nodiscard]] std::string crossbarSvg(const plan::Plan& plan);

}  // namespace hinge::report
