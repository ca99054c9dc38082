#include "store/history.hpp"
#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>
#include <cerrno>
#include <cstring>
#include "store/document.hpp"
#include "store/json.hpp"

namespace hinge::store {
namespace {

constexpr std::size_t whole_every = 50;

std::string shortText(const Json& json) {
    if (json.is_null()) return "";
    if (json.is_string()) return json.get<std::string>();
    if (json.is_object() && json.contains("name") && json["name"].is_string()) return json["name"].get<std::string>();
    std::string text = json.dump(-1, ' ', false, Json::error_handler_t::replace);
    if (text.size() > 120) text = text.substr(0, 117) + "…";
    return text;
}

bool hasIds(const Json& list) {
    if (!list.is_array() || list.empty()) return false;
    for (const auto& each : list)
        if (!each.is_object() || !each.contains("id") || !each["id"].is_string()) return false;
    return true;
}

const Json* byId(const Json& list, const std::string& id) {
    for (const auto& each : list)
        if (each["id"] == id) return &each;
    return nullptr;
}

void compare(const Json& before, const Json& after, const std::string& path, std::vector<Change>& changes) {
    if (before == after) return;
    const auto under = [&path](const std::string& name) { return path.empty() ? name : path + "/" + name; };
    if (before.is_object() && after.is_object()) {
        for (const auto& [name, value] : before.items()) {
            if (!after.contains(name)) changes.push_back({under(name), shortText(value), ""});
            else compare(value, after[name], under(name), changes);
        }
        for (const auto& [name, value] : after.items())
            if (!before.contains(name) && !value.is_null()) changes.push_back({under(name), "", shortText(value)});
        return;
    }
    const bool lists = before.is_array() && after.is_array() && (before.empty() || hasIds(before)) && (after.empty() || hasIds(after));
    if (lists) {
        for (const auto& each : before) {
            const auto id = each["id"].get<std::string>();
            if (const auto* now = byId(after, id)) compare(each, *now, under(id), changes);
            else changes.push_back({under(id), shortText(each), ""});
        }
        for (const auto& each : after)
            if (byId(before, each["id"].get<std::string>()) == nullptr)
                changes.push_back({under(each["id"].get<std::string>()), "", shortText(each)});
        // The same entries in another order.
        if (changes.empty() || before.size() == after.size()) {
            std::string was, is;
            for (const auto& each : before) was += (was.empty() ? "" : ", ") + each["id"].get<std::string>();
            for (const auto& each : after) is += (is.empty() ? "" : ", ") + each["id"].get<std::string>();
            bool same_ones = before.size() == after.size();
            for (const auto& each : before) same_ones = same_ones && byId(after, each["id"].get<std::string>()) != nullptr;
            if (same_ones && was != is) changes.push_back({path, was, is});
        }
        return;
    }
    changes.push_back({path, shortText(before), shortText(after)});
}

Json changesJson(const std::vector<Change>& changes) {
    Json list = Json::array();
    for (const auto& change : changes) list.push_back(Json::array({change.path, change.before, change.after}));
    return list;
}

}  // namespace

std::vector<Change> changesBetween(const project::Project& before, const project::Project& after) {
    std::vector<Change> changes;
    compare(toJson(before), toJson(after), "", changes);
    return changes;
}

History History::open(const std::filesystem::path& folder) {
    History history;
    history.file_ = folder / "history.jsonl";
    const auto text = readWhole(history.file_);
    if (!text) return history;
    std::string_view left = *text;
    std::size_t good = 0;
    Json state;
    while (!left.empty()) {
        const auto end = left.find('\n');
        if (end == std::string_view::npos) break;  // cut short
        const auto line = left.substr(0, end);
        left.remove_prefix(end + 1);
        const auto json = Json::parse(line, nullptr, false);
        if (json.is_discarded() || !json.is_object() || !json.contains("date") || !json.contains("changes") ||
            !json["changes"].is_array() || !json["date"].is_string())
            break;
        Kept kept;
        kept.told.date = json["date"].get<std::string>();
        if (json.contains("words") && json["words"].is_string()) kept.told.words = json["words"].get<std::string>();
        bool readable = true;
        for (const auto& change : json["changes"]) {
            readable = readable && change.is_array() && change.size() == 3 && change[0].is_string() && change[1].is_string() &&
                       change[2].is_string();
            if (readable)
                kept.told.changes.push_back({change[0].get<std::string>(), change[1].get<std::string>(), change[2].get<std::string>()});
        }
        kept.whole = json.contains("whole");
        if (!readable || (!kept.whole && (!json.contains("patch") || history.entries_.empty()))) break;
        // The state is followed along: a patch that does not fit ends the story here.
        try {
            state = kept.whole ? json["whole"] : state.patch(json["patch"]);
        } catch (const Json::exception&) {
            break;
        }
        kept.line = std::string{line};
        history.since_whole_ = kept.whole ? 0 : history.since_whole_ + 1;
        history.entries_.push_back(std::move(kept));
        good += end + 1;
    }
    // Patches may leave the fields in another order; a project writes them in its own.
    if (!history.entries_.empty())
        if (const auto project = fromJson(state)) history.last_ = toJson(*project).dump();
    // What could not be read is set aside, not written over.
    if (good < text->size()) {
        std::error_code ignored;
        std::filesystem::copy_file(history.file_, folder / "history.damaged.jsonl", std::filesystem::copy_options::overwrite_existing,
                                   ignored);
        std::filesystem::resize_file(history.file_, good, ignored);
    }
    return history;
}

Result<void> History::write(const std::string& line) {
    if (file_.empty()) return {};
    const auto refused = [this](int reason) {
        return fail(ErrorCode::NotWritable, file_.string(), std::strerror(reason), "room on the disk, in a folder that may be written to");
    };
    const int file = ::open(file_.c_str(), O_WRONLY | O_CREAT | O_APPEND | O_CLOEXEC, 0644);
    if (file < 0) return refused(errno);
    const std::string text = line + "\n";
    const auto written = ::write(file, text.data(), text.size());
    const int reason = errno;
    ::close(file);
    if (written != static_cast<ssize_t>(text.size())) return refused(written < 0 ? reason : ENOSPC);
    return {};
}

Result<void> History::note(const project::Project& now, const std::string& date, const std::string& words) {
    const Json state = toJson(now);
    const std::string text = state.dump();
    if (text == last_) return {};
    Kept kept;
    kept.told = {date, words, {}};
    Json line{{"date", date}};
    if (!words.empty()) line["words"] = words;
    kept.whole = last_.empty() || since_whole_ + 1 >= whole_every;
    if (!last_.empty()) {
        const Json before = Json::parse(last_);
        compare(before, state, "", kept.told.changes);
        if (!kept.whole) line["patch"] = Json::diff(before, state);
    }
    line["changes"] = changesJson(kept.told.changes);
    if (kept.whole) line["whole"] = state;
    kept.line = line.dump(-1, ' ', false, Json::error_handler_t::replace);
    since_whole_ = kept.whole ? 0 : since_whole_ + 1;
    last_ = text;
    entries_.push_back(std::move(kept));
    // A project that is only looked at leaves nothing behind: its first state is written with the first change.
    if (entries_.size() == 1) return {};
    std::error_code error;
    const auto size = file_.empty() ? 0 : std::filesystem::file_size(file_, error);
    const bool begun = !error && size > 0;
    return write(begun || entries_.size() > 2 ? entries_.back().line : entries_.front().line + "\n" + entries_.back().line);
}

Result<project::Project> History::at(std::size_t index) const {
    if (index >= entries_.size())
        return fail(ErrorCode::OutOfRange, "history", std::to_string(index), fmt::format("up to {}", entries_.size()));
    std::size_t from = index;
    while (from > 0 && !entries_[from].whole) --from;
    try {
        Json state = Json::parse(entries_[from].line)["whole"];
        for (std::size_t k = from + 1; k <= index; ++k) {
            const Json line = Json::parse(entries_[k].line);
            state = line.contains("whole") ? line["whole"] : state.patch(line["patch"]);
        }
        return fromJson(state);
    } catch (const Json::exception& error) {
        return fail(ErrorCode::BadFormat, "history", std::to_string(index), error.what());
    }
}

Result<void> History::keepIn(const std::filesystem::path& folder) {
    if (file_ == folder / "history.jsonl") return {};
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    file_ = folder / "history.jsonl";
    // Behind what another gadget left there: its last line is whole, and ours begins with a whole state.
    std::string text = readWhole(file_).value_or("");
    if (!text.empty() && text.back() != '\n') text.erase(text.find_last_of('\n') + 1);
    for (const auto& kept : entries_) text += kept.line + "\n";
    return writeWhole(file_, text);
}

}  // namespace hinge::store
