#pragma once
#include "project/project.hpp"
#include "quantity/result.hpp"
#include <filesystem>
#include <string>
#include <vector>

namespace hinge::catalogue {

/// A row or column that could not be used, and why.
struct Problem {
    std::string file;
    int row = 0;            ///< 1 is the header
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
    std::string name;                   ///< "motors"
    std::string label;                  ///< in words
    std::vector<std::string> columns;   ///< that it knows, in the order of the shipped files
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
/// Adds parts; one of the same id takes the earlier one's place.
void merge(Loaded& into, Loaded more);

}  // namespace hinge::catalogue
