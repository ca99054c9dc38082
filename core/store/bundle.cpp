#include "store/bundle.hpp"
#include <zip.h>
#include "files/folder.hpp"

namespace hinge::store {
namespace {

// Names from a stranger's project must not write beside the folder.
Result<void> stayInside(const std::vector<BundleFile>& list) {
    for (const auto& file : list) {
        const std::filesystem::path path{file.path};
        bool inside = !file.path.empty() && path.is_relative();
        for (const auto& part : path) inside = inside && part != "..";
        if (!inside) return fail(ErrorCode::NotWritable, file.path, "it leads out of the folder", "a name inside it");
    }
    return {};
}

}  // namespace

Result<void> writeFolder(const std::vector<BundleFile>& list, const std::filesystem::path& path) {
    if (auto inside = stayInside(list); !inside) return inside;
    const auto folder = files::Folder::make(path);
    if (!folder) return tl::unexpected(folder.error());
    std::vector<files::Folder::Named> all;
    for (const auto& file : list) all.push_back({file.path, file.bytes});
    return folder->writeSet(all);
}

Result<void> writeZip(const std::vector<BundleFile>& list, const std::filesystem::path& path) {
    if (auto inside = stayInside(list); !inside) return inside;
    int code = 0;
    // A file beside it and one rename, by the library itself, when it is closed.
    zip_t* zip = zip_open(path.c_str(), ZIP_CREATE | ZIP_TRUNCATE, &code);
    if (zip == nullptr) {
        zip_error_t error;
        zip_error_init_with_code(&error, code);
        const std::string why = zip_error_strerror(&error);
        zip_error_fini(&error);
        return fail(ErrorCode::NotWritable, path.string(), why, "choose another folder");
    }
    // 1980-01-01, the first day that a zip knows: no clock in it.
    constexpr zip_uint16_t first_day = 0x21, midnight = 0;
    for (const auto& file : list) {
        zip_source_t* source = zip_source_buffer(zip, file.bytes.data(), file.bytes.size(), 0);
        const zip_int64_t index =
            source != nullptr ? zip_file_add(zip, file.path.c_str(), source, ZIP_FL_ENC_UTF_8 | ZIP_FL_OVERWRITE) : -1;
        if (index < 0 || zip_file_set_dostime(zip, static_cast<zip_uint64_t>(index), midnight, first_day, 0) != 0) {
            const std::string why = zip_strerror(zip);
            if (source != nullptr && index < 0) zip_source_free(source);
            zip_discard(zip);
            return fail(ErrorCode::NotWritable, path.string(), why, "free some space, or choose another folder");
        }
    }
    if (zip_close(zip) != 0) {
        const std::string why = zip_strerror(zip);
        zip_discard(zip);
        return fail(ErrorCode::NotWritable, path.string(), why, "free some space, or choose another folder");
    }
    return {};
}

}  // namespace hinge::store
