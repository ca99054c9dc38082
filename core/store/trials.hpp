#pragma once
// The trials of a project: one CSV each in its folder, written row by row as they run.
#include <filesystem>
#include "files/folder.hpp"
#include "journal/trial.hpp"
#include "quantity/result.hpp"

namespace hinge::store {

/// Writes a trial as it runs, so that a crash costs no more than the last row.
class TrialWriter {
public:
    /// Makes the folder and the file, and writes its head.
    /// @error NotWritable, NotPlain; Conflict: there is a trial of that name
    static Result<TrialWriter> begin(const std::filesystem::path& folder, const journal::Trial& trial);
    /// Adds a row and hands it to the system.
    /// @error NotWritable  the disk is full, or has gone
    [[nodiscard]] Result<void> add(const journal::TrialRow& row);
    [[nodiscard]] const std::filesystem::path& path() const { return path_; }

private:
    [[nodiscard]] Result<void> put(const std::string& text);
    std::filesystem::path path_;
    files::Descriptor file_;
};

struct Trials {
    std::vector<journal::Trial> list;   ///< in the order of their numbers
    std::vector<std::string> problems;  ///< files that are no trials, and why
};
/// Reads all of them; a folder that is not there has none.
[[nodiscard]] Trials readTrials(const std::filesystem::path& folder);
/// "trial-8" when seven are there.
[[nodiscard]] std::string nextTrial(const std::filesystem::path& folder);
/// Writes a trial's head anew, its comment changed, whole or not at all.
/// @error NotFound, NotWritable, BadFormat
[[nodiscard]] Result<void> commentTrial(const std::filesystem::path& folder, const std::string& id, const std::string& comment);
[[nodiscard]] Result<void> removeTrial(const std::filesystem::path& folder, const std::string& id);
/// Takes trials and photos along when a project is saved elsewhere. What is there already stays.
[[nodiscard]] Result<void> takeAlong(const std::filesystem::path& from, const std::filesystem::path& to);

}  // namespace hinge::store
