#pragma once
#include <string>
#include <vector>
#include "firmware/sketch.hpp"

namespace hinge::firmware {

/// The headers of core/firmware/runtime as the emitted folder has them, "src/spark_motion.h", byte for byte.
[[nodiscard]] const std::vector<SketchFile>& runtimeFiles();

}  // namespace hinge::firmware
