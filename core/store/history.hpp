#pragma once
// Every state that a project has been in: one line each in history.jsonl, the first and every fiftieth whole, the others as what changed.
#include <filesystem>
#include <string>
#include <vector>
#include "project/project.hpp"
#include "quantity/result.hpp"

namespace hinge::store {

/// One fact that changed, by its path: "channels/rain/drive/part". What was not there, or is no more, is empty.
struct Change {
    std::string path, before, after;
    friend bool operator==(const Change&, const Change&) = default;
};
/// What differs between two projects, in the order of the file; entries of lists are known by their ids.
/// A part of a list that is there only once stands as one change.
[[nodiscard]] std::vector<Change> changesBetween(const project::Project& before, const project::Project& after);

class History {
public:
    /// Reads a folder's history; a line that was cut short, or cannot be read, ends it there, and what follows is written anew from that
    /// state on. Without a folder it is kept in memory only.
    static History open(const std::filesystem::path& folder);
    History() = default;
    struct Entry {
        std::string date;   ///< ISO 8601
        std::string words;  ///< of who did it: "undone", "back to 2026-11-20"; may be empty
        std::vector<Change> changes;
    };
    /// Notes a state, where it differs from the last one. Line and line break go to the system in one piece; the first state of all goes
    /// with the second.
    /// @error NotWritable  it is kept in memory all the same
    [[nodiscard]] Result<void> note(const project::Project& now, const std::string& date, const std::string& words = {});
    [[nodiscard]] std::size_t size() const { return entries_.size(); }
    [[nodiscard]] const Entry& entry(std::size_t index) const { return entries_[index].told; }
    /// The project as it was after an entry.
    /// @error OutOfRange, BadFormat
    [[nodiscard]] Result<project::Project> at(std::size_t index) const;
    /// Moves what is in memory to a folder, behind what is there.
    [[nodiscard]] Result<void> keepIn(const std::filesystem::path& folder);

private:
    struct Kept {
        Entry told;
        std::string line;  ///< its JSON
        bool whole = false;
    };
    [[nodiscard]] Result<void> write(const std::string& line);
    std::filesystem::path file_;  ///< empty: memory only
    std::vector<Kept> entries_;
    std::string last_;  ///< JSON text of the last state
    std::size_t since_whole_ = 0;
};

}  // namespace hinge::store
