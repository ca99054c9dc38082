#pragma once
// Many files at once: into a folder, or into one zip.
#include <filesystem>
#include <string>
#include <vector>
#include "quantity/result.hpp"

namespace hinge::store {

/// One of them.
struct BundleFile {
    std::string path;  ///< inside the folder or zip, with '/' between its parts; no '..'
    std::string bytes;
};
/// Writes each file whole or not at all; what is there besides stays.
/// @error NotWritable  naming the file; before anything is written where a name leads out of the folder
[[nodiscard]] Result<void> writeFolder(const std::vector<BundleFile>& list, const std::filesystem::path& folder);
/// Writes a zip; the same files give the same bytes. An older file of that name stays whole when it fails.
/// @error NotWritable  with the library's reason
[[nodiscard]] Result<void> writeZip(const std::vector<BundleFile>& list, const std::filesystem::path& zip);

}  // namespace hinge::store
