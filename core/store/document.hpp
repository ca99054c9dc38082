#pragma once
#include <filesystem>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <span>
#include <string>
#include "project/project.hpp"
#include "quantity/result.hpp"

namespace hinge::store {

/// A project with what its file held beside it: fields written by someone else survive.
struct Document {
    project::Project project;
    std::string unknown = "{}";  ///< JSON of the fields that this program does not know
    struct Original {
        int format = 0;
        std::string text;
    };
    std::optional<Original> original;  ///< the older file this was migrated from, byte for byte
};

/// Lifts a project file from one format to the next.
struct Migration {
    int from = 0;
    void (*lift)(nlohmann::ordered_json& json) = nullptr;
};
/// Those that this program ships: none yet, format 1 is the first.
[[nodiscard]] std::span<const Migration> shippedMigrations();

/// Reads a project folder (or its project.json). A file of an older format is migrated; its text is
/// kept in Document::original until the next save puts it beside the new file.
/// @error NotFound     no such folder or file
/// @error NewerFormat  written by a later version; nothing is touched
/// @error BadFormat …  naming the path inside the file
[[nodiscard]] Result<Document> load(const std::filesystem::path& folder, std::span<const Migration> migrations = shippedMigrations());

/// Writes project.json into the folder, which is made if missing: first a file beside it, then one
/// rename, so that the old file stays whole whatever fails.
/// @error NotWritable  with the system's reason
[[nodiscard]] Result<void> save(const Document& document, const std::filesystem::path& folder);

/// The autosave beside the project; removed by a save.
[[nodiscard]] Result<void> autosave(const Document& document, const std::filesystem::path& folder);
/// The autosave, if there is one that is newer than the project.
[[nodiscard]] std::optional<Document> recoverable(const std::filesystem::path& folder);
void discardAutosave(const std::filesystem::path& folder);

/// The text of a project file.
[[nodiscard]] std::string toText(const Document& document);
/// @error as load
[[nodiscard]] Result<Document> fromText(const std::string& text, const std::string& field,
                                        std::span<const Migration> migrations = shippedMigrations());

/// Writes a file whole or not at all. @error NotWritable
[[nodiscard]] Result<void> writeWhole(const std::filesystem::path& path, const std::string& text);
/// Reads a file. @error NotFound
[[nodiscard]] Result<std::string> readWhole(const std::filesystem::path& path);

}  // namespace hinge::store
