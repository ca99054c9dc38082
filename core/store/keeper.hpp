#pragma once
// One project in its folder, as a window has it in hand: who may write, what the file held when it was last seen, its history.
#include "store/document.hpp"
#include "store/history.hpp"
#include "store/lock.hpp"

namespace hinge::store {

class Keeper {
public:
    /// Without a folder: all in memory.
    Keeper() = default;
    struct Opened;
    /// Opens a folder (or its project.json) and takes it in hand, where nobody else has it; else it is only looked at.
    /// @param since   now, ISO 8601
    /// @param writes  false: it is only looked at, and nothing is left there
    /// @error as load
    static Result<Opened> open(const std::filesystem::path& folder, const std::string& since, bool writes = true);

    /// Whether what is done here goes to the disk.
    [[nodiscard]] bool writes() const { return lock_.has_value(); }
    /// Why it does not: another window has it, or the folder cannot be written to. None while it does, or without a folder.
    [[nodiscard]] const std::optional<Error>& reason() const { return reason_; }
    /// Takes the project from whoever has it; what its file and history hold by now is read anew.
    /// @return what the file holds
    [[nodiscard]] Result<Document> takeOver(const std::string& since);

    enum class News {
        Nothing,
        TakenOver,  ///< by another window: nothing is written from here any more; told once
        Changed,    ///< the file was changed by another program; told once for each change
        Gone,       ///< the file is not there any more; told once
    };
    /// Looks whether something happened to the project from outside.
    News look();
    /// What the file holds, after News::Changed.
    /// @error as load
    [[nodiscard]] Result<Document> outside() const;
    /// From now on the file as it is counts as seen: its state was taken over, or is known.
    void acceptOutside();

    enum class Over { Refuse, Overwrite };
    /// Writes the project file.
    /// @param over  what is done where the file was changed by another program: refused, or overwritten once that state stands in the
    ///              history, or, where it is no project, in a file beside it
    /// @error Conflict     another window has it, or (Error::value "changed outside") the file was changed
    /// @error NotWritable, NotPlain
    [[nodiscard]] Result<void> save(const Document& document, const std::string& now, Over over = Over::Refuse);
    /// Moves to another folder, and saves there; the one before is given back.
    [[nodiscard]] Result<void> saveIn(const std::filesystem::path& folder, const Document& document, const std::string& now);
    [[nodiscard]] Result<void> autosave(const Document& document);
    void discardAutosave();
    /// Notes a state in the history; in memory only where another window has the project.
    [[nodiscard]] Result<void> note(const project::Project& now, const std::string& date, const std::string& words = {});
    [[nodiscard]] const History& history() const { return history_; }
    [[nodiscard]] const std::optional<files::Folder>& folder() const { return folder_; }

private:
    [[nodiscard]] Result<void> keepOutside(const std::string& now);
    void openHistory();
    void see(const std::string& text);
    void lookOnly(const Error& why);

    std::optional<files::Folder> folder_;
    std::string file_ = "project.json";
    std::optional<Lock> lock_;
    std::optional<Error> reason_;
    History history_;
    std::string seen_;                          ///< text of the file when it was last read or written here
    std::optional<files::Stamp> stamp_, told_;  ///< of that file; of the last change that was told
};
struct Keeper::Opened {
    Document document;
    Keeper keeper;
    std::optional<Error> history_trouble;  ///< its history cannot be read, and is not written to
};

}  // namespace hinge::store
