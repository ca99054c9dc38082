#pragma once
#include <filesystem>
#include <optional>
#include <span>
#include <string>
#include "files/folder.hpp"
#include "project/project.hpp"
#include "quantity/result.hpp"
#include "store/migration.hpp"

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

/// A project folder, held open, and its file's name in it: what a user means by a folder, or by a project.json.
struct Place {
    files::Folder folder;
    std::string file;
};
/// @error NotFound
[[nodiscard]] Result<Place> placeOf(const std::filesystem::path& path);

/// Reads a project folder (or its project.json). A file of an older format is migrated; its text is
/// kept in Document::original until the next save puts it beside the new file.
/// @error NotFound, NotPlain, NotReadable, OutOfRange  no such folder or file, no plain file, or larger than 32 MB
/// @error NewerFormat  written by a later version; nothing is touched
/// @error BadFormat …  naming the path inside the file
[[nodiscard]] Result<Document> load(const std::filesystem::path& folder, std::span<const Migration> migrations = shippedMigrations());

/// Writes project.json into the folder, which is made if missing, whole or not at all, and takes the autosave away. Nobody is asked
/// whether he has it open: see Keeper.
/// @error NotWritable  with the system's reason
[[nodiscard]] Result<void> save(const Document& document, const std::filesystem::path& folder);
/// The same into a folder that is open. @return the text that was written
[[nodiscard]] Result<std::string> saveAt(const Document& document, const Place& place);

/// The autosave beside the project; removed by a save.
inline constexpr const char* autosave_file = "project.autosave.json";
/// The autosave, if there is one that is newer than the project.
[[nodiscard]] std::optional<Document> recoverable(const std::filesystem::path& folder);
/// Takes away what writers that were killed have left half written.
void clearLeftovers(const files::Folder& folder);

/// The text of a project file.
[[nodiscard]] std::string toText(const Document& document);
/// @error as load
[[nodiscard]] Result<Document> fromText(const std::string& text, const std::string& field,
                                        std::span<const Migration> migrations = shippedMigrations());
/// The bytes of a photo of a project, by its name in the folder photos.
/// @error as files::Folder::read
[[nodiscard]] Result<std::string> readPhoto(const std::filesystem::path& folder, const std::string& name);

}  // namespace hinge::store
