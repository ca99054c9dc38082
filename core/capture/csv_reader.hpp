#pragma once
#include "capture/capture.hpp"
#include "capture/text_source.hpp"

namespace hinge::capture {

/// Rows of a time and one value a line; cells part at the comma, semicolon or tab that the first row
/// uses. A heading gives names, and the time's unit in brackets ("time [ms]"); without one it is seconds.
/// Columns of 0 and 1 are levels, others volts against the threshold. Lines that start with # or ; are skipped.
/// @error as read()
[[nodiscard]] Result<Capture> readCsv(TextSource& text, const std::string& name, const Options& options);

}  // namespace hinge::capture
