#include "store/lock.hpp"
#include <fmt/format.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>
#include <array>
#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstring>
#include <random>
#include <thread>
#include "store/json.hpp"

namespace hinge::store {
namespace {

constexpr const char* lock_file = "project.lock";
constexpr std::uintmax_t largest_lock = 4096;

std::string hostName() {
    std::array<char, 256> name{};
    return ::gethostname(name.data(), name.size() - 1) == 0 ? name.data() : "";
}

// Start of a process in ticks since the computer's: field 22 of its stat, counted behind the name's parenthesis (man 5 proc).
std::string startOf(long process) {
    const auto text = files::readWhole(fmt::format("/proc/{}/stat", process), 1u << 20);
    if (!text) return {};
    const auto name_end = text->rfind(')');
    if (name_end == std::string::npos) return {};
    std::size_t at = name_end + 1;
    for (int field = 3; field <= 22; ++field) {
        at = text->find_first_not_of(' ', at);
        if (at == std::string::npos) return {};
        const auto end = text->find(' ', at);
        if (field == 22) return text->substr(at, end == std::string::npos ? end : end - at);
        at = end;
    }
    return {};
}

std::string freshMark() {
    std::random_device noise;
    return fmt::format("{:08x}{:08x}", noise(), noise());
}

std::optional<Holder> parse(const std::string& text) {
    const auto read = parseJson(text, "lock");
    if (!read || !read->is_object()) return std::nullopt;
    const auto& json = *read;
    const auto word = [&](const char* name) {
        const auto found = json.find(name);
        return found != json.end() && found->is_string() ? found->get<std::string>().substr(0, 100) : std::string{};
    };
    Holder holder{word("mark"), word("host"), 0, word("started"), word("since")};
    if (const auto process = json.find("process"); process != json.end() && process->is_number_integer())
        holder.process = process->get<long>();
    if (holder.mark.empty()) return std::nullopt;
    return holder;
}

// A lock file that a killed writer left half written is nobody's.
std::optional<Holder> readFrom(int file) {
    std::array<char, largest_lock> text{};
    const auto n = ::pread(file, text.data(), text.size(), 0);
    return n > 0 ? parse(std::string{text.data(), static_cast<std::size_t>(n)}) : std::nullopt;
}

int rewrite(int file, const Holder& holder) {
    const Json json{
        {"mark", holder.mark}, {"host", holder.host}, {"process", holder.process}, {"started", holder.started}, {"since", holder.since}};
    const std::string text = json.dump(-1, ' ', false, Json::error_handler_t::replace) + "\n";
    if (::ftruncate(file, 0) != 0 || ::lseek(file, 0, SEEK_SET) != 0) return errno;
    return files::writeAll(file, text);
}

// Waits for a writer of another window; one that is stopped in the middle is not waited for without end.
bool lockFor(int file) {
    for (int turn = 0; turn < 400; ++turn) {
        if (::flock(file, LOCK_EX | LOCK_NB) == 0) return true;
        if (errno != EWOULDBLOCK && errno != EINTR) return false;
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
    }
    return false;
}

tl::unexpected<Error> busy(const files::Folder& folder) {
    return fail(ErrorCode::NotWritable, (folder.path() / lock_file).string(),
                "another program is in the middle of a write and does not end it", "end that program, then try again");
}

// The lock file, locked, and the very one that has its name now.
Result<files::Descriptor> lockedFile(const files::Folder& folder) {
    for (int turn = 0; turn < 20; ++turn) {
        auto file = folder.openToLock(lock_file);
        if (!file) return tl::unexpected(file.error());
        if (!lockFor(file->number())) return busy(folder);
        struct stat seen {};
        const auto now = folder.stamp(lock_file);
        if (::fstat(file->number(), &seen) == 0 && now && now->node == seen.st_ino && now->device == seen.st_dev) return file;
    }
    return busy(folder);
}

tl::unexpected<Error> isHeld(const files::Folder& folder, const Holder& holder) {
    return fail(ErrorCode::Conflict, folder.path().string(), words(holder), "close it there, or take over");
}

}  // namespace

std::string words(const Holder& holder) {
    return fmt::format("process {} on {}, since {}", holder.process, holder.host.empty() ? "another computer" : holder.host, holder.since);
}

bool mayBeAlive(const Holder& holder) {
    if (holder.host != hostName()) return true;
    if (holder.process <= 0 || (::kill(static_cast<pid_t>(holder.process), 0) != 0 && errno == ESRCH)) return false;
    const auto start = startOf(holder.process);
    return start.empty() || start == holder.started;
}

std::optional<Holder> Lock::holderOf(const files::Folder& folder) {
    const auto text = folder.read(lock_file, largest_lock);
    auto holder = text ? parse(*text) : std::nullopt;
    if (holder && !mayBeAlive(*holder)) holder.reset();
    return holder;
}

Result<Lock> Lock::take(const files::Folder& folder, const std::string& since, bool over) {
    const auto file = lockedFile(folder);
    if (!file) return tl::unexpected(file.error());
    if (const auto holder = readFrom(file->number()); holder && !over && mayBeAlive(*holder)) return isHeld(folder, *holder);
    Lock lock;
    lock.own_ = {freshMark(), hostName(), ::getpid(), startOf(::getpid()), since};
    if (const int reason = rewrite(file->number(), lock.own_); reason != 0)
        return fail(ErrorCode::NotWritable, (folder.path() / lock_file).string(), std::strerror(reason),
                    "room on the disk, in a folder that may be written to");
    lock.folder_ = folder;
    return lock;
}

Lock& Lock::operator=(Lock&& other) noexcept {
    if (this != &other) {
        release();
        folder_ = std::move(other.folder_);
        own_ = std::move(other.own_);
        other.folder_.reset();
    }
    return *this;
}

Lock::~Lock() {
    release();
}

bool Lock::held() const {
    if (!folder_) return false;
    const auto text = folder_->read(lock_file, largest_lock);
    // One who deletes the file has not taken over.
    if (!text) return text.error().code == ErrorCode::NotFound;
    const auto holder = parse(*text);
    return !holder || holder->mark == own_.mark;
}

void Lock::release() {
    if (!folder_) return;
    if (const auto file = folder_->has(lock_file) ? lockedFile(*folder_) : busy(*folder_))
        if (const auto holder = readFrom(file->number()); holder && holder->mark == own_.mark) (void)folder_->remove(lock_file);
    folder_.reset();
}

Lock::Writing::~Writing() {
    if (file_) ::flock(file_.number(), LOCK_UN);
}

Result<Lock::Writing> Lock::write() const {
    if (!folder_) return fail(ErrorCode::Conflict, "project.lock", "", "take over first");
    auto file = lockedFile(*folder_);
    if (!file) return tl::unexpected(file.error());
    const auto holder = readFrom(file->number());
    if (holder && holder->mark != own_.mark) return isHeld(*folder_, *holder);
    // Deleted, or left half written by somebody who was killed: it is ours still.
    if (!holder)
        if (const int reason = rewrite(file->number(), own_); reason != 0)
            return fail(ErrorCode::NotWritable, (folder_->path() / lock_file).string(), std::strerror(reason), "room on the disk");
    return Writing{std::move(*file)};
}

}  // namespace hinge::store
