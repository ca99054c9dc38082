#pragma once
// The one place that opens files by name. Within a project's folder no link is followed, in no direction, and only plain files are
// read or written: what a stranger put there stays there.
#include <cstdint>
#include <ctime>
#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>
#include "quantity/result.hpp"

namespace hinge::files {

/// An open file of the system, closed with its last owner.
class Descriptor {
public:
    Descriptor() = default;
    explicit Descriptor(int number);
    [[nodiscard]] int number() const { return number_ ? *number_ : -1; }
    explicit operator bool() const { return number_ != nullptr; }
    void close() { number_.reset(); }

private:
    std::shared_ptr<const int> number_;
};

/// What a file looked like when it was looked at: another stamp is another content.
struct Stamp {
    std::uint64_t device = 0, node = 0, size = 0;
    std::int64_t seconds = 0, nanoseconds = 0;
    friend bool operator==(const Stamp&, const Stamp&) = default;
};

/// Sizes beyond which a file is not read, in bytes.
inline constexpr std::uintmax_t largest_project = 32u << 20, largest_photo = 64u << 20, largest_trial = 256u << 20,
                                largest_history = 512u << 20, largest_text = 512u << 20;

/// A folder held open: everything in it is reached from here, whatever happens to its name meanwhile.
/// Names inside are relative, '/' between their parts, without '..'.
class Folder {
public:
    struct Named {
        std::string name, bytes;
    };
    /// The way to the folder itself is the user's own: links in it are followed.
    /// @error NotFound  no such folder
    static Result<Folder> open(const std::filesystem::path& path);
    /// Makes it, and what is missing above it, first.
    /// @error NotWritable
    static Result<Folder> make(const std::filesystem::path& path);

    [[nodiscard]] const std::filesystem::path& path() const { return path_; }
    /// @error NotFound, NotPlain (a link, or no folder)
    [[nodiscard]] Result<Folder> inside(const std::string& name) const;
    /// @error NotWritable, NotPlain
    [[nodiscard]] Result<Folder> making(const std::string& name) const;

    /// Reads a plain file. Its kind and size are looked at on what was opened, before a byte is read.
    /// @error NotFound, NotPlain (a link, pipe, device, folder …), OutOfRange (larger than `most`, or changing all the time)
    [[nodiscard]] Result<std::string> read(const std::string& name, std::uintmax_t most) const;
    /// Writes a file whole or not at all: a new file beside it, then one rename. A file that is there keeps its permissions; a link that
    /// is there is replaced, not followed.
    /// @error NotWritable, NotPlain (a folder or the like has that name)
    [[nodiscard]] Result<void> write(const std::string& name, std::string_view bytes) const;
    /// Writes several files, all or none: only when each stands beside its place, flushed, are they renamed, in their order.
    /// @error as write: nothing has been changed then, but where the system refuses a rename after all of them could be written
    [[nodiscard]] Result<void> writeSet(const std::vector<Named>& files) const;
    /// Puts bytes behind what a plain file holds, in one piece; makes it where it is missing.
    /// @error NotWritable, NotPlain
    [[nodiscard]] Result<void> append(const std::string& name, std::string_view bytes) const;
    /// A new plain file to be written bit by bit.
    /// @error Conflict (there is one of that name), NotWritable, NotPlain
    [[nodiscard]] Result<Descriptor> create(const std::string& name) const;
    /// A plain file to be locked and rewritten in place; made where it is missing.
    /// @error NotWritable, NotPlain
    [[nodiscard]] Result<Descriptor> openToLock(const std::string& name) const;
    /// Removes a file or a link; what is not there is no error.
    /// @error NotWritable
    [[nodiscard]] Result<void> remove(const std::string& name) const;

    /// How a plain file looks now; none where there is none.
    [[nodiscard]] std::optional<Stamp> stamp(const std::string& name) const;
    [[nodiscard]] bool has(const std::string& name) const { return stamp(name).has_value(); }
    /// Names of the plain files in it, and of the folders, in alphabetical order; links and the like are left out.
    [[nodiscard]] std::vector<std::string> plainFiles() const;
    [[nodiscard]] std::vector<std::string> folders() const;

private:
    struct Beside;
    [[nodiscard]] Result<Beside> writeBeside(const std::string& name, std::string_view bytes) const;
    [[nodiscard]] Result<std::pair<Folder, std::string>> placeOf(const std::string& name, bool making) const;
    [[nodiscard]] std::vector<std::string> entries(unsigned kind) const;
    [[nodiscard]] Result<Descriptor> openOwn(const std::string& name, int how) const;
    Descriptor descriptor_;
    std::filesystem::path path_;
};

/// Reads a file that the user named: links in the way to it are followed, and it must be a plain file at their end.
/// @error as Folder::read
[[nodiscard]] Result<std::string> readWhole(const std::filesystem::path& path, std::uintmax_t most = largest_text);
/// Writes a file that the user named, as Folder::write does.
[[nodiscard]] Result<void> writeWhole(const std::filesystem::path& path, std::string_view bytes);
/// Writes all bytes, going on after interruptions; the system's reason otherwise, 0 on success.
[[nodiscard]] int writeAll(int descriptor, std::string_view bytes);
/// Copies the plain files of a folder, and of those in it, into another; what is there already stays. Links are left out.
/// @error NotWritable, OutOfRange
[[nodiscard]] Result<void> copyPlain(const Folder& from, const Folder& to);

}  // namespace hinge::files
