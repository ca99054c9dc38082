#pragma once
#include <filesystem>
#include <string>
#include <vector>
#include "project/project.hpp"
#include "quantity/result.hpp"

namespace hinge::catalogue {

/// A row or column that could not be used, and why.
struct Problem {
    std::string file;
    int row = 0;  ///< 1 is the header
    std::string column;
    std::string value;
    std::string why;
};

struct Loaded {
    project::Parts parts;
    std::vector<Problem> problems;  ///< rows named here were left out; all others are whole
};

/// One kind of part: its file is NAME.csv.
struct PartKind {
    std::string name;                  ///< "motors"
    std::string label;                 ///< in words
    std::vector<std::string> columns;  ///< that it knows, in the order of the shipped files
};
[[nodiscard]] const std::vector<PartKind>& kinds();

/// Reads the CSV files of a folder, one a kind of part. The header names each column with its unit,
/// "stall_current [A]"; an empty cell is unknown.
/// @error NotFound   the folder has none of the files
/// @error BadFormat  a file's header lacks a column that every part needs
[[nodiscard]] Result<Loaded> load(const std::filesystem::path& folder);
/// The same from text, for one kind of part.
/// @error Unknown    no such kind
/// @error BadFormat
[[nodiscard]] Result<Loaded> read(const std::string& kind, const std::string& csv, const std::string& file);
/// One part from what a data sheet says, "name: …; nominal voltage: 12 V; stall current: 2.4 A", figures
/// apart by ';' or on lines of their own. What is not said stays unknown; the id is made from the name.
/// @error Missing  no name, or a figure that every part of the kind needs
[[nodiscard]] Result<Loaded> fromLine(const std::string& kind, const std::string& line);
/// The file of a kind with these parts, header in SI; reads back as the same parts. @error Unknown
[[nodiscard]] Result<std::string> write(const std::string& kind, const project::Parts& parts, const std::vector<std::string>& ids);
/// In which file a part stands, "motors"; empty when it is not there.
[[nodiscard]] std::string kindOfPart(const project::Parts& parts, const std::string& id);
/// The rows left out as a CSV: file, row, column, value, why.
[[nodiscard]] std::string problemTable(const std::vector<Problem>& problems);
/// Adds parts; one of the same id takes the earlier one's place.
void merge(Loaded& into, Loaded more);

}  // namespace hinge::catalogue
