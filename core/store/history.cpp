#include "store/history.hpp"
#include <fmt/format.h>
#include "quantity/text.hpp"
#include "store/json.hpp"
#include "store/migration.hpp"

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
            const std::string was = joined(before, ", ", [&](const auto& each) { return each["id"].template get<std::string>(); });
            const std::string is = joined(after, ", ", [&](const auto& each) { return each["id"].template get<std::string>(); });
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

namespace {

constexpr const char* history_file = "history.jsonl";

struct Line {
    History::Entry told;
    bool whole = false;
    Json state_or_patch;
};
// Only what Json::diff writes: a patch that copies could double the state with every line.
bool isPlainPatch(const Json& patch) {
    if (!patch.is_array()) return false;
    for (const auto& each : patch)
        if (!each.is_object() || !each.contains("op") || (each["op"] != "add" && each["op"] != "remove" && each["op"] != "replace"))
            return false;
    return true;
}

// A state as it stands in the file, of whatever format.
Result<project::Project> projectOf(Json state) {
    if (const auto format = lift(state, history_file); !format) return tl::unexpected(format.error());
    return fromJson(state);
}

// One line of the file; none where it is damaged.
std::optional<Line> lineOf(std::string_view text) {
    auto json = parseJson(std::string{text}, history_file);
    if (!json || !json->is_object() || !json->contains("date") || !(*json)["date"].is_string() || !json->contains("changes") ||
        !(*json)["changes"].is_array())
        return std::nullopt;
    Line line;
    line.told.date = (*json)["date"].get<std::string>();
    if (json->contains("words") && (*json)["words"].is_string()) line.told.words = (*json)["words"].get<std::string>();
    for (const auto& change : (*json)["changes"]) {
        if (!change.is_array() || change.size() != 3) return std::nullopt;
        for (const auto& part : change)
            if (!part.is_string()) return std::nullopt;
        line.told.changes.push_back({change[0].get<std::string>(), change[1].get<std::string>(), change[2].get<std::string>()});
    }
    line.whole = json->contains("whole");
    if (!line.whole && (!json->contains("patch") || !isPlainPatch((*json)["patch"]))) return std::nullopt;
    if (line.whole && !(*json)["whole"].is_object()) return std::nullopt;
    line.state_or_patch = std::move((*json)[line.whole ? "whole" : "patch"]);
    return line;
}

}  // namespace

Result<History> History::open(const files::Folder& folder) {
    History history;
    history.folder_ = folder;
    const auto text = folder.read(history_file, files::largest_history);
    if (!text && text.error().code != ErrorCode::NotFound) return tl::unexpected(text.error());
    if (text) history.read(*text);
    return history;
}

void History::read(std::string_view text) {
    length_ = text.size();
    cut_ = !text.empty() && text.back() != '\n';
    std::optional<Json> state;
    while (!text.empty()) {
        const auto end = text.find('\n');
        const auto piece = text.substr(0, end);
        text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
        if (piece.empty()) continue;
        auto line = lineOf(piece);
        if (!line) {
            ++damaged_;
            state.reset();
            continue;
        }
        if (line->whole) {
            state = std::move(line->state_or_patch);
        } else if (state) {
            try {
                state->patch_inplace(line->state_or_patch);
            } catch (const Json::exception&) {
                ++damaged_;
                state.reset();
                continue;
            }
        }
        line->told.known = state.has_value();
        since_whole_ = line->whole ? 0 : since_whole_ + 1;
        entries_.push_back({std::move(line->told), std::string{piece}, line->whole});
    }
    if (!state) return;
    // A version with more fields, or in another order, writes the same project otherwise.
    const auto project = projectOf(*state);
    if (!project) return;
    base_ = std::make_shared<const Json>(std::move(*state));
    last_ = std::make_shared<const Json>(toJson(*project));
}

Result<void> History::write(const std::string& lines) {
    if (!folder_) return {};
    if (auto written = folder_->append(history_file, (cut_ ? "\n" : "") + lines); !written) {
        // How much of it came onto the disk is not known: the next line begins anew, with a whole state.
        base_.reset();
        length_ = folder_->stamp(history_file).value_or(files::Stamp{}).size;
        cut_ = length_ > 0;
        return written;
    }
    length_ = folder_->stamp(history_file).value_or(files::Stamp{}).size;
    cut_ = false;
    return {};
}

Result<void> History::note(const project::Project& now, const std::string& date, const std::string& words) {
    auto state = std::make_shared<const Json>(toJson(now));
    if (last_ && *state == *last_) return {};
    Kept kept;
    kept.told = {date, words, {}, true};
    Json line{{"date", date}};
    if (!words.empty()) line["words"] = words;
    // What a reader will have in hand is what the file says, not what this version would write for it. Where somebody else has written
    // behind our last line, only a whole state is sure to be read as it is meant.
    const bool ours = !folder_ || folder_->stamp(history_file).value_or(files::Stamp{}).size == length_;
    kept.whole = !base_ || !ours || since_whole_ + 1 >= whole_every;
    if (last_) compare(*last_, *state, "", kept.told.changes);
    if (!kept.whole) {
        line["patch"] = Json::diff(*base_, *state);
        Json base = *base_;
        base.patch_inplace(line["patch"]);
        base_ = std::make_shared<const Json>(std::move(base));
    } else {
        base_ = state;
    }
    line["changes"] = changesJson(kept.told.changes);
    if (kept.whole) line["whole"] = *state;
    kept.line = line.dump(-1, ' ', false, Json::error_handler_t::replace);
    since_whole_ = kept.whole ? 0 : since_whole_ + 1;
    last_ = std::move(state);
    entries_.push_back(std::move(kept));
    // A project that is only looked at leaves nothing behind: its first state is written with the first change.
    if (entries_.size() == 1 && length_ == 0) return {};
    const bool with_first = entries_.size() == 2 && length_ == 0;
    return write((with_first ? entries_.front().line + "\n" : std::string{}) + entries_.back().line + "\n");
}

Result<project::Project> History::at(std::size_t index) const {
    if (index >= entries_.size())
        return fail(ErrorCode::OutOfRange, "history", std::to_string(index), fmt::format("up to {}", entries_.size()));
    if (!entries_[index].told.known)
        return fail(ErrorCode::BadFormat, "history", entries_[index].told.date,
                    "a state before it in the file is damaged; later ones are whole");
    std::size_t from = index;
    while (from > 0 && !entries_[from].whole) --from;
    try {
        Json state = Json::parse(entries_[from].line)["whole"];
        for (std::size_t k = from + 1; k <= index; ++k) state.patch_inplace(Json::parse(entries_[k].line)["patch"]);
        return projectOf(std::move(state));
    } catch (const Json::exception& error) {
        return fail(ErrorCode::BadFormat, "history", std::to_string(index), error.what());
    }
}

Result<void> History::keepIn(const files::Folder& folder) {
    if (folder_ && folder_->path() == folder.path()) return {};
    auto there = open(folder);
    if (!there) return tl::unexpected(there.error());
    // Behind what another gadget left there: ours begins with a whole state.
    std::string text;
    for (const auto& kept : entries_) text += kept.line + "\n";
    cut_ = there->cut_;
    folder_ = folder;
    length_ = there->length_;
    return text.empty() ? Result<void>{} : write(text);
}

}  // namespace hinge::store
