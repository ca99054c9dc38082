#pragma once
// CSV (RFC 4180) read by libcsv, and written; one place for every file and table of the program but captures, which are streamed.
#include <string>
#include <string_view>
#include <vector>
#include "quantity/result.hpp"

namespace hinge {
inline namespace quantity {

using CsvRow = std::vector<std::string>;

/// A whole text. Blanks around a field that is not in quotes are not part of it; empty lines are left out.
/// @error BadFormat  a quotation mark stands where none may, or one is missing; `file` and the row are named
[[nodiscard]] Result<std::vector<CsvRow>> csvRows(std::string_view text, const std::string& file);

/// The fields of one line: at least one, which may be empty. What is not in order is read as far as it goes.
[[nodiscard]] CsvRow csvFields(std::string_view line);

/// A field as it stands in a line: in quotes where it holds a comma, a quote or a line break.
[[nodiscard]] std::string csvCell(const std::string& text);

}  // namespace quantity
}  // namespace hinge
