#include "store/document.hpp"
#include <algorithm>
#include <unordered_map>
#include "store/json.hpp"

namespace hinge::store {

namespace fs = std::filesystem;

namespace {

// The entries of a list by their ids: a journal of years has thousands.
template <class List>
auto byId(List& list) {
    std::unordered_map<std::string, decltype(&*list.begin())> entries;
    for (auto& entry : list)
        if (entry.is_object())
            if (const auto id = entry.find("id"); id != entry.end() && id->is_string())
                entries.emplace(id->template get_ref<const std::string&>(), &entry);
    return entries;
}

// What `whole` holds and `known` does not; entries of lists are matched by their ids.
Json beyond(const Json& whole, const Json& known) {
    Json rest = Json::object();
    for (const auto& [key, value] : whole.items()) {
        const auto found = known.find(key);
        if (found == known.end()) {
            rest[key] = value;
        } else if (value.is_object() && found->is_object()) {
            Json inner = beyond(value, *found);
            if (!inner.empty()) rest[key] = std::move(inner);
        } else if (value.is_array() && found->is_array()) {
            Json list = Json::array();
            const auto known_entries = byId(*found);
            for (const auto& entry : value) {
                const auto id = entry.is_object() ? entry.find("id") : entry.end();
                if (!entry.is_object() || id == entry.end() || !id->is_string()) continue;
                const auto mine = known_entries.find(id->get_ref<const std::string&>());
                if (mine == known_entries.end()) continue;
                Json inner = beyond(entry, *mine->second);
                if (inner.empty()) continue;
                inner["id"] = *id;
                list.push_back(std::move(inner));
            }
            if (!list.empty()) rest[key] = std::move(list);
        }
    }
    return rest;
}

void putBack(Json& target, const Json& rest) {
    for (const auto& [key, value] : rest.items()) {
        if (!target.contains(key)) {
            // Leftovers of an entry that was removed go with it; only plain fields come back.
            target[key] = value;
        } else if (value.is_object() && target[key].is_object()) {
            putBack(target[key], value);
        } else if (value.is_array() && target[key].is_array()) {
            auto entries = byId(target[key]);
            for (const auto& entry : value)
                if (const auto mine = entries.find(entry["id"].get<std::string>()); mine != entries.end()) putBack(*mine->second, entry);
        }
    }
}

}  // namespace

std::string toText(const Document& document) {
    Json json = toJson(document.project);
    const auto rest = parseJson(document.unknown, "unknown");
    if (rest && rest->is_object()) putBack(json, *rest);
    return json.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

Result<Document> fromText(const std::string& text, const std::string& field, std::span<const Migration> migrations) {
    auto json = parseJson(text, field);
    if (!json) return tl::unexpected(json.error());
    const auto file_format = lift(*json, field, migrations);
    if (!file_format) return tl::unexpected(file_format.error());
    auto project = fromJson(*json);
    if (!project) {
        Error error = project.error();
        error.field = field + ": " + error.field;
        return tl::unexpected(error);
    }
    Document document;
    document.project = std::move(*project);
    if (*file_format < project::format) document.original = Document::Original{*file_format, text};
    document.unknown = beyond(*json, toJson(document.project)).dump();
    return document;
}

Result<Place> placeOf(const fs::path& path) {
    std::error_code ignored;
    const bool file = fs::is_regular_file(path, ignored);
    auto folder = files::Folder::open(file ? path.parent_path() : path);
    if (!folder) return tl::unexpected(folder.error());
    return Place{std::move(*folder), file ? path.filename().string() : "project.json"};
}

Result<Document> load(const fs::path& path, std::span<const Migration> migrations) {
    const auto place = placeOf(path);
    if (!place) return tl::unexpected(place.error());
    auto text = place->folder.read(place->file, files::largest_project);
    if (!text) return tl::unexpected(text.error());
    return fromText(*text, (place->folder.path() / place->file).string(), migrations);
}

Result<std::string> saveAt(const Document& document, const Place& place) {
    if (document.original) {
        const std::string kept = "project.format-" + std::to_string(document.original->format) + ".json";
        if (!place.folder.has(kept))
            if (auto saved = place.folder.write(kept, document.original->text); !saved) return tl::unexpected(saved.error());
    }
    std::string text = toText(document);
    if (auto written = place.folder.write(place.file, text); !written) return tl::unexpected(written.error());
    (void)place.folder.remove(autosave_file);
    return text;
}

Result<void> save(const Document& document, const fs::path& path) {
    std::error_code ignored;
    auto place = fs::exists(path, ignored) ? placeOf(path) : Result<Place>{Place{}};
    if (!place || !fs::exists(path, ignored)) {
        auto made = files::Folder::make(path);
        if (!made) return tl::unexpected(made.error());
        place = Place{std::move(*made), "project.json"};
    }
    const auto written = saveAt(document, *place);
    if (!written) return tl::unexpected(written.error());
    return {};
}

std::optional<Document> recoverable(const fs::path& path) {
    const auto place = placeOf(path);
    if (!place) return std::nullopt;
    const auto saved = place->folder.stamp(autosave_file), file = place->folder.stamp(place->file);
    if (!saved || (file && std::pair{saved->seconds, saved->nanoseconds} < std::pair{file->seconds, file->nanoseconds}))
        return std::nullopt;
    const auto text = place->folder.read(autosave_file, files::largest_project);
    auto document = text ? fromText(*text, autosave_file) : tl::unexpected(text.error());
    if (!document) return std::nullopt;
    return *document;
}

void clearLeftovers(const files::Folder& folder) {
    for (const auto& name : folder.plainFiles())
        if (name.ends_with(".part") && name.starts_with("project.")) (void)folder.remove(name);
}

Result<std::string> readPhoto(const fs::path& folder, const std::string& name) {
    const auto place = placeOf(folder);
    if (!place) return tl::unexpected(place.error());
    return place->folder.read("photos/" + name, files::largest_photo);
}

}  // namespace hinge::store
