#pragma once
#include <nlohmann/json_fwd.hpp>
#include <span>
#include <string>
#include "quantity/result.hpp"

namespace hinge::store {

/// Lifts the text of a project from one format to the next.
struct Migration {
    int from = 0;
    void (*lift)(nlohmann::ordered_json& json) = nullptr;
};
/// Those that this program ships; docs/project-format.md tells what each changes.
[[nodiscard]] std::span<const Migration> shippedMigrations();
/// Lifts a project's JSON to today's format, step by step. @return the format it had
/// @param field  who asks, for the error
/// @error BadFormat    no format in it, a format from which no step leads, or a step that finds something else than it expects
/// @error NewerFormat  written by a later version; nothing is touched
[[nodiscard]] Result<int> lift(nlohmann::ordered_json& json, const std::string& field,
                               std::span<const Migration> migrations = shippedMigrations());

}  // namespace hinge::store
