#include "store/trials.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <charconv>
#include "store/document.hpp"

namespace hinge::store {
namespace {

namespace fs = std::filesystem;

fs::path fileOf(const fs::path& folder, const std::string& id) {
    return folder / "trials" / (id + ".csv");
}

int numberOf(const fs::path& file) {
    const std::string name = file.stem().string();
    if (name.rfind("trial-", 0) != 0) return 0;
    int number = 0;
    std::from_chars(name.data() + 6, name.data() + name.size(), number);
    return number;
}

// An id is a file's name: no way out of the folder.
bool isPlain(const std::string& id) {
    return !id.empty() && std::all_of(id.begin(), id.end(), [](unsigned char c) { return std::isalnum(c) != 0 || c == '-' || c == '_'; });
}

}  // namespace

Result<TrialWriter> TrialWriter::begin(const fs::path& folder, const journal::Trial& trial) {
    if (!isPlain(trial.id)) return fail(ErrorCode::BadFormat, "trial", trial.id, "letters, digits, - and _");
    std::error_code error;
    fs::create_directories(folder / "trials", error);
    TrialWriter writer;
    writer.path_ = fileOf(folder, trial.id);
    writer.file_.open(writer.path_, std::ios::binary | std::ios::trunc);
    writer.file_ << journal::trialHead(trial) << std::flush;
    if (!writer.file_) return fail(ErrorCode::NotWritable, writer.path_.string(), error.message(), "a folder that may be written to");
    return writer;
}

Result<void> TrialWriter::add(const journal::TrialRow& row) {
    file_ << journal::trialLine(row) << std::flush;
    if (!file_) return fail(ErrorCode::NotWritable, path_.string(), "", "room on the disk");
    return {};
}

Trials readTrials(const fs::path& folder) {
    Trials trials;
    std::error_code error;
    std::vector<fs::path> files;
    for (const auto& entry : fs::directory_iterator(folder / "trials", error))
        if (entry.is_regular_file(error) && entry.path().extension() == ".csv") files.push_back(entry.path());
    std::sort(files.begin(), files.end(),
              [](const fs::path& a, const fs::path& b) { return std::pair(numberOf(a), a) < std::pair(numberOf(b), b); });
    for (const auto& file : files) {
        const auto text = readWhole(file);
        auto trial = text ? journal::parseTrial(*text) : tl::unexpected(text.error());
        if (!trial) {
            trials.problems.push_back(fmt::format("{}: {}", file.filename().string(), sentence(trial.error())));
            continue;
        }
        trial->id = file.stem().string();  // the name counts, whatever stands in it
        trials.list.push_back(std::move(*trial));
    }
    return trials;
}

std::string nextTrial(const fs::path& folder) {
    int most = 0;
    std::error_code error;
    for (const auto& entry : fs::directory_iterator(folder / "trials", error)) most = std::max(most, numberOf(entry.path()));
    return fmt::format("trial-{}", most + 1);
}

Result<void> commentTrial(const fs::path& folder, const std::string& id, const std::string& comment) {
    if (!isPlain(id)) return fail(ErrorCode::BadFormat, "trial", id, "letters, digits, - and _");
    const auto text = readWhole(fileOf(folder, id));
    if (!text) return tl::unexpected(text.error());
    auto trial = journal::parseTrial(*text);
    if (!trial) return tl::unexpected(trial.error());
    trial->comment = comment;
    std::string whole = journal::trialHead(*trial);
    for (const auto& row : trial->rows) whole += journal::trialLine(row);
    return writeWhole(fileOf(folder, id), whole);
}

Result<void> removeTrial(const fs::path& folder, const std::string& id) {
    std::error_code error;
    if (!isPlain(id) || !fs::remove(fileOf(folder, id), error)) return fail(ErrorCode::NotFound, "trial", id, "a trial of this project");
    return {};
}

Result<void> takeAlong(const fs::path& from, const fs::path& to) {
    for (const char* part : {"trials", "photos", "runs.csv"}) {
        std::error_code error;
        if (!fs::exists(from / part, error)) continue;
        fs::create_directories(to, error);
        fs::copy(from / part, to / part, fs::copy_options::skip_existing | fs::copy_options::recursive, error);
        if (error) return fail(ErrorCode::NotWritable, (to / part).string(), error.message(), "a folder that may be written to");
    }
    return {};
}

}  // namespace hinge::store
