#pragma once
// CSV (RFC 4180) read by libcsv, and written; one place for every file and table of the program but captures, which are streamed.
#include <string>
#include <string_view>
#include <vector>
#include "quantity/result.hpp"

namespace hinge {
inline namespace quantity {

using CsvRow = std::vector<std::string>;

/// A whole text, with or without a byte-order mark, whatever its lines end with; its fields are parted by commas, or by semicolons where
/// its first line has those and no comma. Blanks around a field that is not in quotes are not part of it; empty lines are left out.
/// @error BadFormat  a quotation mark stands where none may, or one is missing; `file` and the row are named
[[nodiscard]] Result<std::vector<CsvRow>> csvRows(std::string_view text, const std::string& file);

/// The fields of one line: at least one, which may be empty. What is not in order is read as far as it goes.
[[nodiscard]] CsvRow csvFields(std::string_view line, char between = ',');
/// What parts the fields of a text: a semicolon where its first line has one and no comma, else a comma.
[[nodiscard]] char csvBetween(std::string_view text);
/// Takes a byte-order mark off its begin.
void dropByteOrderMark(std::string_view& text);

/// A field as it stands in a line: in quotes where it holds a comma, a quote or a line break.
[[nodiscard]] std::string csvCell(const std::string& text);

/// The same of a text for somebody's spreadsheet: what would be run there as a formula (= + - @, a tab) gets an apostrophe before it; a
/// number stays one. @source common practice, no published source
[[nodiscard]] std::string csvText(const std::string& text);
/// A text as it was before csvText().
[[nodiscard]] std::string fromCsvText(std::string text);

}  // namespace quantity
}  // namespace hinge
