#include "store/document.hpp"
#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>
#include <algorithm>
#include <cerrno>
#include <cstring>
#include <fstream>
#include <sstream>
#include <unordered_map>
#include "store/json.hpp"

namespace hinge::store {
namespace {

namespace fs = std::filesystem;

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

fs::path fileOf(const fs::path& folder) {
    std::error_code ignored;
    return fs::is_regular_file(folder, ignored) ? folder : folder / "project.json";
}

tl::unexpected<Error> notWritable(const fs::path& path, int reason) {
    return fail(ErrorCode::NotWritable, path.string(), std::strerror(reason), "what was saved before is still whole");
}

}  // namespace

Result<std::string> readWhole(const fs::path& path) {
    std::error_code ignored;
    if (fs::is_directory(path, ignored)) return fail(ErrorCode::NotFound, path.string(), "a folder", "a file");
    std::ifstream file(path, std::ios::binary);
    if (!file) return fail(ErrorCode::NotFound, path.string(), "", "check the name, or choose another folder");
    std::ostringstream text;
    text << file.rdbuf();
    return text.str();
}

Result<void> writeWhole(const fs::path& path, const std::string& text) {
    const fs::path beside = path.string() + ".part";
    const int file = ::open(beside.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
    if (file < 0) return notWritable(path, errno);
    std::size_t written = 0;
    while (written < text.size()) {
        const auto n = ::write(file, text.data() + written, text.size() - written);
        if (n < 0 && errno == EINTR) continue;
        if (n < 0) {
            const int reason = errno;
            ::close(file);
            ::unlink(beside.c_str());
            return notWritable(path, reason);
        }
        written += static_cast<std::size_t>(n);
    }
    if (::fsync(file) != 0 || ::close(file) != 0) {
        const int reason = errno;
        ::unlink(beside.c_str());
        return notWritable(path, reason);
    }
    if (::rename(beside.c_str(), path.c_str()) != 0) {
        const int reason = errno;
        ::unlink(beside.c_str());
        return notWritable(path, reason);
    }
    return {};
}

std::string toText(const Document& document) {
    Json json = toJson(document.project);
    const auto rest = parseJson(document.unknown, "unknown");
    if (rest && rest->is_object()) putBack(json, *rest);
    return json.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

std::span<const Migration> shippedMigrations() {
    return {};
}

Result<Document> fromText(const std::string& text, const std::string& field, std::span<const Migration> migrations) {
    auto json = parseJson(text, field);
    if (!json) return tl::unexpected(json.error());
    if (!json->is_object() || !json->contains("format") || !(*json)["format"].is_number_integer())
        return fail(ErrorCode::BadFormat, field, "", "a project file: an object with a whole-number \"format\"");
    const auto file_format = (*json)["format"].get<long long>();
    if (file_format > project::format)
        return fail(ErrorCode::NewerFormat, field, std::to_string(file_format),
                    "open it with the version that wrote it; nothing was changed");
    for (auto at = file_format; at < project::format; ++at) {
        const auto step = std::find_if(migrations.begin(), migrations.end(), [&](const Migration& m) { return m.from == at; });
        if (step == migrations.end())
            return fail(ErrorCode::BadFormat, field + ": format", std::to_string(file_format), "format " + std::to_string(project::format));
        try {
            step->lift(*json);
        } catch (const Json::exception& error) {
            return fail(ErrorCode::BadFormat, field, "format " + std::to_string(file_format), error.what());
        }
    }
    auto project = fromJson(*json);
    if (!project) {
        Error error = project.error();
        error.field = field + ": " + error.field;
        return tl::unexpected(error);
    }
    Document document;
    document.project = std::move(*project);
    if (file_format < project::format) document.original = Document::Original{static_cast<int>(file_format), text};
    document.unknown = beyond(*json, toJson(document.project)).dump();
    return document;
}

Result<Document> load(const fs::path& folder, std::span<const Migration> migrations) {
    const fs::path file = fileOf(folder);
    auto text = readWhole(file);
    if (!text) return tl::unexpected(text.error());
    return fromText(*text, file.string(), migrations);
}

Result<void> save(const Document& document, const fs::path& folder) {
    std::error_code error;
    const fs::path file = fileOf(folder);
    fs::create_directories(file.parent_path(), error);
    if (error) return fail(ErrorCode::NotWritable, folder.string(), error.message(), "choose another folder");
    if (document.original) {
        const fs::path kept = file.parent_path() / ("project.format-" + std::to_string(document.original->format) + ".json");
        if (!fs::exists(kept, error))
            if (auto saved = writeWhole(kept, document.original->text); !saved) return saved;
    }
    auto written = writeWhole(file, toText(document));
    if (written) discardAutosave(folder);
    return written;
}

Result<void> autosave(const Document& document, const fs::path& folder) {
    return writeWhole(fileOf(folder).parent_path() / "project.autosave.json", toText(document));
}

std::optional<Document> recoverable(const fs::path& folder) {
    const fs::path file = fileOf(folder);
    const fs::path saved = file.parent_path() / "project.autosave.json";
    std::error_code error;
    if (!fs::exists(saved, error)) return std::nullopt;
    if (fs::exists(file, error) && fs::last_write_time(saved, error) < fs::last_write_time(file, error)) return std::nullopt;
    auto document = load(saved);
    if (!document) return std::nullopt;
    return *document;
}

void discardAutosave(const fs::path& folder) {
    std::error_code ignored;
    fs::remove(fileOf(folder).parent_path() / "project.autosave.json", ignored);
}

}  // namespace hinge::store
