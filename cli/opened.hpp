#pragma once
#include <filesystem>
#include "cli/chip_verbs.hpp"
#include "cli/json.hpp"
#include "plan/driven.hpp"
#include "store/document.hpp"

namespace hinge::cli {

/// A project with its catalogue, proofs and plan.
struct Opened {
    store::Document document;
    project::Parts parts;
    plan::Evidence evidence;
    plan::Plan plan;
    std::vector<plan::IdleLine> idle;  ///< of channels that were left out on purpose
};
/// @param catalogue  folder of CSV files; empty: the shipped one
[[nodiscard]] std::filesystem::path partsFolder(const std::string& catalogue);
/// @param without  ids of channels that are left out on purpose
[[nodiscard]] Result<Opened> open(const std::string& project, const std::string& catalogue, bool prove,
                                  const std::vector<std::string>& without = {});
/// The plan, where its routine compiles. @error as its program's
[[nodiscard]] Result<plan::Plan> complete(const Opened& opened);
/// The whole of a file. @error NotFound
[[nodiscard]] Result<std::string> readFile(const std::string& path);
void print(const Json& json);
/// null where it is not known.
[[nodiscard]] Json orNull(const std::optional<double>& value);

}  // namespace hinge::cli
