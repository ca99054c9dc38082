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

/// Reads pumps.csv and switches.csv of a folder. The header names each column with its unit,
/// "stall_current [A]"; an empty cell is unknown.
/// @error NotFound   the folder has neither file
/// @error BadFormat  a file's header lacks a column that every part needs
[[nodiscard]] Result<Loaded> load(const std::filesystem::path& folder);
/// The same from text, for one kind of part. @error BadFormat
[[nodiscard]] Result<Loaded> readPumps(const std::string& csv, const std::string& file);
[[nodiscard]] Result<Loaded> readSwitches(const std::string& csv, const std::string& file);

}  // namespace hinge::catalogue
