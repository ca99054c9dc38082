#pragma once
// Who may write a project: one window at a time, told apart by a file in the folder; another may take over, and then the first one knows.
#include <optional>
#include <string>
#include "files/folder.hpp"

namespace hinge::store {

/// The window that has a project in hand, as project.lock says it.
struct Holder {
    std::string mark;     ///< of that window alone
    std::string host;     ///< name of the computer
    long process = 0;     ///< its number there
    std::string started;  ///< of that process, in ticks since the computer's start: a number that was used again is another process
    std::string since;    ///< ISO 8601
    friend bool operator==(const Holder&, const Holder&) = default;
};
/// False only where it is certain: a process of this computer that is gone.
[[nodiscard]] bool mayBeAlive(const Holder& holder);

class Lock {
public:
    /// Takes a folder that nobody has, or whose holder is gone, or, with `over`, whoever has it.
    /// @param since  now, ISO 8601
    /// @error Conflict     somebody has it: Error::value names the process, host and time
    /// @error NotWritable, NotPlain, NotReadable
    static Result<Lock> take(const files::Folder& folder, const std::string& since, bool over = false);
    /// Who has it; none where it is free.
    static std::optional<Holder> holderOf(const files::Folder& folder);

    Lock() = default;
    Lock(Lock&& other) noexcept { *this = std::move(other); }
    Lock& operator=(Lock&& other) noexcept;
    ~Lock();
    /// Whether it is still this one's.
    [[nodiscard]] bool held() const;
    /// Gives it back.
    void release();

    /// The time of one write: until it ends, nobody else writes and nobody takes over.
    class Writing {
    public:
        Writing(Writing&&) noexcept = default;
        Writing& operator=(Writing&&) = delete;
        ~Writing();

    private:
        friend class Lock;
        explicit Writing(files::Descriptor file) : file_{std::move(file)} {}
        files::Descriptor file_;
    };
    /// @error Conflict  it was taken over, by whom Error::value says
    /// @error NotWritable
    [[nodiscard]] Result<Writing> write() const;

private:
    std::optional<files::Folder> folder_;
    Holder own_;
};

/// "process 4711 on bench, since 2026-11-29T14:30".
[[nodiscard]] std::string words(const Holder& holder);

}  // namespace hinge::store
