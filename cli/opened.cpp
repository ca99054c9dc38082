#include "cli/opened.hpp"
#include <algorithm>
#include <iostream>
#include "catalogue/catalogue.hpp"
#include "cli/exit_status.hpp"
#include "proof/proved.hpp"
#include "routine/prove.hpp"

namespace hinge::cli {

namespace fs = std::filesystem;

int report(const Error& error) {
    std::string line = sentence(error);
    std::replace(line.begin(), line.end(), '\n', ' ');
    std::cerr << line << '\n';
    switch (error.code) {
        case ErrorCode::NotFound:
        case ErrorCode::NotPlain:
        case ErrorCode::NotReadable:
        case ErrorCode::NotDriven:
        case ErrorCode::Failed:
        case ErrorCode::NotWritable: return NotHere;
        default: return BadRequest;
    }
}

void print(const Json& json) {
    std::cout << json.dump(2, ' ', false, Json::error_handler_t::replace) << '\n';
}

Result<std::string> readFile(const std::string& path) {
    return files::readWhole(path);
}

fs::path partsFolder(const std::string& given) {
    if (!given.empty()) return given;
    std::error_code ignored;
    if (fs::exists(HINGE_PARTS_DIR, ignored)) return HINGE_PARTS_DIR;
    return HINGE_INSTALLED_PARTS_DIR;
}

Result<Opened> open(const std::string& project, const std::string& catalogue, bool prove, const std::vector<std::string>& without) {
    Opened opened;
    auto document = store::load(project);
    if (!document) return tl::unexpected(document.error());
    opened.document = std::move(*document);
    auto loaded = catalogue::load(partsFolder(catalogue));
    if (!loaded) return tl::unexpected(loaded.error());
    opened.parts = std::move(loaded->parts);
    if (!without.empty()) {
        const auto whole = plan::evaluate(opened.document.project, opened.parts);
        for (const auto& id : without) {
            const auto* channel = project::findChannel(opened.document.project, id);
            if (channel == nullptr) return fail(ErrorCode::Unknown, "--without", id, "the id of a channel of this project");
            for (auto& line : plan::idleLines(*channel, *plan::findChannel(whole, id))) opened.idle.push_back(std::move(line));
            opened.document.project = project::removeChannel(std::move(opened.document.project), id);
        }
    }
    opened.plan = plan::evaluate(opened.document.project, opened.parts);
    if (prove && opened.plan.program) {
        opened.evidence.proofs = routine::prove(*opened.plan.program);
        opened.plan = plan::evaluate(opened.document.project, opened.parts, opened.evidence);
    }
    plan::dropUnsound(opened.document.project, opened.parts, opened.plan);
    opened.plan = proof::proved(opened.document.project, opened.parts, std::move(opened.plan)).plan;
    return opened;
}

Result<plan::Plan> complete(const Opened& opened) {
    if (opened.plan.program) return opened.plan;
    return tl::unexpected(opened.plan.program_error.value_or(Error{ErrorCode::Missing, "routine", "", "a routine that compiles"}));
}

Json orNull(const std::optional<double>& value) {
    return value ? Json(*value) : Json(nullptr);
}

}  // namespace hinge::cli
