#include "store/trials.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <charconv>
#include <cstring>
#include "quantity/letters.hpp"

namespace hinge::store {
namespace {

namespace fs = std::filesystem;

std::string fileOf(const std::string& id) {
    return "trials/" + id + ".csv";
}

int numberOf(const std::string& file) {
    const std::string name = fs::path{file}.stem().string();
    if (name.rfind("trial-", 0) != 0) return 0;
    int number = 0;
    std::from_chars(name.data() + 6, name.data() + name.size(), number);
    return number;
}

// An id is a file's name: no way out of the folder.
bool isPlain(const std::string& id) {
    return !id.empty() && std::all_of(id.begin(), id.end(), [](char c) { return isLetterOrDigit(c) || c == '-' || c == '_'; });
}

}  // namespace

Result<TrialWriter> TrialWriter::begin(const fs::path& path, const journal::Trial& trial) {
    if (!isPlain(trial.id)) return fail(ErrorCode::BadFormat, "trial", trial.id, "letters, digits, - and _");
    const auto folder = files::Folder::make(path);
    if (!folder) return tl::unexpected(folder.error());
    TrialWriter writer;
    writer.path_ = path / fileOf(trial.id);
    auto file = folder->create(fileOf(trial.id));
    if (!file) return tl::unexpected(file.error());
    writer.file_ = std::move(*file);
    if (auto written = writer.put(journal::trialHead(trial)); !written) return tl::unexpected(written.error());
    return writer;
}

Result<void> TrialWriter::put(const std::string& text) {
    if (const int reason = files::writeAll(file_.number(), text); reason != 0)
        return fail(ErrorCode::NotWritable, path_.string(), std::strerror(reason), "room on the disk, in a folder that may be written to");
    return {};
}

Result<void> TrialWriter::add(const journal::TrialRow& row) {
    return put(journal::trialLine(row));
}

Trials readTrials(const fs::path& path) {
    Trials trials;
    const auto project = files::Folder::open(path);
    const auto folder = project ? project->inside("trials") : tl::unexpected(project.error());
    if (!folder) return trials;
    std::vector<std::string> names;
    for (const auto& name : folder->plainFiles())
        if (name.ends_with(".csv")) names.push_back(name);
    std::sort(names.begin(), names.end(),
              [](const auto& a, const auto& b) { return std::pair(numberOf(a), a) < std::pair(numberOf(b), b); });
    for (const auto& name : names) {
        const auto text = folder->read(name, files::largest_trial);
        auto trial = text ? journal::parseTrial(*text) : tl::unexpected(text.error());
        if (!trial) {
            trials.problems.push_back(fmt::format("{}: {}", name, sentence(trial.error())));
            continue;
        }
        trial->id = fs::path{name}.stem().string();  // the name counts, whatever stands in it
        trials.list.push_back(std::move(*trial));
    }
    return trials;
}

std::string nextTrial(const fs::path& folder) {
    int most = 0;
    std::error_code error;
    for (const auto& entry : fs::directory_iterator(folder / "trials", error))
        most = std::max(most, numberOf(entry.path().filename().string()));
    return fmt::format("trial-{}", most + 1);
}

Result<void> commentTrial(const fs::path& path, const std::string& id, const std::string& comment) {
    if (!isPlain(id)) return fail(ErrorCode::BadFormat, "trial", id, "letters, digits, - and _");
    const auto folder = files::Folder::open(path);
    const auto text = folder ? folder->read(fileOf(id), files::largest_trial) : tl::unexpected(folder.error());
    if (!text) return tl::unexpected(text.error());
    auto trial = journal::parseTrial(*text);
    if (!trial) return tl::unexpected(trial.error());
    trial->comment = comment;
    std::string whole = journal::trialHead(*trial);
    for (const auto& row : trial->rows) whole += journal::trialLine(row);
    return folder->write(fileOf(id), whole);
}

Result<void> removeTrial(const fs::path& path, const std::string& id) {
    const auto folder = files::Folder::open(path);
    if (!isPlain(id) || !folder || !folder->has(fileOf(id))) return fail(ErrorCode::NotFound, "trial", id, "a trial of this project");
    return folder->remove(fileOf(id));
}

Result<void> takeAlong(const fs::path& from_path, const fs::path& to_path) {
    const auto from = files::Folder::open(from_path);
    if (!from) return tl::unexpected(from.error());
    const auto to = files::Folder::make(to_path);
    if (!to) return tl::unexpected(to.error());
    for (const char* part : {"trials", "photos"}) {
        const auto folder = from->inside(part);
        if (!folder) continue;
        const auto there = to->making(part);
        if (!there) return tl::unexpected(there.error());
        if (auto copied = files::copyPlain(*folder, *there); !copied) return copied;
    }
    if (from->has("runs.csv") && !to->has("runs.csv")) {
        const auto runs = from->read("runs.csv", files::largest_trial);
        if (!runs) return tl::unexpected(runs.error());
        return to->write("runs.csv", *runs);
    }
    return {};
}

}  // namespace hinge::store
