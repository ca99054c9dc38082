#include "files/folder.hpp"
#include <dirent.h>
#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>
#include <algorithm>
#include <atomic>
#include <cerrno>
#include <cstring>
#include <utility>

namespace hinge::files {
namespace {

namespace fs = std::filesystem;

const char* kindOf(const struct stat& seen) {
    if (S_ISDIR(seen.st_mode)) return "a folder";
    if (S_ISLNK(seen.st_mode)) return "a link";
    if (S_ISFIFO(seen.st_mode)) return "a pipe";
    if (S_ISSOCK(seen.st_mode)) return "a socket";
    return "a device";
}
tl::unexpected<Error> notPlain(const fs::path& path, const char* kind) {
    return fail(ErrorCode::NotPlain, path.string(), kind, "only plain files are read or written there; links are not followed");
}
tl::unexpected<Error> notWritable(const fs::path& path, int reason) {
    return fail(ErrorCode::NotWritable, path.string(), std::strerror(reason), "what was saved before is still whole");
}
tl::unexpected<Error> notReadable(const fs::path& path, int reason) {
    if (reason == ENOENT || reason == ENOTDIR)
        return fail(ErrorCode::NotFound, path.string(), "", "check the name, or choose another folder");
    return fail(ErrorCode::NotReadable, path.string(), std::strerror(reason), "look at its permissions");
}

Stamp stampOf(const struct stat& seen) {
    return {seen.st_dev, seen.st_ino, static_cast<std::uint64_t>(seen.st_size), seen.st_mtim.tv_sec, seen.st_mtim.tv_nsec};
}

// What stands under a name, links not followed; its kind, or nullptr for a plain file or nothing.
const char* inTheWay(int folder, const std::string& name) {
    struct stat seen {};
    if (::fstatat(folder, name.c_str(), &seen, AT_SYMLINK_NOFOLLOW) != 0 || S_ISREG(seen.st_mode)) return nullptr;
    return kindOf(seen);
}

enum class Read { Done, Changed, Failed };
// One reading of an open plain file, held against its stamp before and after.
Read readOnce(int file, std::uintmax_t most, std::string& bytes, int& reason) {
    struct stat before {
    }, after{};
    if (::fstat(file, &before) != 0 || ::lseek(file, 0, SEEK_SET) != 0) return reason = errno, Read::Failed;
    bytes.resize(static_cast<std::size_t>(before.st_size));
    std::size_t come = 0;
    for (;;) {
        if (come == bytes.size()) bytes.resize(come + 4096);
        const auto n = ::read(file, bytes.data() + come, bytes.size() - come);
        if (n < 0 && errno == EINTR) continue;
        if (n < 0) return reason = errno, Read::Failed;
        if (n == 0) break;
        come += static_cast<std::size_t>(n);
        if (come > most) return Read::Changed;
    }
    bytes.resize(come);
    if (::fstat(file, &after) != 0) return reason = errno, Read::Failed;
    return stampOf(before) == stampOf(after) && come == static_cast<std::size_t>(after.st_size) ? Read::Done : Read::Changed;
}

Result<std::string> readOpen(const Descriptor& file, const fs::path& path, std::uintmax_t most) {
    struct stat seen {};
    if (::fstat(file.number(), &seen) != 0) return notReadable(path, errno);
    if (!S_ISREG(seen.st_mode)) return notPlain(path, kindOf(seen));
    if (static_cast<std::uintmax_t>(seen.st_size) > most)
        return fail(ErrorCode::OutOfRange, path.string(), fmt::format("{:.1f} MB", static_cast<double>(seen.st_size) / 1048576.0),
                    fmt::format("at most {} MB", most >> 20));
    std::string bytes;
    for (int turn = 0; turn < 3; ++turn) {
        int reason = 0;
        const auto done = readOnce(file.number(), most, bytes, reason);
        if (done == Read::Done) return bytes;
        if (done == Read::Failed) return notReadable(path, reason);
    }
    return fail(ErrorCode::NotReadable, path.string(), "it is being written at this moment", "try again when that has ended");
}

std::atomic<unsigned> next_part{0};

}  // namespace

Descriptor::Descriptor(int number) {
    if (number >= 0)
        number_ = std::shared_ptr<const int>(new int{number}, [](const int* held) {
            ::close(*held);
            delete held;
        });
}

int writeAll(int descriptor, std::string_view bytes) {
    while (!bytes.empty()) {
        const auto n = ::write(descriptor, bytes.data(), bytes.size());
        if (n < 0 && errno == EINTR) continue;
        if (n < 0) return errno;
        bytes.remove_prefix(static_cast<std::size_t>(n));
    }
    return 0;
}

Result<Folder> Folder::open(const fs::path& path) {
    Folder folder;
    const fs::path place = path.empty() ? fs::path{"."} : path;
    folder.descriptor_ = Descriptor{::open(place.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC)};
    if (!folder.descriptor_) return notReadable(path, errno);
    folder.path_ = path;
    return folder;
}

Result<Folder> Folder::make(const fs::path& path) {
    std::error_code error;
    if (!path.empty()) fs::create_directories(path, error);
    if (error) return fail(ErrorCode::NotWritable, path.string(), error.message(), "choose another folder");
    auto folder = open(path);
    if (!folder) return fail(ErrorCode::NotWritable, path.string(), folder.error().value, "choose another folder");
    return folder;
}

Result<Folder> Folder::inside(const std::string& name) const {
    Folder folder = *this;
    folder.path_ = path_ / name;
    folder.descriptor_ = Descriptor{::openat(descriptor_.number(), name.c_str(), O_RDONLY | O_DIRECTORY | O_NOFOLLOW | O_CLOEXEC)};
    if (folder.descriptor_) return folder;
    const int reason = errno;
    if (const auto* kind = inTheWay(descriptor_.number(), name)) return notPlain(folder.path_, kind);
    return notReadable(folder.path_, reason);
}

Result<Folder> Folder::making(const std::string& name) const {
    if (::mkdirat(descriptor_.number(), name.c_str(), 0755) != 0 && errno != EEXIST) return notWritable(path_ / name, errno);
    auto folder = inside(name);
    if (!folder && folder.error().code == ErrorCode::NotFound) return notWritable(path_ / name, ENOTDIR);
    return folder;
}

// The folder that a name's last part lies in.
Result<std::pair<Folder, std::string>> Folder::placeOf(const std::string& name, bool making_way) const {
    const fs::path relative{name};
    Folder at = *this;
    if (name.empty() || relative.is_absolute() || relative.filename().empty())
        return fail(ErrorCode::NotPlain, (path_ / name).string(), "no name inside the folder", "give a name inside it");
    for (const auto& part : relative)
        if (part == ".." || part == ".")
            return fail(ErrorCode::NotPlain, (path_ / name).string(), "a name that leads out of the folder", "give a name inside it");
    for (const auto& part : relative.parent_path()) {
        auto next = making_way ? at.making(part.string()) : at.inside(part.string());
        if (!next) return tl::unexpected(next.error());
        at = std::move(*next);
    }
    return std::pair{at, relative.filename().string()};
}

Result<std::string> Folder::read(const std::string& name, std::uintmax_t most) const {
    const auto place = placeOf(name, false);
    if (!place) return tl::unexpected(place.error());
    const auto& [folder, last] = *place;
    // Not waiting: a pipe that nobody writes to opens at once, and is refused.
    const Descriptor file{::openat(folder.descriptor_.number(), last.c_str(), O_RDONLY | O_NOFOLLOW | O_NONBLOCK | O_NOCTTY | O_CLOEXEC)};
    if (!file) {
        const int reason = errno;
        if (const auto* kind = inTheWay(folder.descriptor_.number(), last)) return notPlain(path_ / name, kind);
        return notReadable(path_ / name, reason);
    }
    return readOpen(file, path_ / name, most);
}

// A file that stands beside its place, whole and flushed, under a name of its own; gone again unless it is put there.
struct Folder::Beside {
    Folder folder;
    std::string last, beside;
    bool put = false;
    Beside(Folder in, std::string at) : folder{std::move(in)}, last{std::move(at)} {}
    Beside(Beside&& other) noexcept
        : folder{std::move(other.folder)},
          last{std::move(other.last)},
          beside{std::move(other.beside)},
          put{std::exchange(other.put, true)} {}
    Beside(const Beside&) = delete;
    Beside& operator=(const Beside&) = delete;
    Beside& operator=(Beside&&) = delete;
    ~Beside() {
        if (!put && !beside.empty()) ::unlinkat(folder.descriptor_.number(), beside.c_str(), 0);
    }
    // @return the system's reason where it can't be put there; 0 on success
    int putThere() {
        const int at = folder.descriptor_.number();
        if (::renameat(at, beside.c_str(), at, last.c_str()) != 0) return errno;
        put = true;
        return 0;
    }
};

Result<Folder::Beside> Folder::writeBeside(const std::string& name, std::string_view bytes) const {
    const auto place = placeOf(name, true);
    if (!place) return tl::unexpected(place.error());
    Beside made{place->first, place->second};
    const int at = made.folder.descriptor_.number();
    struct stat seen {};
    const bool there = ::fstatat(at, made.last.c_str(), &seen, AT_SYMLINK_NOFOLLOW) == 0;
    if (there && !S_ISREG(seen.st_mode) && !S_ISLNK(seen.st_mode)) return notPlain(path_ / name, kindOf(seen));
    Descriptor file;
    // A name that nobody has, made by us alone: a link of that name is an error, not a way out.
    for (int turn = 0; turn < 100 && !file; ++turn) {
        const auto beside = fmt::format("{}.{}-{}.part", made.last, ::getpid(), next_part++);
        file = Descriptor{::openat(at, beside.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, 0644)};
        if (!file && errno != EEXIST) return notWritable(path_ / name, errno);
        if (file) made.beside = beside;
    }
    if (!file) return notWritable(path_ / name, EEXIST);
    int reason = there && S_ISREG(seen.st_mode) && ::fchmod(file.number(), seen.st_mode & 07777) != 0 ? errno : 0;
    if (reason == 0) reason = writeAll(file.number(), bytes);
    if (reason == 0 && ::fsync(file.number()) != 0) reason = errno;
    if (reason != 0) return notWritable(path_ / name, reason);
    return made;
}

Result<void> Folder::write(const std::string& name, std::string_view bytes) const {
    auto beside = writeBeside(name, bytes);
    if (!beside) return tl::unexpected(beside.error());
    const int reason = beside->putThere();
    if (reason != 0) return notWritable(path_ / name, reason);
    return {};
}

Result<void> Folder::writeSet(const std::vector<Named>& files) const {
    std::vector<Beside> all;
    all.reserve(files.size());
    for (const auto& file : files) {
        auto beside = writeBeside(file.name, file.bytes);
        if (!beside) return tl::unexpected(beside.error());
        all.push_back(std::move(*beside));
    }
    for (std::size_t i = 0; i < all.size(); ++i)
        if (const int reason = all[i].putThere(); reason != 0) return notWritable(path_ / files[i].name, reason);
    return {};
}

namespace {

struct Opened {
    Descriptor file;
    bool shared = false;  ///< it has a second name, which may lie outside
};
// A plain file opened for writing, as it is or new; what it is, is looked at on what was opened.
Result<Opened> openPlain(int folder, const std::string& name, const fs::path& path, int how) {
    const Descriptor file{::openat(folder, name.c_str(), how | O_CREAT | O_NOFOLLOW | O_NONBLOCK | O_NOCTTY | O_CLOEXEC, 0644)};
    if (!file) {
        const int reason = errno;
        if (const auto* kind = inTheWay(folder, name)) return notPlain(path, kind);
        return notWritable(path, reason);
    }
    struct stat seen {};
    if (::fstat(file.number(), &seen) != 0) return notWritable(path, errno);
    if (!S_ISREG(seen.st_mode)) return notPlain(path, kindOf(seen));
    return Opened{file, seen.st_nlink > 1};
}

}  // namespace

// A hard link is as good as a link: a file with a second name gets a copy of its own before it is written to.
Result<Descriptor> Folder::openOwn(const std::string& name, int how) const {
    const auto place = placeOf(name, true);
    if (!place) return tl::unexpected(place.error());
    const auto& [folder, last] = *place;
    auto opened = openPlain(folder.descriptor_.number(), last, path_ / name, how);
    if (opened && opened->shared) {
        const auto bytes = folder.read(last, largest_history);
        if (!bytes) return tl::unexpected(bytes.error());
        if (auto copied = folder.write(last, *bytes); !copied) return tl::unexpected(copied.error());
        opened = openPlain(folder.descriptor_.number(), last, path_ / name, how);
    }
    if (!opened) return tl::unexpected(opened.error());
    return opened->file;
}

Result<void> Folder::append(const std::string& name, std::string_view bytes) const {
    const auto file = openOwn(name, O_WRONLY | O_APPEND);
    if (!file) return tl::unexpected(file.error());
    const auto written = ::write(file->number(), bytes.data(), bytes.size());
    if (written == static_cast<ssize_t>(bytes.size())) return {};
    return fail(ErrorCode::NotWritable, (path_ / name).string(), std::strerror(written < 0 ? errno : ENOSPC),
                "room on the disk, in a folder that may be written to");
}

Result<Descriptor> Folder::create(const std::string& name) const {
    const auto place = placeOf(name, true);
    if (!place) return tl::unexpected(place.error());
    if (place->first.has(place->second))
        return fail(ErrorCode::Conflict, (path_ / name).string(), place->second, "a name that no file there has yet");
    const auto opened = openPlain(place->first.descriptor_.number(), place->second, path_ / name, O_WRONLY | O_EXCL);
    if (!opened) return tl::unexpected(opened.error());
    return opened->file;
}

Result<Descriptor> Folder::openToLock(const std::string& name) const {
    return openOwn(name, O_RDWR);
}

Result<void> Folder::remove(const std::string& name) const {
    const auto place = placeOf(name, false);
    if (!place) return place.error().code == ErrorCode::NotFound ? Result<void>{} : tl::unexpected(place.error());
    if (::unlinkat(place->first.descriptor_.number(), place->second.c_str(), 0) == 0 || errno == ENOENT) return {};
    return notWritable(path_ / name, errno);
}

std::optional<Stamp> Folder::stamp(const std::string& name) const {
    const auto place = placeOf(name, false);
    struct stat seen {};
    if (!place || ::fstatat(place->first.descriptor_.number(), place->second.c_str(), &seen, AT_SYMLINK_NOFOLLOW) != 0 ||
        !S_ISREG(seen.st_mode))
        return std::nullopt;
    return stampOf(seen);
}

std::vector<std::string> Folder::entries(unsigned kind) const {
    std::vector<std::string> names;
    // A descriptor of its own: reading moves its place.
    const int own = ::openat(descriptor_.number(), ".", O_RDONLY | O_DIRECTORY | O_CLOEXEC);
    DIR* list = own >= 0 ? ::fdopendir(own) : nullptr;
    if (list == nullptr) {
        if (own >= 0) ::close(own);
        return names;
    }
    while (const auto* entry = ::readdir(list)) {
        const std::string name = entry->d_name;
        struct stat seen {};
        if (name == "." || name == ".." || ::fstatat(own, name.c_str(), &seen, AT_SYMLINK_NOFOLLOW) != 0) continue;
        if ((seen.st_mode & S_IFMT) == kind) names.push_back(name);
    }
    ::closedir(list);
    std::sort(names.begin(), names.end());
    return names;
}

std::vector<std::string> Folder::plainFiles() const {
    return entries(S_IFREG);
}
std::vector<std::string> Folder::folders() const {
    return entries(S_IFDIR);
}

Result<std::string> readWhole(const fs::path& path, std::uintmax_t most) {
    const Descriptor file{::open(path.c_str(), O_RDONLY | O_NONBLOCK | O_NOCTTY | O_CLOEXEC)};
    if (!file) return notReadable(path, errno);
    return readOpen(file, path, most);
}

Result<void> writeWhole(const fs::path& path, std::string_view bytes) {
    const auto folder = Folder::open(path.parent_path());
    if (!folder) return fail(ErrorCode::NotWritable, path.string(), folder.error().value, "choose another folder");
    if (path.filename().empty()) return fail(ErrorCode::NotWritable, path.string(), "no file name", "a name for the file");
    return folder->write(path.filename().string(), bytes);
}

Result<void> copyPlain(const Folder& from, const Folder& to) {
    for (const auto& name : from.plainFiles()) {
        if (to.has(name)) continue;
        const auto bytes = from.read(name, largest_trial);
        if (!bytes) return tl::unexpected(bytes.error());
        if (auto written = to.write(name, *bytes); !written) return written;
    }
    for (const auto& name : from.folders()) {
        const auto deeper = from.inside(name);
        const auto there = to.making(name);
        if (!deeper) return tl::unexpected(deeper.error());
        if (!there) return tl::unexpected(there.error());
        if (auto copied = copyPlain(*deeper, *there); !copied) return copied;
    }
    return {};
}

}  // namespace hinge::files
