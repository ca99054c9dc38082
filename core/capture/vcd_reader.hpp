#pragma once
#include "capture/capture.hpp"
#include "capture/text_source.hpp"

namespace hinge::capture {

/// Value change dump: scalars, vectors (bit by bit) and reals against the threshold; x and z are unknown.
/// @error as read()
/// @source ieee-1364
[[nodiscard]] Result<Capture> readVcd(TextSource& text, const std::string& name, const Options& options);

}  // namespace hinge::capture
