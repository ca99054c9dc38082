#include "store/keeper.hpp"
#include <fmt/format.h>

namespace hinge::store {
namespace {

tl::unexpected<Error> notOurs(const std::optional<Error>& reason) {
    return tl::unexpected(reason.value_or(Error{ErrorCode::Conflict, "project", "only looked at", "take over first"}));
}

}  // namespace

Result<Keeper::Opened> Keeper::open(const std::filesystem::path& path, const std::string& since, bool writes) {
    auto place = placeOf(path);
    if (!place) return tl::unexpected(place.error());
    Opened opened;
    auto& keeper = opened.keeper;
    keeper.folder_ = place->folder;
    keeper.file_ = place->file;
    if (writes) {
        auto lock = Lock::take(*keeper.folder_, since);
        if (lock) keeper.lock_ = std::move(*lock);
        else keeper.reason_ = lock.error();
        if (const auto writing = keeper.lock_ ? keeper.lock_->write() : tl::unexpected(*keeper.reason_)) clearLeftovers(*keeper.folder_);
    }
    auto text = keeper.folder_->read(keeper.file_, files::largest_project);
    if (!text) return tl::unexpected(text.error());
    auto document = fromText(*text, (keeper.folder_->path() / keeper.file_).string());
    if (!document) return tl::unexpected(document.error());
    opened.document = std::move(*document);
    keeper.see(*text);
    if (!writes) return opened;
    if (auto history = History::open(*keeper.folder_)) keeper.history_ = std::move(*history);
    else opened.history_trouble = history.error();
    if (!keeper.lock_) keeper.history_.inMemory();
    return opened;
}

void Keeper::see(const std::string& text) {
    seen_ = text;
    stamp_ = folder_->stamp(file_);
    told_.reset();
}

void Keeper::lookOnly(const Error& why) {
    lock_.reset();
    reason_ = why;
    history_.inMemory();
}

Result<Document> Keeper::takeOver(const std::string& since) {
    if (!folder_) return notOurs(reason_);
    auto lock = Lock::take(*folder_, since, true);
    if (!lock) return tl::unexpected(lock.error());
    lock_ = std::move(*lock);
    reason_.reset();
    openHistory();
    auto document = outside();
    if (document) acceptOutside();
    return document;
}

void Keeper::openHistory() {
    auto history = History::open(*folder_);
    history_ = history ? std::move(*history) : History{};
}

Keeper::News Keeper::look() {
    if (!folder_) return News::Nothing;
    if (lock_ && !lock_->held()) {
        const auto holder = Lock::holderOf(*folder_);
        lookOnly({ErrorCode::Conflict, folder_->path().string(), holder ? words(*holder) : "another window", "take over to go on here"});
        return News::TakenOver;
    }
    const auto stamp = folder_->stamp(file_);
    if (!stamp) {
        if (!stamp_) return News::Nothing;
        stamp_.reset();
        told_.reset();
        return News::Gone;
    }
    if (stamp == stamp_ || stamp == told_) return News::Nothing;
    const auto text = folder_->read(file_, files::largest_project);
    if (text && *text == seen_) {  // written anew with the same words
        stamp_ = stamp;
        return News::Nothing;
    }
    told_ = stamp;
    return News::Changed;
}

Result<Document> Keeper::outside() const {
    if (!folder_) return notOurs(reason_);
    const auto text = folder_->read(file_, files::largest_project);
    if (!text) return tl::unexpected(text.error());
    return fromText(*text, (folder_->path() / file_).string());
}

void Keeper::acceptOutside() {
    if (const auto text = folder_ ? folder_->read(file_, files::largest_project) : std::string{}) see(*text);
}

// What another program wrote goes into the history, or beside, before it is written over.
Result<void> Keeper::keepOutside(const std::string& now) {
    const auto text = folder_->read(file_, files::largest_project);
    if (!text) return text.error().code == ErrorCode::NotFound ? Result<void>{} : tl::unexpected(text.error());
    if (const auto document = fromText(*text, file_); document && history_.size() > 0)
        return history_.note(document->project, now, "as another program had written it");
    for (int n = 1;; ++n)
        if (const auto kept = fmt::format("project.outside-{}.json", n); !folder_->has(kept)) return folder_->write(kept, *text);
}

Result<void> Keeper::save(const Document& document, const std::string& now, Over over) {
    if (!folder_) return notOurs(reason_);
    if (!lock_) return notOurs(reason_);
    const auto writing = lock_->write();
    if (!writing) {
        if (writing.error().code == ErrorCode::Conflict) lookOnly(writing.error());
        return tl::unexpected(writing.error());
    }
    if (const auto stamp = folder_->stamp(file_); stamp && stamp != stamp_) {
        const auto text = folder_->read(file_, files::largest_project);
        if (!text || *text != seen_) {
            if (over == Over::Refuse)
                return fail(ErrorCode::Conflict, (folder_->path() / file_).string(), "changed outside",
                            "compare the two, then take that one or keep this one");
            if (auto kept = keepOutside(now); !kept) return kept;
        }
    }
    const auto text = saveAt(document, {*folder_, file_});
    if (!text) return tl::unexpected(text.error());
    see(*text);
    return {};
}

Result<void> Keeper::saveIn(const std::filesystem::path& path, const Document& document, const std::string& now) {
    std::error_code ignored;
    if (folder_ && lock_ && std::filesystem::equivalent(path, folder_->path(), ignored)) return save(document, now);
    auto folder = files::Folder::make(path);
    if (!folder) return tl::unexpected(folder.error());
    auto lock = Lock::take(*folder, now);
    if (!lock) return tl::unexpected(lock.error());
    Keeper there;
    there.folder_ = std::move(*folder);
    there.lock_ = std::move(*lock);
    there.stamp_ = there.folder_->stamp(there.file_);  // the user chose to write over what is there
    there.seen_ = there.folder_->read(there.file_, files::largest_project).value_or("");
    if (auto saved = there.save(document, now); !saved) return saved;
    there.history_ = std::move(history_);
    const auto kept = there.history_.keepIn(*there.folder_);
    *this = std::move(there);
    return kept;
}

Result<void> Keeper::autosave(const Document& document) {
    if (!folder_ || !lock_) return {};
    const auto writing = lock_->write();
    if (!writing) return tl::unexpected(writing.error());
    return folder_->write(autosave_file, toText(document));
}

void Keeper::discardAutosave() {
    if (!folder_ || !lock_) return;
    if (const auto writing = lock_->write()) (void)folder_->remove(autosave_file);
}

Result<void> Keeper::note(const project::Project& now, const std::string& date, const std::string& words) {
    if (!folder_ || !lock_) return history_.note(now, date, words);
    const auto writing = lock_->write();
    if (writing) return history_.note(now, date, words);
    // Kept here all the same, and written as soon as the folder can be.
    lookOnly(writing.error());
    (void)history_.note(now, date, words);
    return tl::unexpected(writing.error());
}

}  // namespace hinge::store
