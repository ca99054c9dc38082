#pragma once
// Every state that a project has been in: one line each in history.jsonl, the first and every fiftieth whole, the others as what changed.
#include <cstdint>
#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <vector>
#include "files/folder.hpp"
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
    /// Reads a folder's history. A line that cannot be read costs the states from there to the next whole one; what stands in the file is
    /// never taken out of it.
    /// @error NotPlain, NotReadable, OutOfRange  what lies there is no history, or too large: nothing is written behind it either
    static Result<History> open(const files::Folder& folder);
    History() = default;
    struct Entry {
        std::string date;   ///< ISO 8601
        std::string words;  ///< of who did it: "undone", "back to 2026-11-20"; may be empty
        std::vector<Change> changes;
        bool known = true;  ///< false: what changed can be told, the state itself cannot; a line before it is damaged
    };
    /// Notes a state, where it differs from the last one. Line and line break go to the system in one piece; the first state of all goes
    /// with the second.
    /// @error NotWritable  it is kept in memory all the same
    [[nodiscard]] Result<void> note(const project::Project& now, const std::string& date, const std::string& words = {});
    [[nodiscard]] std::size_t size() const { return entries_.size(); }
    [[nodiscard]] const Entry& entry(std::size_t index) const { return entries_[index].told; }
    /// Lines that could not be read.
    [[nodiscard]] std::size_t damaged() const { return damaged_; }
    /// The project as it was after an entry.
    /// @error OutOfRange, BadFormat
    [[nodiscard]] Result<project::Project> at(std::size_t index) const;
    /// From now on nothing is written: another window has the project.
    void inMemory() { folder_.reset(); }
    /// Moves what is in memory to a folder, behind what is there.
    /// @error NotWritable, and as open
    [[nodiscard]] Result<void> keepIn(const files::Folder& folder);

private:
    struct Kept {
        Entry told;
        std::string line;  ///< its JSON
        bool whole = false;
    };
    void read(std::string_view text);
    [[nodiscard]] Result<void> write(const std::string& lines);
    std::optional<files::Folder> folder_;  ///< none: memory only
    std::vector<Kept> entries_;
    using State = std::shared_ptr<const nlohmann::ordered_json>;
    State base_;  ///< the state that the lines lead to, as a reader will find it; none: the next line is a whole state
    State last_;  ///< the last state, as a project writes it
    std::size_t since_whole_ = 0, damaged_ = 0;
    std::uint64_t length_ = 0;  ///< bytes of the file that these entries stand for
    bool cut_ = false;          ///< the file ends in the middle of a line
};

}  // namespace hinge::store
